"""What the evidence would say if what was left out had counted: both results are shown, so that nothing is left out in silence."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from nublet.core.evidence.missing import LeftOut
from nublet.core.evidence.outcomes import TestEvidence, Verdict

# Means that differ by less are the same to whoever reads them.
_SAME = 0.005


@dataclass(frozen=True, kw_only=True)
class MovedMean:
    """A build-up's mean in one test, and what it would be; ``section`` where its sections are weighed one by one."""

    test: str
    section: str | None
    system: str
    mean: float | None
    otherwise: float | None


@dataclass(frozen=True, kw_only=True)
class TurnedPair:
    """A pair whose verdict in one test would be another."""

    test: str
    section: str | None
    a: str
    b: str
    verdict: Verdict
    otherwise: Verdict


@dataclass(frozen=True, kw_only=True)
class Otherwise:
    """The other result: what was left out and why, the means that would move, the pairs that would turn."""

    left_out: tuple[LeftOut, ...]
    means: tuple[MovedMean, ...]
    pairs: tuple[TurnedPair, ...]


def compare_results(
    shown: Sequence[TestEvidence], other: Sequence[TestEvidence], whys: Sequence[str]
) -> Otherwise:
    """Compare the evidence as it is shown with that in which everything counts.

    Parameters
    ----------
    shown, other : sequence of TestEvidence
        Tests on the same woods; a test that only one of them has is told by its means alone.
    whys : sequence of str
        Why each reading was left out, one a reading.
    """
    found = {(test.test, test.species, test.section): test for test in shown}
    means: list[MovedMean] = []
    pairs: list[TurnedPair] = []
    for test in other:
        own = found.get((test.test, test.species, test.section))
        before = {row.system: row.mean for row in own.systems} if own is not None else {}
        means += [
            MovedMean(
                test=test.test,
                section=test.section,
                system=row.system,
                mean=before.get(row.system),
                otherwise=row.mean,
            )
            for row in test.systems
            if not _is_same(before.get(row.system), row.mean)
        ]
        verdicts = {(pair.a, pair.b): pair.verdict for pair in own.pairs} if own is not None else {}
        pairs += [
            TurnedPair(
                test=test.test,
                section=test.section,
                a=pair.a,
                b=pair.b,
                verdict=verdicts[pair.a, pair.b],
                otherwise=pair.verdict,
            )
            for pair in test.pairs
            if (pair.a, pair.b) in verdicts and verdicts[pair.a, pair.b] != pair.verdict
        ]
    return Otherwise(
        left_out=tuple(LeftOut(why=why, n_rows=n) for why, n in Counter(whys).items()),
        means=tuple(means),
        pairs=tuple(pairs),
    )


def _is_same(one: float | None, other: float | None) -> bool:
    if one is None or other is None:
        return one is other
    return abs(one - other) < _SAME * max(1.0, abs(one))
