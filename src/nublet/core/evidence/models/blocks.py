"""The blocks model of one test.

    y_ij = μ + system_i + board_j + e_ij,    e_ij ~ N(0, σ²) independent

y_ij is the panel's value (``PanelValue.value``), i counts the k systems (``systems``) and j the b boards
(``boards``). Boards are fixed. The fit is ordinary least squares, balanced or not, with boards absorbed: with
N the table of panels by system and board, r its row sums and n its column sums, T and B the systems' and boards'
totals,

    C s = T - N diag(n)⁻¹ B,    C = diag(r) - N diag(n)⁻¹ N'

gives the systems' effects s from a matrix as wide as there are systems, however many boards there are. The
least-squares mean of a system gives each board the weight 1/b.

The error of grades: a system whose panels all stand at an end of the scale has no spread to show, not because its
panels are alike but because the scale ends there. Its zeros are not pooled into the others' error: the error is
estimated from the systems that vary (``error_systems``), by the same model over them alone.

Not computed here: boards as random, sections within panels, any transformation of the grades.

References
----------
Searle, S. R., Speed, F. M. and Milliken, G. A. (1980). Population marginal means in the linear model: an
alternative to least squares means. The American Statistician 34, 216-221.
John, P. W. M. (1971). Statistical Design and Analysis of Experiments, ch. 11 (the reduced normal equations). Macmillan.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import sparse, special
from scipy.sparse import csgraph

from nublet.core.errors import ReadingsError
from nublet.core.evidence.fit import Effect, Fit, Stratum
from nublet.core.evidence.readings import PanelValue

FloatArray = NDArray[np.float64]
IntArray = NDArray[np.int64]

# Residuals this small beside the values are rounding, not spread.
ROUNDING = 1e-11
MOST_SYSTEMS = 2000
_MOST_CELLS = 4_000_000
_MOST_GROUPS = 20


def fit_blocks(values: Sequence[PanelValue], *, ends: tuple[float, float] | None = None) -> Fit:
    """Fit y = system + board by least squares.

    Parameters
    ----------
    values : sequence of PanelValue
    ends : (float, float) or None
        The ends of the scale, where there are any: see the module on systems that stand at one.

    Raises
    ------
    ReadingsError
        If there are no values, or too many systems, or the boards do not link the systems: two groups of systems that
        never share a board, directly or through others, cannot be compared.
    """
    if not values:
        raise ReadingsError("No panel of this test has a grade yet. Grade at least one.")
    table = _Table.of(values)
    _check_linked(table)
    y = table.y
    k, b, n = len(table.systems), len(table.boards), len(y)
    offset = float(y.mean())
    centred = y - offset
    inverse = table.reduced_inverse()
    board_means = np.bincount(table.board, weights=centred, minlength=b) / table.of_board
    within = centred - board_means[table.board]
    right = np.bincount(table.system, weights=within, minlength=k)
    effects = inverse @ right
    board_effects = board_means - table.board_average(effects)
    residuals = centred - effects[table.system] - board_effects[table.board]

    # Each board counts 1/b in a mean, whichever systems stand on it.
    share = np.bincount(table.system, weights=1 / table.of_board[table.board], minlength=k) / b
    to_means = np.eye(k) - share[None, :]
    means = to_means @ effects + board_means.mean() + offset
    unscaled = to_means @ inverse @ to_means.T + float((1 / table.of_board).sum()) / b**2

    rss, df = float(residuals @ residuals), n - (k + b - 1)
    floor = (ROUNDING * max(float(np.abs(y).max()), 0.0)) ** 2
    varies = df > 0 and rss / df > floor
    error_systems, error_ms, error_df = table.systems, rss / df if df > 0 else None, df
    if varies and ends is not None:
        spared = _varying_error(values, table, ends)
        if spared is not None:
            error_systems, error_ms, error_df = spared
    f = p = None
    if varies and error_ms is not None and error_ms > floor and k > 1:
        f = max(float(effects @ right), 0.0) / (k - 1) / error_ms
        p = float(special.fdtrc(k - 1, error_df, f))
    effects_tested: tuple[Effect, ...] = ()
    if f is not None and p is not None:
        effects_tested = (Effect(effect="system", stratum="panel", f=f, df=(k - 1, error_df), p=p),)
    return Fit(
        design="blocks",
        systems=table.systems,
        boards=table.boards,
        means=means,
        unscaled=unscaled,
        strata=(Stratum(name="panel", df=error_df, ms=error_ms, systems=error_systems),),
        residuals=residuals,
        leverages=table.leverages(inverse),
        residuals_df=df,
        board_effects=board_effects - board_effects.mean(),
        effects=effects_tested,
        has_variance=varies,
    )


def _varying_error(
    values: Sequence[PanelValue], table: _Table, ends: tuple[float, float]
) -> tuple[tuple[str, ...], float, int] | None:
    """The error over the systems that are not all at one end of the scale, or ``None`` when that is all of them."""
    k = len(table.systems)
    low, high = np.full(k, np.inf), np.full(k, -np.inf)
    np.minimum.at(low, table.system, table.y)
    np.maximum.at(high, table.system, table.y)
    at_end = (low == high) & ((low <= ends[0]) | (high >= ends[1]))
    kept = tuple(system for system, stuck in zip(table.systems, at_end, strict=True) if not stuck)
    if not at_end.any() or not kept:
        return None
    names = set(kept)
    own = [value for value in values if value.system in names]
    # A single varying system cannot be told from its boards: its spread then holds theirs too.
    if len(kept) == 1:
        found = np.array([value.value for value in own])
        return (kept, float(found.var(ddof=1)), len(found) - 1) if len(found) > 1 else None
    try:
        fit = fit_blocks(own)
    except ReadingsError:
        return None
    if fit.residual_df < 1 or fit.residual_ms is None or not fit.has_variance:
        return None
    return kept, fit.residual_ms, fit.residual_df


@dataclass(frozen=True)
class _Table:
    """The values as numbers: which system and board each panel has."""

    systems: tuple[str, ...]
    boards: tuple[str, ...]
    system: IntArray
    board: IntArray
    y: FloatArray
    of_system: FloatArray
    of_board: FloatArray

    @classmethod
    def of(cls, values: Sequence[PanelValue]) -> _Table:
        systems = tuple(sorted({value.system for value in values}))
        boards = tuple(sorted({value.board for value in values}))
        if len(systems) > MOST_SYSTEMS:
            raise ReadingsError(
                f"{len(systems):,} build-ups stand in one test; at most {MOST_SYSTEMS:,} can be compared. "
                "Is the column 'system' the build-up, and not the panel?",
                field="system",
            )
        system_at = {name: index for index, name in enumerate(systems)}
        board_at = {name: index for index, name in enumerate(boards)}
        n = len(values)
        system = np.fromiter((system_at[value.system] for value in values), dtype=np.int64, count=n)
        board = np.fromiter((board_at[value.board] for value in values), dtype=np.int64, count=n)
        return cls(
            systems,
            boards,
            system,
            board,
            np.fromiter((value.value for value in values), dtype=float, count=n),
            np.bincount(system, minlength=len(systems)).astype(float),
            np.bincount(board, minlength=len(boards)).astype(float),
        )

    def incidence(self) -> sparse.csc_array:
        """Panels by system and board, shape (k, b)."""
        ones = np.ones(len(self.y))
        shape = (len(self.systems), len(self.boards))
        return sparse.csc_array(sparse.coo_array((ones, (self.system, self.board)), shape=shape))

    def reduced_inverse(self) -> FloatArray:
        """The inverse of C on differences between systems, rows and columns summing to zero; shape (k, k)."""
        k, b = len(self.systems), len(self.boards)
        if k * b <= _MOST_CELLS:
            dense = np.zeros((k, b))
            np.add.at(dense, (self.system, self.board), 1.0)
            together = (dense / self.of_board) @ dense.T
        else:
            table = self.incidence()
            together = (table @ sparse.diags_array(1 / self.of_board) @ table.T).toarray()
        c = np.diag(self.of_system) - together
        return np.asarray(np.linalg.inv(c + 1 / k) - 1 / k)

    def board_average(self, effects: FloatArray) -> FloatArray:
        """The mean of the systems' effects over each board's panels, shape (b,)."""
        sums = np.bincount(self.board, weights=effects[self.system], minlength=len(self.boards))
        return np.asarray(sums / self.of_board)

    def leverages(self, inverse: FloatArray) -> FloatArray:
        """X (X'X)⁻¹ x' of each panel, a stretch of boards at a time; shape (n_panels,)."""
        order = np.argsort(self.board, kind="stable")
        starts = np.searchsorted(self.board[order], np.arange(len(self.boards) + 1))
        result = np.empty(len(self.y))
        step = max(1, _MOST_CELLS // len(self.systems))
        for first in range(0, len(self.boards), step):
            last = min(first + step, len(self.boards))
            rows = order[starts[first] : starts[last]]
            system, board = self.system[rows], self.board[rows] - first
            share = np.zeros((len(self.systems), last - first))
            np.add.at(share, (system, board), 1 / self.of_board[self.board[rows]])
            spread = inverse @ share
            own = np.einsum("ij,ij->j", share, spread)
            result[rows] = (
                1 / self.of_board[self.board[rows]]
                + np.diag(inverse)[system]
                - 2 * spread[system, board]
                + own[board]
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
    if df_error < 1 or df_effect < 1 or not any(fit.has_variance for fit in apart):
        return None
    rss_together = float(together.residuals @ together.residuals)
    f = max(rss_together - rss_apart, 0.0) / df_effect / (rss_apart / df_error)
    return InteractionResult(f=f, df=(df_effect, df_error), p=float(special.fdtrc(df_effect, df_error, f)))


def _check_linked(table: _Table) -> None:
    """Refuse systems that no chain of shared boards links."""
    k, b = len(table.systems), len(table.boards)
    if len(table.y) < _MOST_CELLS and k <= int(table.of_board.max()):
        # A board that carries all of them links all of them.
        cells = np.unique(table.board * k + table.system)
        if int(np.bincount(cells // k).max()) == k:
            return
    size = k + b
    graph = sparse.coo_array((np.ones(len(table.y)), (table.system, k + table.board)), shape=(size, size))
    n_groups, label = csgraph.connected_components(graph, directed=False)
    if n_groups > 1:
        groups: dict[int, list[str]] = {}
        for system, group in zip(table.systems, label[:k].tolist(), strict=True):
            groups.setdefault(group, []).append(system)
        named = sorted(", ".join(sorted(members)) for members in groups.values())
        listed = " | ".join(named[:_MOST_GROUPS]) + (" | ..." if len(named) > _MOST_GROUPS else "")
        raise ReadingsError(
            f"These groups of build-ups never share a board, so the boards cannot be told from the finishes: "
            f"{listed}. Put at least one build-up of each group on a common board.",
            field="board",
        )
