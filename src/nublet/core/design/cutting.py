"""Cutting boards into panels.

A board lies with its length, the grain, along x. Panels stand in lanes across its width, each lane cut from left to
right, a saw's kerf between neighbours, a trim cut off both ends, and no panel on a defect; a defect is taken to span
the board's whole width. Cutting each lane as early as possible gives the most panels that can be had.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from nublet.core.design.areas import PanelSize
from nublet.core.errors import DesignError
from nublet.core.quantities import Prose, amount, say

DEFAULT_KERF_MM = 3.0
DEFAULT_END_TRIM_MM = 20.0
DefectKind = Literal["knot", "sapwood", "crack", "other"]
DEFECT_KINDS: dict[DefectKind, str] = {
    "knot": "Knot",
    "sapwood": "Sapwood",
    "crack": "Crack",
    "other": "Other",
}
_TOLERANCE = 1e-6


@dataclass(frozen=True, kw_only=True)
class Defect:
    """A stretch of a board to avoid, mm from its left end, across the whole width."""

    from_mm: float
    to_mm: float
    kind: DefectKind = "other"


@dataclass(frozen=True, kw_only=True)
class Board:
    """A plank, by its own id; panels cut from it share its wood.

    ``length_mm`` and ``width_mm`` are ``None`` until it is measured; it is then taken to be as long as it must be, and
    one panel wide.
    """

    id: str
    species: str
    length_mm: float | None = None
    width_mm: float | None = None
    defects: tuple[Defect, ...] = ()


@dataclass(frozen=True, kw_only=True)
class Saw:
    """How boards are cut: kerf, what is trimmed off each end, and an end-grain piece cut with each panel, all mm.

    ``end_piece_mm`` is the piece's length along the grain, 0 for none; it lies behind its panel, a kerf between.
    """

    kerf_mm: float = DEFAULT_KERF_MM
    end_trim_mm: float = DEFAULT_END_TRIM_MM
    end_piece_mm: float = 0.0


@dataclass(frozen=True, kw_only=True)
class Place:
    """Where a panel is cut: ``offset_mm`` from the board's left end, in lane ``row`` from 0."""

    offset_mm: float
    row: int


@dataclass(frozen=True, kw_only=True)
class BoardCut:
    """What a board gives.

    Attributes
    ----------
    places : tuple of Place
        At most ``n_asked``, column by column, each next to the one before it: up one column, down the next.
    capacity : int
        How many panels the board could give; for a board not measured, what was asked for.
    n_lanes : int
    needed_mm : float
        The length that a board with these defects must have for all that was asked, mm.
    short_mm : float
        What it lacks of that, 0 when it is long enough.
    narrow_mm : float
        What it lacks in width for one lane, 0 when it is wide enough.
    """

    board: Board
    n_asked: int
    places: tuple[Place, ...]
    capacity: int
    n_lanes: int
    needed_mm: float
    short_mm: float
    narrow_mm: float

    @property
    def says(self) -> Prose:
        """What is wrong with it, in words, or an empty text."""
        if self.narrow_mm > 0:
            narrow = amount("millimetres", _up(self.narrow_mm))
            return say("Board {} is {} too narrow for the panels.", repr(self.board.id), narrow)
        if self.short_mm > 0:
            return say(
                "Board {} is {} short: it gives {} of {} panels.",
                repr(self.board.id),
                amount("millimetres", _up(self.short_mm)),
                self.capacity,
                self.n_asked,
            )
        return ""


