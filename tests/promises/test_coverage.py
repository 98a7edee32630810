"""What the evidence promises, held against a shop whose truth is known. Seeds are fixed."""

from __future__ import annotations

import numpy as np
import pytest

from nublet.core.evidence.fit import compare_pairs, t_intervals
from nublet.core.evidence.models.blocks import fit_blocks
from tests.core.builders import block_values

N_TRIALS = 2000
TRUE_MEANS = np.array([3.0, 3.2, 3.6, 2.4])


def simulate(rng: np.random.Generator, means: np.ndarray, *, whole_grades: bool) -> dict[str, list[float]]:
    """Four boards; three judges' mean of whole grades, or a measured value."""
    boards, panels = rng.normal(0, 0.3, 4), rng.normal(0, 0.6, (len(means), 4))
    values = means[:, None] + boards + panels
    if whole_grades:
        judged = values[..., None] + rng.normal(0, 0.3, (*values.shape, 3))
        values = np.clip(np.rint(judged), 1, 5).mean(axis=-1)
    return {f"S{i}": list(row) for i, row in enumerate(values)}


@pytest.mark.parametrize("whole_grades", [False, True])
def test_intervals_of_differences_cover_the_truth_95_times_in_100(whole_grades: bool) -> None:
    rng, covered, asked = np.random.default_rng(20), 0, 0
    for _ in range(N_TRIALS):
        fit = fit_blocks(block_values(simulate(rng, TRUE_MEANS, whole_grades=whole_grades)))
        # One pair's own 95 % interval is the Tukey interval at k = 2: difference ± t SE.
        half = (t_intervals(fit)[1][:, 1] - fit.means)[0] * np.sqrt(2)
        for i in range(4):
            for j in range(i):
                asked += 1
                covered += abs(fit.means[i] - fit.means[j] - (TRUE_MEANS[i] - TRUE_MEANS[j])) <= half
    assert 0.93 <= covered / asked <= 0.97


def test_false_alarms_stay_within_six_in_a_hundred_with_ordinal_grades() -> None:
    n_trials, rng, alarms = 4000, np.random.default_rng(22), 0
    for _ in range(n_trials):
        fit = fit_blocks(block_values(simulate(rng, np.full(4, 3.3), whole_grades=True)))
        alarms += any(pair.p_tukey < 0.05 for pair in compare_pairs(fit))
    assert alarms / n_trials <= 0.06
