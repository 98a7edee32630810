"""What is not there: rows that do not count, and panels that have no row at all. Both are counted and named."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from nublet.core.evidence.readings import Reading, look_key


@dataclass(frozen=True, kw_only=True)
class LeftOut:
    """Rows that did not count, and why."""

    why: str
    n_rows: int


def count_left_out(readings: Sequence[Reading], look: str | None) -> tuple[LeftOut, ...]:
    """Count the rows that an analysis at one look does not use.

    Parameters
    ----------
    readings : sequence of Reading
        The whole table.
    look : str or None
        The look that is analysed; ``None`` when the table names none.
    """
    key = look_key(look)
    other: Counter[str] = Counter()
    spelled: dict[str | None, str] = {}
    reasons: Counter[str] = Counter()
    n_blank = 0
    keys = {spelling: look_key(spelling) for spelling in dict.fromkeys(reading.look for reading in readings)}
    for reading in readings:
        own = keys[reading.look]
        if look is not None and own != key:
            other[spelled.setdefault(own, reading.look or "")] += 1
        elif reading.left_out is not None:
            reasons[reading.left_out] += 1
        elif reading.grade is None:
            n_blank += 1
    found = [LeftOut(why=f"at another look, {name}", n_rows=n) for name, n in other.items()]
    found += [LeftOut(why=why, n_rows=n) for why, n in reasons.items()]
    if n_blank:
        found.append(LeftOut(why="no grade", n_rows=n_blank))
    return tuple(found)


def absent_cells(readings: Sequence[Reading]) -> tuple[tuple[str, str], ...]:
    """Find the build-ups and boards between which one test has no row at all: panels that nobody wrote down.

    Parameters
    ----------
    readings : sequence of Reading
        Of one test at one look, on one species.

    Returns
    -------
    tuple of (system, board)
        Empty for a balanced incomplete design, in which each board carries equally many of the build-ups and each
        build-up stands on equally many boards: there they were never meant to meet.
    """
    cells = {(reading.system, reading.board) for reading in readings}
    of_system = Counter(system for system, _ in cells)
    of_board = Counter(board for _, board in cells)
    if len(cells) == len(of_system) * len(of_board):
        return ()
    is_balanced = len(set(of_system.values())) == 1 and len(set(of_board.values())) == 1
    if is_balanced and next(iter(of_board.values())) > 1:
        return ()
    if len(of_system) * len(of_board) > _MOST_CELLS:
        return ()
    return tuple(
        (system, board)
        for board in sorted(of_board)
        for system in sorted(of_system)
        if (system, board) not in cells
    )


_MOST_CELLS = 1_000_000
