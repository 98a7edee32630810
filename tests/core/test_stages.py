"""Limits of staged trials against published ones, by chance, by reduction and on bad input."""

from __future__ import annotations

import numpy as np
import pytest
from scipy import stats

from nublet.core.errors import ReadingsError
from nublet.core.evidence.stages import stage_limits

# Two-sided 0.05, O'Brien-Fleming form, equal steps, as printed by Reboussin, D. M., DeMets, D. L., Kim, K. and Lan, K. K. G.
# (2000), Programs for computing group sequential boundaries using the Lan-DeMets method, Controlled Clinical Trials 21, 190-207.
PRINTED = {
    2: [2.9626, 1.9686],
    3: [3.7103, 2.5114, 1.9930],
    5: [4.8769, 3.3569, 2.6803, 2.2898, 2.0310],
}


@pytest.mark.parametrize("n", PRINTED)
def test_the_published_limits(n: int) -> None:
    assert [each.z for each in stage_limits((1,) * n)] == pytest.approx(PRINTED[n], abs=2e-4)


def test_a_trial_in_one_go_is_the_plain_test() -> None:
    (only,) = stage_limits((5,))
    assert (only.alpha, only.z, only.n_boards) == pytest.approx((0.05, stats.norm.isf(0.025), 5))


def test_the_error_over_all_looks_is_what_was_to_be_spent() -> None:
    """200,000 walks of chance alone, looked at after 3, 5 and 7 boards."""
    limits = stage_limits((3, 2, 2))
    steps = np.random.default_rng(1).normal(size=(200_000, 7))
    sums = np.cumsum(steps, axis=1)
    passed = np.zeros(len(sums), dtype=bool)
    for each in limits:
        passed |= np.abs(sums[:, each.n_boards - 1]) / np.sqrt(each.n_boards) >= each.z
        assert passed.mean() == pytest.approx(each.spent, abs=4 * np.sqrt(0.05 * 0.95 / len(sums)))
    assert limits[-1].spent == pytest.approx(0.05)


def test_limits_fall_and_a_board_more_in_the_first_stage_lowers_its_own() -> None:
    zs = [each.z for each in stage_limits((3, 2, 2))]
    assert zs == sorted(zs, reverse=True)
    assert stage_limits((4, 2, 2))[0].z < zs[0]
    assert [each.n_boards for each in stage_limits((3, 2, 2))] == [3, 5, 7]


def test_another_error_moves_the_last_limit_towards_its_own() -> None:
    assert stage_limits((2, 2), alpha=0.01)[-1].z == pytest.approx(stats.norm.isf(0.005), abs=0.03)


@pytest.mark.parametrize("boards", [(), (3, 0), (1,) * 11])
def test_what_is_no_plan_of_stages_is_refused(boards: tuple[int, ...]) -> None:
    with pytest.raises(ReadingsError, match="1 to 10 stages"):
        stage_limits(boards)
