"""Speed, as ratios in one run: ./nublet test -- tests/benchmarks --benchmark-enable.

In an ordinary test run each body runs once, untimed, so that it cannot rot.
"""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from scipy import stats

from nublet.core.evidence.analysis import analyse
from nublet.core.evidence.readings import Reading
from nublet.core.evidence.studentized_range import studentized_range_sf

Q = np.linspace(0.5, 8, 66)


@pytest.fixture(scope="module")
def large_table() -> list[Reading]:
    """12 build-ups × 6 boards × 10 tests × 3 judges."""
    rng = np.random.default_rng(1)
    return [
        Reading(
            test=f"test {t}",
            system=f"system {s}",
            board=f"board {b}",
            panel=f"{s}-{b}",
            judge=judge,
            look="24h",
            grade=float(np.clip(np.rint(3 + 0.15 * s + rng.normal(0, 0.6)), 1, 5)),
        )
        for t in range(10)
        for s in range(12)
        for b in range(6)
        for judge in ("Nell", "Imara", "Tobias")
    ]


@pytest.mark.benchmark(group="66 pairs' p-values")
def test_tail_of_the_studentized_range_ours(benchmark: Any) -> None:
    tail = benchmark(studentized_range_sf, Q, k=12, df=55)
    assert tail.shape == Q.shape


@pytest.mark.benchmark(group="66 pairs' p-values")
def test_tail_of_the_studentized_range_scipy(benchmark: Any) -> None:
    tail = benchmark.pedantic(stats.studentized_range.sf, args=(Q, 12, 55), rounds=3)
    np.testing.assert_allclose(tail, studentized_range_sf(Q, k=12, df=55), atol=1e-8)


@pytest.mark.benchmark(group="analyse 2,160 readings")
def test_the_large_analysis(benchmark: Any, large_table: list[Reading]) -> None:
    found = benchmark.pedantic(analyse, args=(large_table,), rounds=3)
    assert len(found.tests) == 10
    assert len(found.tests[0].pairs) == 66
