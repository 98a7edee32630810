"""Uses find their tests in whatever protocol a trial has."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest

from nublet.core.protocols.looks import Read
from nublet.core.protocols.responses import RESPONSES
from nublet.core.protocols.shipped import PROTOCOLS
from nublet.core.protocols.shipped.table_basics import TABLE_BASICS
from nublet.core.protocols.spot_tests import laid_on_spot
from nublet.core.protocols.tests import Protocol, Test
from nublet.core.ranking.profiles import Gate
from nublet.core.ranking.shipped import DINING_TABLE, USES
from nublet.core.ranking.uses import Asked, Use


def wine(name: str, minutes: float, *, agent: str = "red wine", **more: Any) -> Test:
    return laid_on_spot(name, agent, lasts_min=minutes, wetted_mm=40, **more)


def protocol(*exposures: Test) -> Protocol:
    return replace(TABLE_BASICS, tests=exposures)


ASKED = Asked(id="red-wine", agents=frozenset({"Red  Wine"}), duration_min=(60, 360))


def test_the_dining_table_asks_of_table_basics_what_it_always_asked() -> None:
    found = DINING_TABLE.asked_of(TABLE_BASICS)
    assert {c.id: c.tests for c in found.criteria} == {
        "stains": ("wine-1h", "coffee-1h", "ethanol-1h"),
        "heat": ("wet-heat-70", "dry-heat-100"),
        "water": ("water-6h",),
        "repair": ("mended",),
    }
    assert found.gates == tuple(
        Gate(test=test, threshold=4) for test in ("water-6h", "wine-1h", "coffee-1h", "wet-heat-70")
    )


def test_by_agent_severity_and_response_not_by_name() -> None:
    ladder = protocol(wine("w24", 1440), wine("w6", 360), wine("w10", 10), wine("w1", 60))
    assert ASKED.tests(ladder) == ("w1", "w6")
    unread = protocol(wine("w1", 60, reads=(Read(response="colour"),)))
    assert ASKED.tests(unread) == ()
    heat = Asked(id="heat", agents=frozenset({"red wine"}), temperature_c=(50, None))
    assert heat.tests(protocol(wine("cold", 60), wine("hot", 60, temperature_c=60))) == ("hot",)


def test_a_gate_goes_by_the_mildest_that_counts_and_a_criterion_by_all() -> None:
    found = DINING_TABLE.asked_of(protocol(wine("w6", 360), wine("w1", 60)))
    assert next(c.tests for c in found.criteria if c.id == "stains") == ("w1", "w6", "coffee", "ethanol")
    assert [gate.test for gate in found.gates] == ["water", "w1", "coffee", "wet-heat"]


@pytest.mark.parametrize("use", USES.values(), ids=lambda use: str(use.id))
def test_shipped_uses_agree_with_themselves(use: Use) -> None:
    """Every part has a name that no protocol's test bears, and reads what is declared; some protocol answers some of it."""
    asked = [each for criterion in use.criteria for each in criterion.asked] + [g.asked for g in use.gates]
    ids = {exposure.id for each in PROTOCOLS.values() for exposure in each.tests}
    assert asked
    for each in asked:
        assert each.id not in ids
        assert each.response in RESPONSES
    assert any(each.tests(one) for each in asked for one in PROTOCOLS.values())
    assert len({criterion.id for criterion in use.criteria}) == len(use.criteria)
    for gate in use.gates:
        response = RESPONSES[gate.asked.response]
        assert response.check(gate.threshold) == gate.threshold


def test_the_uses_that_the_job_names_ship() -> None:
    assert list(USES) == [
        "dining-table", "bar-counter", "kitchen-worktop", "chopping-board", "bathroom-shelf", "floor", "desk",
        "shelf-bedside-display", "toy", "handle-or-grip", "outdoor-bench",
    ]  # fmt: skip
    for use in USES.values():
        assert sum(criterion.weight for criterion in use.criteria) == 100
    # A desk and a shelf may be of anything; the others say what recipes must stand up to beyond water.
    assert {use.id for use in USES.values() if use.demands <= {"water", "scratch"}} == {
        "floor",
        "desk",
        "shelf-bedside-display",
    }
    assert {use.id for use in USES.values() if "food" in use.demands} == {
        "kitchen-worktop",
        "chopping-board",
        "toy",
    }


def test_each_use_is_fed_by_a_protocol_that_ships_for_it() -> None:
    """All that can be read is; only what is known without a test, such as a price, is not."""
    pairs = {
        "dining-table": "table-full", "bar-counter": "spirits-and-wet-glasses", "kitchen-worktop": "kitchen-worktop",
        "chopping-board": "board-and-utensils", "bathroom-shelf": "wet-room", "floor": "floor", "desk": "desk-and-shelf",
        "shelf-bedside-display": "sheen-and-wax", "toy": "handle", "handle-or-grip": "handle", "outdoor-bench": "outdoors",
    }  # fmt: skip
    missing = {}
    for use_id, protocol_id in pairs.items():
        use, one = USES[use_id], PROTOCOLS[protocol_id]
        asked = [each for criterion in use.criteria for each in criterion.asked] + [
            gate.asked for gate in use.gates
        ]
        missing[use_id] = sorted({each.id for each in asked if not each.tests(one)})
    assert missing == {
        "dining-table": [], "bar-counter": ["downtime-of-it", "scratched"], "kitchen-worktop": ["upkeep-of-it"],
        "chopping-board": ["upkeep-of-it"], "bathroom-shelf": [], "floor": ["cost-of-it"], "desk": [],
        "shelf-bedside-display": ["cost-of-it", "water"], "toy": [], "handle-or-grip": [], "outdoor-bench": [],
    }  # fmt: skip


def test_what_reads_anything_asks_for_no_agent() -> None:
    asked = Asked(id="looks", agents=frozenset(), response="looks")
    assert asked.tests(PROTOCOLS["desk-and-shelf"]) == ("faults/looks",)
    uptake = Asked(id="uptake", agents=frozenset(), response="uptake")
    assert uptake.tests(PROTOCOLS["board-and-utensils"]) == ("uptake/uptake",)
