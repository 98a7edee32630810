"""Permutation within blocks: what chance alone would show, from the values that were seen and nothing else.

Under the null that no group (a build-up, a section of panels, a cell of both) does anything, the values of one block could as well
have been dealt to its places in any other order. With y centred within its blocks and dealt anew, labels and design stay where
they are, so that the normal equations are inverted once for all arrangements:

    T = X'y,    effects = U T,    RSS = y'y - T'U T,    t_c = c'effects / sqrt(v_c RSS),    v_c = c'U c

U (``unscaled``, k x k) is the covariance of the groups' means but for the error, y'y is the same in every arrangement, and c are
the contrasts of a family, by default all pairs. The p-value of a contrast is the share of arrangements whose largest |t| over the
whole family is at least as large as its own: one test of the largest of all, so that the chance of even one false alarm in the
family is held (single-step maxT). All arrangements are gone through where they are few, else 10,000 are drawn and the one that was
seen is counted among them, so that no p-value is ever 0.

Notes
-----
Exact under the complete null, whatever the distribution of the values; ties only make it cautious. Where only some groups differ it
is not exact: groups without any spread lend their narrowness to others, which is why the caller weighs those by themselves too.

References
----------
Westfall, P. H. and Young, S. S. (1993). Resampling-Based Multiple Testing, ch. 2. Wiley.
Phipson, B. and Smyth, G. K. (2010). Permutation p-values should never be zero. Statistical Applications in Genetics and Molecular
Biology 9, article 39.
Anderson, M. J. and ter Braak, C. J. F. (2003). Permutation tests for multi-factorial analysis of variance. Journal of Statistical
Computation and Simulation 73, 85-113 (which units may be exchanged in which stratum).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from nublet.core.evidence.arrangements import AT_ONCE, Arrangements
from nublet.core.evidence.fit import pair_variances

FloatArray = NDArray[np.float64]
IntArray = NDArray[np.intp]

# Values that differ by less than this share of the largest are one value.
_ALIKE = 1e-9


@dataclass(frozen=True, kw_only=True)
class Layout:
    """Places and what stands on them.

    Attributes
    ----------
    group, block : ndarray of int, shape (m,)
        Of each place: which group it belongs to, and within which block values may be dealt anew.
    unscaled : ndarray, shape (k, k)
        Times the error it is the covariance of the groups' means, as far as differences are concerned.
    centre : ndarray of int, shape (m,), or None
        Within which blocks values are centred, where it is not the same.
    unit : ndarray of int, shape (m,), or None
        Places of one unit are dealt together, each to the place of its own kind on another unit (the sections of a panel); units
        hold equally many places, in the same order. By default each place is a unit.
    """

    group: IntArray
    block: IntArray
    unscaled: FloatArray
    centre: IntArray | None = None
    unit: IntArray | None = None


@dataclass(frozen=True, kw_only=True)
class Family:
    """Contrasts of groups that are judged together, each a row; shape (q, k)."""

    contrasts: FloatArray


@dataclass(frozen=True, kw_only=True)
class Tail:
    """How often chance alone gives a largest |t| of at least so much.

    Attributes
    ----------
    seen : ndarray, shape (q,)
        |t| of each contrast as it was seen, in units of the root of the residual sum of squares.
    maxima : ndarray, shape (n,)
        The largest of each arrangement, sorted.
    is_exact : bool
        Whether those are all arrangements that there are.
    p_alone : float
        In how many of all arrangements the values of one group, the one for which it is likeliest, come to stand together again: a
        group that differs from all others on every block cannot have a p-value much below it.
    """

    seen: FloatArray
    maxima: FloatArray
    is_exact: bool
    p_alone: float

    @property
    def p(self) -> FloatArray:
        """Adjusted p-value of each contrast."""
        n = len(self.maxima)
        reached = n - np.searchsorted(self.maxima, self.seen * (1 - _ALIKE), side="left")
        if self.is_exact:
            return np.asarray(np.maximum(reached, 1) / n)
        return np.asarray((1 + reached) / (1 + n))

    @property
    def smallest_p(self) -> float:
        """The smallest p-value that the arrangements allow: where it is large they can show nothing."""
        n = len(self.maxima)
        highest = self.maxima[-1] * (1 - _ALIKE)
        at_top = n - int(np.searchsorted(self.maxima, highest, side="left"))
        return at_top / n if self.is_exact else 1 / (1 + n)


def all_pairs(k: int) -> FloatArray:
    """The contrasts of every pair of k groups, in the order of ``numpy.triu_indices``; shape (k (k - 1) / 2, k)."""
    first, second = np.triu_indices(k, 1)
    contrasts = np.zeros((len(first), k))
    contrasts[np.arange(len(first)), first] = 1
    contrasts[np.arange(len(first)), second] = -1
    return contrasts


def permuted_tails(
    y: FloatArray, layout: Layout, families: Sequence[Family | None], draws: Arrangements
) -> list[Tail] | None:
    """Hold each family of contrasts against what dealing the values anew gives.

    Parameters
    ----------
    y : ndarray, shape (m,)
    layout : Layout
    families : sequence of Family or None
        ``None`` is all pairs of groups.
    draws : Arrangements

    Returns
    -------
    list of Tail or None
        One a family; ``None`` where the values do not differ within blocks, or nothing can be dealt otherwise.
    """
    # Places in the order of their groups, so that a group's sum is that of a stretch.
    by_group = np.argsort(layout.group, kind="stable")
    y, block, starts = y[by_group], layout.block[by_group], np.cumsum(np.bincount(layout.group)[:-1])
    starts = np.concatenate(([0], starts))
    centre = block if layout.centre is None else layout.centre[by_group]
    unit = None if layout.unit is None else layout.unit[by_group]
    within = y - (np.bincount(centre, weights=y) / np.maximum(np.bincount(centre), 1))[centre]
    whole = float(within @ within)
    scale = float(np.abs(y).max(initial=0.0))
    if whole <= (1e-11 * scale) ** 2 * len(y) or len(layout.unscaled) < 2:
        return None
    families_of = [_Contrasts(layout.unscaled, None if each is None else each.contrasts) for each in families]
    # All groups once in every block, and all pairs asked for: giving all groups other names changes nothing.
    holds_first = all(each.is_whole for each in families_of) and _is_complete(layout)
    dealt = block if unit is None else _blocks_of_units(block, unit)
    if draws.count(dealt, holds_first=holds_first) < 2:
        return None
    found: list[list[FloatArray]] = [[] for _ in families_of]

    even = all(each.is_even for each in families_of)

    def largest(order: IntArray) -> list[FloatArray]:
        sums = _sums(np.take(within, order), starts)
        # Where all pairs are as sharp as each other U is a multiple of the identity, as far as differences go.
        effects = sums * (families_of[0].root[0] ** 2 / 2) if even else sums @ layout.unscaled
        rss = np.maximum(whole - (sums * effects).sum(axis=1), (_ALIKE * _ALIKE) * whole)
        return [each.largest(effects) / np.sqrt(rss) for each in families_of]

    sums = np.add.reduceat(within, starts)
    effects = layout.unscaled @ sums
    rss = max(whole - float(sums @ effects), _ALIKE * _ALIKE * whole)
    orders = (
        draws.orders(dealt, holds_first=holds_first)
        if unit is None
        else draws.orders_of_units(dealt, unit, holds_first=holds_first)
    )
    for moved in orders:
        for kept, values in zip(found, largest(moved), strict=True):
            kept.append(values)
    p_alone = _alone(layout.group[by_group], block, unit)
    is_exact = draws.count(dealt, holds_first=holds_first) <= draws.n
    return [
        Tail(
            seen=each.all_of(effects) / np.sqrt(rss),
            maxima=np.sort(np.concatenate(kept)),
            is_exact=is_exact,
            p_alone=p_alone,
        )
        for each, kept in zip(families_of, found, strict=True)
    ]


def _alone(group: IntArray, block: IntArray, unit: IntArray | None) -> float:
    """The share of arrangements in which a group's values meet again in one group; the largest of all groups.

    On each further block one of as many places is the right one; on the first any is.
    """
    n_units = np.bincount(block) if unit is None else np.bincount(_blocks_of_units(block, unit))
    logs = np.log(n_units[block])
    whole = np.bincount(group, weights=logs)
    largest = np.full(len(whole), -np.inf)
    np.maximum.at(largest, group, logs)
    return float(np.exp(-(whole - largest).min()))


def _sums(values: FloatArray, starts: IntArray) -> FloatArray:
    """Sums of the stretches that begin at these places; values (n, m), result (n, k)."""
    n, m = values.shape
    k = len(starts)
    if m % k == 0 and np.array_equal(starts, np.arange(k) * (m // k)):
        # A product with ones: three times as fast as a sum over so short an axis.
        return np.asarray((values.reshape(n * k, m // k) @ np.ones(m // k)).reshape(n, k))
    return np.asarray(np.add.reduceat(values, starts, axis=1))


def _is_complete(layout: Layout) -> bool:
    """Whether each block holds every group exactly once."""
    if layout.unit is not None or layout.centre is not None:
        return False
    k, b = len(layout.unscaled), int(layout.block.max(initial=-1)) + 1
    return len(layout.group) == k * b and len(np.unique(layout.group * b + layout.block)) == k * b


def _blocks_of_units(block: IntArray, unit: IntArray) -> IntArray:
    """The block of each unit, by the unit's first place."""
    _, first = np.unique(unit, return_index=True)
    return np.asarray(block[first])