def cut_board(board: Board, n_panels: int, size: PanelSize, saw: Saw) -> BoardCut:
    """Cut up to ``n_panels`` panels from a board.

    Parameters
    ----------
    board : Board
    n_panels : int
        How many are wanted.
    size : PanelSize
        Of a panel, mm, its length along the grain.
    saw : Saw

    Raises
    ------
    DesignError
        If a measure of the board or of the saw cannot be.

    Examples
    --------
    >>> size = PanelSize(length_mm=400, width_mm=150)
    >>> board = Board(id="B1", species="beech", length_mm=1500, width_mm=160)
    >>> cut_board(board, 4, size, Saw(kerf_mm=3, end_trim_mm=20)).says
    "Board 'B1' is 149 mm short: it gives 3 of 4 panels."
    """
    check_board(board)
    check_saw(saw)
    n_lanes = 1
    narrow = 0.0
    if board.width_mm is not None:
        n_lanes = int((board.width_mm + saw.kerf_mm + _TOLERANCE) // (size.width_mm + saw.kerf_mm))
        narrow = max(0.0, size.width_mm - board.width_mm)
    n_columns = -(-n_panels // max(1, n_lanes))
    reach = _reach(size, saw)
    offsets = _offsets(board.defects, n_columns, reach, saw)
    needed = (offsets[-1] + reach if offsets else saw.end_trim_mm) + saw.end_trim_mm
    if board.length_mm is None:
        fitting = offsets
        capacity = n_panels
        short = 0.0
    else:
        last_start = board.length_mm - saw.end_trim_mm - reach + _TOLERANCE
        # One more column than asked for costs nothing and tells the whole capacity.
        all_columns = int(max(0.0, board.length_mm) // (reach + saw.kerf_mm)) + 1
        possible = [o for o in _offsets(board.defects, all_columns, reach, saw) if o <= last_start]
        fitting = [o for o in offsets if o <= last_start]
        capacity = n_lanes * len(possible)
        short = max(0.0, needed - board.length_mm - _TOLERANCE)
    places = [
        Place(offset_mm=round(offset, 6), row=row)
        for column, offset in enumerate(fitting)
        # Up one column and down the next, so that each place has the one before it beside it.
        for row in (range(n_lanes) if column % 2 == 0 else reversed(range(n_lanes)))
    ]
    return BoardCut(
        board=board,
        n_asked=n_panels,
        places=tuple(places[:n_panels]),
        capacity=capacity,
        n_lanes=n_lanes,
        needed_mm=round(needed, 6),
        short_mm=0.0 if n_lanes == 0 else short,
        narrow_mm=narrow,
    )


def check_board(board: Board) -> None:
    """Refuse a board whose measures or defects cannot be. Raises ``DesignError``."""
    for label, value in (("long", board.length_mm), ("wide", board.width_mm)):
        if value is not None and not 1 <= value <= 30_000:
            raise DesignError(
                say(
                    "Board {}: {} {} cannot be. Give {} to {}.",
                    repr(board.id),
                    amount("millimetres", value),
                    label,
                    amount("millimetres", 1, is_bare=True),
                    amount("millimetres", 30_000),
                ),
                field="boards",
            )
    for defect in board.defects:
        if not 0 <= defect.from_mm < defect.to_mm <= 30_000:
            raise DesignError(
                say(
                    "Board {}: a defect from {} to {} cannot be. Give where it begins and where it ends, from the left end.",
                    repr(board.id),
                    amount("millimetres", defect.from_mm, is_bare=True),
                    amount("millimetres", defect.to_mm),
                ),
                field="boards",
            )


def check_saw(saw: Saw) -> None:
    """Refuse a saw whose figures cannot be. Raises ``DesignError``."""
    for field, label, value, most in (
        ("kerf_mm", "A kerf", saw.kerf_mm, 30),
        ("end_trim_mm", "An end trim", saw.end_trim_mm, 2000),
        ("end_piece_mm", "An end-grain piece", saw.end_piece_mm, 500),
    ):
        if not 0 <= value <= most:
            raise DesignError(
                say(
                    "{} of {} cannot be. Give {} to {}.",
                    label,
                    amount("millimetres", value),
                    amount("millimetres", 0, is_bare=True),
                    amount("millimetres", most),
                ),
                field=field,
            )


def _reach(size: PanelSize, saw: Saw) -> float:
    """Length along the grain that a panel takes with its end-grain piece, mm."""
    return size.length_mm + (saw.kerf_mm + saw.end_piece_mm if saw.end_piece_mm else 0.0)


def _offsets(defects: Sequence[Defect], n_columns: int, reach: float, saw: Saw) -> list[float]:
    """The earliest starts of so many columns along an endless board."""
    starts: list[float] = []
    at = saw.end_trim_mm
    ordered = sorted(defects, key=lambda defect: (defect.from_mm, defect.to_mm))
    for _ in range(n_columns):
        for defect in ordered:
            if at < defect.to_mm - _TOLERANCE and at + reach > defect.from_mm + _TOLERANCE:
                at = defect.to_mm
        starts.append(at)
        at += reach + saw.kerf_mm
    return starts


def _up(mm: float) -> int:
    """Whole millimetres, rounded up: a board that is 0.2 mm short is short."""
    return int(-(-(mm - _TOLERANCE) // 1))
