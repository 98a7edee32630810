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

from nublet.core.evidence.analysis import CONTROL_NAMES, Analysis, analyse
from nublet.core.evidence.readings import Reading
from nublet.core.protocols.derived import ReadValue, derive
from nublet.core.protocols.looks import Look
from nublet.core.protocols.responses import RESPONSES, Response, parts_of
from nublet.core.protocols.tests import DEFAULT_LOOK, Protocol, Test


@dataclass(frozen=True, kw_only=True, slots=True)
class PieceRow:
    """One reading of a trial, and what its panel or slip carries. Of a preference ``against`` is the other piece's build-up.

    ``value`` is ``None`` while it is missing; ``left_out`` is why it does not count although it was read; ``is_beyond`` says that
    the value was not reached while it was watched; ``singles`` are the readings of an instrument of which it is the mean.
    """

    piece: str
    system: str
    board: str
    species: str | None
    test: str
    look: str
    response: str
    value: float | None
    judge: str = ""
    view: str = ""
    against: str = ""
    left_out: str | None = None
    is_beyond: bool = False
    singles: tuple[float, ...] = ()


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
    """All that a trial shows of one response: an analysis of its means, or shares.

    ``looks`` are those that each test went by, ``rows`` what was read then.
    """

    response: Response
    analysis: Analysis | None
    shares: tuple[TestShares, ...]
    looks: Mapping[str, str]
    rows: tuple[PieceRow, ...]


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
        Which look counts; a test that is not read then goes by its last at which the response was read.
    control : str or None
        The untreated build-up.
    test_names : mapping of test to the name that checks show, or None

    Returns
    -------
    tuple of ResponseEvidence
        In the order in which responses are declared.
    """
    weighed = (
        weigh_response(response, own, protocol, look=look, control=control, test_names=test_names)
        for response, own in rows_by_response(rows, protocol).items()
    )
    return tuple(found for found in weighed if found is not None)


def rows_by_response(rows: Iterable[PieceRow], protocol: Protocol) -> dict[Response, list[PieceRow]]:
    """What was read of each response, and what can be worked out, in the order in which responses are declared.

    A response of which nothing was read is not among them.
    """
    listed = list(rows)
    found: dict[str, list[PieceRow]] = defaultdict(list)
    for row in (*listed, *_derived(listed, protocol)):
        found[row.response].append(row)
    return {
        response: found[response.id]
        for response in RESPONSES.values()
        if any(row.value is not None for row in found.get(response.id, ()))
    }


def look_that_counts(
    test: Test, protocol: Protocol, response: Response, seen: Iterable[str], wanted: str
) -> str:
    """The look that a test goes by: the wanted one where the response is read then, else the last seen after something was done.

    A wanted look at which nothing was read yet is still the one: marks that may recover are no verdict.
    """
    have = set(seen)
    looks = protocol.looks_of(test)
    asked = protocol.look_meant(wanted)
    if asked in have or asked in {look.id for look in looks if _is_read_at(test, look, response)}:
        return asked
    ordered = sorted(
        (each for each in looks if each.id in have),
        key=lambda each: (not each.is_before, _moment(test, each.after), each.after_min),
    )
    return ordered[-1].id if ordered else sorted(have)[-1]


def _is_read_at(test: Test, look: Look, response: Response) -> bool:
    """Whether a response, or what it is worked out from, is read at a look."""
    wanted = {response.id, *response.derived_from}
    return any(
        read.is_due_at(look) and wanted & {part.id for part in parts_of(read.response)} for read in test.reads
    )


def _moment(test: Test, after: str) -> int:
    """Which act a look comes after, by number; the last for none."""
    ids = [act.id for act in test.acts]
    return ids.index(after) if after in ids else len(ids)


def weigh_response(
    response: Response,
    rows: Sequence[PieceRow],
    protocol: Protocol,
    *,
    look: str = DEFAULT_LOOK,
    control: str | None = None,
    test_names: Mapping[str, str] | None = None,
) -> ResponseEvidence | None:
    """Weigh one response; see :func:`weigh_by_response`. ``None`` while nothing was read of it at the looks that count."""
    tests = {test.id: test for test in protocol.tests}
    seen: dict[str, set[str]] = defaultdict(set)
    for row in rows:
        if row.value is not None:
            seen[row.test].add(row.look)
    looks = {
        name: look_that_counts(tests[name], protocol, response, found, look)
        if name in tests
        else sorted(found)[-1]
        for name, found in seen.items()
    }
    counted = [row for row in rows if row.look == looks.get(row.test)]
    if not any(row.value is not None and row.left_out is None for row in counted):
        return None
    # Ratios want a model of their own: until there is one no mean of what is compared by logarithms is shown.
    if "means" in response.weighed:
        # Each test at the look that it goes by.
        at_theirs = [replace(reading, look=None) for reading in pooled_readings(counted)]
        analysis = analyse(at_theirs, response=response, control=control, test_names=test_names)
        told = tuple(replace(each, look=looks[each.test]) for each in analysis.tests)
        return ResponseEvidence(
            response=response,
            analysis=replace(analysis, tests=told),
            shares=(),
            looks=looks,
            rows=tuple(counted),
        )
    shares = tuple(
        TestShares(
            test=name,
            look=looks[name],
            systems=_shares(
                [
                    row
                    for row in counted
                    if row.test == name and row.value is not None and row.left_out is None
                ],
                response,
            ),
        )
        for name in looks
    )
    return ResponseEvidence(response=response, analysis=None, shares=shares, looks=looks, rows=tuple(counted))


def pooled_readings(rows: Iterable[PieceRow]) -> list[Reading]:
    """One reading a judge, piece and look: views are averaged, and it is missing where none was read."""
    values: dict[tuple[str, str, str, str], list[float]] = defaultdict(list)
    first: dict[tuple[str, str, str, str], PieceRow] = {}
    for row in rows:
        key = (row.test, row.piece, row.look, row.judge)
        if row.value is not None:
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
            look=row.look or None,
            grade=sum(values[key]) / len(values[key]) if values[key] else None,
            left_out=row.left_out,
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
        values = _values_of(by_system[each.system])
        # Without a better end by name alone.
        return (0.0 if response.better is None else -response.sign * sum(values) / len(values)), each.system

    return tuple(sorted(found, key=worth))


def _of_system(system: str, rows: Sequence[PieceRow], response: Response) -> SystemShares:
    values = _values_of(rows)
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


def _values_of(rows: Iterable[PieceRow]) -> list[float]:
    return [row.value for row in rows if row.value is not None]


def _preferences(rows: Sequence[PieceRow]) -> tuple[SystemShares, ...]:
    """Of all choices in which a build-up took part the share that it won, a tie as half."""
    won: dict[str, list[float]] = defaultdict(list)
    pieces: dict[str, set[str]] = defaultdict(set)
    for row in rows:
        if row.value is not None and row.against and row.against != row.system:
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
        if row.value is not None and row.left_out is None and not row.against
    ]
    found = []
    for each in derive(
        values, protocol, bare=bare_beside((row.piece, row.board, row.system) for row in rows)
    ):
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


def bare_beside(pieces: Iterable[tuple[str, str, str]]) -> dict[str, list[str]]:
    """Which bare pieces stand beside each piece on its board.

    Parameters
    ----------
    pieces : iterable of (piece, board, system)

    Examples
    --------
    >>> bare_beside([("K7", "1", "Marrowby Tung"), ("C4", "1", "Bare control"), ("H2", "2", "Marrowby Tung")])
    {'K7': ['C4'], 'H2': []}
    """
    all_of_them = dict.fromkeys(pieces)
    bare: dict[str, list[str]] = defaultdict(list)
    for piece, board, system in all_of_them:
        if system.lower() in CONTROL_NAMES:
            bare[board].append(piece)
    return {
        piece: list(bare.get(board, ()))
        for piece, board, system in all_of_them
        if system.lower() not in CONTROL_NAMES
    }
