"""Permutation within blocks: against plain enumeration, scipy, by hand, and where there is nothing to deal."""

from __future__ import annotations

from dataclasses import replace
from itertools import permutations, product

import numpy as np
import pytest
from scipy import stats

from nublet.core.evidence.arrangements import Arrangements
from nublet.core.evidence.dealing import layout_of
from nublet.core.evidence.models.blocks import fit_blocks
from nublet.core.evidence.permutation import Family, Layout, all_pairs, permuted_tails
from nublet.core.evidence.readings import PanelValue
from tests.core.builders import block_values


def tail_p(values: list[PanelValue], *, n: int = 10_000, seed: int = 0) -> tuple[np.ndarray, bool]:
    fit = fit_blocks(values)
    y, layout = layout_of(fit, values)
    found = permuted_tails(y, layout, [None], Arrangements(seed, n))
    assert found is not None
    return found[0].p, found[0].is_exact


def plain_p(table: np.ndarray) -> np.ndarray:
    """Every arrangement of a whole table (boards, systems) one by one, refitted each time."""
    b, k = table.shape
    first, second = np.triu_indices(k, 1)

    def largest(y: np.ndarray) -> np.ndarray:
        fit = fit_blocks(block_values({f"S{j}": list(y[:, j]) for j in range(k)}))
        ms = max(fit.residual_ms or 0.0, 1e-18)
        se = np.sqrt(ms * 2 / b)
        return np.asarray(np.abs(fit.means[first] - fit.means[second]) / se)

    seen = largest(table)
    deals = product(permutations(range(k)), repeat=b)
    maxima = [
        largest(np.array([row[list(p)] for row, p in zip(table, deal, strict=True)])).max() for deal in deals
    ]
    return np.array([np.mean(np.array(maxima) >= t * (1 - 1e-9)) for t in seen])


@pytest.mark.parametrize("seed", [1, 2])
def test_every_arrangement_gone_through_gives_the_plain_loops_p(seed: int) -> None:
    """216 arrangements refitted one by one, of grades with ties."""
    table = np.random.default_rng(seed).integers(1, 6, (3, 3)).astype(float)
    p, is_exact = tail_p(block_values({f"S{j}": list(column) for j, column in enumerate(table.T)}))
    assert is_exact
    np.testing.assert_allclose(p, plain_p(table))


def test_two_systems_are_the_paired_permutation_test() -> None:
    rng = np.random.default_rng(3)
    a, b = rng.normal(3.4, 0.5, 8), rng.normal(3, 0.5, 8)
    expected = stats.permutation_test(
        (a, b),
        lambda x, y, axis: np.mean(x - y, axis=axis),
        permutation_type="samples",
        n_resamples=1000,
        vectorized=True,
    )
    p, is_exact = tail_p(block_values({"A": list(a), "B": list(b)}))
    assert is_exact
    assert p[0] == pytest.approx(expected.pvalue)


def test_drawn_arrangements_come_near_the_exact_share_and_never_to_nought() -> None:
    rng = np.random.default_rng(4)
    table = {"A": list(rng.normal(3, 1, 4)), "B": list(rng.normal(4, 1, 4)), "C": list(rng.normal(3, 1, 4))}
    exact, is_exact = tail_p(block_values(table))
    drawn, is_drawn_exact = tail_p(block_values(table), n=200)
    assert (is_exact, is_drawn_exact) == (True, False)
    assert np.abs(drawn - exact).max() < 4 * np.sqrt(0.25 / 200)
    apart, _ = tail_p(
        block_values({"A": [1, 1.1, 1, 1.2] * 3, "B": [5, 5.1, 5, 5.2] * 3, "C": [3, 3.1, 3, 3.3] * 3}), n=999
    )
    assert apart.min() == pytest.approx(1 / 1000)


def test_unbalanced_blocks_agree_with_refitting() -> None:
    """One panel missing: 3! x 3! x 2! arrangements, each refitted."""
    values = block_values({"A": [4, 5, 3.5], "B": [3, 3.2, None], "C": [2, 3.9, 2.4]})
    fit = fit_blocks(values)
    first, second = np.triu_indices(3, 1)

    def ts(found: list[PanelValue]) -> np.ndarray:
        again = fit_blocks(found)
        u = again.unscaled
        variance = np.diag(u)[first] + np.diag(u)[second] - 2 * u[first, second]
        return np.asarray(
            np.abs(again.means[first] - again.means[second]) / np.sqrt((again.residual_ms or 0) * variance)
        )

    boards = [[i for i, v in enumerate(values) if v.board == board] for board in fit.boards]
    maxima = []
    for deal in product(*[list(permutations(own)) for own in boards]):
        moved = list(values)
        for own, new in zip(boards, deal, strict=True):
            for to, source in zip(own, new, strict=True):
                moved[to] = replace(values[to], value=values[source].value)
        maxima.append(ts(moved).max())
    p, is_exact = tail_p(values)
    assert (is_exact, len(maxima)) == (True, 72)
    np.testing.assert_allclose(p, [np.mean(np.array(maxima) >= t * (1 - 1e-9)) for t in ts(values)])


