"""What a composer needs of the core: steps harder and milder, ladders, the rule of time, and what a protocol asks of a trial."""

from __future__ import annotations

import pytest

from nublet.core.design.asking import ask
from nublet.core.plain import folded
from nublet.core.protocols.agents import Agent
from nublet.core.protocols.checking import check_protocol
from nublet.core.protocols.shipped import PROTOCOLS, TESTS
from nublet.core.protocols.shipped.building import USUAL_LOOKS
from nublet.core.protocols.spot_tests import laid_on_spot
from nublet.core.protocols.steps import as_ladder, harder, is_rising, milder, with_ladder
from nublet.core.protocols.tests import Protocol, Test
from nublet.core.protocols.timeline import timeline_of


def severity_of(test: Test) -> tuple[float, float | None, int, int]:
    act = test.main_act
    assert act is not None
    return act.lasts_min, act.temperature_c, act.cycles, act.strokes


@pytest.mark.parametrize("test", TESTS.values(), ids=lambda test: str(test.id))
def test_a_step_up_and_down_again_is_the_test_itself(test: Test) -> None:
    up, down = harder(test), milder(test)
    if up is not None:
        assert up.harshness > test.harshness
    if down is not None:
        assert down.harshness < test.harshness
    if up is not None:
        back = milder(up)
        # What stands between two steps of the ladder that it goes by comes back to the one below, if there is one.
        if back is not None and severity_of(back) == severity_of(test):
            assert back == test
        else:
            assert back == down
        assert back is None or harder(back) in (up, test)


def test_steps_that_ship_are_the_shipped_tests() -> None:
    assert harder(TESTS["coffee-1h"]) == TESTS["coffee-2h"]
    assert harder(TESTS["coffee-24h"]) is None
    assert milder(TESTS["dry-heat-85"]) == TESTS["dry-heat-70"]
    assert harder(TESTS["iron-115"]) == TESTS["iron-200"]
    assert harder(TESTS["water-spot-16h"]) == TESTS["water-spot-24h"]
    assert harder(TESTS["damp-25"]) == TESTS["damp-100"]
    assert harder(TESTS["outdoors-south"]) is None
    assert harder(TESTS["sheen"]) is None


def test_other_steps_are_named_by_their_severity() -> None:
    found = harder(TESTS["scratch"])
    assert found is not None
    assert (found.id, found.name, found.acts[0].strokes) == ("scratch-60", "Weighted scratch, 60 strokes", 60)
    basics = PROTOCOLS["table-basics"].test("water-6h")
    found = harder(basics)
    assert found is not None
    assert (found.id, found.name, found.duration_min) == ("water-spot-16h", "Water, covered 16 h", 960)


def test_a_shops_own_agent_has_its_own_steps() -> None:
    cordial = laid_on_spot("cordial-5min", "buffet cordial", wetted_mm=40, lasts_min=5, name="Cordial, 5 min")
    own = {
        folded("Buffet cordial"): Agent(id="c", name="Buffet cordial", group="stain", durations_min=(5, 45))
    }
    found = harder(cordial, own)
    assert found is not None
    assert (found.id, found.name, found.duration_min) == ("cordial-45min", "Cordial, 45 min", 45)
    usual = harder(cordial)
    assert usual is not None
    assert usual.duration_min == 10


@pytest.mark.parametrize(
    "test_id",
    ["coffee-1h", "wet-heat-55", "dry-heat-180", "acetone-10s", "damp-25", "iron-200", "water-spot-24h"],
)
def test_a_ladder_of_any_test_is_one_that_a_protocol_may_have(test_id: str) -> None:
    steps, ladder = as_ladder(TESTS[test_id])
    assert ladder is not None
    assert is_rising(steps)
    assert test_id in ladder.tests
    check_protocol(
        Protocol(id="p", version=1, name="P", says="", tests=steps, looks=USUAL_LOOKS, ladders=(ladder,))
    )


def test_a_ladder_in_a_protocol_takes_its_steps_from_others() -> None:
    full = PROTOCOLS["table-full"]
    made = with_ladder(full, "red-wine-1h", 5)
    check_protocol(made)
    wine = next(ladder for ladder in made.ladders if ladder.id == "ladder-red-wine-1h")
    assert wine.tests == ("red-wine-2min", "red-wine-10min", "red-wine-1h", "red-wine-2h", "red-wine-6h")
    assert "wine" not in {ladder.id for ladder in made.ladders}
    assert len(made.tests) == len(full.tests) + 2
    assert with_ladder(PROTOCOLS["sheen-and-wax"], "sheen") == PROTOCOLS["sheen-and-wax"]


def test_the_rule_of_time() -> None:
    coffee = timeline_of(TESTS["coffee-1h"], USUAL_LOOKS)
    assert [(bar.kind, bar.from_min, bar.to_min) for bar in coffee.bars] == [("contact", 0, 60.75)]
    assert [(look.look, look.at_min, look.is_two) for look in coffee.looks] == [
        ("lifted", 61.5, True), ("20min", 81.5, True), ("24h", 1501.5, True),
    ]  # fmt: skip
    iron = timeline_of(TESTS["iron-200"], USUAL_LOOKS)
    assert iron.bars[0].kind == "hot"
    mend = timeline_of(TESTS["scratch-and-mend"], TESTS["scratch-and-mend"].looks)
    at = {look.look: look.at_min for look in mend.looks}
    assert at["before"] == 0 < at["hurt"] < at["mended"]
    assert at["mended"] > 24 * 60
    out = timeline_of(TESTS["outdoors-south"], TESTS["outdoors-south"].looks)
    assert out.length_min == pytest.approx(24 * 43_830, rel=0.01)
    for test in TESTS.values():
        found = timeline_of(test, test.looks or USUAL_LOOKS)
        assert all(bar.from_min < bar.to_min for bar in found.bars)
        assert all(
            one.to_min <= other.from_min + 1e-6
            for one, other in zip(found.bars, found.bars[1:], strict=False)
        )


def test_what_a_protocol_asks_of_a_trial() -> None:
    basics = ask(PROTOCOLS["table-basics"], n_build_ups=5, n_boards=8, n_judges=3)
    assert (basics.panels_each, basics.n_panels, basics.n_slips) == (1, 40, 0)
    # Six rings, two looks, one scale, no views of their own.
    assert (basics.n_readings_each, basics.n_readings) == (40 * 6 * 2, 40 * 6 * 2 * 3)
    assert basics.expose_h == pytest.approx(40 * 6 * 1.5 / 60)
    assert basics.n_days == 2
    board = ask(PROTOCOLS["board-and-utensils"], n_build_ups=5, n_boards=4, n_judges=2)
    assert (board.panels_each, board.n_panels, board.n_slips) == (3, 60, 2 * 4 * 3)
    assert board.sites == {"part": 1, "spot": 3, "panel": 2, "slip": 2, "strip": 1}
    assert board.n_readings == 2 * board.n_readings_each + sum(each.readings_hands for each in board.tests)
    assert ask(PROTOCOLS["outdoors"], n_build_ups=2, n_boards=1, n_judges=1).n_days > 700
    sections = ask(PROTOCOLS["table-basics"], n_build_ups=5, n_boards=8, n_judges=3, n_sections=2)
    assert sections.n_readings == 2 * basics.n_readings
