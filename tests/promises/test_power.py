"""The power that the design page promises, held against trials made of it and judged as the evidence page judges."""

from __future__ import annotations

import numpy as np
import pytest

from nublet.core.design.incomplete import balanced_blocks
from nublet.core.design.power import Comparison, smallest_difference
from nublet.core.evidence.blocks_model import compare_pairs, fit_blocks
from nublet.core.evidence.readings import PanelValue

N_TRIALS = 400
SD = 0.6


def promised(v: int, b: int, k: int) -> float:
    found = smallest_difference(Comparison(n_build_ups=v, n_boards=b, block_size=k), SD)
    assert found is not None
    return found


@pytest.mark.parametrize(("v", "b", "k"), [(3, 4, 3), (5, 4, 5), (8, 3, 8), (12, 6, 12), (7, 7, 3)])
def test_the_promised_difference_is_told_apart_eight_times_in_ten(v: int, b: int, k: int) -> None:
    """Within 5 points at five designs, one of them in balanced incomplete blocks."""
    rng = np.random.default_rng([v, b, k])
    blocks = [tuple(range(v))] * b if k == v else balanced_blocks(v, k, b)
    assert blocks is not None
    true_means = np.zeros(v)
    true_means[0] = promised(v, b, k)
    noticed = 0
    for _ in range(N_TRIALS):
        boards = rng.normal(0, 0.4, b)
        values = [
            PanelValue(
                panel=f"{board}-{i}",
                system=f"S{i:02d}",
                board=f"b{board}",
                species=None,
                value=float(true_means[i] + boards[board] + rng.normal(0, SD)),
            )
            for board, on in enumerate(blocks)
            for i in on
        ]
        pair = next(p for p in compare_pairs(fit_blocks(values)) if {p.a, p.b} == {"S00", "S01"})
        noticed += pair.p_tukey < 0.05
    assert abs(noticed / N_TRIALS - 0.8) < 0.05
