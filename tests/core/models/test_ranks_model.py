"""Ranks against scipy and statsmodels, by hand, by symmetry and on too little."""

from __future__ import annotations

import numpy as np
import pytest
from scipy import stats
from statsmodels.stats.contingency_tables import cochrans_q

from nublet.core.evidence.models.ranks import friedman, mid_ranks, relative_scores, scored
from nublet.core.evidence.readings import PanelValue
from tests.core.builders import block_values


def values_of(table: np.ndarray) -> list[PanelValue]:
    return block_values({f"S{j}": list(column) for j, column in enumerate(table.T)})


@pytest.mark.parametrize("seed", range(4))
def test_friedman_agrees_with_scipy_with_ties(seed: int) -> None:
    table = np.random.default_rng(seed).integers(1, 6, (6, 4)).astype(float)
    found, expected = friedman(values_of(table)), stats.friedmanchisquare(*table.T)
    assert found is not None
    assert (found.statistic, found.p) == pytest.approx((float(expected.statistic), float(expected.pvalue)))


def test_of_yes_and_no_it_is_cochrans_q() -> None:
    table = np.random.default_rng(5).integers(0, 2, (9, 4)).astype(float)
    found, expected = friedman(values_of(table)), cochrans_q(table)
    assert found is not None
    assert (found.statistic, found.p) == pytest.approx((float(expected.statistic), float(expected.pvalue)))


def test_concordance_by_hand() -> None:
    """Boards that all say A > B > C agree wholly; three that turn the order round do not agree at all."""
    whole = friedman(block_values({"A": [5, 4, 5], "B": [3, 3, 4], "C": [1, 2, 1]}))
    none = friedman(block_values({"A": [3, 1, 2], "B": [2, 3, 1], "C": [1, 2, 3]}))
    assert whole is not None
    assert none is not None
    assert (whole.kendall_w, whole.statistic, none.kendall_w) == pytest.approx((1, 6, 0))


def test_boards_that_lack_a_system_do_not_count() -> None:
    table: dict[str, list[float | None]] = {"A": [5, 4, 5, None], "B": [3, 3, 4, 2], "C": [1, 2, 1, 5]}
    found = friedman(block_values(table))
    assert found is not None
    assert (found.n_boards, found.kendall_w) == pytest.approx((3, 1))


def test_thirds_that_a_computer_does_not_hold_are_alike() -> None:
    third = 13 / 3
    assert mid_ranks([third, (4 + 4 + 5) / 3, 1.0, third + 1e-13]).tolist() == [3, 3, 1, 3]
    assert mid_ranks([]).tolist() == []


def test_scores_mirror_and_do_not_mind_how_the_scale_is_stretched() -> None:
    values = values_of(np.random.default_rng(6).normal(size=(4, 3)))
    one = [value.value for value in scored(values)]
    assert [1 - value.value for value in scored(values, sign=-1)] == pytest.approx(one)
    numbers = np.array([value.value for value in values])
    np.testing.assert_allclose(relative_scores(np.exp(numbers)), relative_scores(numbers))
    assert np.mean(one) == pytest.approx(0.5)


@pytest.mark.parametrize("table", [{"A": [1, 2, 3]}, {"A": [1], "B": [2]}, {"A": [2, 2], "B": [2, 2]}])
def test_too_little_says_nothing(table: dict[str, list[float | None]]) -> None:
    assert friedman(block_values(table)) is None
