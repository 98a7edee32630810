"""What was read of a trial piece by piece, and what is worked out from it."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace

from nublet.core.evidence.readings import CONTROL_NAMES
from nublet.core.protocols.derived import ReadValue, derive
from nublet.core.protocols.responses import RESPONSES
from nublet.core.protocols.tests import Protocol


@dataclass(frozen=True, kw_only=True, slots=True)
class PieceRow:
    """One reading of a trial, and what its panel or slip carries. Of a preference ``against`` is the other piece's build-up.

    ``value`` is ``None`` while it is missing; ``left_out`` is why it does not count although it was read; ``is_beyond`` says that
    the value was not reached while it was watched, ``after`` that it lies between that and the value; ``singles`` are the
    readings of an instrument of which it is the mean. ``turn`` is above 0 where the judge met the spot once more, unannounced;
    ``section`` empty where panels have none. ``knew`` says that whoever read it could know what the panel carries.
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
    section: str = ""
    turn: int = 0
    after: float | None = None
    knew: bool = False


def worked_out(rows: Sequence[PieceRow], protocol: Protocol) -> list[PieceRow]:
    """What is worked out, as rows; what is known to lie between two ends stands at the later one, after the earlier.

    Where something that was read does not count, what would follow if it did stands beside what does, left out for the same reason:
    so both can be weighed.
    """
    found = _follows(rows, protocol)
    out = [row for row in rows if row.left_out is not None and row.value is not None]
    if not out:
        return found
    stands = set(found)
    why = _reasons(out, protocol)
    return found + [
        replace(row, left_out=why(row))
        for row in _follows([replace(row, left_out=None) for row in rows], protocol)
        if row not in stands
    ]


def if_all_counted(rows: Iterable[PieceRow]) -> list[PieceRow]:
    """The rows as if nothing had been left out; of what was worked out twice, that which follows from all."""
    listed = list(rows)
    instead = {_value_of(row) for row in listed if row.left_out is not None and _is_worked_out(row)}
    return [
        replace(row, left_out=None)
        for row in listed
        if row.left_out is not None or not instead or _value_of(row) not in instead
    ]


def as_counted(rows: Iterable[PieceRow]) -> list[PieceRow]:
    """The rows, of what was worked out twice only that which counts."""
    listed = list(rows)
    if not any(row.left_out is not None and _is_worked_out(row) for row in listed):
        return listed
    stands = {_value_of(row) for row in listed if row.left_out is None}
    return [
        row
        for row in listed
        if row.left_out is None or not _is_worked_out(row) or _value_of(row) not in stands
    ]


def _is_worked_out(row: PieceRow) -> bool:
    return RESPONSES[row.response].form == "derived"


def _value_of(row: PieceRow) -> tuple[str, ...]:
    return row.piece, row.section, row.test, row.look, row.response, row.judge, row.view


def _reasons(out: Sequence[PieceRow], protocol: Protocol) -> Callable[[PieceRow], str]:
    """Why what is worked out would be another: for something of its own place and test, else of its place, else of its board."""
    steps = {ladder.id: set(ladder.tests) for ladder in protocol.ladders}
    reasons: dict[tuple[str, str], str] = {}
    for each in out:
        # Of several the first: it alone would be reason enough.
        for key in ((place_of(each), each.test), (place_of(each), ""), ("", each.board), ("", "")):
            reasons.setdefault(key, each.left_out or "")

    def why(row: PieceRow) -> str:
        place = place_of(row)
        keys = [(place, test) for test in sorted(steps.get(row.test, {row.test}))]
        return next(reasons[key] for key in (*keys, (place, ""), ("", row.board), ("", "")) if key in reasons)

    return why


def _follows(rows: Sequence[PieceRow], protocol: Protocol) -> list[PieceRow]:
    """What is worked out from those rows that count."""
    about = {place_of(row): row for row in rows}
    values = [
        ReadValue(
            panel=place_of(row), test=row.test, look=row.look, response=row.response, value=row.value, judge=row.judge,
            view=row.view,
        )
        for row in rows
        if row.value is not None and row.left_out is None and not row.against and row.turn == 0
    ]  # fmt: skip
    found = []
    bare = bare_beside((place_of(row), row.board, row.system) for row in rows)
    for each in derive(values, protocol, bare=bare):
        value = each.value if each.value is not None else each.at_most
        is_beyond = value is None and each.at_least is not None
        if is_beyond:
            value = each.at_least
        if value is None:
            continue
        piece = about[each.panel]
        found.append(
            PieceRow(
                piece=piece.piece, section=piece.section, system=piece.system, board=piece.board, species=piece.species,
                test=each.test, look=each.look, response=each.response, value=value, judge=each.judge, view=each.view,
                is_beyond=is_beyond, after=None if is_beyond or each.value is not None else each.at_least,
            )
        )  # fmt: skip
    return found


def place_of(row: PieceRow) -> str:
    """A piece, or one section of it, by one name."""
    return f"{row.piece}\x1f{row.section}" if row.section else row.piece


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
