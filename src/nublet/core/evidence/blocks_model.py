"""The blocks model of one test.

    y_ij = μ + system_i + board_j + e_ij,    e_ij ~ N(0, σ²) independent

y_ij is the panel's value (``PanelValue.value``), i counts the k systems (``systems``) and j the b boards
(``boards``). Boards are fixed. The fit is ordinary least squares, balanced or not. With X the design matrix
(first system and first board as reference), the least-squares mean of system i is L_i β̂, where L_i gives
each board the weight 1/b; its standard error is sqrt(MS · L_i (X'X)⁻¹ L_i').

Not computed here: boards as random, sections within panels, any transformation of the grades.

References
----------
Searle, S. R., Speed, F. M. and Milliken, G. A. (1980). Population marginal means in the linear model: an
alternative to least squares means. The American Statistician 34, 216-221.
Kramer, C. Y. (1956). Extension of multiple range tests to group means with unequal numbers of
replications. Biometrics 12, 307-310.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import special

from nublet.core.errors import ReadingsError
from nublet.core.evidence.readings import PanelValue
from nublet.core.evidence.studentized_range import studentized_range_quantile, studentized_range_sf

FloatArray = NDArray[np.float64]

NO_VARIANCE = 1e-10


@dataclass(frozen=True, kw_only=True)
class BlocksFit:
    """A fitted blocks model.

    Attributes
    ----------
    systems, boards : tuple of str
        In sorted order; every array below follows ``systems``.
    means : ndarray, shape (k,)
        Least-squares means.
    unscaled : ndarray, shape (k, k)
        L (X'X)⁻¹ L': times ``residual_ms`` it is the covariance of the means.
    residual_df : int
    residual_ms : float or None
        ``None`` without residual degrees of freedom.
    n_panels : int
    residuals, leverages : ndarray, shape (n_panels,)
        In the order of the values given.
    system_f, system_df, system_p : float, (int, int), float or None
        The test that all systems are alike, adjusted for boards.
    """

    systems: tuple[str, ...]
    boards: tuple[str, ...]
    means: FloatArray
    unscaled: FloatArray
    residual_df: int
    residual_ms: float | None
    n_panels: int
    residuals: FloatArray
    leverages: FloatArray
    system_f: float | None
    system_df: tuple[int, int]
    system_p: float | None

    @property
    def has_variance(self) -> bool:
        """Whether panels of one system differ at all once boards are taken out."""
        return self.residual_ms is not None and self.residual_ms > NO_VARIANCE


def fit_blocks(values: Sequence[PanelValue]) -> BlocksFit:
    """Fit y = system + board by least squares.

    Raises
    ------
    ReadingsError
        If there are no values, or the boards do not link the systems: two groups of systems that never
        share a board, directly or through others, cannot be compared.
    """
    if not values:
        raise ReadingsError("No panel of this test has a grade yet. Grade at least one.")
    systems = tuple(sorted({value.system for value in values}))
    boards = tuple(sorted({value.board for value in values}))
    _check_linked(values)
    y = np.array([value.value for value in values], dtype=float)
    x = _design_matrix(values, systems, boards)
    inverse = np.linalg.inv(x.T @ x)
    beta = inverse @ x.T @ y
    residuals = y - x @ beta
    n, rank = x.shape
    df = n - rank
    rss = float(residuals @ residuals)
    ms = rss / df if df > 0 else None

    k, b = len(systems), len(boards)
    weights = np.zeros((k, rank))
    weights[:, 0] = 1.0
    weights[np.arange(1, k), np.arange(1, k)] = 1.0
    weights[:, k:] = 1.0 / b

    f = p = None
    if ms is not None and ms > NO_VARIANCE and k > 1:
        _, rss_boards = _residuals(np.delete(x, np.s_[1:k], axis=1), y)
        f = max(rss_boards - rss, 0.0) / (k - 1) / ms
        p = float(special.fdtrc(k - 1, df, f))
    return BlocksFit(
        systems=systems,
        boards=boards,
        means=weights @ beta,
        unscaled=weights @ inverse @ weights.T,
        residual_df=df,
        residual_ms=ms,
        n_panels=n,
        residuals=residuals,
        leverages=np.einsum("ij,jk,ik->i", x, inverse, x),
        system_f=f,
        system_df=(k - 1, df),
        system_p=p,
    )


def t_intervals(fit: BlocksFit, *, level: float = 0.95) -> tuple[FloatArray, FloatArray]:
    """Return standard errors (k,) and intervals (k, 2) of the means.

    Raises
    ------
    ValueError
        If the fit has no residual variance: no t is invented from nothing.
    """
    if not fit.has_variance or fit.residual_ms is None:
        raise ValueError("the fit has no residual variance to make an interval from")
    se = np.sqrt(fit.residual_ms * np.diag(fit.unscaled))
    half = float(special.stdtrit(fit.residual_df, 0.5 + level / 2)) * se
    return se, np.column_stack((fit.means - half, fit.means + half))


@dataclass(frozen=True, kw_only=True)
class PairComparison:
    """System ``a`` less system ``b``: difference, its standard error, Tukey-Kramer interval and p-value."""

    a: str
    b: str
    difference: float
    se: float
    low: float
    high: float
    p_tukey: float


def compare_pairs(fit: BlocksFit, *, level: float = 0.95) -> list[PairComparison]:
    """Compare every pair of systems by Tukey-Kramer, in the order of ``fit.systems``.

    Raises
    ------
    ValueError
        If the fit has no residual variance.

    Notes
    -----
    Answers: which of all pairs differ, with the chance of even one false "told apart" held at 1 - level.
    Exact for equal standard errors, slightly cautious otherwise. It assumes roughly normal panel values of
    equal spread; grades near the ends of the scale are neither.
    """
    if not fit.has_variance or fit.residual_ms is None:
        raise ValueError("the fit has no residual variance to compare pairs with")
    k = len(fit.systems)
    if k < 2:
        return []
    first, second = np.triu_indices(k, 1)
    difference = fit.means[first] - fit.means[second]
    c = fit.unscaled
    se = np.sqrt(
        fit.residual_ms * (c[first, first] + c[second, second] - c[first, second] - c[second, first])
    )
    p = studentized_range_sf(np.abs(difference) / se * np.sqrt(2), k=k, df=fit.residual_df)
    half = studentized_range_quantile(level, k=k, df=fit.residual_df) / np.sqrt(2) * se
    return [
        PairComparison(
            a=fit.systems[first[i]],
            b=fit.systems[second[i]],
            difference=float(difference[i]),
            se=float(se[i]),
            low=float(difference[i] - half[i]),
            high=float(difference[i] + half[i]),
            p_tukey=float(p[i]),
        )
        for i in range(len(first))
    ]


def studentised_residuals(fit: BlocksFit) -> FloatArray | None:
    """Return each panel's externally studentised residual, or ``None`` when too few panels are left.

    A panel's own residual is judged against the spread of all others, so that one wild panel does not
    hide itself by widening the spread.
    """
    if not fit.has_variance or fit.residual_ms is None or fit.residual_df < 2:
        return None
    df = fit.residual_df
    room = np.maximum(1 - fit.leverages, 1e-12)
    without = (df * fit.residual_ms - fit.residuals**2 / room) / (df - 1)
    result: FloatArray = np.where(
        fit.leverages > 1 - 1e-9, 0.0, fit.residuals / np.sqrt(np.maximum(without, 1e-12) * room)
    )
    return result


@dataclass(frozen=True, kw_only=True)
class InteractionResult:
    """The test that the systems' differences are the same on every species."""

    f: float
    df: tuple[int, int]
    p: float


def species_interaction(values: Sequence[PanelValue]) -> InteractionResult | None:
    """Test system x species with boards nested in species, or ``None`` when the data cannot tell.

    Only systems seen on every species take part, and the boards of each species must link them.
    """
    species = sorted({value.species or "" for value in values})
    on_all = {
        system
        for system in {value.system for value in values}
        if {value.species or "" for value in values if value.system == system} == set(species)
    }
    kept = [value for value in values if value.system in on_all]
    if len(species) < 2 or len(on_all) < 2:
        return None
    try:
        together = fit_blocks(kept)
        apart = [fit_blocks([v for v in kept if (v.species or "") == name]) for name in species]
    except ReadingsError:
        return None
    df_error = sum(fit.residual_df for fit in apart)
    df_effect = together.residual_df - df_error
    rss_apart = sum(float(fit.residuals @ fit.residuals) for fit in apart)
    if df_error < 1 or df_effect < 1 or rss_apart / df_error <= NO_VARIANCE:
        return None
    rss_together = float(together.residuals @ together.residuals)
    f = max(rss_together - rss_apart, 0.0) / df_effect / (rss_apart / df_error)
    return InteractionResult(f=f, df=(df_effect, df_error), p=float(special.fdtrc(df_effect, df_error, f)))


def _design_matrix(
    values: Sequence[PanelValue], systems: tuple[str, ...], boards: tuple[str, ...]
) -> FloatArray:
    """Intercept, k - 1 system columns, b - 1 board columns: shape (n_panels, k + b - 1), full rank."""
    k, b = len(systems), len(boards)
    system_at = {name: index for index, name in enumerate(systems)}
    board_at = {name: index for index, name in enumerate(boards)}
    x = np.zeros((len(values), k + b - 1))
    x[:, 0] = 1.0
    for row, value in enumerate(values):
        if (i := system_at[value.system]) > 0:
            x[row, i] = 1.0
        if (j := board_at[value.board]) > 0:
            x[row, k + j - 1] = 1.0
    return x


def _residuals(x: FloatArray, y: FloatArray) -> tuple[FloatArray, float]:
    beta, *_ = np.linalg.lstsq(x, y, rcond=None)
    residuals = y - x @ beta
    return residuals, float(residuals @ residuals)


def _check_linked(values: Sequence[PanelValue]) -> None:
    """Refuse systems that no chain of shared boards links."""
    group: dict[str, set[str]] = {}
    for board in {value.board for value in values}:
        together = {value.system for value in values if value.board == board}
        merged = set().union(together, *(group.get(system, set()) for system in together))
        for system in merged:
            group[system] = merged
    groups = {frozenset(members) for members in group.values()}
    if len(groups) > 1:
        listed = " | ".join(sorted(", ".join(sorted(members)) for members in groups))
        raise ReadingsError(
            f"These groups of build-ups never share a board, so the boards cannot be told from the finishes: "
            f"{listed}. Put at least one build-up of each group on a common board.",
            field="board",
        )
