"""Draws of the systems' true means, jointly over tests; the methods stand in :mod:`nublet.core.ranking.draws`."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import special

from nublet.core.evidence.fit import Fit
from nublet.core.evidence.readings import PanelValue
from nublet.core.protocols.responses import Response

FloatArray = NDArray[np.float64]

USUAL_PANEL_SD = 0.6
_N_SPREADS = 801


def stream(seed: int, name: str) -> np.random.Generator:
    """A stream of chance of its own for each thing, so that one more test does not change the others."""
    key = int.from_bytes(hashlib.sha256(name.encode()).digest()[:8], "big")
    return np.random.default_rng(np.random.SeedSequence([seed, key]))


@dataclass(frozen=True, kw_only=True)
class Drawn:
    """What is drawn from: a test's fit, the values that it was made from, and what was read."""

    fit: Fit
    values: Sequence[PanelValue]
    response: Response


class JointMeans:
    """Draws of every test's true means.

    Parameters
    ----------
    tests : mapping of test to Drawn
        In sorted order.
    systems : sequence of str
        Those that every test knows, in the order of the draws' last axis.
    seed, n_draws : int

    Attributes
    ----------
    means : dict of test to ndarray, shape (n_draws, n_systems)
        Drawn from what each test's fit leaves open, the tests' errors going together as the panels' residuals do.
    """

    def __init__(
        self,
        tests: Mapping[str, Drawn],
        systems: Sequence[str],
        *,
        seed: int,
        n_draws: int,
    ) -> None:
        self._fits = {test: drawn.fit for test, drawn in tests.items()}
        self._responses = {test: drawn.response for test, drawn in tests.items()}
        self._systems, self._seed, self._n_draws = tuple(systems), seed, n_draws
        self._names = list(self._fits)
        self._at = {test: [fit.systems.index(s) for s in systems] for test, fit in self._fits.items()}
        self._sd = {test: _panel_sd(fit) for test, fit in self._fits.items()}
        self._correlation = _residual_correlation(tests)
        self.means = self._draw()

    def pulled(self, shares: Mapping[str, float]) -> dict[str, FloatArray]:
        """The draws pulled to the common mean, as far as the use's own weighted sum says; see the module's notes.

        Parameters
        ----------
        shares : mapping of test to its share of the score

        Notes
        -----
        The posterior of B is computed on a grid of τ/s from 0 to far beyond any F seen.
        """
        v = len(self._systems)
        weighed = [test for test in self._names if shares.get(test, 0.0) > 0]
        error = self._score_error(shares, weighed)
        if v < 3 or error is None:
            return self.means
        error_ms, df = error
        score = sum(shares[test] * self._fits[test].means[self._at[test]] for test in weighed)
        f = float(np.var(score, ddof=1)) / error_ms
        # τ = s tan(angle): an even grid of angles, weighed by the tangent's slope, is a flat prior on τ.
        angle = np.linspace(0.0, np.pi / 2, _N_SPREADS + 1)[1:-1]
        kept = np.cos(angle) ** 2  # 1 - B
        if np.isinf(df):
            log_density = (v - 1) / 2 * (np.log(kept) - kept * f)
        else:
            log_density = (v - 1) / 2 * np.log(kept) - (v - 1 + df) / 2 * np.log1p(kept * (v - 1) * f / df)
        density = np.exp(log_density - log_density.max()) / kept
        rng = stream(self._seed, "spread of the build-ups")
        pull = 1 - rng.choice(kept, size=self._n_draws, p=density / density.sum())[:, None]
        result = {}
        for test, drawn in self.means.items():
            estimate = self._fits[test].means[self._at[test]]
            error_of = drawn - estimate
            level = error_of.mean(axis=1, keepdims=True)
            result[test] = (
                estimate.mean()
                + pull * (estimate - estimate.mean())
                + np.sqrt(pull) * (error_of - level)
                + level
            )
        return result

    def next_board(self) -> dict[str, FloatArray]:
        """The draws on the next board of this wood: its shift, drawn from the spread between boards, added.

        Notes
        -----
        σ²_board = (MS_board - MS) / m, m the panels a board, each mean square drawn as its estimate over χ²/df. The
        boards' shifts in several tests go together as their effects do, shrunk to their mean correlation.
        """
        spread = {
            test: _board_sd(fit, self._responses[test], stream(self._seed, f"boards {test}"), self._n_draws)
            for test, fit in self._fits.items()
        }
        if not any(sd is not None for sd in spread.values()):
            return self.means
        shifts = _correlated(
            _board_correlation(self._fits), self._seed, "next board", self._names, (self._n_draws, 1)
        )
        moved = {}
        for test, drawn in self.means.items():
            sd = spread[test]
            moved[test] = drawn if sd is None else drawn + sd[:, None] * shifts[test]
        return moved

    def _draw(self) -> dict[str, FloatArray]:
        size = (self._n_draws, len(self._systems))
        normal = _correlated(self._correlation, self._seed, "means", self._names, size)
        uniform_chi = stream(self._seed, "error").uniform(size=(self._n_draws, 1))
        result = {}
        for test, fit in self._fits.items():
            at = self._at[test]
            estimate = fit.means[at]
            if fit.residual_df >= 1 and not fit.has_variance:
                half = (self._responses[test].step or 0.0) / 2
                evenly = stream(self._seed, f"resolution {test}").uniform(-half, half, size=size)
                result[test] = np.asarray(estimate + evenly)
                continue
            root = _root(fit.unscaled[np.ix_(at, at)])
            inflation: FloatArray | float = 1.0
            if fit.residual_df >= 1:
                # One draw of chance for the error of all tests: equal degrees of freedom give one inflation.
                inflation = np.sqrt(fit.residual_df / special.chdtri(fit.residual_df, uniform_chi))
            result[test] = np.asarray(estimate + self._sd[test] * inflation * (normal[test] @ root.T))
        return result

    def _score_error(self, shares: Mapping[str, float], weighed: Sequence[str]) -> tuple[float, float] | None:
        """Mean variance of the systems' weighted sums and its degrees of freedom, or ``None`` without spread."""
        if not weighed:
            return None
        at = [self._names.index(test) for test in weighed]
        weight = np.array([shares[test] * self._sd[test] for test in weighed])
        # A test without spread has its resolution's: an even draw over one step.
        even = [
            fit.residual_df >= 1 and not fit.has_variance for fit in (self._fits[test] for test in weighed)
        ]
        variance = float(weight @ self._correlation[np.ix_(at, at)] @ weight)
        contrasts = [
            _mean_contrast_variance(self._fits[test].unscaled[np.ix_(self._at[test], self._at[test])])
            for test in weighed
        ]
        total = variance * float(np.mean(contrasts)) + sum(
            (shares[test] * (self._responses[test].step or 0.0)) ** 2 / 12
            for test, is_even in zip(weighed, even, strict=True)
            if is_even
        )
        if total <= 0:
            return None
        df = [float(self._fits[test].residual_df) for test in weighed if self._fits[test].residual_df >= 1]
        return total, min(df, default=float("inf"))


