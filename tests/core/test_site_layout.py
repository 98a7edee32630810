"""Sites of every kind on panels: an independent look at each drawing, and what cannot be laid out."""

from __future__ import annotations

import math
from collections import Counter
from itertools import combinations

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from nublet.core.design.areas import PanelSize
from nublet.core.design.cutting import Saw
from nublet.core.design.drawn import Spot
from nublet.core.design.site_fit import check_sites_fit
from nublet.core.design.trial_design import Design, DesignSpec, Panel, draw_design, draw_one_panel
from nublet.core.design.words import say_design
from nublet.core.errors import DesignError
from nublet.core.protocols.shipped import PROTOCOLS, TESTS
from nublet.core.protocols.tests import Test
from tests.core.builders import unmeasured_boards

SLACK = 1e-6
SIZE = PanelSize(length_mm=900, width_mm=220)
BUILD_UPS = ("control", "Marrowby Tung", "Fellgate Hardoil 2K")


def designed(
    *tests: Test, size: PanelSize = SIZE, sections: tuple[str, ...] = (), end_mm: float = 40, seed: int = 1
) -> Design:
    return draw_design(
        DesignSpec(
            build_ups=BUILD_UPS,
            boards=unmeasured_boards(2),
            exposures=tests,
            size=size,
            sections=sections,
            saw=Saw(end_piece_mm=end_mm),
            bare=("control",),
            seed=seed,
        )
    )


def box(spot: Spot) -> tuple[float, float, float, float]:
    """Left, right, bottom and top, mm."""
    along, across = (
        (spot.diameter_mm, spot.diameter_mm) if spot.kind == "spot" else (spot.along_mm, spot.across_mm)
    )
    return spot.x_mm - along / 2, spot.x_mm + along / 2, spot.y_mm - across / 2, spot.y_mm + across / 2


def gap_mm(one: Spot, other: Spot) -> float:
    """From edge to edge, by walking the outline of the first: coarse, and of other making than the drawer's own."""

    def outline(spot: Spot) -> list[tuple[float, float]]:
        if spot.kind == "spot":
            radius = spot.diameter_mm / 2
            return [
                (
                    spot.x_mm + radius * math.cos(a * math.tau / 48),
                    spot.y_mm + radius * math.sin(a * math.tau / 48),
                )
                for a in range(48)
            ]
        left, right, bottom, top = box(spot)
        steps = [i / 12 for i in range(13)]
        return [(left + s * (right - left), y) for s in steps for y in (bottom, top)] + [
            (x, bottom + s * (top - bottom)) for s in steps for x in (left, right)
        ]

    return min(math.dist(a, b) for a in outline(one) for b in outline(other))


def faults_of(design: Design) -> list[str]:
    """What is wrong with a design's panels; empty when nothing is."""
    spec = design.spec
    tests = {test.id: test for test in spec.exposures}
    found: list[str] = []
    wanted = Counter(
        (board.id, build_up, test.id, section)
        for board in spec.boards
        for build_up in spec.build_ups
        for test in spec.exposures
        if test.site.kind != "slip"
        for section in (spec.sections or (None,))
    )
    have = Counter(
        (panel.board, panel.build_up, spot.exposure, spot.section)
        for panel in design.panels
        for spot in panel.spots
    )
    if have != wanted:
        found.append(f"not each test once: {have - wanted}, {wanted - have}")
    for panel in design.panels:
        found += _panel_faults(panel, spec, tests)
    slips = Counter((slip.build_up, slip.replicate, slip.test) for slip in design.slips)
    asked = Counter(
        (name, replicate, test.id)
        for name in spec.build_ups
        if name not in spec.bare
        for replicate in range(1, spec.slip_replicates + 1)
        for test in spec.exposures
        if test.site.kind == "slip"
    )
    if slips != asked:
        found.append("slips are not as asked")
    codes = [panel.code for panel in design.panels] + [slip.code for slip in design.slips]
    if len(set(codes)) < len(codes):
        found.append("a code is used twice")
    return found


