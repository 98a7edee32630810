"""Blind preferences: who chose which of two, and how far a build-up is preferred.

    P(i is chosen over j) = exp(β_i) / (exp(β_i) + exp(β_j)),    Σ β = 0

(Bradley and Terry). A choice of neither counts as half of one for each, which maximises the same likelihood with halves. The
abilities β are found by Newton's steps. They are finite only where no group of build-ups was never beaten by the others (Ford):
else half a choice each way between every pair that was compared is added, and it is said.

The choices of one judge hang together, since a taste is the judge's: judges are the clusters. Standard errors are the larger of
those of the model and of the sandwich over judges, J / (J - 1) times, with t on J - 1 degrees of freedom. Whether two are told
apart is decided by permutation, each judge's shares dealt anew among the build-ups that the judge saw (judges are the blocks of
:mod:`nublet.core.evidence.permutation`): exact for any number of judges where each compared all of them.

References
----------
Bradley, R. A. and Terry, M. E. (1952). Rank analysis of incomplete block designs I. Biometrika 39, 324-345.
Ford, L. R. (1957). Solution of a ranking problem from binary comparisons. American Mathematical Monthly 64 (8, part 2), 28-33.
Hunter, D. R. (2004). MM algorithms for generalized Bradley-Terry models. Annals of Statistics 32, 384-406.
Liang, K.-Y. and Zeger, S. L. (1986). Longitudinal data analysis using generalized linear models. Biometrika 73, 13-22.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import sparse, special
from scipy.sparse import csgraph

from nublet.core.errors import ReadingsError
from nublet.core.evidence.readings import PanelValue

FloatArray = NDArray[np.float64]

_MOST_STEPS = 200
_STILL = 1e-12


@dataclass(frozen=True, kw_only=True, slots=True)
class Choice:
    """One judge's choice between two build-ups: 1 for ``a``, 0 for ``b``, 0.5 for neither."""

    judge: str
    a: str
    b: str
    won: float


@dataclass(frozen=True, kw_only=True)
class PreferenceFit:
    """Abilities of the build-ups.

    Attributes
    ----------
    systems : tuple of str
        In sorted order.
    abilities : ndarray, shape (k,)
        Log odds, summing to zero.
    covariance : ndarray, shape (k, k)
        Of the abilities, by the model alone.
    by_judges : ndarray, shape (k, k), or None
        By the sandwich over judges; ``None`` with one judge.
    n_judges, n_choices : int
    is_bounded : bool
        Whether the choices alone bound every ability; else half a choice each way was added.
    """

    systems: tuple[str, ...]
    abilities: FloatArray
    covariance: FloatArray
    by_judges: FloatArray | None
    n_judges: int
    n_choices: int
    is_bounded: bool

    def preferred_over_average(self, *, level: float = 0.95) -> tuple[FloatArray, FloatArray]:
        """How likely each is chosen over one as good as the others on average, and the interval; shapes (k,) and (k, 2)."""
        k = len(self.systems)
        against = np.eye(k) - (1 - np.eye(k)) / (k - 1)
        lead = against @ self.abilities
        half = self._half(against, level)
        return special.expit(lead), special.expit(np.column_stack((lead - half, lead + half)))

    def _half(self, contrasts: FloatArray, level: float) -> FloatArray:
        variance = np.einsum("qi,ij,qj->q", contrasts, self.covariance, contrasts)
        if self.by_judges is None:
            return np.asarray(special.ndtri(0.5 + level / 2) * np.sqrt(variance))
        clustered = np.einsum("qi,ij,qj->q", contrasts, self.by_judges, contrasts)
        return np.asarray(
            special.stdtrit(self.n_judges - 1, 0.5 + level / 2) * np.sqrt(np.maximum(variance, clustered))
        )


