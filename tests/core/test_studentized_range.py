"""The studentized range against a printed table, another program, and what must hold of it."""

from __future__ import annotations

import numpy as np
import pytest
from scipy import special, stats

from nublet.core.evidence.studentized_range import studentized_range_quantile, studentized_range_sf

# Upper points as printed in the usual tables of the studentized range (Harter, H. L. 1960, Annals of
# Mathematical Statistics 31, 1122-1147), three decimals.
PRINTED = [
    (0.95, 2, 10, 3.151),
    (0.95, 3, 10, 3.877),
    (0.95, 4, 20, 3.958),
    (0.95, 5, 60, 3.977),
    (0.95, 10, 20, 5.008),
    (0.99, 3, 10, 5.270),
    (0.99, 4, 20, 5.018),
]


@pytest.mark.parametrize(("p", "k", "df", "q"), PRINTED)
def test_printed_table(p: float, k: int, df: float, q: float) -> None:
    assert studentized_range_quantile(p, k=k, df=df) == pytest.approx(q, abs=6e-4)


@pytest.mark.parametrize("k", [2, 7, 13])
@pytest.mark.parametrize("df", [1, 3, 12, 400])
def test_agrees_with_scipy(k: int, df: int) -> None:
    q = np.array([0.1, 1.0, 3.5, 8.0, 30.0])
    np.testing.assert_allclose(
        studentized_range_sf(q, k=k, df=df), stats.studentized_range.sf(q, k, df), atol=1e-9
    )


def test_two_means_reduce_to_students_t() -> None:
    q = np.linspace(0, 9, 30)
    expected = 2 * special.stdtr(9, -q / np.sqrt(2))
    np.testing.assert_allclose(studentized_range_sf(q, k=2, df=9), expected, atol=1e-10)


def test_falls_with_q_and_keeps_shape() -> None:
    q = np.linspace(0, 20, 60).reshape(3, 20)
    tail = studentized_range_sf(q, k=5, df=7)
    assert tail.shape == (3, 20)
    assert np.all(np.diff(tail.ravel()) <= 0)
    assert tail[0, 0] == pytest.approx(1.0)
    assert float(studentized_range_sf(-3, k=5, df=7)) == pytest.approx(1.0)


@pytest.mark.parametrize(("k", "df"), [(1, 5), (3, 0)])
def test_bad_input(k: int, df: int) -> None:
    with pytest.raises(ValueError, match="k must be at least 2"):
        studentized_range_sf(1.0, k=k, df=df)


def test_a_tail_is_never_more_than_one() -> None:
    for k in range(2, 13):
        for df in range(1, 60):
            assert 1 - 1e-7 < float(studentized_range_sf(0.0, k=k, df=df)) <= 1
