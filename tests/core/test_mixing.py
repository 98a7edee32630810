"""Mixing, batches, thinning, shellac cuts."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from nublet.core.errors import CalculationError
from nublet.core.materials.mixing import (
    G_PER_L_OF_ONE_POUND_CUT,
    alcohol_for_shellac,
    mix_by_parts,
    plan_batches,
    shellac_for_alcohol,
    smallest_mix,
    thin_to,
    weight_shares,
)

SHARES = st.lists(st.floats(0.5, 20), min_size=1, max_size=4)
RESOLUTIONS = st.sampled_from([0.1, 0.25, 0.5, 1.0, 5.0])


@given(SHARES, st.floats(1, 5000), RESOLUTIONS)
def test_parts_sum_to_the_total_and_keep_the_ratio_within_the_resolution(
    shares: list[float], total: float, resolution: float
) -> None:
    assume(total >= smallest_mix(shares, resolution=resolution))
    mixed = mix_by_parts(shares, total, resolution=resolution)
    assert math.fsum(mixed.amounts) == pytest.approx(mixed.total, rel=1e-12)
    assert total * (1 - 1e-9) <= mixed.total < total + resolution * (1 + 1e-9)
    for amount, step, share in zip(mixed.amounts, mixed.steps, shares, strict=True):
        assert amount == step * resolution
        assert abs(amount - mixed.total * share / math.fsum(shares)) < resolution * (1 + 1e-9)


@given(SHARES, RESOLUTIONS, st.floats(1, 20), st.floats(1, 3))
def test_from_the_smallest_mix_on_every_part_is_within_the_tolerance(
    shares: list[float], resolution: float, tolerance_pct: float, more: float
) -> None:
    smallest = smallest_mix(shares, resolution=resolution, tolerance_pct=tolerance_pct)
    mixed = mix_by_parts(shares, smallest * more, resolution=resolution)
    assert mixed.worst_error_pct <= tolerance_pct * (1 + 1e-9)


def test_a_known_mix() -> None:
    # Nine to one, 45 mL, in half millilitres.
    assert mix_by_parts((9, 1), 45, resolution=0.5).steps == (81, 9)
    # Seven to two to one of 10 whole grams; 3 : 1 of 10 leaves one step to the larger remainder.
    assert mix_by_parts((7, 2, 1), 10, resolution=1).amounts == (7, 2, 1)
    assert sorted(mix_by_parts((3, 1), 10, resolution=1).amounts) == [2, 8]
    assert smallest_mix((9, 1), resolution=0.5) == 50
    assert smallest_mix((1,), resolution=0.5) == 0.5


def test_a_mix_by_weight_uses_the_densities() -> None:
    assert weight_shares((3, 1), (0.9, 1.2)) == pytest.approx((2.7, 1.2))
    # Same densities: the ratio stays.
    assert weight_shares((9, 1), (1, 1)) == (9, 1)


@given(st.integers(1, 200), st.floats(0.5, 30), st.floats(0.2, 20), st.floats(10, 600), st.floats(0.3, 1))
def test_batches_are_used_up_in_time_and_cover_all_panels(
    n_panels: int, ml: float, minutes: float, pot_life: float, share: float
) -> None:
    assume(minutes <= pot_life * share)
    batches = plan_batches(
        n_panels, ml_per_panel=ml, minutes_per_panel=minutes, pot_life_min=pot_life, working_share=share
    )
    assert sum(batch.panels for batch in batches) == n_panels
    assert sum(batch.total_ml for batch in batches) == pytest.approx(n_panels * ml)
    for batch in batches:
        assert batch.done_at_min - batch.mixed_at_min <= pot_life * share * (1 + 1e-9)
    # One batch fewer would be too few.
    at_most = math.floor(pot_life * share / minutes + 1e-9)
    assert (len(batches) - 1) * at_most < n_panels
    assert max(b.panels for b in batches) - min(b.panels for b in batches) <= 1


def test_known_batches() -> None:
    # 24 panels of 15 min, pot life 240 min, of which 192 are worked: 12 a batch.
    batches = plan_batches(24, ml_per_panel=4, minutes_per_panel=15, pot_life_min=240)
    assert [(b.panels, b.mixed_at_min, b.total_ml) for b in batches] == [(12, 0, 48), (12, 180, 48)]


@given(st.floats(1, 100), st.floats(0.01, 1), st.floats(1, 5000))
def test_thinning_keeps_what_is_dissolved(have: float, weaker: float, total: float) -> None:
    want = have * weaker
    stock, thinner = thin_to(have_pct=have, want_pct=want, total_ml=total)
    assert stock * have == pytest.approx(total * want)
    assert stock + thinner == pytest.approx(total)


def test_a_one_pound_cut() -> None:
    # 453.59237 g in 3.785411784 L.
    assert round(G_PER_L_OF_ONE_POUND_CUT, 1) == 119.8
    assert shellac_for_alcohol(500, 2 * G_PER_L_OF_ONE_POUND_CUT) == pytest.approx(119.8264, abs=1e-3)


@given(st.floats(1, 10_000), st.floats(5, 1000))
def test_the_cut_goes_both_ways(alcohol: float, cut: float) -> None:
    assert alcohol_for_shellac(shellac_for_alcohol(alcohol, cut), cut) == pytest.approx(alcohol)


@pytest.mark.parametrize(
    ("compute", "field", "says"),
    [
        (lambda: mix_by_parts((9, 0), 10, resolution=1), "shares", "more than 0"),
        (lambda: mix_by_parts((), 10, resolution=1), "shares", "at least one part"),
        (lambda: mix_by_parts((9, 1), -1, resolution=1), "total", "more than 0"),
        (lambda: mix_by_parts((9, 1), math.nan, resolution=1), "total", "more than 0"),
        (lambda: mix_by_parts((9, 1), 10, resolution=0), "resolution", "more than 0"),
        (lambda: mix_by_parts((9, 1), 1e6, resolution=1e-3), "resolution", "coarser"),
        (lambda: mix_by_parts((99, 1), 3, resolution=1), "total", "smallest sensible mix is 1000"),
        (lambda: weight_shares((1, 2), (1,)), "densities", "one density"),
        (lambda: thin_to(have_pct=20, want_pct=30, total_ml=1), "want_pct", "cannot make 20 % stronger"),
        (
            lambda: plan_batches(3, ml_per_panel=1, minutes_per_panel=9, pot_life_min=10),
            "pot_life_min",
            "smaller panels",
        ),
        (lambda: shellac_for_alcohol(0, 100), "alcohol_ml", "more than 0"),
    ],
)
def test_what_cannot_be_mixed(compute: Callable[[], Any], field: str, says: str) -> None:
    with pytest.raises(CalculationError, match=says) as refused:
        compute()
    assert refused.value.field == field
