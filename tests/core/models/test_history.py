"""Differences over trials against other programs and print, by hand, by symmetry, at the ends and on bad input."""

from __future__ import annotations

import math

import numpy as np
import pytest
from scipy import stats
from statsmodels.stats.meta_analysis import combine_effects

from nublet.core.errors import ReadingsError
from nublet.core.evidence.history import TrialDifference, pool_differences

# Thirteen trials of a vaccine, cases and the rest with it and without: Colditz, G. A. et al. (1994), JAMA 271, 698-702. Pooled by
# DerSimonian and Laird in Viechtbauer, W. (2010), Journal of Statistical Software 36(3), table 3 and text.
VACCINE = [
    (4, 119, 11, 128), (6, 300, 29, 274), (3, 228, 11, 209), (62, 13536, 248, 12619), (33, 5036, 47, 5761), (180, 1361, 372, 1079),
    (8, 2537, 10, 619), (505, 87886, 499, 87892), (29, 7470, 45, 7232), (17, 1699, 65, 1600), (186, 50448, 141, 27197),
    (5, 2493, 3, 2338), (27, 16886, 29, 17825),
]  # fmt: skip


def trials(differences: list[float], errors: list[float], df: float = 10) -> list[TrialDifference]:
    return [
        TrialDifference(trial=str(n), difference=d, se=se, df=df)
        for n, (d, se) in enumerate(zip(differences, errors, strict=True))
    ]


def vaccine() -> list[TrialDifference]:
    logs = [math.log(a / (a + b)) - math.log(c / (c + d)) for a, b, c, d in VACCINE]
    errors = [math.sqrt(1 / a - 1 / (a + b) + 1 / c - 1 / (c + d)) for a, b, c, d in VACCINE]
    return trials(logs, errors)


def test_the_published_example() -> None:
    found = pool_differences(vaccine())
    assert found.tau is not None
    assert found.tau**2 == pytest.approx(0.3088, abs=5e-5)
    assert found.mean == pytest.approx(-0.7141, abs=5e-5)
    assert found.q == pytest.approx(152.233, abs=5e-4)
    assert found.i2 == pytest.approx(0.9212, abs=5e-5)


def test_another_program_gives_the_same() -> None:
    own = vaccine()
    found = pool_differences(own)
    other = combine_effects(
        np.array([t.difference for t in own]), np.array([t.se**2 for t in own]), method_re="dl", use_t=True
    )
    assert found.mean == pytest.approx(other.mean_effect_re, abs=1e-9)
    assert found.q == pytest.approx(other.q, abs=1e-9)
    assert found.se == pytest.approx(other.sd_eff_w_re_hksj, abs=1e-9)
    t = stats.t.ppf(0.975, len(own) - 1)
    assert (found.low, found.high) == pytest.approx((found.mean - t * found.se, found.mean + t * found.se))


def test_two_by_hand() -> None:
    """Weights 1 and 1; Q = 2 (1 - 0)² / 2 ... = 0.5: no more than chance."""
    found = pool_differences(trials([0.0, 1.0], [1.0, 1.0]))
    assert (found.mean, found.q, found.tau, found.i2) == pytest.approx((0.5, 0.5, 0.0, 0.0))
    # Knapp and Hartung's own would be 0.5; fixed weights give the wider one.
    assert found.se == pytest.approx(math.sqrt(0.5))
    assert found.high == pytest.approx(0.5 + stats.t.ppf(0.975, 1) * math.sqrt(0.5))
    assert found.next_low is None


def test_turned_round_everything_turns_round_and_the_order_is_nothing() -> None:
    one = pool_differences(trials([0.4, 1.0, -0.2], [0.2, 0.3, 0.25]))
    turned = pool_differences(trials([-0.4, -1.0, 0.2], [0.2, 0.3, 0.25]))
    assert (turned.mean, turned.low, turned.high) == pytest.approx((-one.mean, -one.high, -one.low))
    shuffled = pool_differences(trials([-0.2, 0.4, 1.0], [0.25, 0.2, 0.3]))
    assert (shuffled.mean, shuffled.se, shuffled.tau) == pytest.approx((one.mean, one.se, one.tau))


def test_one_trial_keeps_its_own_interval() -> None:
    found = pool_differences(trials([0.8], [0.3], df=7))
    half = stats.t.ppf(0.975, 7) * 0.3
    assert (found.mean, found.low, found.high, found.tau) == pytest.approx(
        (0.8, 0.8 - half, 0.8 + half, None)
    )
    assert "One trial alone" in found.says


def test_trials_that_disagree_are_said_to() -> None:
    assert "do not agree" in pool_differences(trials([0.0, 2.0, 4.0], [0.2, 0.2, 0.2])).says
    assert "4 trials agree." in pool_differences(trials([1.0] * 4, [0.2] * 4)).says


def test_the_interval_covers_what_all_trials_have_in_common() -> None:
    """1,000 histories of five trials whose true differences vary."""
    rng = np.random.default_rng(5)
    covered = 0
    for _ in range(1000):
        errors = rng.uniform(0.2, 0.5, size=5)
        found = pool_differences(trials(list(rng.normal(0.7, np.sqrt(0.09 + errors**2))), list(errors)))
        covered += found.low <= 0.7 <= found.high
    assert 930 <= covered <= 985


@pytest.mark.parametrize("se", [0.0, math.nan, math.inf])
def test_a_trial_without_a_standard_error_is_refused(se: float) -> None:
    with pytest.raises(ReadingsError, match="no standard error"):
        pool_differences(trials([0.5, 0.4], [0.2, se]))
    with pytest.raises(ReadingsError, match="No finished trial"):
        pool_differences([])
