"""What a use and a protocol of a shop's own may be."""

from __future__ import annotations

import copy
import json
from typing import Any

import pytest

from nublet.core.errors import ShelfError
from nublet.core.protocols.checking import check_protocol
from nublet.core.protocols.plain import protocol_as_dict, protocol_from_dict
from nublet.core.protocols.shipped import PROTOCOLS
from nublet.core.protocols.shipped.table_basics import TABLE_BASICS
from nublet.core.ranking.shipped import DINING_TABLE, USES
from nublet.core.ranking.use_records import check_use, use_as_dict, use_from_dict

USE = use_as_dict(DINING_TABLE)


def changed(plain: dict[str, Any], path: str, value: object) -> dict[str, Any]:
    new = copy.deepcopy(plain)
    at: Any = new
    *steps, last = path.split(".")
    for step in steps:
        at = at[int(step)] if isinstance(at, list) else at[step]
    at[int(last) if isinstance(at, list) else last] = value
    return new


def test_what_ships_is_as_a_shops_own_must_be_and_comes_back() -> None:
    for use in USES.values():
        check_use(use)
        assert use_from_dict(json.loads(json.dumps(use_as_dict(use))), use_id=use.id) == use
    for protocol in PROTOCOLS.values():
        check_protocol(protocol)
        plain = json.loads(json.dumps(protocol_as_dict(protocol)))
        assert protocol_from_dict(plain, protocol_id=protocol.id) == protocol


@pytest.mark.parametrize(
    ("path", "value", "field", "says"),
    [
        ("name", " ", "name", "Give the use a name"),
        ("criteria", [], "criteria", "1 to 20 criteria"),
        ("criteria.1.id", "stains", "criteria.1.id", "Give one another"),
        ("criteria.0.name", "", "criteria.0", "an id and a name"),
        ("criteria.0.weight", -1, "criteria.0.weight", "0 to 1000"),
        ("criteria.0.asked", [], "criteria.0.asked", "0 kinds of test"),
        ("criteria.0.asked.0.agents", [], "criteria.0.asked.0.agents", "names no agent"),
        ("criteria.0.asked.0.response", "sparkle", "criteria.0.asked.0.response", "Choose from: grade"),
        ("criteria.0.asked.0.duration_min", [9, 3], "criteria.0.asked.0.duration_min", "Turn them round"),
        ("criteria.0.asked.0.duration_min", [9], "criteria.0.asked.0.duration_min", "it has 2"),
        ("gates.0.threshold", 6, "gates.0.threshold", "1 (surface altered) to 5"),
        ("demands", ["glamour"], "demands", "not a choice"),
        ("fame", 1, "fame", "no field fame"),
    ],
)
def test_uses_that_cannot_be(path: str, value: object, field: str, says: str) -> None:
    with pytest.raises(ShelfError) as refused:
        use_from_dict(changed(USE, path, value))
    assert refused.value.field == field
    assert says in refused.value.message


def test_a_use_in_which_nothing_weighs_is_refused() -> None:
    plain = USE
    for index in range(len(USE["criteria"])):
        plain = changed(plain, f"criteria.{index}.weight", 0)
    with pytest.raises(ShelfError, match="Every weight is 0"):
        use_from_dict(plain)


def test_the_look_that_counts_is_the_last_where_there_is_no_other() -> None:
    plain = changed(
        protocol_as_dict(TABLE_BASICS), "looks.1", {"id": "3d", "name": "3 days", "after_min": 4320}
    )
    plain["looks"].reverse()
    protocol = protocol_from_dict(plain)
    assert protocol.look_for().id == "3d"
    assert protocol.look_for("lifted").id == "lifted"
    assert DINING_TABLE.asked_of(protocol).look == "3d"
    assert TABLE_BASICS.look_for().id == "24h"
