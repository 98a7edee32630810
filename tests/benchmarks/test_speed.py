"""Speed, as ratios in one run: ./nublet test -- tests/benchmarks --benchmark-enable.

In an ordinary test run each body runs once, untimed, so that it cannot rot.
"""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
import pandas as pd
import pytest
import statsmodels.formula.api as smf
from scipy import stats

from nublet.core.design.areas import PanelSize
from nublet.core.design.cutting import Board
from nublet.core.design.fitting import _can_lay
from nublet.core.design.outlook import Outlook, look_ahead
from nublet.core.design.power import Comparison, Spread
from nublet.core.design.trial_design import DesignSpec, draw_design
from nublet.core.errors import DesignError
from nublet.core.evidence.analysis import analyse
from nublet.core.evidence.arrangements import Arrangements
from nublet.core.evidence.dealing import layout_of
from nublet.core.evidence.models.blocks import fit_blocks
from nublet.core.evidence.permutation import permuted_tails
from nublet.core.evidence.readings import Reading
from nublet.core.evidence.studentized_range import pair_tail, studentized_range_quantile, studentized_range_sf
from tests.core.builders import block_values, exposure, random_table

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


@pytest.fixture(scope="module")
def whole_season() -> list[Reading]:
    """12 build-ups × 18 boards × 10 tests × 3 judges × 2 looks: 12,960 readings."""
    rng = np.random.default_rng(2)
    return [
        Reading(
            test=f"test {t}",
            system=f"system {s}",
            board=f"board {b}",
            panel=f"{s}-{b}",
            judge=judge,
            look=look,
            grade=float(np.clip(np.rint(2 + 0.15 * s + rng.normal(0, 0.6)), 1, 5)),
        )
        for t in range(10)
        for s in range(12)
        for b in range(18)
        for judge in ("Nell", "Imara", "Tobias")
        for look in ("lifted", "24h")
    ]


@pytest.mark.benchmark(group="analyse 12,960 readings with 10,000 permutations of each test")
def test_a_whole_season(benchmark: Any, whole_season: list[Reading]) -> None:
    """Nothing is remembered from an earlier round."""

    def analyse_afresh() -> Any:
        studentized_range_quantile.cache_clear()
        pair_tail.cache_clear()
        return analyse(whole_season)

    found = benchmark.pedantic(analyse_afresh, rounds=5)
    assert len(found.tests) == 10
    assert all(pair.p_permutation is not None for test in found.tests for pair in test.pairs)


N_PLAIN = 20


@pytest.mark.benchmark(group="20 permutations of 12 x 18 panels: a plain loop against ours")
def test_a_plain_loop_of_permutations(benchmark: Any) -> None:
    """Labels shuffled within boards and the model fitted anew by statsmodels, one arrangement after the other."""
    rng = np.random.default_rng(3)
    values = block_values(random_table(rng, n_systems=12, n_boards=18))
    data = pd.DataFrame([{"y": v.value, "system": v.system, "board": v.board} for v in values])

    def loop() -> list[float]:
        found = []
        for _ in range(N_PLAIN):
            data["dealt"] = data.groupby("board")["y"].transform(lambda own: rng.permutation(own.to_numpy()))
            fit = smf.ols("dealt ~ C(system) + C(board)", data).fit()
            found.append(float(np.ptp([0.0, *fit.params[1:12]]) / np.sqrt(fit.mse_resid * 2 / 18)))
        return found

    assert len(benchmark.pedantic(loop, rounds=2)) == N_PLAIN


@pytest.mark.benchmark(group="20 permutations of 12 x 18 panels: a plain loop against ours")
def test_as_many_of_our_permutations(benchmark: Any) -> None:
    """10,000 at a time, from nothing; the round's time is for 10,000 / 20 = 500 times as many."""
    values = block_values(random_table(np.random.default_rng(3), n_systems=12, n_boards=18))
    y, layout = layout_of(fit_blocks(values), values)
    found = benchmark.pedantic(lambda: permuted_tails(y, layout, [None], Arrangements(0)), rounds=5)
    assert len(found[0].maxima) == 10_000


def table_design(n_build_ups: int, n_boards: int, n_exposures: int) -> DesignSpec:
    """Three woods; a quarter of the exposures hot, bleach, vinegar and ammonia among the rest."""
    special = ["bleach", "vinegar", "ammonia 10 %"]
    agents = [*special, *(f"stain {i}" for i in range(n_exposures - len(special)))]
    return DesignSpec(
        build_ups=tuple(f"build-up {i}" for i in range(n_build_ups)),
        boards=tuple(
            Board(id=f"{wood} {i}", species=wood)
            for wood in ("beech", "elm", "larch")
            for i in range(n_boards)
        ),
        exposures=tuple(
            exposure(agent, 100, "heat") if index >= 3 and index % 4 == 0 else exposure(agent)
            for index, agent in enumerate(agents)
        ),
        size=PanelSize(length_mm=900, width_mm=250),
        seed=3,
    )


@pytest.mark.benchmark(group="design and layout")
def test_the_large_design(benchmark: Any) -> None:
    """12 build-ups × 3 woods × 6 boards × 24 exposures."""
    design = benchmark.pedantic(draw_design, args=(table_design(12, 6, 24),), rounds=3)
    assert len(design.panels) == 216
    assert len(design.panels[0].spots) == 24


@pytest.mark.benchmark(group="design and layout")
def test_a_small_design(benchmark: Any) -> None:
    """4 build-ups × 3 woods × 4 boards × 6 exposures, to measure the large one against."""
    assert len(benchmark.pedantic(draw_design, args=(table_design(4, 4, 6),), rounds=3).panels) == 48


# One bleach and seven agents that it must not meet, on each of several narrow sections.
TIGHT_AGENTS = ("bleach", "vinegar", "ammonia", "lemon juice", "red wine", "ketchup", "mustard", "water")


def tight_design(size: PanelSize, sections: tuple[str, ...]) -> DesignSpec:
    return replace(
        table_design(4, 4, 6),
        exposures=tuple(exposure(agent, 30) for agent in TIGHT_AGENTS),
        size=size,
        sections=sections,
        margin_mm=10,
    )


@pytest.mark.benchmark(group="design and layout")
def test_a_tight_design(benchmark: Any) -> None:
    """As many panels as the small one, but hardly any places that keep the bleach apart."""
    spec = tight_design(PanelSize(length_mm=500, width_mm=200), ("a", "b"))
    design = benchmark.pedantic(draw_design, args=(spec,), rounds=3)
    assert len(design.panels[0].spots) == 16


@pytest.mark.benchmark(group="design and layout")
def test_a_refused_design(benchmark: Any) -> None:
    """No place keeps the bleach apart: how long until that is known, with the sizes that would do."""
    spec = tight_design(PanelSize(length_mm=300, width_mm=200), ("a", "b", "c"))

    def refuse() -> str:
        _can_lay.cache_clear()
        with pytest.raises(DesignError) as refused:
            draw_design(spec)
        return refused.value.message

    assert "cannot be kept apart" in benchmark.pedantic(refuse, rounds=3)


@pytest.mark.benchmark(group="outlook")
def test_the_answer_to_a_slider(benchmark: Any) -> None:
    """What one more or one fewer board would buy, with nothing remembered from an earlier answer."""

    def ask() -> Outlook:
        studentized_range_quantile.cache_clear()
        return look_ahead([Comparison(n_build_ups=8, n_boards=4, block_size=8)] * 2, Spread())

    assert benchmark.pedantic(ask, rounds=3).here.told_apart is not None
