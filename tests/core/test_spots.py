"""Placing spots where agents must not meet: the search for places, by itself."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import combinations

import numpy as np
import pytest

from nublet.core.design.areas import PanelSize
from nublet.core.design.drawn import DrawnFace
from nublet.core.design.spots import SpotDrawer, neighbour_gap_mm
from nublet.core.protocols.agents import give_off_gas
from nublet.core.protocols.tests import Test
from tests.core.builders import exposure

ACIDS = ("vinegar", "lemon juice", "red wine")


def drawer(
    size: tuple[float, float],
    exposures: Sequence[Test],
    n_sections: int = 1,
    *,
    lengthwise: bool = True,
    seed: int = 1,
) -> SpotDrawer:
    return SpotDrawer(
        size=PanelSize(length_mm=size[0], width_mm=size[1]),
        exposures=exposures,
        n_sections=n_sections,
        lengthwise=lengthwise,
        margin_mm=10,
        rng=np.random.default_rng(seed),
    )


def liquids(*agents: str, wetted_mm: float = 30) -> list[Test]:
    return [exposure(f"{index}-{agent}", wetted_mm, agent=agent) for index, agent in enumerate(agents)]


def gas_gaps(face: DrawnFace) -> list[float]:
    """Between the edges of every two rings whose agents give off gas together, mm."""
    return [
        float(np.hypot(one.x_mm - other.x_mm, one.y_mm - other.y_mm))
        - (one.exposure.site.wetted_mm + other.exposure.site.wetted_mm) / 2
        for one, other in combinations(face.rings, 2)
        if give_off_gas(one.exposure.natures, other.exposure.natures)
    ]


@pytest.mark.parametrize(
    ("size", "n_sections", "agents"),
    [
        ((330, 160), 1, ("bleach", *ACIDS, "ammonia")),
        ((500, 200), 2, ("bleach", *ACIDS, "ammonia", "mustard", "ketchup", "water")),
        ((330, 160), 3, ("bleach", "vinegar", "water")),
        # Bleach for 15 minutes and for an hour: the two may be neighbours, the acid of neither.
        ((420, 160), 1, ("bleach", "bleach", "vinegar", "water", "coffee")),
    ],
)
def test_bleach_is_kept_a_ring_and_two_margins_from_what_it_must_not_meet(
    size: tuple[float, float], n_sections: int, agents: tuple[str, ...]
) -> None:
    made = liquids(*agents)
    draws = drawer(size, made, n_sections)
    gap = neighbour_gap_mm(made, 10)
    assert gap == 50
    for _ in range(20):
        face = draws.draw()
        assert face is not None
        assert len(face.rings) == n_sections * len(agents)
        assert min(gas_gaps(face)) >= gap - 1e-6


def test_sections_across_the_panel_keep_their_neighbours_in_mind_too() -> None:
    made = liquids("bleach", "vinegar")
    draws = drawer((260, 150), made, 2, lengthwise=False)
    for _ in range(20):
        face = draws.draw()
        assert face is not None
        assert min(gas_gaps(face)) >= neighbour_gap_mm(made, 10) - 1e-6


def test_what_cannot_be_kept_apart_is_told_and_not_drawn() -> None:
    # Four rings in a square: every two are neighbours.
    draws = drawer((100, 100), liquids("bleach", "vinegar", "water", "coffee"))
    assert draws.fits
    assert draws.draw() is None
    assert draws.draw() is None


def test_bleaches_of_which_one_is_an_acid_are_kept_apart_as_well() -> None:
    made = liquids("bleach", "acid bleach", "water", "coffee", "milk", "tea")
    assert give_off_gas(made[0].natures, made[1].natures)
    draws = drawer((400, 150), made)
    for _ in range(10):
        face = draws.draw()
        assert face is not None
        assert min(gas_gaps(face)) >= neighbour_gap_mm(made, 10) - 1e-6


def test_a_hard_panel_is_not_drawn_alike_each_time() -> None:
    draws = drawer((500, 200), liquids("bleach", *ACIDS, "ammonia", "mustard", "ketchup", "water"), 2)
    faces = [draws.draw() for _ in range(30)]
    bleach_at = {
        (ring.x_mm, ring.y_mm)
        for face in faces
        if face
        for ring in face.rings
        if ring.exposure.agent == "bleach"
    }
    wine_at = {
        (ring.x_mm, ring.y_mm)
        for face in faces
        if face
        for ring in face.rings
        if ring.exposure.agent == "red wine"
    }
    assert len(bleach_at) >= 4
    assert len(wine_at) >= 8


def test_the_same_seed_draws_the_same_panels() -> None:
    made = liquids("bleach", *ACIDS)
    first, second, other = (drawer((400, 150), made, seed=seed) for seed in (5, 5, 6))
    drawn = [[one.draw() for _ in range(4)] for one in (first, second, other)]
    assert drawn[0] == drawn[1] != drawn[2]