class _Contrasts:
    """A family of contrasts, and the largest of them in many arrangements."""

    def __init__(self, unscaled: FloatArray, contrasts: FloatArray | None) -> None:
        k = len(unscaled)
        self.is_whole = contrasts is None
        self.first, self.second = np.triu_indices(k, 1)
        if contrasts is None:
            variance = pair_variances(unscaled)
            self.contrasts = None
        else:
            variance = np.einsum("qi,ij,qj->q", contrasts, unscaled, contrasts)
            self.contrasts = contrasts
        self.root = np.sqrt(np.maximum(variance, 1e-300))
        self.is_even = contrasts is None and float(self.root.max() - self.root.min()) <= _ALIKE * float(
            self.root.max()
        )

    def all_of(self, effects: FloatArray) -> FloatArray:
        """Each contrast's size, over its root variance; shape (q,)."""
        if self.contrasts is None:
            return np.asarray(np.abs(effects[self.first] - effects[self.second]) / self.root)
        return np.asarray(np.abs(self.contrasts @ effects) / self.root)

    def largest(self, effects: FloatArray) -> FloatArray:
        """The largest of them in each of n arrangements; effects (n, k), result (n,)."""
        if self.is_even:
            return np.asarray((effects.max(axis=1) - effects.min(axis=1)) / self.root[0])
        result = np.empty(len(effects))
        step = max(1, AT_ONCE // len(self.root))
        for at in range(0, len(effects), step):
            part = effects[at : at + step]
            sizes = (
                part[:, self.first] - part[:, self.second]
                if self.contrasts is None
                else part @ self.contrasts.T
            )
            result[at : at + step] = (np.abs(sizes) / self.root).max(axis=1)
        return result
