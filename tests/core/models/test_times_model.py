"""Interval-censored times against a published estimate, statsmodels, by hand, by symmetry and on bad input."""

from __future__ import annotations

import numpy as np
import pytest
from statsmodels.duration.survfunc import SurvfuncRight, survdiff

from nublet.core.errors import ReadingsError
from nublet.core.evidence.models.times import TimeSeen, estimate_survival, log_rank_scores, median_time

# Finkelstein, D. M. and Wolfe, R. A. (1985), A semiparametric model for regression analysis of interval-censored failure time data,
# Biometrics 41, 933-945: the 46 times of the first group, in months.
FINKELSTEIN_WOLFE: list[tuple[float, float | None]] = [
    (45, None), (6, 10), (0, 7), (46, None), (46, None), (7, 16), (17, None), (7, 14), (37, 44), (0, 8), (4, 11), (15, None),
    (11, 15), (22, None), (46, None), (46, None), (25, 37), (46, None), (26, 40), (46, None), (27, 34), (36, 44), (46, None),
    (36, 48), (37, None), (40, None), (17, 25), (46, None), (11, 18), (38, None), (5, 12), (37, None), (0, 5), (18, None),
    (24, None), (36, None), (5, 11), (19, 35), (17, 25), (24, None), (32, None), (33, None), (19, 26), (37, None), (34, None),
    (36, None),
]  # fmt: skip


def seen(ends: list[tuple[float, float | None]], system: str = "A") -> list[TimeSeen]:
    return [
        TimeSeen(piece=f"p{i}", system=system, board=f"b{i}", species=None, after=a, by=b)
        for i, (a, b) in enumerate(ends)
    ]


def test_the_published_estimate() -> None:
    """Masses as printed by Fay, M. P. and Shaw, P. A. (2010), Journal of Statistical Software 36 (2), section 3."""
    estimate = estimate_survival(seen(FINKELSTEIN_WOLFE))
    found = {
        (float(a), float(b)): round(float(mass), 4)
        for a, b, mass in zip(estimate.starts, estimate.ends, estimate.mass, strict=True)
        if mass > 1e-4 and np.isfinite(b)
    }
    assert found == {
        (4, 5): 0.0463, (6, 7): 0.0334, (7, 8): 0.0887, (11, 12): 0.0708, (24, 25): 0.0926, (33, 34): 0.0818, (38, 40): 0.1209,
        (46, 48): 0.4656,
    }  # fmt: skip


def test_right_censored_times_are_kaplan_and_meiers() -> None:
    rng = np.random.default_rng(1)
    times, came = rng.integers(1, 12, 30), rng.random(30) < 0.7
    estimate = estimate_survival(
        seen([(float(t), float(t) if c else None) for t, c in zip(times, came, strict=True)])
    )
    reference = SurvfuncRight(times, came.astype(int))
    for time, expected in zip(reference.surv_times, reference.surv_prob, strict=True):
        assert float(estimate.mass[estimate.ends > time].sum()) == pytest.approx(expected, abs=1e-7)


def test_scores_add_up_to_the_log_rank_statistic() -> None:
    """Observed less expected of one group, squared over its hypergeometric variance, is statsmodels' chi-squared."""
    rng = np.random.default_rng(2)
    times, came, group = rng.integers(1, 20, 40), rng.random(40) < 0.8, np.arange(40) % 2
    scores = log_rank_scores(
        seen([(float(t), float(t) if c else None) for t, c in zip(times, came, strict=True)])
    )
    excess = float(scores[group == 1].sum())
    variance = 0.0
    for time in np.unique(times[came]):
        risk = times >= time
        n, n1, d = risk.sum(), (risk & (group == 1)).sum(), ((times == time) & came).sum()
        if n > 1:
            variance += d * n1 / n * (1 - n1 / n) * (n - d) / (n - 1)
    assert excess**2 / variance == pytest.approx(survdiff(times, came.astype(int), group)[0], rel=1e-6)


def test_scores_by_hand() -> None:
    """Two intervals one after the other: S falls from 1 to 1/2 to 0; (x log x) differences over 1/2, centred."""
    scores = log_rank_scores(seen([(0, 10), (10, 20)]))
    half = np.log(2)
    assert scores.tolist() == pytest.approx([half, -half])


def test_scores_sum_to_nought_and_do_not_mind_the_clock() -> None:
    ends: list[tuple[float, float | None]] = [
        (0, 60),
        (30, 120),
        (60, 120),
        (120, None),
        (240, 480),
        (30, 60),
    ]
    scores = log_rank_scores(seen(ends))
    assert scores.sum() == pytest.approx(0)
    squared = log_rank_scores(seen([(a**2, None if b is None else b**2) for a, b in ends]))
    np.testing.assert_allclose(squared, scores)


def test_medians_by_hand() -> None:
    found = median_time(seen([(30, 60), (60, 120), (60, 120), (120, 240), (240, None), (60, 120)]))
    assert (found.after, found.by) == (60, 120)
    # Six panels: the first and the last order statistic are 1 - 2 / 2^6 sure.
    assert (found.low, found.high) == (30, None)
    assert found.level == pytest.approx(1 - 2 / 64)
    late = median_time(seen([(30, 60), (480, None), (480, None)]))
    assert (late.after, late.by, late.high) == (480, None, None)
    exact = median_time(seen([(5, 5), (6, 6), (9, 9)]))
    assert (exact.after, exact.by) == (6, 6)


def test_many_panels_are_ninety_five_sure_by_the_binomial() -> None:
    found = median_time(seen([(float(i), float(i)) for i in range(1, 21)]))
    # Conover's table: for n = 20 the 6th and the 15th.
    assert (found.low, found.high) == (6, 15)
    assert found.level == pytest.approx(0.9586, abs=1e-4)


def test_what_cannot_be_is_refused() -> None:
    with pytest.raises(ReadingsError, match="cannot be"):
        estimate_survival(seen([(10, 5)]))
    with pytest.raises(ReadingsError, match="No time"):
        median_time([])
