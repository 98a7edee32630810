"""The blocks model against statsmodels, by hand, by symmetry and on bad input."""

from __future__ import annotations

import numpy as np
import pandas as pd
import pytest
import statsmodels.formula.api as smf
from scipy import stats
from statsmodels.stats.anova import anova_lm

from nublet.core.errors import ReadingsError
from nublet.core.evidence.fit import compare_pairs, studentised_residuals, t_intervals
from nublet.core.evidence.models.blocks import fit_blocks, species_interaction
from nublet.core.evidence.readings import PanelValue
from tests.core.builders import block_values, random_table


def frame(values: list[PanelValue]) -> pd.DataFrame:
    return pd.DataFrame(
        [{"y": v.value, "system": v.system, "board": v.board, "species": v.species or ""} for v in values]
    )


def gappy(seed: int = 4) -> list[PanelValue]:
    """Five systems on six boards with seven panels missing: unbalanced, but linked."""
    rng = np.random.default_rng(seed)
    values = block_values(random_table(rng, n_systems=5, n_boards=6))
    drop = rng.choice(len(values), size=7, replace=False)
    return [value for i, value in enumerate(values) if i not in drop]


@pytest.mark.parametrize(
    "values", [block_values(random_table(np.random.default_rng(1), n_systems=4, n_boards=5)), gappy()]
)
def test_means_errors_and_pairs_agree_with_statsmodels(values: list[PanelValue]) -> None:
    fit = fit_blocks(values)
    reference = smf.ols("y ~ C(system) + C(board)", frame(values)).fit()
    assert fit.residual_df == reference.df_resid
    assert fit.residual_ms == pytest.approx(reference.mse_resid)

    table = anova_lm(reference, typ=2)
    assert fit.effects[0].f == pytest.approx(table.loc["C(system)", "F"])
    assert fit.system_p == pytest.approx(table.loc["C(system)", "PR(>F)"])

    # The least-squares mean is the prediction averaged over all boards.
    boards = sorted({v.board for v in values})
    se, ci = t_intervals(fit)
    names = list(reference.params.index)
    for i, system in enumerate(fit.systems):
        row = np.zeros(len(names))
        row[names.index("Intercept")] = 1
        if f"C(system)[T.{system}]" in names:
            row[names.index(f"C(system)[T.{system}]")] = 1
        for board in boards[1:]:
            row[names.index(f"C(board)[T.{board}]")] = 1 / len(boards)
        contrast = reference.t_test(row)
        assert fit.means[i] == pytest.approx(contrast.effect.item())
        assert se[i] == pytest.approx(contrast.sd.item())
        np.testing.assert_allclose(ci[i], contrast.conf_int().ravel())

    for pair in compare_pairs(fit):
        row = np.zeros(len(names))
        for system, sign in ((pair.a, 1), (pair.b, -1)):
            if f"C(system)[T.{system}]" in names:
                row[names.index(f"C(system)[T.{system}]")] = sign
        contrast = reference.t_test(row)
        assert pair.difference == pytest.approx(contrast.effect.item())
        assert pair.se == pytest.approx(contrast.sd.item())
        q = abs(contrast.tvalue.item()) * np.sqrt(2)
        assert pair.p_tukey == pytest.approx(
            stats.studentized_range.sf(q, len(fit.systems), fit.residual_df), abs=1e-8
        )
        assert (pair.p_tukey < 0.05) == (pair.low > 0 or pair.high < 0)


def test_by_hand() -> None:
    """Two systems on three boards: the pair is the paired t-test. Differences 1, 2, 3: mean 2, SE 1/sqrt(3)."""
    fit = fit_blocks(block_values({"A": [4, 5, 5], "B": [3, 3, 2]}))
    np.testing.assert_allclose(fit.means, [14 / 3, 8 / 3])
    (pair,) = compare_pairs(fit)
    assert pair.difference == pytest.approx(2)
    assert pair.se == pytest.approx(1 / np.sqrt(3))
    assert pair.p_tukey == pytest.approx(stats.ttest_rel([4, 5, 5], [3, 3, 2]).pvalue, abs=1e-9)
    assert fit.effects[0].f == pytest.approx((2 * np.sqrt(3)) ** 2)


def test_balanced_means_are_plain_means_and_boards_cancel() -> None:
    table = random_table(np.random.default_rng(2), n_systems=4, n_boards=5)
    plain = fit_blocks(block_values(table))
    np.testing.assert_allclose(plain.means, [np.mean(row) for row in table.values()])
    lifted = {s: [v + 10 * b for b, v in enumerate(row)] for s, row in table.items()}
    np.testing.assert_allclose(
        [p.p_tukey for p in compare_pairs(fit_blocks(block_values(lifted)))],
        [p.p_tukey for p in compare_pairs(plain)],
        atol=1e-9,
    )


def test_order_and_names_do_not_matter() -> None:
    values = gappy()
    shuffled = [values[i] for i in np.random.default_rng(0).permutation(len(values))]
    np.testing.assert_allclose(fit_blocks(values).means, fit_blocks(shuffled).means)


def test_studentised_residuals_agree_with_statsmodels() -> None:
    values = gappy()
    reference = smf.ols("y ~ C(system) + C(board)", frame(values)).fit()
    mine = studentised_residuals(fit_blocks(values))
    theirs = reference.get_influence().resid_studentized_external
    assert mine is not None
    np.testing.assert_allclose(mine, theirs, rtol=1e-6)


# Boards lie within species, so the reference's design is rank-deficient by nature; it says so.
@pytest.mark.filterwarnings("ignore:The design matrix is rank-deficient")
def test_species_interaction_agrees_with_statsmodels() -> None:
    rng = np.random.default_rng(9)
    beech = random_table(rng, n_systems=4, n_boards=4)
    larch = {s: [v - 0.4 * i for v in row] for i, (s, row) in enumerate(beech.items())}
    larch = {s: [v + rng.normal(0, 0.5) for v in row] for s, row in larch.items()}
    values = block_values(beech, "beech") + block_values(larch, "larch")
    found = species_interaction(values)
    data = frame(values)
    full = smf.ols("y ~ C(system) * C(species) + C(board)", data).fit()
    small = smf.ols("y ~ C(system) + C(board)", data).fit()
    assert found is not None
    df = round(small.df_resid - full.df_resid)
    f = (small.ssr - full.ssr) / df / full.mse_resid
    assert found.f == pytest.approx(f)
    assert found.df == (df, int(full.df_resid))
    assert found.p == pytest.approx(stats.f.sf(f, df, full.df_resid))
    assert species_interaction(block_values(beech, "beech")) is None


def test_one_board_leaves_no_error_and_no_interval_is_invented() -> None:
    fit = fit_blocks(block_values({"A": [4], "B": [3]}))
    assert (fit.residual_df, fit.residual_ms, fit.system_p) == (0, None, None)
    assert studentised_residuals(fit) is None
    for refuse in (t_intervals, compare_pairs):
        with pytest.raises(ValueError, match="no residual variance"):
            refuse(fit)


def test_systems_that_never_meet_are_refused_by_name() -> None:
    values = block_values({"A": [4, 5, None, None], "B": [3, 3, None, None], "C": [None, None, 2, 2]})
    with pytest.raises(ReadingsError, match=r"A, B \| C"):
        fit_blocks(values)
    with pytest.raises(ReadingsError, match="No panel"):
        fit_blocks([])