def _panel_faults(panel: Panel, spec: DesignSpec, tests: dict[str, Test]) -> list[str]:
    found = []
    used_up = [spot for spot in panel.spots if tests[spot.exposure].uses_up_panel]
    if used_up and len({spot.exposure for spot in panel.spots}) > 1:
        found.append(f"{panel.code} is used up and shared")
    placed = [spot for spot in panel.spots if spot.kind in ("spot", "strip")]
    margin = spec.margin_mm
    for spot in placed:
        areas = {s.name: (s.x_mm, s.x_mm + s.length_mm, s.y_mm, s.y_mm + s.width_mm) for s in panel.sections}
        left, right, bottom, top = areas.get(
            spot.section or "", (0.0, spec.size.length_mm, 0.0, spec.size.width_mm)
        )
        a, b, c, d = box(spot)
        if min(a - left, right - b, c - bottom, top - d) < margin - SLACK:
            found.append(f"{spot.exposure} on {panel.code} is too near an edge")
        if spot.kind == "strip" and (spot.along_mm, spot.across_mm) != tests[spot.exposure].site.footprint_mm:
            found.append(f"{spot.exposure} lies the wrong way")
    for one, other in combinations(placed, 2):
        # Far apart by their centres alone: no need to walk.
        if math.hypot(one.x_mm - other.x_mm, one.y_mm - other.y_mm) > 250:
            continue
        if gap_mm(one, other) < margin - 0.5:
            found.append(f"{one.exposure} and {other.exposure} on {panel.code} are too near")
    return found


PLACED = [test for test in TESTS.values() if test.site.is_placed and not {"bleach", "ammonia"} & test.natures]
ODD = [test for test in TESTS.values() if not test.site.is_placed]


@settings(max_examples=60, deadline=None, suppress_health_check=list(HealthCheck), derandomize=True)
@given(
    st.lists(st.sampled_from(PLACED), max_size=8, unique_by=lambda test: test.id),
    st.lists(st.sampled_from(ODD), max_size=5, unique_by=lambda test: test.id),
    st.sampled_from([(), ("oiled", "waxed")]),
    st.integers(0, 1000),
)
def test_sites_of_every_kind_keep_their_distance_and_the_used_up_their_panels(
    placed: list[Test], odd: list[Test], sections: tuple[str, ...], seed: int
) -> None:
    tests = (*placed, *odd)
    if not tests:
        return
    if sections and any(test.site.kind in ("part", "end") for test in odd):
        with pytest.raises(DesignError, match="across its sections"):
            designed(*tests, sections=sections, seed=seed)
        return
    assert faults_of(designed(*tests, sections=sections, seed=seed)) == []


@pytest.mark.parametrize("protocol", PROTOCOLS.values(), ids=lambda protocol: str(protocol.id))
def test_every_shipped_protocol_is_laid_out(protocol: object) -> None:
    tests = getattr(protocol, "tests")  # noqa: B009
    design = designed(*tests, size=PanelSize(length_mm=1500, width_mm=260))
    assert faults_of(design) == []
    assert say_design(design)


def test_the_checker_sees_a_wrong_drawing() -> None:
    design = designed(TESTS["scratch"], TESTS["coffee-1h"])
    panel = design.panels[0]
    moved = Spot(**{**{f: getattr(panel.spots[0], f) for f in Spot.__dataclass_fields__}, "x_mm": 20.0})
    wrong = Panel(
        **{**{f: getattr(panel, f) for f in Panel.__dataclass_fields__}, "spots": (moved, panel.spots[1])}
    )
    changed = Design(
        **{
            **{f: getattr(design, f) for f in Design.__dataclass_fields__},
            "panels": (wrong, *design.panels[1:]),
        }
    )
    assert any("too near an edge" in fault for fault in faults_of(changed))


def test_what_uses_a_panel_up_has_one_and_looking_shares() -> None:
    design = designed(TESTS["boil"], TESTS["damp-25"], TESTS["colour"], TESTS["coffee-1h"], TESTS["uptake"])
    parts: dict[int, set[str]] = {}
    for panel in design.panels:
        parts.setdefault(panel.part, {spot.exposure for spot in panel.spots})
    assert parts == {1: {"coffee-1h", "uptake", "colour"}, 2: {"boil"}, 3: {"damp-25"}}
    boil = next(spot for panel in design.panels for spot in panel.spots if spot.exposure == "boil")
    assert (boil.kind, box(boil)) == ("part", (0, 450, 0, 220))
    assert (
        "Boil, half-immersed and Damp cloth, 25 times use their panels up and have one each."
        in say_design(design)
    )


