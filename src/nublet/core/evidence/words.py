"""What the panels show, in sentences."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations

from nublet.core.evidence.analysis import ALL_SPECIES, Analysis
from nublet.core.evidence.checks import Check
from nublet.core.evidence.letters import letter_display
from nublet.core.evidence.weighing import ALPHA, TestEvidence
from nublet.core.protocols.responses import Response

_MOST_NAMED = 3


@dataclass(frozen=True, kw_only=True)
class Headline:
    """The sentences that head the evidence: trust it?, told apart, not told apart, and whether the wood decides."""

    trust: str
    troubles: tuple[str, ...]
    told_apart: str
    not_told_apart: str
    wood: str = ""


def say_headline(
    tests: Sequence[TestEvidence],
    checks: Sequence[Check],
    *,
    control: str | None,
    test_names: Mapping[str, str],
    wood: str = "",
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
    n_tests = sum(bool(test.pairs) for test in tests)
    for test in tests:
        systems |= {row.system for row in test.systems if row.system != control}
        for pair in test.pairs:
            unknown = unknown or pair.told_apart is None
            # "In at least one test" is said of all tests at once: each is held to its share of the 5 %.
            clear = pair.told_apart and (pair.p_tukey is None or pair.p_tukey * n_tests < ALPHA)
            if clear and control not in (pair.a, pair.b):
                apart.setdefault(frozenset((pair.a, pair.b)), []).append(test_names.get(test.test, test.test))
    pairs = [frozenset(pair) for pair in combinations(sorted(systems), 2)]
    return Headline(
        trust=f"{holds} of {len(checks)} checks hold.",
        troubles=troubles,
        told_apart=_told_apart_words(apart, len(pairs), n_tests, unknown),
        not_told_apart=_never_words(sorted(systems), apart, unknown),
        wood=wood,
    )


def say_shares(response: Response, checks: Sequence[Check]) -> Headline:
    """The sentences over a response of which shares are shown: that they are not compared."""
    holds = sum(check.level == "pass" for check in checks)
    return Headline(
        trust=f"{holds} of {len(checks)} checks hold.",
        troubles=tuple(check.says for check in checks if check.level != "pass"),
        told_apart=f"{response.name} is shown as it was read. It has no mean, so nobody is told apart by it yet.",
        not_told_apart="Nothing is compared here: see how often each was read.",
    )


def say_wood(analysis: Analysis, species: str, *, test_names: Mapping[str, str]) -> str:
    """Say that it depends on the wood, and what that means for what is looked at; empty when it does not.

    Parameters
    ----------
    analysis : Analysis
    species : str
        What is looked at: a wood, or ``"all"``.
    test_names : mapping of test id to the name shown
    """
    if not analysis.depends_on_wood:
        return ""
    named = [test_names.get(test, test).lower() for test in analysis.depends_on_wood]
    which = named[0] if len(named) == 1 else _joined(named)
    others = [name for name in analysis.species if name != species]
    if species == ALL_SPECIES:
        return (
            f"It depends on the wood: on {which} the build-ups do not differ alike on {_joined(list(analysis.species))}. "
            "A mean over all woods holds for none of them; choose a wood."
        )
    also = others[0] if len(others) == 1 else _joined(others)
    return f"It depends on the wood ({which}): this is {species} alone, and {also} may have another order."


def _told_apart_words(
    apart: Mapping[frozenset[str], Sequence[str]], n_pairs: int, n_tests: int, unknown: bool
) -> str:
    allowing = f", allowing for {n_tests} tests at once" if n_tests > 1 else ""
    if not apart:
        return "There is too little to tell by." if unknown else f"No two build-ups, in any test{allowing}."
    per_test: dict[str, int] = {}
    for tests in apart.values():
        for test in tests:
            per_test[test] = per_test.get(test, 0) + 1
    sharpest = max(sorted(per_test), key=lambda test: per_test[test])
    return (
        f"{len(apart)} of {n_pairs} pairs in at least one test{allowing}; most by {sharpest.lower()} "
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
