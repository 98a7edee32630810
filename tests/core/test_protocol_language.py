"""The protocol language: what ships, what comes back from its plain form, and what cannot be done and is refused in words."""

from __future__ import annotations

import copy
import json
from typing import Any

import pytest

from nublet.core.errors import ShelfError
from nublet.core.materials.cautions import CAUTIONS
from nublet.core.protocols.acts import ACT_KINDS, Act
from nublet.core.protocols.agents import AGENTS, known_agent
from nublet.core.protocols.checking import check_protocol, check_test
from nublet.core.protocols.plain import (
    protocol_as_dict,
    protocol_as_plain,
    protocol_from_dict,
    protocol_from_plain,
)
from nublet.core.protocols.responses import RESPONSES, readable
from nublet.core.protocols.shipped import PROTOCOLS, TESTS
from nublet.core.protocols.shipped.building import USUAL_LOOKS
from nublet.core.protocols.tests import Test

BASICS = protocol_as_dict(PROTOCOLS["table-basics"])
BOARD = protocol_as_dict(PROTOCOLS["board-and-utensils"])
MEND = protocol_as_dict(PROTOCOLS["scratch-and-mend"])
FULL = protocol_as_dict(PROTOCOLS["table-full"])


def changed(plain: dict[str, Any], path: str, value: object) -> dict[str, Any]:
    """The plain form with another value at a path; in a list the number one past its end adds one."""
    new = copy.deepcopy(plain)
    at: Any = new
    *steps, last = path.split(".")
    for step in steps:
        at = at[int(step)] if isinstance(at, list) else at[step]
    if isinstance(at, list) and int(last) == len(at):
        at.append(value)
    else:
        at[int(last) if isinstance(at, list) else last] = value
    return new


def where(plain: dict[str, Any], test_id: str) -> int:
    return next(index for index, test in enumerate(plain["tests"]) if test["id"] == test_id)


def test_the_protocols_that_the_job_names_ship() -> None:
    assert set(PROTOCOLS) == {
        "table-basics", "table-full", "spirits-and-wet-glasses", "kitchen-worktop", "board-and-utensils", "floor", "desk-and-shelf",
        "wet-room", "handle", "sheen-and-wax", "colour-swatches", "outdoors", "charred-wood", "drying-on-glass", "scratch-and-mend",
    }  # fmt: skip


@pytest.mark.parametrize("protocol", PROTOCOLS.values(), ids=lambda protocol: str(protocol.id))
def test_a_shipped_protocol_is_as_a_shops_own_must_be_and_comes_back(protocol: Any) -> None:
    check_protocol(protocol)
    text = json.dumps(protocol_as_dict(protocol))
    assert protocol_from_dict(json.loads(text), protocol_id=protocol.id) == protocol
    assert json.dumps(protocol_as_dict(protocol_from_dict(json.loads(text)))) == text
    assert protocol_from_plain(json.loads(json.dumps(protocol_as_plain(protocol)))) == protocol
    for test in protocol.tests:
        assert json.loads(text)["tests"][where(BASICS, test.id) if protocol.id == "table-basics" else 0][
            "site"
        ]["kind"]
        # What a protocol holds can also be picked alone; table basics keeps the ids that trials know.
        assert protocol.id == "table-basics" or TESTS[test.id] == test


@pytest.mark.parametrize("test", TESTS.values(), ids=lambda test: str(test.id))
def test_a_shipped_test_says_all_that_a_hand_needs(test: Test) -> None:
    looks = test.looks or USUAL_LOOKS
    check_test(test, looks, "test")
    assert test.modelled_on
    assert test.says
    assert test.short_name
    for act in test.acts:
        if act.declared.touches and act.kind not in ("abrade", "mend"):
            assert act.agent, act.id
            assert act.amount, act.id
        if act.kind == "lift":
            assert act.how, act.id
        if "hot" in act.natures:
            assert act.temperature_c is not None
    if test.is_hot:
        assert "hot-block" in test.cautions()
    assert set(test.cautions(TESTS.values())) <= set(CAUTIONS)


