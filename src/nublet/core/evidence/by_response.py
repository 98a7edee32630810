"""A trial's readings of every scale and measure, each weighed as its declaration allows.

What may be averaged goes through :func:`nublet.core.evidence.analysis.analyse`; of all else the share of each step is shown, and of
measures that are never averaged the median and the ends. What is worked out from readings is weighed like what was read.
"""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from statistics import median

from nublet.core.evidence.analysis import Analysis, analyse
from nublet.core.evidence.readings import Reading
from nublet.core.protocols.derived import ReadValue, derive
from nublet.core.protocols.responses import RESPONSES, Response
from nublet.core.protocols.tests import DEFAULT_LOOK, Protocol, Test


@dataclass(frozen=True, kw_only=True, slots=True)
class PieceRow:
    """One reading of a trial, and what its panel or slip carries. Of a preference ``against`` is the other piece's build-up."""

    piece: str
    system: str
    board: str
    species: str | None
    test: str
    look: str
    response: str
    value: float
    judge: str = ""
    view: str = ""
    against: str = ""
    left_out: str | None = None


@dataclass(frozen=True, kw_only=True)
class StepShare:
    """How often one step, or one kind, was read."""

    words: str
    share: float


@dataclass(frozen=True, kw_only=True)
class SystemShares:
    """What was read of one build-up in one test: the share of each step, the best first; of a measure its middle and its ends."""

    system: str
    n_pieces: int
    n_readings: int
    steps: tuple[StepShare, ...] = ()
    middle: float | None = None
    lowest: float | None = None
    highest: float | None = None


@dataclass(frozen=True, kw_only=True)
class TestShares:
    """A test whose response is not averaged, at one look: its build-ups, the best first where there is a better end."""

    __test__ = False

    test: str
    look: str
    systems: tuple[SystemShares, ...]


@dataclass(frozen=True, kw_only=True)
class ResponseEvidence:
    """All that a trial shows of one response: an analysis of its means, or shares; ``looks`` are those that each test went by."""

    response: Response
    analysis: Analysis | None
    shares: tuple[TestShares, ...]
    looks: Mapping[str, str]


def weigh_by_response(
    rows: Iterable[PieceRow],
    protocol: Protocol,
    *,
    look: str = DEFAULT_LOOK,
    control: str | None = None,
    test_names: Mapping[str, str] | None = None,
) -> tuple[ResponseEvidence, ...]:
    """Weigh each response that was read or can be worked out.

    Parameters
    ----------
    rows : iterable of PieceRow
    protocol : Protocol
    look : str
        Which look counts; a test that has none of that id goes by its last at which the response was read.
    control : str or None
        The untreated build-up.
    test_names : mapping of test to the name that checks show, or None

    Returns
    -------
    tuple of ResponseEvidence
        In the order in which responses are declared.
    """
    listed = [row for row in rows if row.left_out is None]
    by_response: dict[str, list[PieceRow]] = defaultdict(list)
    for row in (*listed, *_derived(listed, protocol)):
        by_response[row.response].append(row)
    found = []
    for response in RESPONSES.values():
        own = by_response.get(response.id)
        if own:
            found.append(_weigh(response, own, protocol, look, control, test_names))
    return tuple(found)


def look_that_counts(test: Test, protocol: Protocol, seen: Iterable[str], wanted: str) -> str:
    """The look that a test goes by: the wanted one where it was read then, else the last of those after something was done."""
    have = set(seen)
    looks = protocol.looks_of(test)
    asked = protocol.look_meant(wanted)
    if asked in have:
        return asked
    ordered = sorted(
        (each for each in looks if each.id in have),
        key=lambda each: (not each.is_before, _moment(test, each.after), each.after_min),
    )
    return ordered[-1].id if ordered else sorted(have)[-1]


def _moment(test: Test, after: str) -> int:
    """Which act a look comes after, by number; the last for none."""
    ids = [act.id for act in test.acts]
    return ids.index(after) if after in ids else len(ids)


