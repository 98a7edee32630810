"""The shop that does not exist: every shipped test is read on its own scales, plausibly, by one model."""

from __future__ import annotations

from collections import Counter, defaultdict
from itertools import pairwise

import numpy as np
import pytest

from nublet.core.design.areas import PanelSize
from nublet.core.design.cutting import Board, Saw
from nublet.core.design.trial_design import DesignSpec, draw_design
from nublet.core.materials.families import FAMILIES
from nublet.core.protocols.agents import AGENTS, known_agent
from nublet.core.protocols.derived import ReadValue, derive
from nublet.core.protocols.response import Response
from nublet.core.protocols.responses import RESPONSES, parts_of
from nublet.core.protocols.shipped import PROTOCOLS, TESTS
from nublet.core.protocols.tests import Protocol, Test
from nublet.core.simulation.seeing import SEEN, Moment, plausible, seen_of
from nublet.core.simulation.shop import (
    SimulatedPiece,
    SimulatedReading,
    pieces_of,
    simulate,
    slips_as_pieces,
)
from nublet.core.simulation.standing_up import challenge_of, condition, severity

FAMILY_OF = {"Bare control": None} | {family: family for family in FAMILIES}
JUDGES = ["Nell", "Imara"]


def trial_of(
    protocol: Protocol, build_ups: list[str], n_boards: int = 4, seed: int = 1
) -> list[SimulatedReading]:
    """Readings of a designed trial, slips among them."""
    design = draw_design(
        DesignSpec(
            build_ups=tuple(build_ups),
            boards=tuple(Board(id=f"b{i}", species=("beech", "larch")[i % 2]) for i in range(n_boards)),
            exposures=protocol.tests,
            size=PanelSize(length_mm=1500, width_mm=300),
            saw=Saw(end_piece_mm=40),
            bare=("Bare control",),
        )
    )
    pieces = pieces_of(design.panels) + slips_as_pieces(design.slips)
    return simulate(pieces, FAMILY_OF, protocol, JUDGES, rng=np.random.default_rng(seed))


def build_up_of(protocol: Protocol, build_ups: list[str]) -> dict[str, str]:
    design = draw_design(
        DesignSpec(
            build_ups=tuple(build_ups),
            boards=tuple(Board(id=f"b{i}", species=("beech", "larch")[i % 2]) for i in range(4)),
            exposures=protocol.tests,
            size=PanelSize(length_mm=1500, width_mm=300),
            saw=Saw(end_piece_mm=40),
            bare=("Bare control",),
        )
    )
    return {panel.code: panel.build_up for panel in design.panels} | {
        slip.code: slip.build_up for slip in design.slips
    }


def alone(test: Test) -> Protocol:
    basics = PROTOCOLS["table-full"]
    return Protocol(id="alone", version=1, name="Alone", says="", tests=(test,), looks=basics.looks)


READ = [response for response in RESPONSES.values() if response.is_read and response.form != "group"]


def test_the_model_has_no_words_for_what_nobody_reads() -> None:
    assert set(SEEN) <= {response.id for response in READ}


