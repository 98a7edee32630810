"""Whole grades: Sheppard's correction, symmetry, the ends of the scale, and bad cases."""

from __future__ import annotations

import numpy as np
import pytest

from nublet.core.design import graded
from nublet.core.design.graded import graded_moments, graded_power, graded_sd, smallest_near_the_top
from nublet.core.design.outlook import look_ahead
from nublet.core.design.power import Comparison, Spread, notice_power

FOUR_OF_FIVE = Comparison(n_build_ups=5, n_boards=4, block_size=5)


def test_one_judge_without_noise_is_sheppards_correction(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(graded, "JUDGE_NOISE_SD", 1e-6)
    graded_sd.cache_clear()
    assert graded_sd(0.6, 1) ** 2 == pytest.approx(0.36 + 1 / 12, abs=2e-3)
    graded_sd.cache_clear()


def test_the_moments_are_those_of_simulated_panels() -> None:
    rng = np.random.default_rng(1)
    for mean in (2.5, 4.0, 5.0):
        panels = mean + rng.normal(0, 0.6, 200_000)
        judged = np.clip(np.rint(panels[:, None] + rng.normal(0, graded.JUDGE_NOISE_SD, (200_000, 3))), 1, 5)
        found = judged.mean(axis=1)
        assert graded_moments(mean, 0.6, n_judges=3) == pytest.approx((found.mean(), found.var()), abs=0.005)


def test_the_scale_is_alike_from_both_ends() -> None:
    low, high = graded_moments(1.4, 0.5, n_judges=2), graded_moments(4.6, 0.5, n_judges=2)
    assert (6 - low[0], low[1]) == pytest.approx(high)


def test_near_the_top_it_takes_more() -> None:
    middle = graded_power(1.5, 4.0, FOUR_OF_FIVE, 0.6, n_judges=1)
    assert middle < notice_power(1.5, FOUR_OF_FIVE, 0.6)
    assert graded_power(0.6, 5.6, FOUR_OF_FIVE, 0.4, n_judges=1) < graded_power(
        0.6, 4.0, FOUR_OF_FIVE, 0.4, n_judges=1
    )
    assert smallest_near_the_top(Comparison(n_build_ups=5, n_boards=1, block_size=5), 0.6, n_judges=1) is None


def test_the_sentence_holds_for_graded_panels() -> None:
    said = look_ahead([FOUR_OF_FIVE], Spread(), n_judges=1)
    plain = look_ahead([FOUR_OF_FIVE], Spread())
    assert said.here.told_apart is not None
    assert plain.here.told_apart is not None
    assert said.here.told_apart > plain.here.told_apart
    assert said.spread == Spread()
    assert "Panels are graded in whole steps by one judge; that is in these figures." in said.says
    assert any(
        f"in whole grades by one judge it takes {said.here.told_apart:.1f}" in says for says in plain.says
    )
    assert any("nearly unmarked (grade 5) it takes" in says for says in said.says)
    own = Spread(sd=0.6, source="own_trials", residual_df=20, n_trials=1)
    assert look_ahead([FOUR_OF_FIVE], own, n_judges=1).here == plain.here
