"""Spots on panels: on the wood, apart from each other, or refused with a size that would do."""

from __future__ import annotations

import math
import re
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nublet.core.design.layout import PanelSize, place_spots
from nublet.core.errors import DesignError
from nublet.core.protocols.exposures import TABLE_BASICS, Exposure
from tests.core.builders import exposure

exposure_sets = st.lists(
    st.tuples(st.sampled_from([25.0, 40.0, 60.0, 100.0]), st.sampled_from(["liquid", "heat"])),
    min_size=1,
    max_size=14,
).map(lambda made: [exposure(f"e{i}", mm, kind) for i, (mm, kind) in enumerate(made)])  # type: ignore[arg-type]


@settings(max_examples=200, deadline=None)
@given(
    exposures=exposure_sets,
    length=st.floats(100, 1200),
    width=st.floats(60, 400),
    margin=st.floats(0, 30),
    seed=st.integers(0, 2**32),
)
def test_what_is_placed_keeps_every_margin(
    exposures: list[Exposure], length: float, width: float, margin: float, seed: int
) -> None:
    size = PanelSize(length_mm=length, width_mm=width)
    try:
        spots = place_spots(size, exposures, margin_mm=margin, rng=np.random.default_rng(seed))
    except DesignError:
        return
    assert [spot.exposure for spot in spots] == [e.id for e in exposures]
    slack = 0.01
    for i, spot in enumerate(spots):
        radius = spot.diameter_mm / 2
        assert spot.x_mm - radius >= margin - slack
        assert spot.y_mm - radius >= margin - slack
        assert spot.x_mm + radius <= length - margin + slack
        assert spot.y_mm + radius <= width - margin + slack
        for other in spots[:i]:
            gap = math.hypot(spot.x_mm - other.x_mm, spot.y_mm - other.y_mm) - radius - other.diameter_mm / 2
            assert gap >= margin - slack


@settings(max_examples=80, deadline=None)
@given(exposures=exposure_sets, seed=st.integers(0, 2**32))
def test_the_length_that_the_refusal_names_does_fit(exposures: list[Exposure], seed: int) -> None:
    size = PanelSize(length_mm=60, width_mm=150)
    try:
        place_spots(size, exposures, margin_mm=15, rng=np.random.default_rng(seed))
    except DesignError as refused:
        would_do = re.search(r"A panel (\d+) mm long", refused.message)
        assert would_do, refused.message
        larger = PanelSize(length_mm=float(would_do[1]), width_mm=150)
        assert place_spots(larger, exposures, margin_mm=15, rng=np.random.default_rng(seed))
        assert refused.field == "panel_length_mm"


def test_hot_blocks_stand_together_at_one_end() -> None:
    size = PanelSize(length_mm=400, width_mm=150)
    for seed in range(50):
        spots = place_spots(size, TABLE_BASICS.exposures, margin_mm=15, rng=np.random.default_rng(seed))
        kinds = [
            TABLE_BASICS.exposure(s.exposure).kind for s in sorted(spots, key=lambda s: (s.x_mm, s.y_mm))
        ]
        changes = sum(a != b for a, b in pairwise(kinds))
        assert changes == 1


def test_no_agent_is_always_near_the_edge() -> None:
    """Over 400 panels each of four like agents is equally far from the nearest edge, within 15 %."""
    agents = [exposure(name) for name in ("water", "wine", "coffee", "tea")]
    size = PanelSize(length_mm=260, width_mm=90)
    total = dict.fromkeys((agent.id for agent in agents), 0.0)
    for seed in range(400):
        for spot in place_spots(size, agents, margin_mm=15, rng=np.random.default_rng(seed)):
            total[spot.exposure] += min(
                spot.x_mm, spot.y_mm, size.length_mm - spot.x_mm, size.width_mm - spot.y_mm
            )
    mean = sum(total.values()) / 4
    assert all(abs(value / mean - 1) < 0.15 for value in total.values())


@pytest.mark.parametrize(
    ("size", "margin", "field"),
    [
        (PanelSize(length_mm=400, width_mm=90), 15, "panel_width_mm"),
        (PanelSize(length_mm=10, width_mm=150), 15, "panel_length_mm"),
        (PanelSize(length_mm=float("nan"), width_mm=150), 15, "panel_length_mm"),
        (PanelSize(length_mm=400, width_mm=9000), 15, "panel_width_mm"),
        (PanelSize(length_mm=400, width_mm=150), -1, "margin_mm"),
    ],
)
def test_bad_sizes_are_refused(size: PanelSize, margin: float, field: str) -> None:
    with pytest.raises(DesignError) as refused:
        place_spots(size, TABLE_BASICS.exposures, margin_mm=margin, rng=np.random.default_rng(0))
    assert refused.value.field == field