def test_every_agent_of_the_shelf_is_in_a_test_at_every_step_of_its_ladder() -> None:
    """Contact times and temperatures both, and household stains covered and open."""
    of_agent: dict[str, list[Test]] = {agent_id: [] for agent_id in AGENTS}
    for test in TESTS.values():
        agent = known_agent(test.agent)
        if agent is not None:
            of_agent[agent.id].append(test)
    for agent_id, own in of_agent.items():
        agent = AGENTS[agent_id]
        assert own, agent_id
        assert set(agent.temperatures_c) <= {test.temperature_c for test in own}, agent_id
        # The bead is watched for 20 min, and the ring is filled a second time for the rest of the day.
        if agent_id not in ("water-bead", "uptake-ring"):
            assert set(agent.durations_min) <= {act.lasts_min for test in own for act in test.acts}, agent_id
        if agent.group == "stain" and agent_id not in ("ballpoint", "marker"):
            for minutes in agent.durations_min:
                assert {t.covered for t in own if t.duration_min == minutes} == {True, False}, agent_id
    assert {act.cycles for test in of_agent["damp-cloth"] for act in test.acts} == {25, 100}


def test_everything_that_is_read_by_eye_or_instrument_is_read_in_some_shipped_test() -> None:
    read = {response for test in TESTS.values() for response in test.responses}
    parts = {part for response in read for part in RESPONSES[response].parts}
    # What an instrument gives that no shipped test asks for: a protocol of one's own may.
    assert set(readable()) - read - parts == {"gloss-20", "gloss-85", "moisture", "thickness", "roughness"}


def test_every_kind_of_act_but_those_left_to_looks_is_done_in_some_shipped_test() -> None:
    done = {act.kind for test in TESTS.values() for act in test.acts}
    # Weighing and measuring are looks of the hands' own; what is put out stays out until it is taken in by hand.
    assert set(ACT_KINDS) - done == {"weigh", "measure", "take-in", "damage"}


