"""Balanced incomplete blocks: boards too short for every build-up, in which each pair still meets equally often.

v build-ups stand in b blocks of k < v, each r = b k / v times, and every two of them meet on λ = r (k - 1) / (v - 1)
boards. Compared within boards, a pair is then as well compared as any other, with the efficiency
E = v (k - 1) / (k (v - 1)) of complete blocks with the same number of panels.

References
----------
Yates, F. (1936), Incomplete randomized blocks, Annals of Eugenics 7, 121-140. Bose, R. C. (1939), On the construction
of balanced incomplete block designs, Annals of Eugenics 9, 353-399 (cyclic difference families).
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from functools import lru_cache
from itertools import combinations

import numpy as np

MAX_UNREDUCED = 2000
_MAX_NODES = 200_000
_N_STARTS = 12
_N_SWAPS = 6000

Blocks = tuple[tuple[int, ...], ...]


def efficiency(v: int, k: int) -> float:
    """The efficiency factor of balanced blocks of ``k`` out of ``v``, 1 for complete blocks.

    Examples
    --------
    >>> efficiency(7, 3), efficiency(4, 4)
    (0.7777777777777778, 1.0)
    """
    return v * (k - 1) / (k * (v - 1)) if v > 1 else 1.0


def can_balance(v: int, k: int, b: int) -> bool:
    """Whether the counts allow balance: whole r and λ, and at least as many blocks as build-ups (Fisher 1940)."""
    if not 2 <= k < v or b * k % v:
        return False
    r = b * k // v
    return r * (k - 1) % (v - 1) == 0 and b >= v


@lru_cache(maxsize=256)
def balanced_blocks(v: int, k: int, b: int) -> Blocks | None:
    """Return balanced incomplete blocks, or ``None`` when there are none or none was found.

    Parameters
    ----------
    v, k, b : int
        Build-ups, panels in a block, blocks.

    Returns
    -------
    tuple of tuple of int
        ``b`` blocks of ``k`` distinct numbers from 0 to ``v - 1``; every pair meets equally often.

    Notes
    -----
    Tried in turn: all subsets; repeats of a smaller design; the complement of one with small blocks; difference
    families over the integers modulo v, and modulo v - 1 with one build-up fixed; then exchanges from random starts.
    The answer does not depend on chance from outside: the same counts give the same blocks.

    Examples
    --------
    >>> balanced_blocks(4, 3, 4)
    ((0, 1, 2), (0, 1, 3), (0, 2, 3), (1, 2, 3))
    >>> balanced_blocks(5, 3, 6) is None
    True
    """
    if not can_balance(v, k, b):
        return None
    subsets = math.comb(v, k)
    if subsets <= MAX_UNREDUCED and b % subsets == 0:
        return tuple(combinations(range(v), k)) * (b // subsets)
    for times in (n for n in range(b // v, 1, -1) if b % n == 0):
        smaller = balanced_blocks(v, k, b // times)
        if smaller is not None:
            return smaller * times
    if k > v / 2 and v - k >= 2:
        small = balanced_blocks(v, v - k, b)
        return None if small is None else tuple(tuple(sorted(set(range(v)) - set(block))) for block in small)
    return _cyclic(v, k, b) or _cyclic_with_one_fixed(v, k, b) or _exchange(v, k, b)


def balancing_counts(v: int, k: int, *, most: int = 40) -> list[int]:
    """Numbers of blocks up to ``most`` for which balanced blocks of ``k`` out of ``v`` are known here."""
    return [b for b in range(v, most + 1) if balanced_blocks(v, k, b) is not None]


def shuffle_blocks(blocks: Blocks, v: int, *, rng: np.random.Generator) -> list[list[int]]:
    """Rename the build-ups at random and draw the blocks' order and the order within each."""
    names = rng.permutation(v)
    return [
        [int(names[i]) for i in rng.permutation(np.array(blocks[index]))]
        for index in rng.permutation(len(blocks))
    ]


