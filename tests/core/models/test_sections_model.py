"""The split plot against a published trial, statsmodels, symmetry, reduction and bad input."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pandas as pd
import pytest
import statsmodels.formula.api as smf
from statsmodels.stats.anova import anova_lm

from nublet.core.errors import ReadingsError
from nublet.core.evidence.by_sections import weigh_sections
from nublet.core.evidence.fit import compare_pairs
from nublet.core.evidence.models.blocks import fit_blocks
from nublet.core.evidence.models.sections import fit_sections
from nublet.core.evidence.outcomes import Rules
from nublet.core.evidence.readings import PanelValue
from nublet.core.protocols.responses import ANY_MEASURE, GRADE

# Yates, F. (1935), Complex experiments, Supplement to the JRSS 2, p. 198: 6 blocks, 3 whole-plot and 4 sub-plot treatments.
YATES = {
    "V": [[111, 130, 157, 174], [74, 89, 81, 122], [61, 91, 97, 100], [62, 90, 100, 116], [68, 64, 112, 86], [53, 74, 118, 113]],
    "G": [[117, 114, 161, 141], [64, 103, 132, 133], [70, 108, 126, 149], [80, 82, 94, 126], [60, 102, 89, 96], [89, 82, 86, 104]],
    "M": [[105, 140, 118, 156], [70, 89, 104, 117], [96, 124, 121, 144], [63, 70, 109, 99], [89, 129, 132, 124],
          [97, 99, 119, 121]],
}  # fmt: skip


def split_plot(table: dict[str, list[list[int]]] = YATES) -> list[PanelValue]:
    return [
        PanelValue(panel=f"{s}{b}", system=s, board=f"b{b}", species=None, section=f"n{n}", value=float(y))
        for s, rows in table.items()
        for b, row in enumerate(rows)
        for n, y in enumerate(row)
    ]


def drawn(seed: int, *, k: int = 3, b: int = 4, s: int = 3, missing: int = 0) -> list[PanelValue]:
    rng = np.random.default_rng(seed)
    y = (
        3
        + 0.3 * np.arange(k)[:, None, None]
        + rng.normal(0, 0.4, (1, b, 1))
        + rng.normal(0, 0.4, (k, b, 1))
        + 0.2 * np.arange(s)
        + rng.normal(0, 0.3, (k, b, s))
    )
    values = [
        PanelValue(panel=f"S{i}-{j}", system=f"S{i}", board=f"b{j}", species=None, section=f"c{c}", value=float(y[i, j, c]))
        for i in range(k) for j in range(b) for c in range(s)
    ]  # fmt: skip
    out = set(rng.choice(len(values), size=missing, replace=False).tolist())
    return [value for i, value in enumerate(values) if i not in out]


def frame(values: list[PanelValue]) -> pd.DataFrame:
    return pd.DataFrame(
        [
            {"y": v.value, "system": v.system, "board": v.board, "panel": v.panel, "section": v.section}
            for v in values
        ]
    )


def test_the_published_analysis() -> None:
    """F, mean squares, degrees of freedom and the four standard errors of differences, as printed with the data since."""
    fit = fit_sections(split_plot())
    found = {effect.effect: (effect.stratum, round(effect.f, 4), effect.df) for effect in fit.effects}
    assert found == {
        "system": ("panel", 1.4853, (2, 10)),
        "section": ("section", 37.6856, (3, 45)),
        "system:section": ("section", 0.3028, (6, 45)),
    }
    assert (round(fit.panel_error.ms or 0, 2), fit.panel_error.df) == (601.33, 10)
    assert (round(fit.section_error.ms or 0, 2), fit.section_error.df) == (177.08, 45)
    sed = weigh_sections(
        "y", "all", None, tuple(split_plot()), rules=Rules(response=ANY_MEASURE, draws=None)
    ).sections
    assert sed is not None
    assert [
        round(each or 0, 3)
        for each in (
            sed.sed.systems,
            sed.sed.sections,
            sed.sed.sections_within_system,
            sed.sed.systems_within_section,
        )
    ] == [7.079, 4.436, 7.683, 9.715]


def test_both_strata_agree_with_statsmodels() -> None:
    values = drawn(1)
    fit = fit_sections(values)
    table = anova_lm(
        smf.ols(
            "y ~ C(board) + C(system) + C(system):C(board) + C(section) + C(section):C(system)", frame(values)
        ).fit()
    )
    whole, error = table.loc["C(system):C(board)"], table.loc["Residual"]
    assert fit.panel_error.ms == pytest.approx(whole["mean_sq"], rel=1e-6)
    assert fit.section_error.ms == pytest.approx(error["mean_sq"], rel=1e-6)
    assert fit.effects[0].f == pytest.approx(table.loc["C(system)", "mean_sq"] / whole["mean_sq"], rel=1e-6)
    for effect, row in zip(fit.effects[1:], ("C(section)", "C(section):C(system)"), strict=True):
        assert effect.f == pytest.approx(table.loc[row, "F"], rel=1e-6)
        assert effect.p == pytest.approx(table.loc[row, "PR(>F)"], rel=1e-6)


def test_variance_components_are_those_of_restricted_maximum_likelihood() -> None:
    """In balanced tables REML gives what the mean squares give: between panels (MS_d - MS_e) / s."""
    values = split_plot()
    fit = fit_sections(values)
    data = frame(values)
    reml = smf.mixedlm("y ~ C(board) + C(system) * C(section)", data, groups="panel").fit(reml=True)
    assert fit.section_error.ms == pytest.approx(reml.scale, rel=1e-4)
    between = ((fit.panel_error.ms or 0) - (fit.section_error.ms or 0)) / fit.n_sections
    assert between == pytest.approx(reml.cov_re.iloc[0, 0], rel=1e-3)


@pytest.mark.filterwarnings("ignore::statsmodels.tools.sm_exceptions.SingularMatrixWarning")
def test_missing_sections_are_weighed_within_their_panels() -> None:
    values = drawn(2, missing=4)
    fit = fit_sections(values)
    full = smf.ols("y ~ C(panel) + C(system):C(section)", frame(values)).fit()
    assert fit.section_error.df == full.df_resid
    assert fit.section_error.ms == pytest.approx(full.mse_resid, rel=1e-6)
    reduced = smf.ols("y ~ C(panel) + C(section)", frame(values)).fit()
    f = (reduced.ssr - full.ssr) / (reduced.df_resid - full.df_resid) / full.mse_resid
    assert fit.effects[2].f == pytest.approx(f, rel=1e-6)
    said = weigh_sections("y", "all", None, tuple(values), rules=Rules(response=ANY_MEASURE, draws=None)).says
    assert "not recovered" in said


def test_by_hand() -> None:
    """Two systems, two boards, two sections: differences of sections within panels 2, 0, 4, 2; each system's vary by 2 / 2."""
    values = split_plot({"A": [[1, 3], [2, 2]], "B": [[0, 4], [1, 3]]})
    fit = fit_sections(values)
    assert fit.cells.tolist() == [[1.5, 2.5], [0.5, 3.5]]
    assert (fit.section_error.df, fit.section_error.ms or 0) == pytest.approx((2, 1.0))
    # The section's effect: mean difference 2 over 4 panels, SE sqrt(2 MS / 4).
    effects = {effect.effect: effect.f for effect in fit.effects}
    assert effects["section"] == pytest.approx(2**2 / (2 * 1.0 / 4))