@pytest.mark.parametrize("response", READ, ids=lambda response: str(response.id))
def test_a_response_without_words_of_its_own_goes_from_its_better_end_to_its_worse(
    response: Response, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.delitem(SEEN, response.id, raising=False)
    scratched = TESTS["scratch"]
    seen = [
        plausible(
            response.id,
            seen_of(
                response,
                Moment(
                    family=None, species="elm", test=scratched, look=PROTOCOLS["table-full"].looks_of(scratched)[-1],
                    condition=state, panel_shift=0.0, rng=np.random.default_rng(1),
                ),
            ),
        )
        for state in (5.0, 4.0, 3.0, 2.0, 1.0)
    ]  # fmt: skip
    assert all(response.check(value) == value for value in seen)
    worse = -1 if response.better == "high" or (response.better is None and response.form != "kinds") else 1
    assert all(worse * (later - first) >= 0 for first, later in pairwise(seen))
    assert worse * (seen[-1] - seen[0]) > 0


@pytest.mark.parametrize("test", TESTS.values(), ids=lambda test: str(test.id))
def test_every_shipped_test_is_read_on_its_own_scales_by_every_family(test: Test) -> None:
    protocol = alone(test)
    pieces = [
        SimulatedPiece(code=f"{name}-{block}", build_up=name, block=block, species="elm", tests=(test.id,))
        for block in ("b1", "b2")
        for name in FAMILY_OF
    ]
    found = simulate(pieces, FAMILY_OF, protocol, JUDGES, rng=np.random.default_rng(3))
    wanted: Counter[tuple[str, str, str]] = Counter()
    for read in test.reads:
        for look in protocol.looks_of(test):
            if read.is_due_at(look) and RESPONSES[read.response].form != "pair":
                for part in parts_of(read.response):
                    n = len(read.views or ("",)) * (1 if read.by == "hands" else len(JUDGES))
                    wanted[look.id, part.id, read.by] += n * len(pieces)
    have: Counter[tuple[str, str, str]] = Counter(
        (row.look, row.response, "judges" if row.judge else "hands") for row in found if not row.against
    )
    assert have == wanted
    for row in found:
        response = RESPONSES[row.response]
        assert response.check(row.value) == row.value
        assert (
            not response.steps
            or response.form == "kinds"
            or row.value in [step.value for step in response.steps]
        )


def test_the_same_state_gives_the_same_readings_and_looks_that_have_not_come_give_none() -> None:
    protocol = PROTOCOLS["table-basics"]
    one, other = (trial_of(protocol, ["Bare control", "pure-drying-oil"]) for _ in range(2))
    assert one == other
    assert len(one) == 2 * 4 * 6 * 2 * 2
    pieces = [SimulatedPiece(code="K7", build_up="wax", block="b", species="beech", tests=("wine-1h",))]
    early = simulate(
        pieces, FAMILY_OF, protocol, JUDGES, rng=np.random.default_rng(1), looks=protocol.looks[:1]
    )
    assert {row.look for row in early} == {"lifted"}
    lifted = np.mean([row.value for row in one if row.look == "lifted"])
    assert lifted < np.mean([row.value for row in one if row.look == "24h"])


def test_harsher_is_never_kinder() -> None:
    by_agent: dict[tuple[str, bool], list[Test]] = defaultdict(list)
    for test in TESTS.values():
        agent = known_agent(test.agent)
        if agent is not None:
            by_agent[agent.id, test.covered].append(test)
    for tests in by_agent.values():
        ordered = sorted(tests, key=lambda test: test.harshness)
        for milder, harsher in pairwise(ordered):
            assert severity(milder) <= severity(harsher), (milder.id, harsher.id)
            for family in FAMILY_OF.values():
                assert condition(family, milder) >= condition(family, harsher)


def test_any_finish_beats_bare_wood_on_water_and_spirit_is_shellacs_weakness() -> None:
    water, spirit = TESTS["water-spot-6h"], TESTS["ethanol-48-1h"]
    assert all(
        condition(family, water) > condition(None, water) for family in FAMILIES if family != "wood-wash"
    )
    assert condition("wood-wash", water) == condition(None, water)
    assert min(FAMILIES, key=lambda family: condition(family, spirit)) == "shellac-dewaxed"
    # What is done in the open does less, because it dries.
    assert condition("wax", TESTS["coffee-6h-open"]) > condition("wax", TESTS["coffee-6h"])


def test_each_agent_of_the_shelf_is_a_challenge_of_its_nature() -> None:
    found = {test.agent: challenge_of(test) for test in TESTS.values() if test.acts}
    assert {found[name] for name in ("red wine", "vinegar", "cola", "mustard")} == {"acid"}
    assert {found[name] for name in ("ethanol 48 %", "spirits 40 %", "hand sanitiser gel")} == {"alcohol"}
    assert (found["acetone"], found["olive oil"], found["weather"]) == ("solvent", "oil", "weather")
    assert {found[name] for name in ("dilute bleach", "ammonia 10 %")} == {"alkali"}
    assert len({challenge_of(test) for test in TESTS.values()}) == 11
    assert len(AGENTS) > 30


def means(found: list[SimulatedReading], names: dict[str, str], response: str, **at: str) -> dict[str, float]:
    listed: dict[str, list[float]] = defaultdict(list)
    for row in found:
        if row.response == response and all(getattr(row, key) == value for key, value in at.items()):
            listed[names[row.piece]].append(row.value)
    return {name: float(np.mean(values)) for name, values in listed.items()}


def test_films_shine_oils_weep_and_bare_wood_drinks() -> None:
    build_ups = ["Bare control", "pure-drying-oil", "waterborne-clear", "wax"]
    protocol = Protocol(
        id="p", version=1, name="P", says="",
        tests=tuple(TESTS[name] for name in ("sheen", "weep-back", "bead", "uptake", "drying-film", "feel", "went-on")),
        looks=(),
    )  # fmt: skip
    found, names = trial_of(protocol, build_ups), build_up_of(protocol, build_ups)
    gloss = means(found, names, "gloss-60")
    assert gloss["waterborne-clear"] > gloss["wax"] > gloss["Bare control"]
    weeps = means(found, names, "weeps-back")
    assert weeps["pure-drying-oil"] > weeps["waterborne-clear"]
    bead = means(found, names, "bead", look="laid")
    assert bead["waterborne-clear"] > bead["Bare control"]
    values = [
        ReadValue(
            panel=row.piece,
            test=row.test,
            look=row.look,
            response=row.response,
            value=row.value,
            judge=row.judge,
            view=row.view,
        )
        for row in found
    ]
    derived = derive(values, protocol)
    uptake: dict[str, list[float]] = defaultdict(list)
    dry: dict[str, list[float]] = defaultdict(list)
    for each in derived:
        if each.response == "uptake" and each.look == "wet-24h" and each.value is not None:
            uptake[names[each.panel]].append(each.value)
        if each.response == "minutes-to-touch-dry":
            dry[names[each.panel]].append(each.at_least or 0.0)
    assert np.mean(uptake["Bare control"]) > 5 * np.mean(uptake["waterborne-clear"]) > 0
    assert "Bare control" not in dry
    assert np.mean(dry["pure-drying-oil"]) > np.mean(dry["waterborne-clear"])


def test_weather_greys_and_is_worse_with_each_look() -> None:
    protocol = PROTOCOLS["outdoors"]
    build_ups = ["Bare control", "oil-varnish", "pure-drying-oil"]
    found, names = trial_of(protocol, build_ups), build_up_of(protocol, build_ups)
    for response in ("colour-b", "gloss-60"):
        early = means(found, names, response, look="3mo")
        late = means(found, names, response, look="24mo")
        assert all(late[name] < early[name] for name in build_ups)
    peels = means(found, names, "peels", look="24mo")
    assert peels["oil-varnish"] > peels["pure-drying-oil"] == 0


def test_choices_are_between_panels_of_one_board() -> None:
    protocol = PROTOCOLS["sheen-and-wax"]
    build_ups = ["Bare control", "wax", "waterborne-clear"]
    found, names = trial_of(protocol, build_ups), build_up_of(protocol, build_ups)
    choices = [row for row in found if row.response == "preferred"]
    assert len(choices) == 4 * 3 * len(JUDGES)
    against_bare = [
        row.value if names[row.against] == "Bare control" else 1 - row.value
        for row in choices
        if "Bare control" in (names[row.piece], names[row.against])
    ]
    assert np.mean(against_bare) > 0.7
