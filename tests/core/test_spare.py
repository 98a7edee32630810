"""A spare place for a test that went wrong."""

from __future__ import annotations

import math

import numpy as np
import pytest

from nublet.core.design.spare import FreeArea, StandingSite, find_spare
from nublet.core.protocols.acts import Act
from nublet.core.protocols.sites import Site
from nublet.core.protocols.spot_tests import laid_on_spot
from nublet.core.protocols.tests import Test

MARGIN = 15.0
PANEL = FreeArea(x_mm=0, y_mm=0, length_mm=400, width_mm=150)


def ring(agent: str = "coffee", wetted_mm: float = 40, **more: object) -> Test:
    return laid_on_spot(f"{agent}-1h", agent, wetted_mm=wetted_mm, lasts_min=60, **more)  # type: ignore[arg-type]


def at(test: Test, x: float, y: float) -> StandingSite:
    return StandingSite(test=test, x_mm=x, y_mm=y)


def test_the_roomiest_place_keeps_all_margins() -> None:
    coffee = ring()
    standing = [at(coffee, 40, 40), at(ring("tea"), 40, 110), at(ring("milk"), 350, 75)]
    found = find_spare(coffee, PANEL, standing, margin_mm=MARGIN)
    assert found is not None
    x, y = found
    assert 20 + MARGIN <= x <= 400 - 20 - MARGIN
    assert 20 + MARGIN <= y <= 150 - 20 - MARGIN
    gaps = [math.hypot(x - each.x_mm, y - each.y_mm) - 40 for each in standing]
    assert min(gaps) >= MARGIN
    # Nothing on a fine grid is further from everything.
    best = max(
        min(math.hypot(u - each.x_mm, v - each.y_mm) - 40 for each in standing)
        for u in np.arange(35, 366, 1.0)
        for v in np.arange(35, 116, 1.0)
        if min(u, 400 - u, v, 150 - v) >= 35
    )
    assert min(gaps) >= min(best, 75 - 20) - 3


def test_a_full_panel_has_none() -> None:
    coffee = ring()
    full = [at(coffee, x, y) for x in (50, 125, 200, 275, 350) for y in (45, 105)]
    assert find_spare(coffee, PANEL, full, margin_mm=MARGIN) is None
    assert (
        find_spare(coffee, FreeArea(x_mm=0, y_mm=0, length_mm=60, width_mm=60), [], margin_mm=MARGIN) is None
    )


def test_it_stays_in_its_own_section() -> None:
    section = FreeArea(x_mm=200, y_mm=0, length_mm=200, width_mm=150)
    found = find_spare(ring(), section, [at(ring("tea"), 260, 75)], margin_mm=MARGIN)
    assert found is not None
    assert found[0] >= 200 + 35


def test_bleach_is_no_neighbour_of_an_acid() -> None:
    bleach, vinegar = ring("dilute bleach"), ring("vinegar")
    narrow = FreeArea(x_mm=0, y_mm=0, length_mm=260, width_mm=80)
    near = [at(vinegar, 60, 40)]
    free = find_spare(ring("milk"), narrow, [*near, at(ring("tea"), 220, 40)], margin_mm=MARGIN)
    assert free is not None
    assert find_spare(bleach, narrow, [*near, at(ring("tea"), 220, 40)], margin_mm=MARGIN) is None
    apart = find_spare(bleach, narrow, near, margin_mm=MARGIN)
    assert apart is not None
    assert apart[0] - 60 - 40 >= 40 + 2 * MARGIN


def test_strips_are_kept_off_by_their_sides() -> None:
    scratch = Test(
        id="scratch",
        name="Scratch",
        short_name="Scratch",
        group="wear",
        site=Site(kind="strip", length_mm=100, width_mm=20),
        acts=(Act(id="stroke", kind="stroke"),),
        reads=(),
    )
    along, across = scratch.site.footprint_mm
    found = find_spare(ring(), PANEL, [at(scratch, 200, 75)], margin_mm=MARGIN)
    assert found is not None
    beside = max(abs(found[0] - 200) - along / 2 - 20, 0)
    above = max(abs(found[1] - 75) - across / 2 - 20, 0)
    assert math.hypot(beside, above) >= MARGIN - 1e-9


@pytest.mark.parametrize("margin", [0.0, 5.0, 40.0])
def test_an_exact_fit_is_found(margin: float) -> None:
    side = 40 + 2 * margin
    area = FreeArea(x_mm=10, y_mm=5, length_mm=side, width_mm=side)
    assert find_spare(ring(), area, [], margin_mm=margin) == pytest.approx((10 + side / 2, 5 + side / 2))