def fit_preference(choices: Sequence[Choice]) -> PreferenceFit:
    """Fit Bradley and Terry's model.

    Raises
    ------
    ReadingsError
        If there are no choices, or build-ups that no chain of choices links.
    """
    kept = [choice for choice in choices if choice.a != choice.b]
    if not kept:
        raise ReadingsError("Nobody has chosen between two build-ups yet.", field="choices")
    systems = tuple(sorted({name for choice in kept for name in (choice.a, choice.b)}))
    place = {name: index for index, name in enumerate(systems)}
    a = np.array([place[choice.a] for choice in kept])
    b = np.array([place[choice.b] for choice in kept])
    won = np.array([choice.won for choice in kept], dtype=float)
    wins = np.zeros((len(systems), len(systems)))
    np.add.at(wins, (a, b), won)
    np.add.at(wins, (b, a), 1 - won)
    compared = wins + wins.T
    n_groups, _ = csgraph.connected_components(sparse.csr_array(compared), directed=False)
    if n_groups > 1:
        raise ReadingsError(
            "Some build-ups were never chosen between, directly or through others, so nothing tells which is preferred. Let the "
            "judges compare across.",
            field="choices",
        )
    n_strong, _ = csgraph.connected_components(sparse.csr_array(wins), directed=True, connection="strong")
    used = wins if n_strong == 1 else wins + 0.5 * (compared > 0)
    abilities, information = _solve(used)
    inverse = np.asarray(np.linalg.inv(information + 1 / len(systems)) - 1 / len(systems), dtype=np.float64)
    judges = sorted({choice.judge for choice in kept})
    return PreferenceFit(
        systems=systems,
        abilities=abilities,
        covariance=inverse,
        by_judges=_sandwich(
            inverse, abilities, a, b, won, np.array([judges.index(choice.judge) for choice in kept])
        ),
        n_judges=len(judges),
        n_choices=len(kept),
        is_bounded=n_strong == 1,
    )


def _solve(wins: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Abilities and their information, by Newton's steps, halved where they would not climb."""
    n, k = wins + wins.T, len(wins)
    beta = np.zeros(k)

    def likelihood(at: FloatArray) -> float:
        return float((wins * -np.logaddexp(0, at[None] - at[:, None])).sum())

    def information(at: FloatArray) -> FloatArray:
        p = special.expit(at[:, None] - at[None])
        weight = n * p * (1 - p)
        return np.asarray(np.diag(weight.sum(axis=1)) - weight)

    best = likelihood(beta)
    for _ in range(_MOST_STEPS):
        score = (wins - n * special.expit(beta[:, None] - beta[None])).sum(axis=1)
        step = np.linalg.solve(information(beta) + 1 / k, score)
        for _ in range(60):
            found = likelihood(beta + step)
            if found >= best - 1e-14 * abs(best):
                break
            step /= 2
        beta, best = beta + step, max(found, best)
        if float(np.abs(step).max()) < _STILL:
            break
    return beta - beta.mean(), information(beta)


def _sandwich(
    inverse: FloatArray,
    abilities: FloatArray,
    a: NDArray[np.int_],
    b: NDArray[np.int_],
    won: FloatArray,
    judge: NDArray[np.int_],
) -> FloatArray | None:
    n = int(judge.max()) + 1
    if n < 2:
        return None
    surprise = won - special.expit(abilities[a] - abilities[b])
    scores = np.zeros((n, len(abilities)))
    np.add.at(scores, (judge, a), surprise)
    np.add.at(scores, (judge, b), -surprise)
    return np.asarray(inverse @ (scores.T @ scores) @ inverse * n / (n - 1))


def shares_by_judge(choices: Sequence[Choice]) -> tuple[PanelValue, ...]:
    """The share of choices that each build-up won with each judge; the judge stands in the place of the board."""
    won: dict[tuple[str, str], list[float]] = defaultdict(list)
    for choice in choices:
        if choice.a != choice.b:
            won[choice.judge, choice.a].append(choice.won)
            won[choice.judge, choice.b].append(1 - choice.won)
    return tuple(
        PanelValue(
            panel=f"{judge}: {system}", system=system, board=judge, species=None, value=sum(each) / len(each)
        )
        for (judge, system), each in sorted(won.items())
    )