def _cyclic(v: int, k: int, b: int) -> Blocks | None:
    """Develop base blocks whose differences give every residue equally often."""
    if b % v:
        return None
    lam = b * k * (k - 1) // (v * (v - 1))
    family = _difference_family(v, [k] * (b // v), lam)
    return None if family is None else tuple(_develop(family, v, None))


def _cyclic_with_one_fixed(v: int, k: int, b: int) -> Blocks | None:
    """The same modulo v - 1 with the last build-up fixed, in r of the blocks."""
    n = v - 1
    r = b * k // v
    if b % n or r % n or k < 3:
        return None
    n_fixed = r // n
    n_base = b // n
    lam = r * (k - 1) // n
    fixed = [True] * n_fixed + [False] * (n_base - n_fixed)
    family = _difference_family(n, [k - 1 if f else k for f in fixed], lam)
    if family is None or n_fixed * (k - 1) != lam:
        return None
    return tuple(_develop(family, n, fixed))


def _develop(
    family: Sequence[tuple[int, ...]], n: int, fixed: Sequence[bool] | None
) -> Iterator[tuple[int, ...]]:
    for index, base in enumerate(family):
        for shift in range(n):
            block = [(element + shift) % n for element in base]
            yield tuple(sorted([*block, n] if fixed is not None and fixed[index] else block))


def _difference_family(n: int, sizes: Sequence[int], lam: int) -> list[tuple[int, ...]] | None:
    counts = [0] * n
    family: list[tuple[int, ...]] = []
    nodes = 0

    def extend(block: list[int], size: int) -> bool:
        nonlocal nodes
        nodes += 1
        if nodes > _MAX_NODES:
            return False
        if len(block) == size:
            family.append(tuple(block))
            if len(family) == len(sizes):
                if all(count == lam for count in counts[1:]):
                    return True
            elif extend([0], sizes[len(family)]):
                return True
            family.pop()
            return False
        for element in range(block[-1] + 1, n):
            differences = [d for e in block for d in ((element - e) % n, (e - element) % n)]
            for d in differences:
                counts[d] += 1
            if all(counts[d] <= lam for d in differences) and extend([*block, element], size):
                return True
            for d in differences:
                counts[d] -= 1
        return False

    return family if extend([0], sizes[0]) else None


def _exchange(v: int, k: int, b: int) -> Blocks | None:
    """Swap build-ups between blocks while that evens out how often pairs meet."""
    rng = np.random.default_rng([v, k, b])
    r = b * k // v
    lam = r * (k - 1) // (v - 1)
    for _ in range(_N_STARTS):
        blocks = _random_start(v, k, b, r, rng)
        meet = np.zeros((v, v), dtype=int)
        for block in blocks:
            for i, j in combinations(sorted(block), 2):
                meet[i, j] += 1
                meet[j, i] += 1
        heat = 1.0
        for _ in range(_N_SWAPS):
            heat *= 0.9992
            one, other = rng.choice(b, size=2, replace=False)
            here = sorted(blocks[one] - blocks[other])
            there = sorted(blocks[other] - blocks[one])
            if not here or not there:
                continue
            a, c = here[int(rng.integers(len(here)))], there[int(rng.integers(len(there)))]
            change = 0
            moves = [(blocks[one] - {a}, a, c), (blocks[other] - {c}, c, a)]
            deltas: dict[tuple[int, int], int] = {}
            for rest, out, into in moves:
                for e in rest:
                    deltas[min(e, out), max(e, out)] = deltas.get((min(e, out), max(e, out)), 0) - 1
                    deltas[min(e, into), max(e, into)] = deltas.get((min(e, into), max(e, into)), 0) + 1
            for (i, j), delta in deltas.items():
                off = int(meet[i, j]) - lam
                change += (off + delta) ** 2 - off**2
            if change <= 0 or rng.random() < math.exp(-change / max(heat, 1e-3)):
                blocks[one] = (blocks[one] - {a}) | {c}
                blocks[other] = (blocks[other] - {c}) | {a}
                for (i, j), delta in deltas.items():
                    meet[i, j] += delta
                    meet[j, i] += delta
                if change and np.all(meet[np.triu_indices(v, 1)] == lam):
                    return tuple(tuple(sorted(block)) for block in blocks)
    return None


def _random_start(v: int, k: int, b: int, r: int, rng: np.random.Generator) -> list[set[int]]:
    """Blocks of distinct build-ups, each used ``r`` times."""
    left = np.full(v, r)
    blocks: list[set[int]] = []
    for _ in range(b):
        # Those that must still be used most often come first, ties at random: this never runs out.
        order = sorted(range(v), key=lambda i: (-left[i], rng.random()))
        chosen = set(order[:k])
        left[list(chosen)] -= 1
        blocks.append(chosen)
    return blocks
