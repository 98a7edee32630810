"""Balanced incomplete blocks: the defining counts, known designs, and honest absence."""

from __future__ import annotations

from collections import Counter
from itertools import combinations

import numpy as np
import pytest

from nublet.core.design.incomplete import (
    Blocks,
    balanced_blocks,
    balancing_counts,
    can_balance,
    efficiency,
    shuffle_blocks,
)


def is_balanced(blocks: Blocks | list[list[int]], v: int, k: int) -> bool:
    meet = Counter(frozenset(pair) for block in blocks for pair in combinations(block, 2))
    return (
        all(len(set(block)) == k for block in blocks)
        and set().union(*blocks) == set(range(v))
        and len(meet) == v * (v - 1) // 2
        and len(set(meet.values())) == 1
    )


@pytest.mark.parametrize("v", range(3, 14))
def test_what_the_counts_allow_is_found_and_balanced(v: int) -> None:
    """Up to 13 build-ups and 40 boards every admissible count has a design, and the search finds it."""
    for k in range(2, v):
        for b in range(v, 41):
            blocks = balanced_blocks(v, k, b)
            assert (blocks is not None) == can_balance(v, k, b), (v, k, b)
            if blocks is not None:
                assert len(blocks) == b
                assert is_balanced(blocks, v, k)


def test_a_design_that_is_proved_not_to_exist_is_not_given() -> None:
    """(15, 5, 21) passes the counts and is known not to exist (Hall and Connor 1954)."""
    assert can_balance(15, 5, 21)
    assert balanced_blocks(15, 5, 21) is None


def test_counts_that_balance_are_listed() -> None:
    assert balancing_counts(7, 3, most=21) == [7, 14, 21]
    assert balancing_counts(8, 3) == []


def test_efficiency_is_that_of_the_variance_of_a_difference() -> None:
    """Against least squares on the design itself: Var(difference) = 2 σ² / (r E)."""
    for v, k, b in ((7, 3, 7), (6, 4, 15), (9, 3, 12)):
        blocks = balanced_blocks(v, k, b)
        assert blocks is not None
        rows = [(i, block) for block, on in enumerate(blocks) for i in on]
        x = np.zeros((len(rows), v + b))
        for row, (i, block) in enumerate(rows):
            x[row, i] = x[row, v + block] = 1
        contrast = np.zeros(v + b)
        contrast[0], contrast[1] = 1, -1
        variance = contrast @ np.linalg.pinv(x.T @ x) @ contrast
        r = b * k / v
        assert variance == pytest.approx(2 / (r * efficiency(v, k)))


def test_shuffling_keeps_the_balance_and_depends_on_the_seed() -> None:
    blocks = balanced_blocks(7, 3, 7)
    assert blocks is not None
    one = shuffle_blocks(blocks, 7, rng=np.random.default_rng(1))
    assert is_balanced(one, 7, 3)
    assert one == shuffle_blocks(blocks, 7, rng=np.random.default_rng(1))
    assert one != shuffle_blocks(blocks, 7, rng=np.random.default_rng(2))
