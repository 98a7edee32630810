"""A fit: what every model of a test gives, and all that draws, checks, words and tables ask of it.

A model (``models``) says how panels' values come about and estimates the systems' means from them. What follows from the means,
their covariance and the error of the stratum in which they stand is the same for all, and stands here.

References
----------
Kramer, C. Y. (1956). Extension of multiple range tests to group means with unequal numbers of
replications. Biometrics 12, 307-310.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import special

from nublet.core.evidence.studentized_range import pair_tail, studentized_range_quantile, studentized_range_sf

FloatArray = NDArray[np.float64]


@dataclass(frozen=True, kw_only=True)
class Stratum:
    """A level at which chance enters: panels within boards, sections within panels.

    Attributes
    ----------
    name : str
    df : int
        Of cells of a split plot Satterthwaite's, which is not whole.
    ms : float or None
        The mean square of its error; ``None`` without degrees of freedom.
    systems : tuple of str
        Those that the error is estimated from: all, or those that vary.
    """

    name: str
    df: int
    ms: float | None
    systems: tuple[str, ...]


@dataclass(frozen=True, kw_only=True)
class Effect:
    """A test that something makes no difference, in its stratum."""

    effect: str
    stratum: str
    f: float
    df: tuple[int, int]
    p: float


@dataclass(frozen=True, kw_only=True)
class Fit:
    """A fitted model of one test.

    Attributes
    ----------
    design : str
        The model's name in tables and files: ``"blocks"``.
    systems, boards : tuple of str
        In sorted order; ``means`` and ``unscaled`` follow ``systems``. Every difference between them is estimable: a model
        that cannot say so refuses.
    means : ndarray, shape (k,)
        Least-squares means.
    unscaled : ndarray, shape (k, k)
        Times the error it is the covariance of the means.
    strata : tuple of Stratum
        That of the systems first.
    residuals, leverages : ndarray, shape (n_panels,)
        In the order of the values given.
    residuals_df : int
        Degrees of freedom of the residuals of every system, whichever the error is estimated from.
    board_effects : ndarray, shape (b,)
        Least-squares effects of the boards, summing to zero.
    effects : tuple of Effect
        What could be tested.
    has_variance : bool
        Whether panels of one system differ at all once boards are taken out.
    """

    design: str
    systems: tuple[str, ...]
    boards: tuple[str, ...]
    means: FloatArray
    unscaled: FloatArray
    strata: tuple[Stratum, ...]
    residuals: FloatArray
    leverages: FloatArray
    residuals_df: int
    board_effects: FloatArray
    effects: tuple[Effect, ...]
    has_variance: bool

    @property
    def n_panels(self) -> int:
        """Panels with a value."""
        return len(self.residuals)

    @property
    def residual_df(self) -> int:
        """Degrees of freedom of the systems' stratum."""
        return self.strata[0].df

    @property
    def residual_ms(self) -> float | None:
        """The error of the systems' stratum."""
        return self.strata[0].ms

    @property
    def error_systems(self) -> tuple[str, ...]:
        """The systems that it is estimated from."""
        return self.strata[0].systems

    def effect(self, name: str) -> Effect | None:
        """The test of an effect, where there is one."""
        return next((effect for effect in self.effects if effect.effect == name), None)

    @property
    def system_p(self) -> float | None:
        """p-value of the test that all systems are alike."""
        found = self.effect("system")
        return None if found is None else found.p


def pair_variances(unscaled: FloatArray) -> FloatArray:
    """Times the error the variance of each difference of two means, in the order of ``numpy.triu_indices``; shape (q,)."""
    first, second = np.triu_indices(len(unscaled), 1)
    own = np.diag(unscaled)
    return np.asarray(own[first] + own[second] - 2 * unscaled[first, second])


def t_intervals(fit: Fit, *, level: float = 0.95) -> tuple[FloatArray, FloatArray]:
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
    """System ``a`` less system ``b``: difference, its standard error, Tukey-Kramer interval and p-value.

    ``half_alike`` is half the width of the interval by which two may be called alike.
    """

    a: str
    b: str
    difference: float
    se: float
    low: float
    high: float
    p_tukey: float
    half_alike: float


def compare_pairs(
    fit: Fit, *, level: float = 0.95, alike_level: float = 0.90, use_table: bool = False
) -> list[PairComparison]:
    """Compare every pair of systems by Tukey-Kramer, in the order of ``fit.systems``.

    ``use_table`` reads the p-values from a table of the studentized range (to 1e-6), which pays where many tests share
    k and df.

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
    se = np.sqrt(fit.residual_ms * pair_variances(fit.unscaled))
    df = fit.residual_df
    p, (half, half_alike) = range_of(
        np.abs(difference) / se, se, k=k, df=df, levels=(level, alike_level), use_table=use_table
    )
    return [
        PairComparison(
            a=fit.systems[first[i]],
            b=fit.systems[second[i]],
            difference=float(difference[i]),
            se=float(se[i]),
            low=float(difference[i] - half[i]),
            high=float(difference[i] + half[i]),
            p_tukey=float(p[i]),
            half_alike=float(half_alike[i]),
        )
        for i in range(len(first))
    ]


def range_of(
    t: FloatArray, se: FloatArray, *, k: int, df: float, levels: tuple[float, float], use_table: bool = False
) -> tuple[FloatArray, tuple[FloatArray, FloatArray]]:
    """Tukey-Kramer's p-values of |t|, and half the widths of the intervals at two levels, for pairs of k means."""
    q = t * np.sqrt(2)
    p = pair_tail(k, df)(q) if use_table else studentized_range_sf(q, k=k, df=df)
    one, other = (studentized_range_quantile(level, k=k, df=df) / np.sqrt(2) * se for level in levels)
    return p, (one, other)


def studentised_residuals(fit: Fit) -> FloatArray | None:
    """Return each panel's externally studentised residual, or ``None`` when too few panels are left.

    A panel's own residual is judged against the spread of all others, so that one wild panel does not
    hide itself by widening the spread. Under the model each is a t on one degree of freedom less than all residuals have.
    """
    df = fit.residuals_df
    if not fit.has_variance or df < 2:
        return None
    rss = float(fit.residuals @ fit.residuals)
    room = np.maximum(1 - fit.leverages, 1e-12)
    without = (rss - fit.residuals**2 / room) / (df - 1)
    result: FloatArray = np.where(
        fit.leverages > 1 - 1e-9,
        0.0,
        fit.residuals / np.sqrt(np.maximum(without, (1e-6 * np.sqrt(rss / df)) ** 2) * room),
    )
    return result