def test_slips_have_codes_and_no_board() -> None:
    design = designed(TESTS["drying-drop"], TESTS["drying-film"])
    assert design.panels == ()
    assert len(design.slips) == 2 * 2 * 3
    assert {slip.build_up for slip in design.slips} == set(BUILD_UPS[1:])
    assert "12 slips of glass" in " ".join(say_design(design))
    with pytest.raises(DesignError, match="There are no boards"):
        draw_design(DesignSpec(build_ups=BUILD_UPS, boards=(), exposures=(TESTS["colour"],), size=SIZE))
    alone = draw_design(
        DesignSpec(build_ups=BUILD_UPS, boards=(), exposures=(TESTS["drying-drop"],), size=SIZE)
    )
    assert len(alone.slips) == 9


def test_hot_strips_and_blocks_stand_together_at_one_end() -> None:
    hot = [TESTS[name] for name in ("iron-115", "iron-200", "dry-heat-100")]
    wet = [TESTS[name] for name in ("coffee-1h", "ethanol-48-1h", "red-wine-1h", "scratch")]
    design = designed(*hot, *wet, size=PanelSize(length_mm=700, width_mm=160))
    assert faults_of(design) == []
    for panel in design.panels:
        order = [TESTS[spot.exposure].is_hot for spot in sorted(panel.spots, key=lambda spot: spot.x_mm)]
        assert order in ([True] * 3 + [False] * 4, [False] * 4 + [True] * 3)


def test_strips_change_places_from_panel_to_panel() -> None:
    strips = [TESTS[name] for name in ("scratch", "scratch-and-mend", "wear-strip", "rub-off")]
    design = designed(*strips)
    places = {
        name.id: {
            round(spot.x_mm) for panel in design.panels for spot in panel.spots if spot.exposure == name.id
        }
        for name in strips
    }
    assert all(len(found) > 1 for found in places.values())


def test_a_replacement_carries_what_its_panel_carried() -> None:
    import numpy as np

    design = designed(TESTS["boil"], TESTS["coffee-1h"], TESTS["scratch"])
    _, spots = draw_one_panel(design.spec, 2, rng=np.random.default_rng(1))
    assert [spot.exposure for spot in spots] == ["boil"]


@pytest.mark.parametrize(
    ("tests", "size", "says"),
    [
        (("dry-heat-100",), (400, 60), "Dry heat 100 °C, 20 min does not fit on a panel of 400 × 60 mm"),
        (("wear-strip",), (100, 200), "it takes 150 mm along the grain and 70 mm across"),
    ],
)
def test_a_site_that_no_such_panel_carries_is_named(
    tests: tuple[str, ...], size: tuple[float, float], says: str
) -> None:
    with pytest.raises(DesignError) as refused:
        check_sites_fit(
            PanelSize(length_mm=size[0], width_mm=size[1]), [TESTS[name] for name in tests], margin_mm=15
        )
    assert says in refused.value.message


def test_crowded_strips_are_refused_with_sizes_that_would_do() -> None:
    strips = [TESTS[name] for name in ("scratch", "scratch-and-mend", "wear-strip", "wet-shoe-1h", "rub-off")]
    with pytest.raises(DesignError, match="do not fit on a panel of 200 × 150 mm") as refused:
        designed(*strips, size=PanelSize(length_mm=200, width_mm=150))
    length = int(refused.value.message.split("a panel ")[2].split(" mm long")[0])
    assert faults_of(designed(*strips, size=PanelSize(length_mm=length, width_mm=150))) == []


def test_an_end_needs_its_piece() -> None:
    with pytest.raises(DesignError, match="needs the end-grain piece") as refused:
        designed(TESTS["end-stand-1h"], end_mm=0)
    assert refused.value.field == "end_piece_mm"
