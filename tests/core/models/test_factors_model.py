"""Factors of a crossing against statsmodels, by hand, by symmetry and where there is no whole crossing."""

from __future__ import annotations

from dataclasses import replace
from itertools import product

import numpy as np
import pandas as pd
import pytest
import statsmodels.formula.api as smf
from statsmodels.stats.anova import anova_lm

from nublet.core.evidence.fit import t_intervals
from nublet.core.evidence.levels import FactorLevels, levels_in_order
from nublet.core.evidence.models.blocks import fit_blocks
from nublet.core.evidence.models.factors import odd_system, weigh_factors
from nublet.core.evidence.readings import PanelValue
from tests.core.builders import block_values

BASES, TOPS = ("oil", "film", "wax"), ("bare", "top")


def crossing(seed: int, *, missing: int = 0, b: int = 5) -> tuple[list[PanelValue], tuple[FactorLevels, ...]]:
    rng = np.random.default_rng(seed)
    boards = rng.normal(0, 0.4, b)
    table: dict[str, list[float | None]] = {
        f"{base}+{top}": list(3 + 0.5 * i + 0.4 * j + 0.3 * i * j + boards + rng.normal(0, 0.5, b))
        for (i, base), (j, top) in product(enumerate(BASES), enumerate(TOPS))
    }
    table["control"] = list(1.5 + boards + rng.normal(0, 0.5, b))
    values = block_values(table)
    out = set(rng.choice(len(values), size=missing, replace=False).tolist())
    levels = {f"{base}+{top}": {"base": base, "top": top} for base in BASES for top in TOPS}
    return [v for i, v in enumerate(values) if i not in out], levels_in_order(levels)


def frame(values: list[PanelValue]) -> pd.DataFrame:
    rows = [
        {"y": v.value, "board": v.board, "base": v.system.split("+")[0], "top": v.system.split("+")[1]}
        for v in values
        if "+" in v.system
    ]
    return pd.DataFrame(rows)


@pytest.mark.parametrize("missing", [0, 4])
def test_effects_agree_with_statsmodels(missing: int) -> None:
    """Type III by sum-to-zero contrasts; without the control, whose spread would go into ours alone."""
    values, factors = crossing(1, missing=missing)
    own = [v for v in values if v.system != "control"]
    found = weigh_factors(fit_blocks(own), factors)
    assert found is not None
    table = anova_lm(smf.ols("y ~ C(board, Sum) + C(base, Sum) * C(top, Sum)", frame(own)).fit(), typ=3)
    for effect, row in zip(
        found.effects, ("C(base, Sum)", "C(top, Sum)", "C(base, Sum):C(top, Sum)"), strict=True
    ):
        assert effect.f == pytest.approx(table.loc[row, "F"], rel=1e-6)
        assert effect.p == pytest.approx(table.loc[row, "PR(>F)"], rel=1e-6)
        assert effect.df == (table.loc[row, "df"], table.loc["Residual", "df"])
    assert [effect.effect for effect in found.effects] == ["base", "top", "base:top"]


def test_margins_are_plain_means_of_cells_and_their_errors_shrink_with_them() -> None:
    values, factors = crossing(2)
    fit = fit_blocks(values)
    found = weigh_factors(fit, factors)
    assert found is not None
    base, top = found.margins
    cells = dict(zip(fit.systems, fit.means, strict=True))
    assert base.fit.means[0] == pytest.approx((cells["oil+bare"] + cells["oil+top"]) / 2)
    assert top.fit.systems == TOPS
    # Balanced: a difference of tops has 15 panels on each side, one of bases 10.
    ms = fit.residual_ms or 0.0
    for margin, n in ((base, 10), (top, 15)):
        u = margin.fit.unscaled
        assert ms * (u[0, 0] + u[1, 1] - 2 * u[0, 1]) == pytest.approx(2 * ms / n)
    assert t_intervals(top.fit)[0][0] < t_intervals(base.fit)[0][0]


def test_by_hand() -> None:
    """A 2 x 2 crossing without interaction: top adds exactly 1 to both bases on average."""
    table = {"a+n": [1.0, 2.0, 3.1], "a+t": [2.0, 3.1, 4.0], "b+n": [4.0, 5.1, 6.0], "b+t": [5.0, 6.0, 7.1]}
    factors = levels_in_order({s: {"base": s[0], "top": s[2]} for s in table})
    found = weigh_factors(fit_blocks(block_values(table)), factors)
    assert found is not None
    assert [round(float(np.diff(m.fit.means)[0]), 6) for m in found.margins] == [3.0, 1.0]
    assert found.effects[2].f == pytest.approx(0, abs=1e-9)


def test_the_order_of_levels_changes_no_effect() -> None:
    values, factors = crossing(3, missing=3)
    turned = tuple(replace(each, levels=each.levels[::-1]) for each in reversed(factors))
    one, other = weigh_factors(fit_blocks(values), factors), weigh_factors(fit_blocks(values), turned)
    assert one is not None
    assert other is not None
    assert [e.f for e in other.effects] == pytest.approx([one.effects[i].f for i in (1, 0, 2)])


def test_two_levels_reduce_to_a_squared_t() -> None:
    values, factors = crossing(4)
    fit = fit_blocks(values)
    found = weigh_factors(fit, factors)
    assert found is not None
    top = found.margins[1].fit
    u = top.unscaled
    t = (top.means[0] - top.means[1]) / np.sqrt((fit.residual_ms or 0) * (u[0, 0] + u[1, 1] - 2 * u[0, 1]))
    assert found.effects[1].f == pytest.approx(t**2)


def test_a_crossing_with_a_hole_or_a_twin_is_weighed_one_way_and_says_why() -> None:
    values, factors = crossing(5)
    holed = weigh_factors(fit_blocks([v for v in values if v.system != "wax+top"]), factors)
    assert holed is not None
    assert (holed.effects, holed.margins) == ((), ())
    assert "base × top is not complete (wax, top is not there)" in holed.says
    twin = levels_in_order(
        {**{s.system: {"base": s.level} for s in factors[0].systems}, "control": {"base": "oil"}}
    )
    tops = levels_in_order(
        {**{s.system: {"top": s.level} for s in factors[1].systems}, "control": {"top": "bare"}}
    )
    twice = weigh_factors(fit_blocks(values), (*twin, *tops))
    assert twice is not None
    assert "something else differs" in twice.says


def test_the_build_up_that_breaks_the_rule_is_named_where_the_factors_meet() -> None:
    table = {
        "a+n": [4.0, 4.1, 3.9], "a+t": [4.5, 4.4, 4.6], "b+n": [3.0, 3.1, 2.9], "b+t": [3.5, 3.4, 3.6],
        "c+n": [1.0, 1.1, 0.9], "c+t": [4.4, 4.5, 4.6],
    }  # fmt: skip
    factors = levels_in_order({s: {"base": s[0], "top": s[2]} for s in table})
    fit = fit_blocks(block_values(table))
    found = weigh_factors(fit, factors)
    assert found is not None
    assert odd_system(fit, found, alpha=0.05) in ("c+n", "c+t")
    assert odd_system(fit, found, alpha=1e-30) is None


def test_one_factor_is_no_crossing() -> None:
    values, factors = crossing(6)
    assert weigh_factors(fit_blocks(values), factors[:1]) is None
    assert weigh_factors(fit_blocks(values), ()) is None
