"""What the panels show, in sentences."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations

from nublet.core.evidence.analysis import TestEvidence
from nublet.core.evidence.checks import Check
from nublet.core.evidence.letters import letter_display

_MOST_NAMED = 3


@dataclass(frozen=True, kw_only=True)
class Headline:
    """The three sentences that head the evidence: trust it?, told apart, not told apart."""

    trust: str
    troubles: tuple[str, ...]
    told_apart: str
    not_told_apart: str


def say_headline(
    tests: Sequence[TestEvidence],
    checks: Sequence[Check],
    *,
    control: str | None,
    test_names: Mapping[str, str],
) -> Headline:
    """Say what the evidence amounts to.

    Parameters
    ----------
    tests : sequence of TestEvidence
        Of one species, or pooled: one entry a test.
    checks : sequence of Check
    control : str or None
        Left out of the sentences: that a finish beats bare wood is no news.
    test_names : mapping of test id to the name shown
    """
    holds = sum(check.level == "pass" for check in checks)
    troubles = tuple(check.says for check in checks if check.level != "pass")
    apart: dict[frozenset[str], list[str]] = {}
    systems: set[str] = set()
    unknown = False
    for test in tests:
        systems |= {row.system for row in test.systems if row.system != control}
        for pair in test.pairs:
            unknown = unknown or pair.told_apart is None
            if pair.told_apart and control not in (pair.a, pair.b):
                apart.setdefault(frozenset((pair.a, pair.b)), []).append(test_names.get(test.test, test.test))
    pairs = [frozenset(pair) for pair in combinations(sorted(systems), 2)]
    return Headline(
        trust=f"{holds} of {len(checks)} checks hold.",
        troubles=troubles,
        told_apart=_told_apart_words(apart, len(pairs), unknown),
        not_told_apart=_never_words(sorted(systems), apart, unknown),
    )


def _told_apart_words(apart: Mapping[frozenset[str], Sequence[str]], n_pairs: int, unknown: bool) -> str:
    if not apart:
        return "There is too little to tell by." if unknown else "No two build-ups, in any test."
    per_test: dict[str, int] = {}
    for tests in apart.values():
        for test in tests:
            per_test[test] = per_test.get(test, 0) + 1
    sharpest = max(sorted(per_test), key=lambda test: per_test[test])
    return (
        f"{len(apart)} of {n_pairs} pairs in at least one test; most by {sharpest.lower()} "
        f"({per_test[sharpest]} pairs)."
    )


def _never_words(systems: Sequence[str], apart: Mapping[frozenset[str], Sequence[str]], unknown: bool) -> str:
    """The groups within which no test tells anyone from anyone."""
    if unknown:
        return "There is too little to tell by."
    letters = letter_display(systems, set(apart))
    groups = {
        letter: [s for s in systems if letter in letters[s]]
        for letter in sorted(set("".join(letters.values())))
    }
    shared = sorted((group for group in groups.values() if len(group) > 1), key=len, reverse=True)
    if not shared:
        return "Every pair differs somewhere."
    named = "; ".join(_joined(group) for group in shared[:_MOST_NAMED])
    rest = len(shared) - _MOST_NAMED
    return f"{named}, in any test." if rest <= 0 else f"{named}; and {rest} more groups."


def _joined(names: Sequence[str]) -> str:
    return f"{', '.join(names[:-1])} and {names[-1]}"
