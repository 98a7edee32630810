"""Designs over made-up specifications, held to every rule by an independent checker."""

from __future__ import annotations

import json
import re
from collections import Counter
from typing import Any

import pytest
from hypothesis import event, given, settings
from hypothesis import strategies as st

from nublet.core.design.trial_design import draw_design
from nublet.core.errors import DesignError
from nublet.formats.design_json import design_to_json, read_design_spec, spec_from_plain
from tests.core.design_checks import check_design, edge_means

AGENTS = ["water", "bleach", "vinegar", "ammonia 10 %", "ethanol 48 %", "red wine", "coffee", "milk"]


def board(number: int, species: str = "beech", length: float = 6000, **more: Any) -> dict[str, Any]:
    return {
        "id": f"{species} {number}",
        "species": species,
        "length_mm": length,
        "width_mm": 180,
        "defects": [],
    } | more


def liquid(name: str, agent: str | None = None, wetted: float = 40) -> dict[str, Any]:
    return {"id": name, "agent": agent or name, "wetted_mm": wetted, "kind": "liquid"}


def a_spec(**changes: Any) -> dict[str, Any]:
    return {
        "systems": ["A", "B", "C"],
        "control": True,
        "species": ["beech"],
        "sections": [],
        "boards": [board(1), board(2), board(3)],
        "panel_mm": [400, 150],
        "kerf_mm": 3,
        "end_trim_mm": 20,
        "exposures": [liquid("water"), liquid("wine", "red wine"), liquid("coffee"), liquid("milk")],
        "margin_mm": 15,
        "seed": 7,
    } | changes


def draw(spec: dict[str, Any]) -> dict[str, Any]:
    return design_to_json(draw_design(spec_from_plain(spec)))


