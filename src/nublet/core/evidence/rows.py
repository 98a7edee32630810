"""What was read of a trial piece by piece, and what is worked out from it."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from nublet.core.evidence.readings import CONTROL_NAMES
from nublet.core.protocols.derived import ReadValue, derive
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
    """What is worked out, as rows; what is known to lie between two ends stands at the later one, after the earlier."""
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