def test_units_are_dealt_whole() -> None:
    """Two panels on each of three boards, two sections a panel: 8 deals of whole panels, both sections moving with them."""
    panel = np.repeat(np.arange(6), 2)
    layout = Layout(
        group=np.tile([0, 1, 2, 3], 3),
        block=np.repeat(np.arange(3), 4),
        centre=np.array([2 * (i // 4) + i % 2 for i in range(12)]),
        unit=panel,
        unscaled=np.eye(4) / 3,
    )
    y = np.array([1, 2, 5, 6, 1.5, 2, 5, 7, 1, 2.5, 5, 6.5])
    pairs = Family(contrasts=np.array([[1.0, 0, -1, 0], [0, 1.0, 0, -1]]))
    (tail,) = permuted_tails(y, layout, [pairs], Arrangements(0)) or []
    assert (tail.is_exact, len(tail.maxima)) == (True, 8)
    # Both panels change places on all boards or on none: the difference is as large again.
    assert tail.p.min() == pytest.approx(2 / 8)


@pytest.mark.parametrize("sizes", [(8, 8, 8), (7, 3, 9), (2, 5)])
def test_drawn_deals_are_of_one_block_each_and_every_place_is_as_likely(sizes: tuple[int, ...]) -> None:
    # Blocks whose places do not stand together.
    block = np.random.default_rng(1).permutation(np.repeat(np.arange(len(sizes)), sizes))
    draws = Arrangements(3, 4000)
    is_drawn = draws.count(block) > draws.n
    order = np.concatenate(list(draws.orders(block)))
    assert is_drawn == (sizes != (2, 5))
    assert (np.sort(order, axis=1) == np.arange(len(block))).all()
    assert (block[order] == block).all()
    expected = len(order) / np.array(sizes)[block]
    for place in range(len(block)):
        found = np.bincount(order[:, place], minlength=len(block))[block == block[place]]
        # Within five standard errors of as likely as each other; where all are gone through they are exactly so.
        assert np.abs(found - expected[place]).max() <= (5 * np.sqrt(expected[place]) if is_drawn else 0)
    if is_drawn:
        # Blocks are dealt apart: what comes to a place of one says nothing of a place of another.
        one, other = np.flatnonzero(block == 0)[0], np.flatnonzero(block == 1)[0]
        table = np.zeros((len(block), len(block)))
        np.add.at(table, (order[:, one], order[:, other]), 1)
        kept = table[np.ix_(block == 0, block == 1)]
        assert stats.chi2_contingency(kept).pvalue > 0.001


def test_same_seed_same_deals() -> None:
    values = block_values({f"S{i}": list(np.random.default_rng(i).normal(3, 1, 5)) for i in range(5)})
    np.testing.assert_array_equal(tail_p(values, n=500, seed=3)[0], tail_p(values, n=500, seed=3)[0])
    assert not np.array_equal(tail_p(values, n=500, seed=3)[0], tail_p(values, n=500, seed=4)[0])


def test_a_build_up_that_stands_out_alone_comes_again_as_often_as_is_said() -> None:
    values = block_values({"A": [9, 9.1, 9.2], "B": [1, 1.2, 1.1], "C": [1.1, 1, 1.3], "D": [1.2, 1.1, 1]})
    fit = fit_blocks(values)
    y, layout = layout_of(fit, values)
    (tail,) = permuted_tails(y, layout, [None], Arrangements(0)) or []
    assert tail.p_alone == pytest.approx(1 / 16)
    assert tail.p[0] >= 1 / 16


@pytest.mark.parametrize("table", [{"A": [3, 3], "B": [3, 3]}, {"A": [4, 5, 3]}, {"A": [4], "B": [2]}])
def test_nothing_to_deal(table: dict[str, list[float | None]]) -> None:
    """No spread within boards; one system; one board, where any deal is the same up to names."""
    values = block_values(table)
    y, layout = layout_of(fit_blocks(values), values)
    assert permuted_tails(y, layout, [None], Arrangements(0)) is None


def test_contrasts_of_pairs() -> None:
    assert all_pairs(3).tolist() == [[1, -1, 0], [1, 0, -1], [0, 1, -1]]