@st.composite
def specs(draw_from: st.DrawFn) -> dict[str, Any]:
    """Mostly possible: panels roomy for their exposures, boards about as long as the panels need."""
    species = draw_from(st.sampled_from([["beech"], ["elm"], ["beech", "larch"]]))
    sections: list[str] = draw_from(st.sampled_from([[], [], ["none", "waxed"], ["one", "two", "three"]]))
    kinds = st.sampled_from(["liquid", "liquid", "liquid", "heat"])
    rings = st.tuples(st.sampled_from(AGENTS), st.sampled_from([25.0, 40.0, 60.0]), kinds)
    exposures = [
        {"id": f"e{i}", "agent": agent, "wetted_mm": wetted, "kind": kind}
        for i, (agent, wetted, kind) in enumerate(draw_from(st.lists(rings, min_size=1, max_size=10)))
    ]
    margin = draw_from(st.floats(0, 20))
    room = sum((float(str(e["wetted_mm"])) + margin) ** 2 for e in exposures) * max(1, len(sections))
    width = draw_from(st.floats(130, 350))
    length = min(2900.0, max(150.0, draw_from(st.floats(1.5, 4)) * room / width))
    systems = [f"system {i}" for i in range(draw_from(st.integers(2, 6)))]
    trim, kerf = draw_from(st.floats(0, 100)), draw_from(st.floats(0, 6))
    lanes = draw_from(st.integers(1, 3))
    fits = draw_from(st.integers(len(systems), len(systems) + 4))
    boards = [
        board(
            number,
            wood,
            min(29_000, 2 * trim + (length + kerf) * -(-fits // lanes) + draw_from(st.floats(0, 500))),
            width_mm=lanes * (width + kerf) + draw_from(st.floats(0, 60)),
            defects=draw_from(
                st.lists(
                    st.tuples(st.integers(0, 3000), st.integers(1, 400)).map(
                        lambda d: {"from_mm": d[0], "to_mm": d[0] + d[1]}
                    ),
                    max_size=2,
                )
            ),
        )
        for wood in species
        for number in range(1, draw_from(st.integers(1, 6)) + 1)
    ]
    return {
        "systems": systems,
        "control": draw_from(st.booleans()),
        "species": species,
        "sections": sections,
        "boards": boards,
        "panel_mm": [length, width],
        "kerf_mm": kerf,
        "end_trim_mm": trim,
        "exposures": exposures,
        "margin_mm": margin,
        "seed": draw_from(st.integers(0, 2**40)),
    }


@settings(max_examples=120, deadline=None)
@given(spec=specs())
def test_every_design_that_is_given_keeps_every_rule(spec: dict[str, Any]) -> None:
    try:
        design = draw(spec)
    except DesignError as refused:
        event(f"refused: {refused.field}")
        assert len(refused.message) > 20
        return
    event("drawn")
    check_design(spec, design)
    assert design["says"]


@settings(max_examples=60, deadline=None)
@given(n_systems=st.integers(4, 7), shortfall=st.integers(1, 5), seed=st.integers(0, 2**32))
def test_short_boards_are_balanced_or_refused(n_systems: int, shortfall: int, seed: int) -> None:
    k = max(1, n_systems - shortfall)
    length = 2 * 20 + k * 400 + (k - 1) * 3
    spec = a_spec(
        systems=[f"S{i}" for i in range(n_systems)],
        control=False,
        boards=[board(i, length=length) for i in range(1, 11)],
        seed=seed,
    )
    try:
        design = draw(spec)
    except DesignError as refused:
        assert re.search(r"is \d+ mm short", refused.message)
        assert refused.field == "boards"
        return
    check_design(spec, design)
    assert any("balanced incomplete" in says for says in design["says"])


def test_a_board_that_is_just_long_enough_is_long_enough() -> None:
    exact = 2 * 20 + 4 * 400 + 3 * 3
    check_design(a_spec(boards=[board(1, length=exact)]), draw(a_spec(boards=[board(1, length=exact)])))
    with pytest.raises(DesignError, match=r"Board 'beech 1' is 120 mm short: it gives 3 of 4 panels"):
        draw(a_spec(boards=[board(1, length=exact - 120)]))


@pytest.mark.parametrize("sections", [[], ["none", "waxed"]])
def test_no_agent_is_nearer_the_edge_than_another(sections: list[str]) -> None:
    """Averaged over the panels, each agent's distance to the nearest edge is within 15 % of the others'."""
    agents = [
        "water",
        "wine",
        "coffee",
        "tea",
        "milk",
        "cola",
        "soy",
        "ink",
        "cream",
        "oil",
        "beet",
        "tomato",
    ]
    spec = a_spec(exposures=[liquid(a) for a in agents], panel_mm=[640, 330], sections=sections)
    spec["boards"] = [board(i, width_mm=340) for i in range(1, 4)]
    for seed in range(10):
        means = edge_means(draw(spec | {"seed": seed}), spec)
        middle = sum(means.values()) / len(means)
        assert all(abs(mean / middle - 1) < 0.15 for mean in means.values()), means


def test_bleach_is_kept_from_acids_across_section_borders_and_still_balanced() -> None:
    spec = a_spec(
        exposures=[liquid(a) for a in ("bleach", "vinegar", "water", "coffee", "milk", "ammonia 10 %")],
        sections=["none", "waxed"],
        panel_mm=[700, 150],
        boards=[board(i, length=8000) for i in range(1, 5)],
    )
    design = draw(spec)
    check_design(spec, design)
    assert any(says.startswith("bleach, vinegar and ammonia") for says in design["says"])


def test_agents_that_cannot_be_kept_apart_are_refused_with_a_size_that_does() -> None:
    spec = a_spec(exposures=[liquid("bleach"), liquid("vinegar")], panel_mm=[130, 70])
    with pytest.raises(DesignError, match="bleach and vinegar cannot be kept apart") as refused:
        draw(spec)
    would_do = re.search(r"a panel (\d+) mm long would do", refused.value.message)
    assert would_do
    larger = spec | {"panel_mm": [int(would_do[1]), 70]}
    check_design(larger, draw(larger))


def test_too_many_spots_are_refused_with_sizes_that_do() -> None:
    many = [liquid(f"agent {i}") for i in range(24)]
    with pytest.raises(DesignError, match="24 spots do not fit") as refused:
        draw(a_spec(exposures=many))
    message = refused.value.message
    longer, wider = re.search(r"(\d+) mm long", message), re.search(r"(\d+) mm wide", message)
    more = re.search(r"(\d+) panels of this size", message)
    assert longer
    assert wider
    assert more
    roomy = {"boards": [board(i, length=9000, width_mm=600) for i in range(1, 4)]}
    for size in ([int(longer[1]), 150], [400, int(wider[1])]):
        fits = a_spec(exposures=many, panel_mm=size, **roomy)
        check_design(fits, draw(fits))
    assert draw(a_spec(exposures=many, panels_each=int(more[1]), **roomy))
    with pytest.raises(DesignError, match="do not fit"):
        draw(a_spec(exposures=many, panels_each=int(more[1]) - 1, **roomy))


def test_ladders_stay_together_or_are_spread_over_panels() -> None:
    ladder = [liquid(f"water {n}", "water") for n in range(4)] + [
        liquid(f"wine {n}", "wine") for n in range(4)
    ]
    for ladders, agents_a_panel in (("together", {1}), ("spread", {2})):
        design = draw(a_spec(exposures=ladder, panels_each=2, ladders=ladders))
        assert Counter(panel["part"] for panel in design["panels"]) == {1: 12, 2: 12}
        assert {
            len({spot["exposure"].split()[0] for spot in panel["spots"]}) for panel in design["panels"]
        } == agents_a_panel
        for wood in ("beech 1", "beech 2", "beech 3"):
            on_board = [(p["system"], p["part"]) for p in design["panels"] if p["board"] == wood]
            # The two panels of a build-up are cut next to each other.
            assert all(one[0] == other[0] for one, other in zip(on_board[::2], on_board[1::2], strict=True))


def test_both_faces_share_the_exposures() -> None:
    design = draw(a_spec(faces="both"))
    for panel in design["panels"]:
        assert Counter(spot["side"] for spot in panel["spots"]) == {"front": 2, "back": 2}
    assert any("Both faces" in says for says in design["says"])


def test_end_grain_pieces_take_their_length_of_the_board() -> None:
    exact = 2 * 20 + 4 * (400 + 3 + 40) + 3 * 3
    offsets = [
        p["offset_mm"] for p in draw(a_spec(boards=[board(1, length=exact)], end_piece_mm=40))["panels"]
    ]
    assert offsets == [20, 466, 912, 1358]
    with pytest.raises(DesignError, match="1 mm short"):
        draw(a_spec(boards=[board(1, length=exact - 1)], end_piece_mm=40))


def test_a_matched_pair_is_cut_side_by_side_on_every_board() -> None:
    for seed in range(20):
        design = draw(a_spec(systems=list("ABCDE"), pairs=[["B", "D"]], seed=seed))
        for wood in ("beech 1", "beech 2", "beech 3"):
            systems = [panel["system"] for panel in design["panels"] if panel["board"] == wood]
            assert abs(systems.index("B") - systems.index("D")) == 1


def test_one_board_is_a_demonstration_and_says_so() -> None:
    says = " ".join(draw(a_spec(boards=[board(1)]))["says"])
    assert "One board is a demonstration" in says
    assert "you will notice" not in says


def test_what_it_says_grows_sharper_with_boards() -> None:
    def noticed(n: int) -> float:
        says = " ".join(draw(a_spec(boards=[board(i) for i in range(1, n + 1)]))["says"])
        found = re.search(rf"With {n} boards you will notice a ([\d.]+)-grade", says)
        assert found, says
        return float(found[1])

    assert noticed(2) > noticed(3) > noticed(6)


def test_same_spec_same_text_and_another_seed_another() -> None:
    assert draw(a_spec()) == draw(a_spec())
    assert draw(a_spec())["fingerprint"] != draw(a_spec(seed=8))["fingerprint"]
    assert draw(a_spec(margin_mm=16))["fingerprint"] != draw(a_spec())["fingerprint"]


@pytest.mark.parametrize(
    ("changes", "field", "says"),
    [
        ({"systems": ["A", "control"]}, "systems", "would be in it twice"),
        ({"systems": ["A", "A"]}, "build_ups", "'A' is listed twice"),
        ({"systems": "A"}, "systems", "it is a list"),
        ({"systems": ["A"], "control": False}, "build_ups", "at least two"),
        ({"species": ["elm"]}, "boards.0.species", "which species does not list"),
        ({"species": ["beech", "elm"]}, "species.1", "no board of 'elm'"),
        ({"species": []}, "species", "species is empty"),
        ({"boards": []}, "boards", "no boards"),
        ({"boards": [board(1), board(1)]}, "boards", "'beech 1' is listed twice"),
        ({"boards": [board(1, length=-5)]}, "boards", "-5 mm long cannot be"),
        ({"boards": [board(1, width_mm=120)]}, "boards", "30 mm too narrow"),
        ({"boards": [board(1, defects=[{"from_mm": 9, "to_mm": 3}])]}, "boards", "from 9 to 3 mm"),
        ({"boards": [board(1, defects=[{"from_mm": 9}])]}, "boards.0.defects.0", "lacks 'to_mm'"),
        ({"boards": [board(1, colour="red")]}, "boards.0", "unknown key 'colour'"),
        ({"panel_mm": [400]}, "panel_mm", "a list of two"),
        ({"panel_mm": [400, 9000]}, "panel_width_mm", "cannot be"),
        ({"panel_mm": [400, "wide"]}, "panel_mm.1", "it is a number"),
        ({"exposures": []}, "protocol", "no exposures"),
        ({"exposures": [liquid("a"), liquid("a")]}, "exposures", "'a' is listed twice"),
        ({"exposures": [liquid("a", wetted=0)]}, "exposures", "0 mm cannot be"),
        ({"exposures": [liquid("a") | {"kind": "gas"}]}, "exposures.0.kind", "choose one of"),
        ({"sections": ["a", "A"]}, "sections", "Two sections"),
        ({"margin_mm": -1}, "margin_mm", "-1 mm cannot be"),
        ({"kerf_mm": 99}, "kerf_mm", "99 mm cannot be"),
        ({"seed": 1.5}, "seed", "whole number"),
        ({"control": "yes"}, "control", "true or false"),
        ({"pairs": [["A", "Z"]]}, "pairs", "not in the trial"),
        ({"pairs": [["A", "B"], ["B", "C"]]}, "pairs", "in two pairs"),
        ({"panels_each": 9}, "panels_each", "Give 1 to 4"),
        ({"arrangement": "incomplete"}, "boards", "4 boards of 3, or 6 boards of 2 panels each would do"),
        ({"arrangement": "incomplete", "block_size": 9}, "block_size", "Blocks of 9"),
        ({"wood": 1}, "the specification", "unknown key 'wood'"),
    ],
)  # fmt: skip
def test_bad_input_is_refused_with_its_place(changes: dict[str, Any], field: str, says: str) -> None:
    with pytest.raises(DesignError, match=re.escape(says)) as refused:
        draw(a_spec(**changes))
    assert refused.value.field == field


def test_text_that_is_not_json_is_refused_with_its_line() -> None:
    with pytest.raises(DesignError, match="line 2, column"):
        read_design_spec('{"systems":\n oops}')
    assert read_design_spec(json.dumps(a_spec())).build_ups == ("A", "B", "C", "control")
