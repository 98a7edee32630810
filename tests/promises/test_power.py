"""The power that the design page promises, held against trials made of it and judged as the evidence page judges."""

from __future__ import annotations

import numpy as np
import pytest

from nublet.core.design.graded import JUDGE_NOISE_SD
from nublet.core.design.incomplete import balanced_blocks
from nublet.core.design.outlook import look_ahead
from nublet.core.design.power import Comparison, Spread, smallest_difference
from nublet.core.design.section_power import section_reach
from nublet.core.evidence.arrangements import Arrangements
from nublet.core.evidence.by_sections import weigh_sections
from nublet.core.evidence.fit import compare_pairs
from nublet.core.evidence.models.blocks import fit_blocks
from nublet.core.evidence.outcomes import Rules
from nublet.core.evidence.readings import PanelValue
from nublet.core.evidence.weighing import weigh_test
from nublet.core.protocols.responses import ANY_MEASURE
from tests.core.builders import block_values
from tests.sizes import FULL

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


@pytest.mark.parametrize("n_judges", [1, 3])
def test_the_promise_holds_for_whole_grades(n_judges: int) -> None:
    """What is promised for graded panels, in the middle of the scale, within 5 points; for finer values it was 0.64-0.74."""
    rng = np.random.default_rng([5, n_judges])
    found = look_ahead([Comparison(n_build_ups=5, n_boards=4, block_size=5)], Spread(), n_judges=n_judges)
    promised_difference = found.here.told_apart
    assert promised_difference is not None
    noticed, n_trials = 0, 1500
    for _ in range(n_trials):
        better = 3.9 + rng.uniform(-0.3, 0.3)
        means = np.array([better, better - promised_difference, 3.0, 3.2, 2.8])
        panels = means[:, None] + rng.normal(0, SD, (5, 4))
        judged = np.clip(np.rint(panels[..., None] + rng.normal(0, JUDGE_NOISE_SD, (5, 4, n_judges))), 1, 5)
        table = {f"S{i}": list(row) for i, row in enumerate(judged.mean(axis=-1))}
        fit = fit_blocks(block_values(table), ends=(1.0, 5.0))
        pair = compare_pairs(fit, use_table=True)[0]
        assert (pair.a, pair.b) == ("S0", "S1")
        noticed += pair.p_tukey < 0.05
    print(f"{n_judges} judges: {noticed / n_trials:.3f}")
    assert abs(noticed / n_trials - 0.8) < 0.05


@pytest.mark.parametrize("kind", ["over all", "on one build-up"])
@pytest.mark.parametrize(
    "draws",
    [None, Arrangements(0, 1000)] if FULL else [None],
    ids=lambda draws: "both tests" if draws else "Tukey",
)
@pytest.mark.parametrize(
    ("v", "b", "s"), [(4, 5, 3), (3, 6, 2), (6, 3, 2)] if FULL else [(4, 5, 3), (3, 6, 2)]
)
def test_the_promised_difference_between_sections_is_told_apart_eight_times_in_ten(
    kind: str, draws: Arrangements | None, v: int, b: int, s: int
) -> None:
    """Within 5 points, by Tukey alone and with the permutation that must agree."""
    rng = np.random.default_rng([v, b, s])
    reach = section_reach(Comparison(n_build_ups=v, n_boards=b, block_size=v), s, 0.4)
    better = np.zeros((v, 1, s))
    if kind == "over all":
        better[:, 0, 0] = reach.over_all or 0.0
    else:
        better[0, 0, 0] = reach.within_build_up or 0.0
    rules = Rules(draws=draws)
    noticed = 0
    for _ in range(N_TRIALS):
        y = (
            better
            + rng.normal(0, 0.3, (1, b, 1))
            + rng.normal(0, 0.5, (v, b, 1))
            + rng.normal(0, 0.4, (v, b, s))
        )
        values = tuple(
            PanelValue(panel=f"{i}-{j}", system=f"S{i}", board=f"b{j}", species=None, section=f"c{c}", value=float(y[i, j, c]))
            for i in range(v) for j in range(b) for c in range(s)
        )  # fmt: skip
        found = weigh_sections("t", "all", None, values, rules=rules).sections
        assert found is not None
        pairs = found.sections.pairs if kind == "over all" else found.within_system
        pair = next(p for p in pairs if {p.a, p.b} == {"c0", "c1"} and p.at in ("", "S0"))
        noticed += pair.verdict == "told apart"
    print(f"{kind}, {v} x {b} x {s}, {'both tests' if draws else 'Tukey'}: {noticed / N_TRIALS:.3f}")
    assert abs(noticed / N_TRIALS - 0.8) < 0.05


@pytest.mark.skipif(not FULL, reason="as long as all others together")
@pytest.mark.parametrize(("v", "b"), [(3, 5), (5, 4), (6, 6)])
def test_the_promise_holds_where_the_permutation_must_agree(v: int, b: int) -> None:
    """Tukey and the permutation must both say so; 2,000 trials."""
    rng = np.random.default_rng([v, b, 9])
    better = promised(v, b, v)
    rules = Rules(draws=Arrangements(0, 1000), response=ANY_MEASURE)
    noticed = 0
    for _ in range(2000):
        y = rng.normal(0, 0.4, b) + rng.normal(0, SD, (v, b))
        y[0] += better
        table = {f"S{i}": list(row) for i, row in enumerate(y)}
        found = weigh_test("t", "all", None, tuple(block_values(table)), rules=rules)
        noticed += next(p for p in found.pairs if {p.a, p.b} == {"S0", "S1"}).verdict == "told apart"
    print(f"{v} x {b}, both tests: {noticed / 2000:.3f}")
    assert abs(noticed / 2000 - 0.8) < 0.05