@pytest.mark.parametrize(
    ("plain", "path", "value", "field", "says"),
    [
        (BASICS, "name", "", "name", "Give the protocol a name"),
        (BASICS, "tests", [], "tests", "1 to 60 tests"),
        (BASICS, "looks", [], "looks", "1 to 12 looks"),
        (BASICS, "tests.1.id", "water-6h", "tests.1.id", "Give one another"),
        (BASICS, "tests.0.id", "Water 6 h", "tests.0.id", "small letters"),
        (BASICS, "tests.0.name", " ", "tests.0.name", "a name"),
        (BASICS, "tests.0.short_name", " ", "tests.0.short_name", "short name is empty"),
        (BASICS, "tests.0.acts.0.agent", "", "tests.0.acts.0.agent", "agent is empty"),
        (BASICS, "tests.0.acts.0.lasts_min", -1, "tests.0.acts.0.lasts_min", "0 to"),
        (BASICS, "tests.0.acts.0.lasts_h", 6, "tests.0.acts.0.lasts_h", "There is no field tests.0.acts.0.lasts_h"),
        (BASICS, "tests.0.acts.0.temperature_c", 500, "tests.0.acts.0.temperature_c", "-40 to 400 °C"),
        (BASICS, "tests.0.acts.0.natures", ["sour"], "tests.0.acts.0.natures", "not a choice"),
        (BASICS, "tests.0.acts.0.occupies", ["heat_block"], "tests.0.acts.0.natures", "is not hot"),
        (BASICS, "tests.0.acts.0.kind", "sing", "tests.0.acts.0.kind", "not a choice"),
        (BASICS, "tests.0.acts.1.id", "lay", "tests.0.acts.1.id", "Give one another"),
        (BASICS, "tests.0.acts.1.id", "before", "tests.0.acts.1.id", "before anything is done"),
        (BASICS, "tests.0.acts", [{"id": "lift", "kind": "lift"}], "tests.0.acts.0.kind", "comes before what it ends"),
        (BASICS, "tests.0.acts.0.then_min", [30, 20], "tests.0.acts.0.then_min", "Give the least first"),
        (BASICS, "tests.0.acts.0.cycles", 4, "tests.0.acts.0.cycles", "only the act 'cycle'"),
        (BASICS, "tests.0.site.wetted_mm", 2, "tests.0.site.wetted_mm", "is 2 mm. Give 5 mm or more"),
        (BASICS, "tests.0.site.wetted_mm", 900, "tests.0.site.wetted_mm", "0 to 300 mm"),
        (BASICS, "tests.0.site.share", 0.5, "tests.0.site.share", "a spot, which has no share"),
        (BASICS, "tests.0.site", {"kind": "cloud"}, "tests.0.site.kind", "spot, strip, part, end, panel, slip"),
        (BASICS, "tests.0.site", {"kind": "strip", "length_mm": 60}, "tests.0.site.width_mm", "the width of its strip is 0 mm"),
        (BASICS, "tests.0.site", {"kind": "part", "share": 1}, "tests.0.site.share", "between 0 and 1"),
        (BASICS, "tests.0.site", {"kind": "slip"}, "tests.0.acts.0.kind", "slip of glass"),
        (BASICS, "tests.0.reads", [], "tests.0.reads", "reads nothing"),
        (BASICS, "tests.0.reads.0.response", "sparkle", "tests.0.reads.0.response", "Choose from: grade"),
        (BASICS, "tests.0.reads.0.response", "delta-e00", "tests.0.reads.0.response", "It is worked out, not read"),
        (BASICS, "tests.0.reads.0.looks", ["3d"], "tests.0.reads.0.looks", "none of its looks"),
        (BASICS, "tests.0.reads.0.views", ["glancing", "glancing"], "tests.0.reads.0.views", "a view twice"),
        (BASICS, "tests.0.reads.0.by", "the cat", "tests.0.reads.0.by", "not a choice"),
        (BASICS, "tests.0.reads.1", {"response": "grade"}, "tests.0.reads.0.response", "reads 'grade' twice"),
        (BASICS, "looks.1.after_min", 0, "looks", "two looks at the same time"),
        (BASICS, "looks.1.id", "lifted", "looks.1.id", "Give one another"),
        (BASICS, "looks.0.after_min", -20, "looks.0.after_min", "20 min before its act"),
        (BASICS, "looks.0.after", "soak", "looks.0.after", "none of its acts"),
        (BASICS, "looks.1.after", "lay", "looks.1.after_min", "'lift' has long begun (after 370.8 min at most)"),
        (BASICS, "looks.1.after", "before", "looks.1.after_min", "Leave after_min at 0"),
        (MEND, f"tests.{where(MEND, 'scratch-and-mend')}.looks.1.after_min", 4000,
         f"tests.{where(MEND, 'scratch-and-mend')}.looks.1.after_min", "'abrade' has long begun"),
        (FULL, f"tests.{where(FULL, 'scratch')}.looks.2.after_min", 1000,
         f"tests.{where(FULL, 'scratch')}.looks.2.id", "Give it another id"),
        (FULL, "ladders.0.tests", ["water-spot-6h", "water-spot-1h"], "ladders.0.tests", "is out of order"),
        (FULL, "ladders.0.tests", ["water-spot-1h"], "ladders.0.tests", "has 1 steps"),
        (FULL, "ladders.0.tests", ["water-spot-1h", "coffee-6h"], "ladders.0.tests", "of one agent"),
        (FULL, "ladders.0.tests", ["water-spot-1h", "water-9h"], "ladders.0.tests", "none of the tests"),
        (FULL, "ladders.0.tests", ["water-spot-1h", "water-spot-6h", "water-spot-1h"], "ladders.0.tests", "comes back to"),
        (FULL, "ladders.1.tests", ["water-spot-1h", "water-spot-6h"], "ladders.1.tests", "with another ladder"),
        (FULL, "ladders.0.after_fail", "weep", "ladders.0.after_fail", "not a choice"),
        (BOARD, "tests.2.on_panel", "A", None, ""),
        (changed(BOARD, "tests.0.on_panel", "A"), "tests.2.on_panel", "a", "tests.2.on_panel", "both use up panel a"),
        (changed(BOARD, "tests.0.on_panel", "A"), "tests.7.on_panel", "A", "tests.7.on_panel", "share panel A, which one"),
        (BOARD, "tests.2.acts.0.cycles", 0, "tests.2.acts.0.cycles", "0 cycles"),
        (MEND, "tests.0.acts.0.strokes", 0, "tests.0.acts.0.strokes", "no strokes"),
        (BASICS, "version", 1e300, "version", "1 to 30,000"),
        (BASICS, "version", 1.5, "version", "whole number"),
        (BASICS, "format", 9, "format", "a later release wrote"),
        (BASICS, "fame", 1, "fame", "no field fame"),
    ],
)  # fmt: skip
def test_what_cannot_be_done_is_refused_in_words(
    plain: dict[str, Any], path: str, value: object, field: str | None, says: str
) -> None:
    new = changed(plain, path, value)
    if field is None:
        protocol_from_dict(new)
        return
    with pytest.raises(ShelfError) as refused:
        protocol_from_dict(new)
    assert refused.value.field == field
    assert says in refused.value.message