def _panel_sd(fit: Fit) -> float:
    if fit.residual_df < 1 or fit.residual_ms is None:
        return USUAL_PANEL_SD
    return float(np.sqrt(fit.residual_ms)) if fit.has_variance else 0.0


def _mean_contrast_variance(unscaled: FloatArray) -> float:
    """Half the mean variance of a difference, in units of the error: what plays 1/r in the blocks model."""
    k = len(unscaled)
    if k < 2:
        return float(unscaled[0, 0])
    return float((np.trace(unscaled) - unscaled.sum() / k) / (k - 1))


def _residual_correlation(tests: Mapping[str, Drawn]) -> FloatArray:
    """Correlation of the panels' residuals over tests, shrunk to its mean off the diagonal."""
    panels: dict[str, int] = {}
    for drawn in tests.values():
        for value in drawn.values:
            panels.setdefault(value.panel, len(panels))
    table = np.zeros((len(panels), len(tests)))
    for column, drawn in enumerate(tests.values()):
        if drawn.fit.has_variance:
            table[[panels[value.panel] for value in drawn.values], column] = drawn.fit.residuals
    df = min((drawn.fit.residual_df for drawn in tests.values() if drawn.fit.has_variance), default=0)
    return _shrunk_correlation(table, df)


def _board_correlation(fits: Mapping[str, Fit]) -> FloatArray:
    boards: dict[str, int] = {}
    for fit in fits.values():
        for board in fit.boards:
            boards.setdefault(board, len(boards))
    table = np.zeros((len(boards), len(fits)))
    for column, fit in enumerate(fits.values()):
        table[[boards[board] for board in fit.boards], column] = fit.board_effects
    return _shrunk_correlation(table, max(len(boards) - 1, 0))


def _shrunk_correlation(table: FloatArray, df: int) -> FloatArray:
    """Correlations of the columns about zero, shrunk to their mean by T / (T + df); shape (T, T)."""
    n = table.shape[1]
    norms = np.sqrt((table**2).sum(axis=0))
    varies = norms > 0
    if varies.sum() < 2:
        return np.eye(n)
    scaled = table / np.where(varies, norms, 1.0)
    raw = scaled.T @ scaled
    both = np.outer(varies, varies) & ~np.eye(n, dtype=bool)
    mean = float(raw[both].mean())
    # A common correlation below -1/(T - 1) cannot be.
    mean = max(mean, -1.0 / (n - 1))
    share = n / (n + df)
    shrunk = np.where(both, (1 - share) * raw + share * mean, 0.0)
    np.fill_diagonal(shrunk, 1.0)
    return np.asarray(shrunk)


def _correlated(
    correlation: FloatArray,
    seed: int,
    name: str,
    tests: Sequence[str],
    size: tuple[int, int],
) -> dict[str, FloatArray]:
    """Normal draws for each test, correlated over tests; each shape ``size``."""
    raw = np.stack([stream(seed, f"{name} {test}").standard_normal(size) for test in tests])
    mixed = np.tensordot(_root(correlation), raw, axes=1)
    return {test: mixed[index] for index, test in enumerate(tests)}


def _board_sd(fit: Fit, response: Response, rng: np.random.Generator, n_draws: int) -> FloatArray | None:
    """Draws of the SD between boards, shape (n_draws,); ``None`` with a single board."""
    b = len(fit.boards)
    if b < 2:
        return None
    per_board = fit.n_panels / b
    ms_board = per_board * float(fit.board_effects @ fit.board_effects) / (b - 1)
    between = ms_board * (b - 1) / rng.chisquare(b - 1, size=n_draws)
    error = 0.0
    if fit.has_variance and fit.residual_ms is not None:
        error = fit.residual_ms
    within = error * fit.residual_df / rng.chisquare(fit.residual_df, size=n_draws) if error else 0.0
    widest = np.inf if response.width is None else response.width
    return np.asarray(np.minimum(np.sqrt(np.maximum(between - within, 0.0) / per_board), widest))


def _root(c: FloatArray) -> FloatArray:
    """The symmetric square root of a covariance that may be singular to rounding."""
    values, vectors = np.linalg.eigh(c)
    root: FloatArray = (vectors * np.sqrt(np.clip(values, 0.0, None))) @ vectors.T
    return root
