"""Agreement: against published numbers, reductions, symmetries, and what has no answer."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from nublet.core.errors import ReadingsError
from nublet.core.evidence.agreement import judge_drill, weighted_kappa

# Made by statsmodels 0.14:
#   from statsmodels.stats.inter_rater import cohens_kappa, to_table
#   cohens_kappa(table, weights=numpy.arange(4), wt="quadratic").kappa  (and without weights for two categories)
TABLE = np.array([[18, 6, 1, 0], [5, 21, 7, 1], [1, 8, 15, 4], [0, 2, 5, 12]])


def series(table: np.ndarray) -> tuple[list[float], list[float]]:
    one = [float(a) for a, row in enumerate(table) for n in row for _ in range(n)]
    other = [float(b) for row in table for b, n in enumerate(row) for _ in range(n)]
    return one, other


def test_against_statsmodels() -> None:
    inter_rater = pytest.importorskip("statsmodels.stats.inter_rater")
    wanted = inter_rater.cohens_kappa(TABLE, weights=np.arange(4), wt="quadratic").kappa
    assert weighted_kappa(*series(TABLE), [0, 1, 2, 3]) == pytest.approx(wanted, abs=1e-12)


def test_against_a_published_example() -> None:
    """Fleiss, J. L., Cohen, J., Everitt, B. S. (1969), Psychological Bulletin 72, 323-327, table 1: kappa 0.429 without weights.

    Of two categories the weights are those of no weights.
    """
    shares = np.array([[0.53, 0.05, 0.02], [0.11, 0.14, 0.05], [0.01, 0.06, 0.03]])
    counts = np.rint(200 * shares).astype(int)
    one, other = series(counts)
    each = [
        weighted_kappa([float(a == k) for a in one], [float(b == k) for b in other], [0, 1]) for k in range(3)
    ]
    p_o = float(np.trace(shares))
    p_e = float(shares.sum(1) @ shares.sum(0))
    assert (p_o - p_e) / (1 - p_e) == pytest.approx(0.429, abs=5e-4)
    # Kappa is the mean of the kappas of each category against the rest, weighted by their chance disagreement (ibid.).
    weights = [
        shares.sum(1)[k] * (1 - shares.sum(0)[k]) + (1 - shares.sum(1)[k]) * shares.sum(0)[k]
        for k in range(3)
    ]
    assert np.average(np.array(each, dtype=float), weights=weights) == pytest.approx(0.429, abs=5e-4)


@given(st.lists(st.tuples(st.integers(1, 5), st.integers(1, 5)), min_size=1, max_size=30))
def test_it_has_no_direction_and_never_exceeds_one(pairs: list[tuple[int, int]]) -> None:
    one, other = [a for a, _ in pairs], [b for _, b in pairs]
    steps = [1, 2, 3, 4, 5]
    kappa = weighted_kappa(one, other, steps)
    assert kappa == pytest.approx(weighted_kappa(other, one, steps), abs=1e-12, nan_ok=True) or kappa is None
    assert kappa is None or kappa <= 1
    turned = weighted_kappa([6 - a for a in one], [6 - b for b in other], steps)
    assert turned == kappa or turned == pytest.approx(kappa, abs=1e-12)
    if len(set(one)) > 1:
        assert weighted_kappa(one, one, steps) == 1


def test_what_has_no_answer() -> None:
    assert weighted_kappa([], [], [1, 2]) is None
    assert weighted_kappa([4, 4], [4, 4], [1, 2, 3, 4, 5]) is None
    with pytest.raises(ReadingsError, match="2 readings cannot be held against 1"):
        weighted_kappa([1, 2], [1], [1, 2])
    with pytest.raises(ReadingsError, match=r"2\.5 is none"):
        weighted_kappa([2.5], [1], [1, 2])
    with pytest.raises(ReadingsError, match="Nothing was read"):
        judge_drill("grade", [])


def test_chance_gives_none() -> None:
    rng = np.random.default_rng(6)
    one, other = rng.integers(1, 6, 20_000), rng.integers(1, 6, 20_000)
    kappa = weighted_kappa(one.tolist(), other.tolist(), [1, 2, 3, 4, 5])
    assert kappa == pytest.approx(0, abs=0.02)


def test_a_drill_is_judged() -> None:
    marks = [(5.0, 0, 5.0), (4.0, 1, 5.0), (3.0, 2, 4.0), (4.0, 1, 5.0), (2.0, 3, 2.0), (5.0, 0, 4.0)]
    found = judge_drill("grade", marks)
    assert (found.n_marks, found.n_again) == (6, 2)
    assert found.exact_share == pytest.approx(2 / 6)
    # Three marks read a step too high, one too low: too kind on the whole.
    assert found.lean_steps == pytest.approx(2 / 6)
    assert found.again_same_share == 0.5
    assert found.kappa == pytest.approx(
        weighted_kappa([m[0] for m in marks], [m[2] for m in marks], [1, 2, 3, 4, 5])
    )


def test_where_low_is_better_a_lower_reading_is_the_kinder_one() -> None:
    assert judge_drill("touch", [(2.0, 0, 1.0), (3.0, 1, 3.0)]).lean_steps == 0.5
    assert judge_drill("rub-off", [(0.0, 0, 2.0)]).lean_steps == -2


def test_kinds_are_judged_kind_by_kind() -> None:
    # Colour and ring were drawn; colour alone was read, and one mark rightly left without any.
    found = judge_drill("change-kinds", [(65.0, 0, 1.0), (0.0, 1, 0.0)])
    assert found.lean_steps is None
    assert found.exact_share == 0.5
    cells = ([1.0] + [0.0] * 5 + [1.0, 0.0] + [0.0] * 8, [1.0] + [0.0] * 15)
    assert found.kappa == pytest.approx(weighted_kappa(*cells, [0, 1]))
    assert found.again_same_share is None