def test_the_older_form_is_an_agent_laid_on_a_ring() -> None:
    """Files and shelves of earlier releases hold exposures; what could not be read there is still refused by its old name."""
    old: dict[str, Any] = {
        "name": "Spirits",
        "exposures": [
            {
                "id": "gin-1h", "name": "Gin, 1 h", "short_name": "Gin", "agent": "spirits 40 %", "site": {"wetted_mm": 40},
                "duration_min": 60,
            },
        ],
        "looks": [{"id": "24h", "name": "24 h", "after_min": 1440}],
    }  # fmt: skip
    test = protocol_from_dict(old).tests[0]
    assert [act.kind for act in test.acts] == ["lay", "lift"]
    assert (test.agent, test.duration_min, test.covered) == ("spirits 40 %", 60, True)
    assert test.natures == {"flammable"}
    assert (test.site.kind, test.site.wetted_mm, test.responses) == ("spot", 40, ("grade",))
    for path, value, field in (
        ("exposures.0.agent", None, "exposures.0.agent"),
        ("exposures.0.reads", ["sparkle"], "exposures.0.reads"),
        ("exposures.0.taste", 1, "exposures.0.taste"),
        ("exposures", "none", "exposures"),
        ("exposures.0", 7, "exposures.0"),
    ):
        with pytest.raises(ShelfError) as refused:
            protocol_from_dict(changed(old, path, value))
        assert refused.value.field == field


def test_what_is_called_bleach_is_kept_from_acids_whatever_is_stated() -> None:
    plain = changed(changed(BASICS, "tests.0.acts.0.agent", "dilute bleach"), "tests.0.acts.0.natures", [])
    assert protocol_from_dict(plain).tests[0].natures == {"bleach"}


def test_what_uses_a_panel_up_is_told_from_what_only_looks() -> None:
    used = {test.id for test in TESTS.values() if test.uses_up_panel}
    assert used == {"boil", "damp-25", "damp-100", "light", "outdoors-south", "outdoors-shade"}
    assert {test.id for test in TESTS.values() if test.site.kind == "panel"} > used - {"boil", "light"}


def test_windows_follow_from_durations_where_nobody_has_said() -> None:
    assert Act(id="lay", kind="lay", agent="a", lasts_min=10 / 60).window_min == pytest.approx(
        (0.083, 0.25), abs=1e-3
    )
    assert Act(id="cure", kind="wait", lasts_min=60, then_min=(60, None)).window_min == (60, None)
    assert Act(id="wipe", kind="cycle", agent="a", cycles=25, wet_min=0.5, dry_min=10).whole_min == 262.5
