"""What the panels show, in sentences."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations

from nublet.core.evidence.analysis import Analysis
from nublet.core.evidence.checks import Check
from nublet.core.evidence.letters import letter_display
from nublet.core.evidence.more_boards import more_boards
from nublet.core.evidence.readings import ALL_SPECIES
from nublet.core.evidence.weighing import TestEvidence
from nublet.core.protocols.responses import Response
from nublet.core.quantities import in_unit, say

_MOST_NAMED = 3


@dataclass(frozen=True, kw_only=True)
class Headline:
    """The sentences that head the evidence: trust it?, told apart, alike, open and what would settle it, the wood."""

    trust: str
    troubles: tuple[str, ...]
    told_apart: str
    alike: str
    open: str
    wood: str = ""


_Pair = frozenset[str]


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
    apart: dict[_Pair, list[str]] = {}
    alike_in: dict[_Pair, list[bool]] = {}
    systems: set[str] = set()
    unknown = False
    n_tests = sum(bool(test.pairs) for test in tests)
    for test in tests:
        systems |= {row.system for row in test.systems if row.system != control}
        for pair in test.pairs:
            unknown = unknown or pair.told_apart is None
            # "In at least one test" is said of all tests at once: each is held to its share of the 5 %.
            p = pair.p_permutation if pair.p_tukey is None else pair.p_tukey
            clear = pair.told_apart and (p is None or p * n_tests < test.alpha)
            if control in (pair.a, pair.b):
                continue
            both = frozenset((pair.a, pair.b))
            alike_in.setdefault(both, []).append(pair.verdict == "alike")
            if clear:
                apart.setdefault(both, []).append(_name_of(test, test_names))
    pairs = [frozenset(pair) for pair in combinations(sorted(systems), 2)]
    alike = [pair for pair in pairs if pair not in apart and all(alike_in.get(pair, [False]))]
    n_open = len(pairs) - len(apart) - len(alike)
    return Headline(
        trust=f"{holds} of {len(checks)} checks hold.",
        troubles=tuple(check.says for check in checks if check.level != "pass"),
        told_apart=_told_apart_words(apart, len(pairs), n_tests, unknown),
        alike=_alike_words(sorted(systems), alike, tests),
        open=_open_words(n_open, len(pairs), tests, test_names, unknown),
        wood=wood,
    )


def _name_of(test: TestEvidence, names: Mapping[str, str]) -> str:
    """A test's name, and the section where its sections are weighed one by one."""
    name = names.get(test.test, test.test)
    return f"{name}, {test.section}" if test.section else name


def _alike_words(systems: Sequence[str], alike: Sequence[_Pair], tests: Sequence[TestEvidence]) -> str:
    worth = next((test.worth for test in tests if test.worth is not None), None)
    if worth is None:
        return "No difference is declared to be worth knowing, so none are called alike."
    within = _difference_words(worth, tests[0])
    if not alike:
        return f"None are shown to be alike within {within}."
    others = [frozenset(pair) for pair in combinations(systems, 2) if frozenset(pair) not in set(alike)]
    letters = letter_display(systems, others)
    groups = {
        letter: [s for s in systems if letter in letters[s]]
        for letter in sorted(set("".join(letters.values())))
    }
    shared = sorted((group for group in groups.values() if len(group) > 1), key=len, reverse=True)
    named = "; ".join(_joined(group) for group in shared[:_MOST_NAMED])
    more = f"; and {len(shared) - _MOST_NAMED} more groups" if len(shared) > _MOST_NAMED else ""
    return f"{named}{more}, within {within}, in {'every test' if len(tests) > 1 else 'this test'}."


def _difference_words(worth: float, test: TestEvidence) -> str:
    if test.told_as == "ratio":
        return f"{worth:.0%}"
    noun, unit = test.response.noun, test.response.unit
    if unit:
        return say("{}", in_unit(worth, unit))
    return f"{worth:g} {noun}{'' if worth == 1 or noun.endswith('s') else 's'}"


def _open_words(
    n_open: int, n_pairs: int, tests: Sequence[TestEvidence], names: Mapping[str, str], unknown: bool
) -> str:
    """What is neither told apart nor alike, and how many boards would settle it."""
    if unknown:
        return "There is too little to tell by. Add boards."
    if not n_open:
        return "Nothing: every pair is told apart or alike."
    says = f"{n_open} of {_pairs(n_pairs)}: not told apart is not the same as alike."
    needed = {
        _name_of(test, names): more_boards(test.fit, _on_fitted_scale(test.worth, test))
        for test in tests
        if test.fit is not None
        and test.worth is not None
        and test.school == "means"
        and test.fit.has_variance
    }
    if not needed:
        return says
    within = _difference_words(next(t.worth for t in tests if t.worth is not None) or 0.0, tests[0])
    if any(n is None for n in needed.values()):
        worst = next(test for test, n in needed.items() if n is None)
        return f"{says} On {worst.lower()} even 60 boards would not tell {within} apart 8 times in 10."
    most = max(needed, key=lambda test: needed[test] or 0)
    n = needed[most] or 0
    if n == 0:
        return f"{says} The boards are enough to tell {within} apart 8 times in 10: what is open differs by less."
    where = "" if len(tests) == 1 else f" on {most.lower()}, which wants the most"
    return (
        f"{says} {n} more {'board' if n == 1 else 'boards'} would tell {within} apart 8 times in 10{where}."
    )


def _on_fitted_scale(worth: float | None, test: TestEvidence) -> float:
    return math.log1p(worth or 0.0) if test.told_as == "ratio" else worth or 0.0


def say_shares(response: Response, checks: Sequence[Check]) -> Headline:
    """The sentences over kinds, which are counted and not compared."""
    holds = sum(check.level == "pass" for check in checks)
    return Headline(
        trust=f"{holds} of {len(checks)} checks hold.",
        troubles=tuple(check.says for check in checks if check.level != "pass"),
        told_apart=f"{response.name}: kinds are counted, and nobody is told apart by them.",
        alike="Nothing is compared here.",
        open="See how often each was seen.",
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
        f"{len(apart)} of {_pairs(n_pairs)} in at least one test{allowing}; most by {sharpest.lower()} "
        f"({_pairs(per_test[sharpest])})."
    )


def _pairs(n: int) -> str:
    return "1 pair" if n == 1 else f"{n} pairs"


def _joined(names: Sequence[str]) -> str:
    return f"{', '.join(names[:-1])} and {names[-1]}"