def _weigh(
    response: Response,
    rows: Sequence[PieceRow],
    protocol: Protocol,
    look: str,
    control: str | None,
    names: Mapping[str, str] | None,
) -> ResponseEvidence:
    tests = {test.id: test for test in protocol.tests}
    seen: dict[str, set[str]] = defaultdict(set)
    for row in rows:
        seen[row.test].add(row.look)
    looks = {
        name: look_that_counts(tests[name], protocol, found, look) if name in tests else sorted(found)[-1]
        for name, found in seen.items()
    }
    counted = [row for row in rows if row.look == looks[row.test]]
    # Ratios want a model of their own: until there is one no mean of what is compared by logarithms is shown.
    if "means" in response.weighed:
        analysis = analyse(_pooled(counted), response=response, control=control, test_names=names)
        told = tuple(replace(each, look=looks[each.test]) for each in analysis.tests)
        return ResponseEvidence(
            response=response, analysis=replace(analysis, tests=told), shares=(), looks=looks
        )
    shares = tuple(
        TestShares(
            test=name,
            look=looks[name],
            systems=_shares([row for row in counted if row.test == name], response),
        )
        for name in looks
    )
    return ResponseEvidence(response=response, analysis=None, shares=shares, looks=looks)


def _pooled(rows: Sequence[PieceRow]) -> list[Reading]:
    """One reading a judge and piece: views are averaged."""
    values: dict[tuple[str, str, str], list[float]] = defaultdict(list)
    first: dict[tuple[str, str, str], PieceRow] = {}
    for row in rows:
        key = (row.test, row.piece, row.judge)
        values[key].append(row.value)
        first.setdefault(key, row)
    return [
        Reading(
            test=row.test,
            system=row.system,
            board=row.board,
            species=row.species,
            panel=row.piece,
            judge=row.judge or None,
            grade=sum(values[key]) / len(values[key]),
        )
        for key, row in first.items()
    ]


def _shares(rows: Sequence[PieceRow], response: Response) -> tuple[SystemShares, ...]:
    if response.form == "pair":
        return _preferences(rows)
    by_system: dict[str, list[PieceRow]] = defaultdict(list)
    for row in rows:
        by_system[row.system].append(row)
    found = [_of_system(system, own, response) for system, own in by_system.items()]

    def worth(each: SystemShares) -> tuple[float, str]:
        values = [row.value for row in by_system[each.system]]
        # Without a better end by name alone.
        return (0.0 if response.better is None else -response.sign * sum(values) / len(values)), each.system

    return tuple(sorted(found, key=worth))


def _of_system(system: str, rows: Sequence[PieceRow], response: Response) -> SystemShares:
    values = [row.value for row in rows]
    n_pieces = len({row.piece for row in rows})
    if not response.steps:
        return SystemShares(
            system=system,
            n_pieces=n_pieces,
            n_readings=len(rows),
            middle=median(values),
            lowest=min(values),
            highest=max(values),
        )
    if response.form == "kinds":
        steps = tuple(
            StepShare(
                words=step.words,
                share=sum(bool(int(value) & int(step.value)) for value in values) / len(values),
            )
            for step in response.steps
        )
    else:
        steps = tuple(
            StepShare(
                words=step.words, share=sum(math.isclose(value, step.value) for value in values) / len(values)
            )
            for step in response.steps
        )
    return SystemShares(system=system, n_pieces=n_pieces, n_readings=len(rows), steps=steps)


def _preferences(rows: Sequence[PieceRow]) -> tuple[SystemShares, ...]:
    """Of all choices in which a build-up took part the share that it won, a tie as half."""
    won: dict[str, list[float]] = defaultdict(list)
    pieces: dict[str, set[str]] = defaultdict(set)
    for row in rows:
        if row.against and row.against != row.system:
            won[row.system].append(row.value)
            won[row.against].append(1 - row.value)
            pieces[row.system].add(row.piece)
    found = [
        SystemShares(
            system=system,
            n_pieces=len(pieces[system]),
            n_readings=len(choices),
            steps=(StepShare(words="Preferred", share=sum(choices) / len(choices)),),
        )
        for system, choices in won.items()
    ]
    return tuple(sorted(found, key=lambda each: (-each.steps[0].share, each.system)))


def _derived(rows: Sequence[PieceRow], protocol: Protocol) -> list[PieceRow]:
    """What is worked out, as rows; what is only known to lie between two ends is no value and is left out."""
    about = {row.piece: row for row in rows}
    values = [
        ReadValue(
            panel=row.piece,
            test=row.test,
            look=row.look,
            response=row.response,
            value=row.value,
            judge=row.judge,
            view=row.view,
        )
        for row in rows
        if not row.against
    ]
    found = []
    for each in derive(values, protocol):
        if each.value is None:
            continue
        piece = about[each.panel]
        found.append(
            PieceRow(
                piece=piece.piece, system=piece.system, board=piece.board, species=piece.species, test=each.test, look=each.look,
                response=each.response, value=each.value, judge=each.judge, view=each.view,
            )
        )  # fmt: skip
    return found
