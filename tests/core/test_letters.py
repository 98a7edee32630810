"""Letters: right on the cases where a sweep goes wrong, and on any graph at all."""

from __future__ import annotations

from itertools import combinations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nublet.core.evidence.letters import letter_display, letter_name


def pairs(*names: str) -> set[frozenset[str]]:
    return {frozenset(name) for name in names}


@pytest.mark.parametrize(
    ("systems", "told_apart", "shown"),
    [
        ("ABC", pairs(), {"A": "a", "B": "a", "C": "a"}),
        ("ABC", pairs("AB", "AC", "BC"), {"A": "a", "B": "b", "C": "c"}),
        ("ABC", pairs("AC"), {"A": "a", "B": "ab", "C": "b"}),
        # Unequal errors: the outer pair is alike although the inner ones are told apart. A sweep cannot show it.
        ("ABC", pairs("AB", "BC"), {"A": "a", "B": "b", "C": "a"}),
        # A ring of four: every neighbour alike, both diagonals told apart; two letters each.
        ("ABCD", pairs("AC", "BD"), {"A": "ab", "B": "ac", "C": "cd", "D": "bd"}),
        ("A", pairs(), {"A": "a"}),
        ("", pairs(), {}),
    ],
)
def test_known_cases(systems: str, told_apart: set[frozenset[str]], shown: dict[str, str]) -> None:
    assert letter_display(list(systems), told_apart) == shown


@settings(max_examples=200, deadline=None)
@given(
    st.integers(1, 9).flatmap(
        lambda n: st.tuples(st.just(n), st.sets(st.sampled_from(_edges(n) or [(0, 0)])))
    )
)
def test_two_share_a_letter_exactly_when_not_told_apart(case: tuple[int, set[tuple[int, int]]]) -> None:
    n, edges = case
    systems = [f"S{i}" for i in range(n)]
    apart = {frozenset((systems[a], systems[b])) for a, b in edges if a != b}
    shown = letter_display(systems, apart)
    assert all(shown.values())
    assert "a" in shown[systems[0]]
    for a, b in combinations(systems, 2):
        assert bool(set(shown[a]) & set(shown[b])) == (frozenset((a, b)) not in apart)
    # No letter is idle: without it some pair (or lone system) would go unshown.
    for letter in set("".join(shown.values())):
        holders = [s for s in systems if letter in shown[s]]
        others = {s: set(shown[s]) - {letter} for s in systems}
        assert any(not others[a] & others[b] for a in holders for b in holders)


def _edges(n: int) -> list[tuple[int, int]]:
    return list(combinations(range(n), 2))


def test_more_groups_than_the_alphabet_has_letters() -> None:
    systems = [f"S{i:02}" for i in range(60)]
    shown = letter_display(systems, {frozenset(pair) for pair in combinations(systems, 2)})
    assert len(set(shown.values())) == 60
    assert [letter_name(i) for i in (0, 25, 26, 51, 52)] == ["a", "z", "A", "Z", "a'"]
