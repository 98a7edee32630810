"""Ways to deal the values of each block to its places anew: all of them where they are few, else drawn by a seed."""

from __future__ import annotations

import hashlib
import math
from collections.abc import Iterator, Sequence
from itertools import permutations

import numpy as np
from numpy.typing import NDArray

IntArray = NDArray[np.intp]

N_ARRANGEMENTS = 10_000
# Small enough for a processor's own memory: larger stretches take twice as long.
AT_ONCE = 100_000
_KEPT = 3_000_000
_MOST_LAYOUTS = 12
# These are kept whole, four times as large.
_MOST_UNFOLDED = 4
_LARGEST_PLACE = 2**16
_TABLED = 6


class Arrangements:
    """Deals values anew within blocks; one seed gives one series for each layout of blocks.

    Parameters
    ----------
    seed : int
    n : int
        How many are drawn where there are more.
    """

    def __init__(self, seed: int = 0, n: int = N_ARRANGEMENTS) -> None:
        self.seed, self.n = seed, n
        self._kept: dict[bytes, list[NDArray[np.uint16]]] = {}
        self._unfolded: dict[bytes, list[IntArray]] = {}

    def count(self, block: IntArray, *, holds_first: bool = False) -> int:
        """How many arrangements there are, or ``n + 1`` where there are more than are drawn."""
        sizes = np.bincount(block)[1 if holds_first else 0 :] if len(block) else np.zeros(0, dtype=int)
        total = 1
        for size in sizes.tolist():
            total *= math.factorial(size)
            if total > self.n:
                return self.n + 1
        return total

    def orders(self, block: IntArray, *, holds_first: bool = False) -> Iterator[IntArray]:
        """Yield arrangements, a stretch at a time: which place's value comes to each place; each shape (some, m).

        Parameters
        ----------
        block : ndarray of int, shape (m,), numbered from 0
        holds_first : bool
            The first block stays as it is: for what does not change when all groups change their names alike.
        """
        total = self.count(block, holds_first=holds_first)
        size = total if total <= self.n else self.n
        key = hashlib.sha256(block.tobytes() + bytes([holds_first])).digest()
        if key in self._kept:
            yield from (each.astype(np.intp) for each in self._kept[key])
            return
        step = max(1, AT_ONCE // max(len(block), 1))
        keeps = size * len(block) <= _KEPT and len(block) < _LARGEST_PLACE
        made: list[NDArray[np.uint16]] = []
        rng = np.random.default_rng([self.seed, int.from_bytes(key[:8], "big")])
        places = _by_size(block)
        for first in range(0, size, step):
            number = np.arange(first, min(first + step, size))
            order = (
                _enumerated(number, block, holds_first)
                if total <= self.n
                else _drawn(len(number), len(block), places, rng)
            )
            if keeps:
                made.append(order.astype(np.uint16))
            yield order
        if keeps:
            # Tests of one design follow each other, with a few layouts each.
            if len(self._kept) >= _MOST_LAYOUTS:
                self._kept.pop(next(iter(self._kept)))
            self._kept[key] = made

    def orders_of_units(
        self, block: IntArray, unit: IntArray, *, holds_first: bool = False
    ) -> Iterator[IntArray]:
        """As :meth:`orders` of the units' blocks, as orders of places. Tests of one design follow each other: the last are kept."""
        key = hashlib.sha256(block.tobytes() + b"/" + unit.tobytes() + bytes([holds_first])).digest()
        if key in self._unfolded:
            yield from self._unfolded[key]
            return
        made = []
        for order in self.orders(block, holds_first=holds_first):
            made.append(_unfold(order, unit))
            yield made[-1]
        if len(made) * made[-1].size <= _KEPT:
            if len(self._unfolded) >= _MOST_UNFOLDED:
                self._unfolded.pop(next(iter(self._unfolded)))
            self._unfolded[key] = made


def _by_size(block: IntArray) -> list[IntArray]:
    """Places of the blocks of each size, each shape (n_blocks, size)."""
    by_block = np.argsort(block, kind="stable")
    sizes = np.bincount(block)
    starts = np.concatenate(([0], np.cumsum(sizes)[:-1]))
    return [
        by_block[starts[sizes == size][:, None] + np.arange(size)]
        for size in sorted(set(sizes.tolist()))
        if size > 0
    ]


def _drawn(n: int, m: int, places: Sequence[IntArray], rng: np.random.Generator) -> IntArray:
    """Deal the places of each block by lots; a lot is a number whose last bits name a place, so that sorting lots deals places."""
    dealt = np.empty((n, m), dtype=np.intp)
    filled = 0
    bits = np.uint64(max(m - 1, 1).bit_length())
    for own in places:
        n_blocks, size = own.shape
        if size <= _TABLED:
            table = np.array(list(permutations(range(size))), dtype=np.intp)
            nth = table[rng.integers(0, len(table), (n, n_blocks))] + size * np.arange(n_blocks)[:, None]
            found = np.take(own.ravel(), nth.reshape(n, -1))
        else:
            lots = rng.integers(0, 2**64 - 1, (n, n_blocks, size), dtype=np.uint64, endpoint=True)
            # In place: each copy would cost as much as a step.
            lots >>= bits
            lots <<= bits
            lots |= own.astype(np.uint64)
            lots.sort(axis=-1)
            lots &= (np.uint64(1) << bits) - np.uint64(1)
            found = lots.view(np.intp).reshape(n, -1)
        dealt[:, filled : filled + own.size] = found
        filled += own.size
    column = np.empty(m, dtype=np.intp)
    column[np.concatenate([own.ravel() for own in places])] = np.arange(m)
    return np.take(dealt.ravel(), np.arange(n)[:, None] * m + column, mode="clip")


def _enumerated(number: IntArray, block: IntArray, holds_first: bool) -> IntArray:
    """The arrangements of these numbers, counted block by block; number 0 is the one that was seen."""
    order = np.tile(np.arange(len(block), dtype=np.intp), (len(number), 1))
    left = number.copy()
    for index in range(1 if holds_first else 0, int(block.max(initial=-1)) + 1):
        own = np.flatnonzero(block == index)
        table = own[np.array(list(permutations(range(len(own)))), dtype=np.intp)]
        order[:, own] = table[left % len(table)]
        left //= len(table)
    return order


def _unfold(order: IntArray, unit: IntArray) -> IntArray:
    """Turn an order of units into one of places: places of a unit come in the order in which they stand."""
    places = np.argsort(unit, kind="stable").reshape(order.shape[1], -1)
    rank = np.empty(len(unit), dtype=np.intp)
    rank[places] = np.arange(places.shape[1])
    return np.asarray(np.take(places.ravel(), np.take(order * places.shape[1], unit, axis=1) + rank))
