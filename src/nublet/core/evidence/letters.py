"""Compact letter display: systems that share a letter are not told apart.

The letters are a cover of the "not told apart" graph by cliques. A sweep down the sorted means gives a
wrong display whenever standard errors differ (unbalanced data), so the cover is made from the maximal
cliques themselves.

References
----------
Piepho, H.-P. (2004). An algorithm for a letter-based representation of all-pairwise comparisons. Journal
of Computational and Graphical Statistics 13, 456-466.
Bron, C. and Kerbosch, J. (1973). Algorithm 457: finding all cliques of an undirected graph.
Communications of the ACM 16, 575-577.
"""

from __future__ import annotations

import string
from collections.abc import Collection, Iterator, Sequence

LETTERS = string.ascii_lowercase + string.ascii_uppercase


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
    alike: dict[str, set[str]] = {
        a: {b for b in systems if b != a and frozenset((a, b)) not in told_apart} for a in systems
    }
    cliques = sorted(
        (sorted(clique, key=rank.__getitem__) for clique in _maximal_cliques(alike)),
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


def _maximal_cliques(alike: dict[str, set[str]]) -> Iterator[set[str]]:
    """Bron-Kerbosch with pivoting."""

    def grow(clique: set[str], open_: set[str], done: set[str]) -> Iterator[set[str]]:
        if not open_ and not done:
            yield set(clique)
            return
        pivot = max(sorted(open_ | done), key=lambda node: len(alike[node] & open_))
        for node in sorted(open_ - alike[pivot]):
            yield from grow(clique | {node}, open_ & alike[node], done & alike[node])
            open_ = open_ - {node}
            done = done | {node}

    yield from grow(set(), set(alike), set())


def _without_redundant(cliques: list[list[str]]) -> list[list[str]]:
    """Drop cliques whose every pair (and lone member) another kept clique already shows, smallest first."""

    def pairs(clique: list[str]) -> set[frozenset[str]]:
        return {frozenset((a, b)) for a in clique for b in clique}

    kept = list(cliques)
    for clique in sorted(cliques, key=len):
        others: set[frozenset[str]] = set()
        for other in kept:
            if other is not clique:
                others |= pairs(other)
        if pairs(clique) <= others:
            kept = [other for other in kept if other is not clique]
    return kept
