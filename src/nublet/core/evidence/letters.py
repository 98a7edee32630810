"""Compact letter display: systems that share a letter are not told apart.

The letters are a cover of the "not told apart" graph by cliques. A sweep down the sorted means gives a
wrong display whenever standard errors differ (unbalanced data), so the cover is made from the maximal
cliques themselves. There can be exponentially many of them: beyond ``MOST_GROUPS`` the cover is grown pair by pair
instead, which is as right and may use more letters than needed.

References
----------
Piepho, H.-P. (2004). An algorithm for a letter-based representation of all-pairwise comparisons. Journal
of Computational and Graphical Statistics 13, 456-466.
Bron, C. and Kerbosch, J. (1973). Algorithm 457: finding all cliques of an undirected graph.
Communications of the ACM 16, 575-577.
"""

from __future__ import annotations

import string
from collections import Counter
from collections.abc import Collection, Sequence
from itertools import combinations_with_replacement

LETTERS = string.ascii_lowercase + string.ascii_uppercase
MOST_GROUPS = 500


def letter_display(systems: Sequence[str], told_apart: Collection[frozenset[str]]) -> dict[str, str]:
    """Give each system its letters.

    Parameters
    ----------
    systems : sequence of str
        Best mean first.
    told_apart : collection of frozenset
        The pairs that are separated, each a set of two names.

    Returns
    -------
    dict
        System to letters. Two systems share a letter exactly when they are not told apart; the best
        system holds "a".

    Examples
    --------
    >>> letter_display(["A", "B", "C"], [frozenset("AC")])
    {'A': 'a', 'B': 'ab', 'C': 'b'}
    """
    rank = {system: index for index, system in enumerate(systems)}
    alike: dict[str, set[str]] = {system: set(systems) - {system} for system in systems}
    for pair in told_apart:
        a, b = sorted(pair)
        alike[a].discard(b)
        alike[b].discard(a)
    found = _maximal_cliques(alike, most=MOST_GROUPS)
    cliques = sorted(
        (
            sorted(clique, key=rank.__getitem__)
            for clique in (_grown_cliques(systems, alike) if found is None else found)
        ),
        key=lambda clique: [rank[system] for system in clique],
    )
    kept = _without_redundant(cliques)
    shown: dict[str, str] = dict.fromkeys(systems, "")
    for index, clique in enumerate(kept):
        for system in clique:
            shown[system] += letter_name(index)
    return shown


def letter_name(index: int) -> str:
    """The sign of the n-th group: a to z, A to Z, then a', b' and so on."""
    turn, place = divmod(index, len(LETTERS))
    return LETTERS[place] + "'" * turn


def _maximal_cliques(alike: dict[str, set[str]], *, most: int) -> list[set[str]] | None:
    """Bron-Kerbosch with pivoting; ``None`` when there are more than ``most``."""
    found: list[set[str]] = []
    stack: list[tuple[set[str], set[str], set[str]]] = [(set(), set(alike), set())]
    while stack:
        clique, open_, done = stack.pop()
        if not open_ and not done:
            found.append(clique)
            if len(found) > most:
                return None
            continue
        pivot = max(sorted(open_ | done), key=lambda node: len(alike[node] & open_))
        for node in sorted(open_ - alike[pivot]):
            stack.append((clique | {node}, open_ & alike[node], done & alike[node]))
            open_ = open_ - {node}
            done = done | {node}
    return found


def _grown_cliques(systems: Sequence[str], alike: dict[str, set[str]]) -> list[set[str]]:
    """Cliques that show every pair: for each pair not yet shown one is grown round it, best means first."""
    cliques: list[set[str]] = []
    shown: dict[str, set[str]] = {system: set() for system in systems}
    for a in systems:
        for b in [b for b in systems if b in alike[a]]:
            if b in shown[a]:
                continue
            clique, open_ = {a, b}, alike[a] & alike[b]
            for node in systems:
                if node in open_:
                    clique.add(node)
                    open_ &= alike[node]
            cliques.append(clique)
            for member in clique:
                shown[member] |= clique - {member}
    return cliques + [{system} for system in systems if not alike[system]]


def _without_redundant(cliques: list[list[str]]) -> list[list[str]]:
    """Drop cliques whose every pair (and lone member) another kept clique already shows, smallest first."""

    def pairs(clique: list[str]) -> list[frozenset[str]]:
        return [frozenset((a, b)) for a, b in combinations_with_replacement(clique, 2)]

    times = Counter(pair for clique in cliques for pair in pairs(clique))
    dropped: set[int] = set()
    for index in sorted(range(len(cliques)), key=lambda index: len(cliques[index])):
        own = pairs(cliques[index])
        if all(times[pair] > 1 for pair in own):
            times.subtract(own)
            dropped.add(index)
    return [clique for index, clique in enumerate(cliques) if index not in dropped]
