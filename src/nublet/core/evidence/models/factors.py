"""Factors: what of the build-ups' differences belongs to the finish, what to the preparation, and what to their meeting.

    μ_i = μ + α_a(i) + β_b(i) + (αβ)_ab(i) + ...

μ_i are the build-ups' means of a fit, each combination of levels being one build-up. Every main effect and interaction is a set of
contrasts L of the means (L μ = 0 when it is not there), which are tested where the means stand:

    F = (L m)' (L U L')⁻¹ (L m) / q / MS,    q = rank L,

m the least-squares means, U times MS their covariance. A margin, the mean at one level, gives every combination the same weight
(hypotheses on unweighted margins: type III). Build-ups that are no part of the crossing, such as bare wood, lend their spread to MS
and nothing else.

An incomplete crossing, or one in which two build-ups have the same levels, has no unweighted margins: its build-ups are weighed as
they are, one way, and the reason is given.

References
----------
Searle, S. R. (1971). Linear Models, ch. 8. Wiley (the full model, cell means).
Yates, F. (1934). The analysis of multiple classifications with unequal numbers in the different classes. JASA 29, 51-66.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import reduce
from itertools import combinations, product

import numpy as np
from numpy.typing import NDArray
from scipy import special

from nublet.core.evidence.fit import Effect, Fit
from nublet.core.evidence.levels import FactorLevels

FloatArray = NDArray[np.float64]
_MOST_NAMED = 4


@dataclass(frozen=True, kw_only=True)
class Margin:
    """One factor's levels as if they were build-ups: ``fit`` holds their means, ``weights`` (levels, systems) how they arise.

    ``beside`` numbers each system's levels of all other factors; a system that is no part of the crossing has a number of its own.
    """

    factor: str
    fit: Fit
    weights: FloatArray
    beside: tuple[int, ...]


@dataclass(frozen=True, kw_only=True)
class FactorsResult:
    """What the factors of a crossing do.

    Attributes
    ----------
    effects : tuple of Effect
        Main effects first, then interactions ``A:B``; none where the fit has no spread to test by.
    margins : tuple of Margin
    says : str
        Why the build-ups are weighed one way, where they are; else empty.
    """

    effects: tuple[Effect, ...]
    margins: tuple[Margin, ...]
    says: str = ""


def weigh_factors(fit: Fit, factors: Sequence[FactorLevels]) -> FactorsResult | None:
    """Test the factors of a crossing in the stratum in which its build-ups stand.

    Parameters
    ----------
    fit : Fit
        Of the build-ups' means.
    factors : sequence of FactorLevels

    Returns
    -------
    FactorsResult or None
        ``None`` where nothing is crossed: fewer than two factors have two levels or more.
    """
    known = set(fit.systems)
    level_of = {
        factor.factor: {each.system: each.level for each in factor.systems if each.system in known}
        for factor in factors
    }
    varied = {name: levels for name, levels in level_of.items() if len(set(levels.values())) > 1}
    if len(varied) < 2:
        return None
    names = list(varied)
    inside = [system for system in fit.systems if all(system in varied[name] for name in names)]
    order = {factor.factor: factor.levels for factor in factors}
    levels = [
        [level for level in order[name] if any(varied[name][s] == level for s in inside)] for name in names
    ]
    cells = Counter(tuple(varied[name][system] for name in names) for system in inside)
    if (says := _why_not_crossed(names, levels, cells)) or not inside:
        return FactorsResult(effects=(), margins=(), says=says or "No build-up has a level of every factor.")
    at = {system: index for index, system in enumerate(fit.systems)}
    of_cell = {tuple(varied[name][system] for name in names): at[system] for system in inside}
    # Cells in the order of the product of the levels; each row picks a cell's mean.
    pick = np.zeros((len(of_cell), len(fit.systems)))
    for row, cell in enumerate(product(*levels)):
        pick[row, of_cell[cell]] = 1
    sizes = [len(each) for each in levels]
    effects = [
        effect
        for n in range(1, len(names) + 1)
        for chosen in combinations(range(len(names)), n)
        if (effect := _test(fit, ":".join(names[i] for i in chosen), _contrasts(sizes, chosen) @ pick))
        is not None
    ]
    margins = [
        _margin(
            fit,
            names[i],
            levels[i],
            _averages(sizes, i) @ pick,
            {s: tuple(varied[n][s] for n in names if n != names[i]) for s in inside},
        )
        for i in range(len(names))
    ]
    return FactorsResult(effects=tuple(effects), margins=tuple(margins))


def odd_cell(cells: FloatArray) -> tuple[int, int]:
    """The cell that lies furthest from what its row and its column lead to expect; cells (rows, columns).

    Examples
    --------
    >>> odd_cell(np.array([[4.0, 4.5], [3.0, 3.5], [2.0, 4.6]]))
    (2, 0)
    """
    expected = cells.mean(axis=1, keepdims=True) + cells.mean(axis=0, keepdims=True) - cells.mean()
    row, column = np.unravel_index(int(np.argmax(np.abs(cells - expected).round(9))), cells.shape)
    return int(row), int(column)


def odd_system(fit: Fit, found: FactorsResult, *, alpha: float) -> str | None:
    """Of a crossing of two factors that do meet, the build-up that breaks the rule most; ``None`` else."""
    if len(found.margins) != 2 or not found.effects or found.effects[-1].p >= alpha:
        return None
    rows, columns = (margin.weights > 0 for margin in found.margins)
    at = np.array([[int(np.flatnonzero(row & column)[0]) for column in columns] for row in rows])
    return fit.systems[int(at[odd_cell(fit.means[at])])]


def _why_not_crossed(
    names: Sequence[str], levels: Sequence[Sequence[str]], cells: Counter[tuple[str, ...]]
) -> str:
    missing = [cell for cell in product(*levels) if cell not in cells]
    twice = [cell for cell, n in cells.items() if n > 1]
    what = " × ".join(names)
    if missing:
        shown = "; ".join(", ".join(cell) for cell in missing[:_MOST_NAMED])
        more = f" and {len(missing) - _MOST_NAMED} more" if len(missing) > _MOST_NAMED else ""
        return (
            f"The crossing {what} is not complete ({shown}{more} {'is' if len(missing) == 1 else 'are'} not there), so its margins "
            "would compare unlike things: the build-ups are weighed one by one."
        )
    if twice:
        return (
            f"Several build-ups have the levels {', '.join(twice[0])} of {what}, so something else differs between them: the "
            "build-ups are weighed one by one."
        )
    return ""


def _differences(n: int) -> FloatArray:
    """Each level less the last; shape (n - 1, n)."""
    return np.hstack([np.eye(n - 1), -np.ones((n - 1, 1))])


def _contrasts(sizes: Sequence[int], chosen: Sequence[int]) -> FloatArray:
    """Contrasts of the cells that the meeting of the chosen factors makes, averaged over the others."""
    parts = [_differences(n) if i in chosen else np.full((1, n), 1 / n) for i, n in enumerate(sizes)]
    return np.asarray(reduce(np.kron, parts))


def _averages(sizes: Sequence[int], factor: int) -> FloatArray:
    """The mean of the cells at each level of one factor; shape (levels, cells)."""
    parts = [np.eye(n) if i == factor else np.full((1, n), 1 / n) for i, n in enumerate(sizes)]
    return np.asarray(reduce(np.kron, parts))


def _test(fit: Fit, name: str, contrasts: FloatArray) -> Effect | None:
    """The F-test that all these contrasts of the means are nought."""
    stratum = fit.strata[0]
    if not fit.has_variance or not stratum.ms or stratum.df < 1:
        return None
    seen = contrasts @ fit.means
    spread = contrasts @ fit.unscaled @ contrasts.T
    q = len(contrasts)
    f = max(float(seen @ np.linalg.solve(spread, seen)), 0.0) / q / stratum.ms
    return Effect(
        effect=name, stratum=stratum.name, f=f, df=(q, stratum.df), p=float(special.fdtrc(q, stratum.df, f))
    )


def _margin(
    fit: Fit, factor: str, levels: Sequence[str], weights: FloatArray, others: Mapping[str, tuple[str, ...]]
) -> Margin:
    at_level = replace(
        fit,
        systems=tuple(levels),
        means=weights @ fit.means,
        unscaled=weights @ fit.unscaled @ weights.T,
        effects=(),
    )
    numbers: dict[tuple[str, ...], int] = {}
    beside = tuple(
        numbers.setdefault(others.get(system, ("", system, "")), len(numbers)) for system in fit.systems
    )
    return Margin(factor=factor, fit=at_level, weights=weights, beside=beside)