def test_names_and_order_change_nothing() -> None:
    values = drawn(3)
    one = fit_sections(values)
    turned = fit_sections(
        [replace(value, system=f"z{9 - int(value.system[1])}") for value in reversed(values)]
    )
    np.testing.assert_allclose(turned.cells, one.cells[::-1])
    assert [e.f for e in turned.effects] == pytest.approx([e.f for e in one.effects])


def test_two_sections_reduce_to_paired_differences() -> None:
    values = drawn(4, s=2)
    fit = fit_sections(values)
    differences = [
        replace(a, value=a.value - b.value, section="")
        for a in values
        for b in values
        if a.panel == b.panel and a.section < b.section
    ]
    means = {s: np.mean([d.value for d in differences if d.system == s]) for s in fit.panels.systems}
    spread = np.concatenate([[d.value - means[s] for d in differences if d.system == s] for s in means])
    assert fit.section_error.ms == pytest.approx(float(spread @ spread) / (len(spread) - 3) / 2)
    panels = fit_blocks([replace(d, value=d.value) for d in fit.panel_values])
    assert [p.difference for p in compare_pairs(fit.panels)] == pytest.approx(
        [p.difference for p in compare_pairs(panels)]
    )


def test_build_ups_without_every_section_are_set_aside_and_said() -> None:
    values = [v for v in drawn(5) if not (v.system == "S2" and v.section == "c1")]
    found = weigh_sections("y", "all", None, tuple(values), rules=Rules(response=ANY_MEASURE, draws=None))
    assert found.sections is not None
    assert found.sections.set_aside == ("S2",)
    assert "S2 does not carry every section" in found.says
    with pytest.raises(ReadingsError, match="each section is weighed by itself"):
        fit_sections([v for v in values if v.system != "S1"])


def test_all_alike_is_told_by_the_scale() -> None:
    flat = {s: [[v, v, 5], [v, v, 5], [v, v, 5]] for s, v in (("A", 4), ("B", 2))}
    found = weigh_sections("y", "all", None, tuple(split_plot(flat)), rules=Rules(response=GRADE))
    assert found.sections is not None
    assert found.sections.section_residual_ms == 0
    apart = {(p.at, p.a, p.b): p.told_apart for p in found.sections.within_system}
    assert (apart["A", "n0", "n2"], apart["B", "n0", "n2"], apart["A", "n0", "n1"]) == (False, True, False)
    assert all(cell.se is None for cell in found.sections.cells)


def test_the_permutation_of_sections_within_two_panels_is_counted_out() -> None:
    """One build-up's section stands out on all panels: of 6^(panels) arrangements its p is the share that does so again."""
    table = {s: [[1, 1, 9], [2, 2, 10]] for s in ("A", "B")}
    found = weigh_sections("y", "all", None, tuple(split_plot(table)), rules=Rules(response=ANY_MEASURE))
    assert found.sections is not None
    pair = next(p for p in found.sections.sections.pairs if (p.a, p.b) == ("n0", "n2"))
    # The large value may stand on any of three sections, but on the same one of all four panels: 3 of 3^4.
    assert pair.is_exact
    assert pair.p_permutation == pytest.approx(3 / 81)
