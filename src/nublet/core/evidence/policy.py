"""What is weighed, of what a trial holds: which readings are missing, which do not count, which section and which woods.

These are rules of the job, not of the tables: a half-graded trial is not taken for a whole one, a spoiled result is kept and does
not count, and woods are weighed together only where they agree.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

from nublet.core.errors import ReadingsError
from nublet.core.evidence.analysis import Analysis
from nublet.core.evidence.readings import ALL_SPECIES, KNEW, UNPLANNED
from nublet.core.evidence.rows import PieceRow, place_of
from nublet.core.evidence.weighing import TestEvidence
from nublet.core.protocols.looks import Look, Reader
from nublet.core.protocols.prompts import Prompt, choice_at, prompts_at
from nublet.core.protocols.responses import GRADE, Response, parts_of
from nublet.core.protocols.tests import Protocol, Test

SPOILED_RESULT = "spoiled, by the bench log"
LEFT_OUT_RESULT = "left out by hand"
LEFT_OUT_READING = "left out by hand, singly"
FAR_FROM_ITS_TIME = "seen too far from the time of the look"


@dataclass(frozen=True, kw_only=True)
class ReadSpot:
    """A site that is to be read: its number, its test, and what its piece is; ``species`` is empty for glass."""

    number: int
    test: str
    system: str
    board: str
    species: str
    piece: str
    section: str = ""


@dataclass(frozen=True, kw_only=True)
class Judge:
    """Who reads: a number, and the name that tables show."""

    number: int
    name: str


@dataclass(frozen=True, kw_only=True, slots=True)
class Given:
    """One value as it stands: of which site, look and response, by which person, from which view, against which other piece.

    ``is_beyond`` where the value was not reached while it was watched: *more than*. ``left_out`` is why it alone does not count.
    ``turn`` is above 0 where the judge met the site once more, unannounced; ``knew`` says that he could know what the piece
    carries.
    """

    spot: int
    look: str
    response: str
    judge: Judge
    value: float
    view: str = ""
    against: str = ""
    is_beyond: bool = False
    singles: tuple[float, ...] = ()
    left_out: str | None = None
    turn: int = 0
    knew: bool = False


@dataclass(frozen=True, kw_only=True)
class _Asked:
    look: Look
    by: Reader
    prompts: tuple[Prompt, ...]
    choice: str


def piece_rows(
    spots: Sequence[ReadSpot],
    protocol: Protocol,
    judges: Sequence[Judge],
    given: Iterable[Given],
    *,
    spoiled: Mapping[tuple[str, str, float | None], str] | None = None,
    unplanned: Collection[str] = (),
) -> list[PieceRow]:
    """All readings of every look that has begun, those that are still missing among them.

    Parameters
    ----------
    spots : sequence of ReadSpot
        Those that count.
    protocol : Protocol
    judges : sequence of Judge
        All who are to read: what one of them has not read yet is a row whose value is missing, so that half a trial is not taken
        for a whole one.
    given : iterable of Given
    spoiled : mapping of (piece, test, minutes after its act, or None for every look) to why, or None
        Results that tell of something else; their readings are kept and do not count.
    unplanned : collection of str
        Boards that were added beyond the plan when readings had been made.

    Notes
    -----
    What the hands read with an instrument is one value whoever held it: instruments have no leniency.
    """
    stands: dict[tuple[int, str], dict[tuple[str, str, str], list[Given]]] = defaultdict(
        lambda: defaultdict(list)
    )
    for value in given:
        stands[value.spot, value.look][value.response, value.view, value.against].append(value)
    begun = {look for _, look in stands}
    asked = {test.id: list(_asked_at(test, protocol.looks_of(test), begun)) for test in protocol.tests}
    system_of = {spot.piece: spot.system for spot in spots}
    rows: list[PieceRow] = []
    out = spoiled or {}
    for spot in spots:
        for each in asked.get(spot.test, ()):
            keys = (spot.piece, spot.test, None), (spot.piece, spot.test, each.look.after_min)
            why = next((out[key] for key in keys if key in out), None)
            why = why or (UNPLANNED if spot.board in unplanned else None)
            found = _rows_at(spot, each, stands[spot.number, each.look.id], judges, system_of)
            rows += [_left_out(row, why) for row in found] if why else list(found)
    return apart_who_knew(rows)


def apart_who_knew(rows: Sequence[PieceRow]) -> list[PieceRow]:
    """What was read by those who could know what a piece carries stands apart, where others read all of it blind.

    Where they alone have read a piece they count: half of the panels read by one and half by another would be no comparison.
    Instruments are not swayed; what the hands measure has no judge.
    """
    read: dict[tuple[str, str, str, str], tuple[set[str], set[str]]] = defaultdict(lambda: (set(), set()))
    for row in rows:
        if row.judge and row.value is not None and row.left_out is None and row.turn == 0:
            read[row.test, row.look, row.response, row.view][row.knew].add(place_of(row))
    apart = {key for key, (blind, knew) in read.items() if knew and knew <= blind}
    if not apart:
        return list(rows)
    return [
        _left_out(row, KNEW)
        if row.knew
        and row.value is not None
        and row.left_out is None
        and (row.test, row.look, row.response, row.view) in apart
        else row
        for row in rows
    ]


def _asked_at(test: Test, looks: Sequence[Look], begun: Collection[str]) -> Iterator[_Asked]:
    readers: tuple[Reader, ...] = ("judges", "hands")
    for look in looks:
        for by in readers:
            prompts, choice = prompts_at(test, look, by), choice_at(test, look, by)
            if look.id in begun and (prompts or choice):
                yield _Asked(look=look, by=by, prompts=prompts, choice=choice)


def _rows_at(
    spot: ReadSpot,
    asked: _Asked,
    stands: Mapping[tuple[str, str, str], Sequence[Given]],
    judges: Sequence[Judge],
    system_of: Mapping[str, str],
) -> Iterator[PieceRow]:
    blank = PieceRow(
        piece=spot.piece, section=spot.section, system=spot.system, board=spot.board, species=spot.species or None,
        test=spot.test, look=asked.look.id, response="", value=None,
    )  # fmt: skip
    for prompt in asked.prompts:
        found = stands.get((prompt.response, prompt.view, ""), ())
        row = replace(blank, response=prompt.response, view=prompt.view)
        if asked.by == "hands":
            yield _by_hands(row, found)
        else:
            yield from _by_judges(row, found, judges)
    for (response, _, against), found in stands.items():
        if asked.choice and response == asked.choice and against in system_of:
            row = replace(blank, response=response, against=system_of[against])
            yield from (_as_given(row, each) for each in found)


def _by_hands(row: PieceRow, found: Sequence[Given]) -> PieceRow:
    """What hands measured, as one value: of what was measured twice that which was measured in time."""
    found = [each for each in found if each.left_out is None] or found
    values = [each.value for each in found]
    return replace(
        row,
        value=sum(values) / len(values) if values else None,
        is_beyond=any(each.is_beyond for each in found),
        left_out=found[0].left_out if found else None,
        # Of a mean over two pairs of hands neither's single readings are the ones.
        singles=found[0].singles if len(found) == 1 else (),
    )


def _by_judges(row: PieceRow, found: Sequence[Given], judges: Sequence[Judge]) -> Iterator[PieceRow]:
    """A row of each judge, without a value where he has not read yet; and what came round again."""
    yield from (_as_given(row, each) for each in found if each.turn)
    by_judge = {each.judge.number: each for each in found if not each.turn}
    for judge in judges:
        own = by_judge.get(judge.number)
        yield replace(row, judge=judge.name) if own is None else _as_given(row, own)


def _left_out(row: PieceRow, why: str) -> PieceRow:
    # By its fields: very many are made.
    return PieceRow(
        piece=row.piece, section=row.section, system=row.system, board=row.board, species=row.species, test=row.test,
        look=row.look, response=row.response, view=row.view, against=row.against, value=row.value, judge=row.judge,
        is_beyond=row.is_beyond, singles=row.singles, left_out=why, turn=row.turn, after=row.after, knew=row.knew,
    )  # fmt: skip


def _as_given(row: PieceRow, each: Given) -> PieceRow:
    # By its fields: very many are made.
    return PieceRow(
        piece=row.piece, section=row.section, system=row.system, board=row.board, species=row.species, test=row.test,
        look=row.look, response=row.response, view=row.view, against=row.against,
        value=each.value, judge=each.judge.name, is_beyond=each.is_beyond, left_out=each.left_out, turn=each.turn,
        knew=each.knew,
    )  # fmt: skip


def choose_section(sections: Sequence[str], wanted: str) -> str:
    """The section asked for, or the first; empty where panels have none. Raises ``ReadingsError`` for an unknown one."""
    return known_section(sections, wanted) or (sections[0] if sections else "")


def known_section(sections: Sequence[str], wanted: str) -> str:
    """The section asked for, empty for all together. Raises ``ReadingsError`` for an unknown one."""
    if wanted and wanted not in sections:
        raise ReadingsError(
            f"This trial has no section {wanted!r}. Choose one of: {', '.join(sections) or 'none'}.",
            field="section",
        )
    return wanted


def main_response(protocol: Protocol) -> Response:
    """What a trial is weighed by where nobody has chosen: grades where there are any, else what may be averaged, else the first."""
    read = [part for test in protocol.tests for each in test.responses for part in parts_of(each)]
    return next(
        (response for response in read if response.id == GRADE.id),
        next((response for response in read if response.is_averaged), read[0]),
    )


def species_choices(analysis: Analysis) -> tuple[str, ...]:
    """The woods, those with the most panels first, and all together where it is more than one."""
    if len(analysis.species) > 1:
        return (ALL_SPECIES, *analysis.species)
    return analysis.species or (ALL_SPECIES,)


def tests_on(analysis: Analysis, species: str) -> tuple[TestEvidence, ...]:
    """The tests on one wood, or on all together; ``"all"`` of a single wood is that wood.

    Raises
    ------
    ReadingsError
        If nothing was read on it.
    """
    choices = species_choices(analysis)
    if species == ALL_SPECIES and ALL_SPECIES not in choices:
        species = choices[0]
    if species not in choices:
        raise ReadingsError(
            f"Nothing was graded on {species!r}. Choose one of: {', '.join(choices)}.", field="species"
        )
    return tuple(test for test in analysis.tests if test.species == species)


def in_order(tests: Iterable[TestEvidence], order: Sequence[str]) -> tuple[TestEvidence, ...]:
    """Tests in the order of their protocol."""
    return tuple(sorted(tests, key=lambda test: order.index(test.test)))
