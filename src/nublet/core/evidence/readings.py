"""The long table of readings, and one value a panel.

The panel is the experimental unit: the grades of several judges for one panel are averaged, never counted
as replicates.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from nublet.core.errors import ReadingsError
from nublet.core.protocols.grades import check_grade

Response = Literal["grade", "measure"]
DEFAULT_LOOK = "24h"


@dataclass(frozen=True, kw_only=True)
class Reading:
    """One judge's grade (or an instrument's value) for one test on one panel at one look.

    ``grade`` is ``None`` when it is missing. ``row`` says where it stood in its file, for messages.
    """

    test: str
    system: str
    board: str
    panel: str
    grade: float | None
    species: str | None = None
    judge: str | None = None
    look: str | None = None
    section: str | None = None
    row: int | None = None

    @property
    def where(self) -> str:
        """Where to look for it: its line, or its panel and test."""
        return f"line {self.row}" if self.row is not None else f"panel {self.panel}, {self.test}"


@dataclass(frozen=True, kw_only=True)
class PanelValue:
    """One panel's value for one test at one look: the judges' mean, judge effects removed if need be."""

    panel: str
    system: str
    board: str
    species: str | None
    value: float


def check_readings(readings: Sequence[Reading], *, response: Response = "grade") -> None:
    """Refuse a table that contradicts itself.

    Raises
    ------
    ReadingsError
        No rows; a grade off the scale; a look or species named in some rows and blank in others; a panel with two
        systems, boards or species; a board of two species; the same judge grading the same spot at the same look
        twice; more than one section on a panel.
    """
    if not readings:
        raise ReadingsError("There are no readings in the table. Add rows below the header.")
    _check_filled("look", readings, [reading.look for reading in readings])
    _check_filled("species", readings, [reading.species for reading in readings])
    seen_panel: dict[str, Reading] = {}
    seen_board: dict[str, Reading] = {}
    seen_spot: dict[tuple[str | None, ...], Reading] = {}
    for reading in readings:
        if reading.grade is not None and response == "grade":
            check_grade(reading.grade, where=reading.where)
        _check_panel(reading, seen_panel.setdefault(reading.panel, reading))
        board = seen_board.setdefault(reading.board, reading)
        if board.species != reading.species:
            raise ReadingsError(
                f"{reading.where}: board {reading.board!r} is {reading.species or 'of no species'} here but "
                f"{board.species or 'of no species'} at {board.where}. A board is of one species; give each "
                "board its own name.",
                field="species",
            )
        key = (reading.test, reading.panel, reading.judge, reading.look)
        twin = seen_spot.setdefault(key, reading)
        if twin is not reading:
            raise ReadingsError(
                f"{reading.where}: panel {reading.panel!r}, test {reading.test!r}"
                + (f", judge {reading.judge!r}" if reading.judge else "")
                + (f", look {reading.look!r}" if reading.look else "")
                + f" is already graded at {twin.where}. Keep one row, or name the judges or looks apart.",
                field="panel",
            )


def _check_filled(column: str, readings: Sequence[Reading], values: Sequence[str | None]) -> None:
    """Refuse a column that is filled in some rows only: those left blank would fall out without a word."""
    blank = next((r for r, value in zip(readings, values, strict=True) if value is None), None)
    if blank is not None and any(value is not None for value in values):
        raise ReadingsError(
            f"{blank.where}: the {column} is blank here but named in other rows. Name it in every row, or in none.",
            field=column,
        )


def _check_panel(reading: Reading, first: Reading) -> None:
    for field, what, mine, theirs in (
        ("system", "build-up", reading.system, first.system),
        ("board", "board", reading.board, first.board),
    ):
        if mine != theirs:
            raise ReadingsError(
                f"{reading.where}: panel {reading.panel!r} has {what} {mine!r} here but {theirs!r} at "
                f"{first.where}. A panel has one {what}; correct the row or give the panel its own name.",
                field=field,
            )
    if reading.section != first.section:
        raise ReadingsError(
            f"{reading.where}: panel {reading.panel!r} has section {reading.section!r} here but "
            f"{first.section!r} at {first.where}. Sections within a panel are not analysed yet: analyse one "
            "section at a time.",
            field="section",
        )


def same_look(a: str | None, b: str | None) -> bool:
    """Whether two look names mean the same occasion: ``24 h`` and ``24h`` do."""
    return "".join((a or "").split()).casefold() == "".join((b or "").split()).casefold()


def choose_look(readings: Iterable[Reading], look: str | None) -> str | None:
    """Return the look to analyse: the one asked for, the only one there is, or 24 h.

    Raises
    ------
    ReadingsError
        If the look asked for is not in the table, or none was asked for and there are several without 24 h.
    """
    found = list(dict.fromkeys(r.look for r in readings if r.look is not None))
    listed = ", ".join(found) or "none"
    if look is not None:
        matching = [name for name in found if same_look(name, look)]
        if not matching:
            raise ReadingsError(
                f"There is no look {look!r} in the table. Looks found: {listed}.", field="look"
            )
        return matching[0]
    if len(found) <= 1:
        return found[0] if found else None
    for name in found:
        if same_look(name, DEFAULT_LOOK):
            return name
    raise ReadingsError(
        f"The table has several looks ({listed}) and none is 24h. Say which with --look.", field="look"
    )


def panel_values(readings: Sequence[Reading]) -> list[PanelValue]:
    """Average the judges of each panel for one test at one look.

    When every judge graded every panel this is the plain mean. When judges graded different subsets, a
    lenient judge would lift the panels that he happened to see; then y = panel + judge is fitted by least
    squares and the panel's estimate, at the mean of the judges, is returned.

    Parameters
    ----------
    readings : sequence of Reading
        Of one test and one look; missing grades are left out.

    Returns
    -------
    list of PanelValue
        Sorted by panel name; panels with no grade at all are absent.
    """
    graded = [(r, r.grade) for r in readings if r.grade is not None]
    first: dict[str, Reading] = {}
    for reading, _ in graded:
        first.setdefault(reading.panel, reading)
    panels = sorted(first)
    judges = sorted({reading.judge or "" for reading, _ in graded})
    panel_at = {panel: index for index, panel in enumerate(panels)}
    judge_at = {judge: index for index, judge in enumerate(judges)}
    rows = np.array([panel_at[reading.panel] for reading, _ in graded], dtype=int)
    columns = np.array([judge_at[reading.judge or ""] for reading, _ in graded], dtype=int)
    grades = np.array([grade for _, grade in graded], dtype=float)

    if len(graded) == len(panels) * len(judges):
        values = np.bincount(rows, weights=grades, minlength=len(panels)) / len(judges)
    else:
        # Judges as deviations that sum to zero: the panel's estimate is then at the judges' mean. Where
        # judges share no panel, the minimum-norm solution leaves their difference in the panels.
        effects = np.zeros((len(graded), len(judges)))
        effects[np.arange(len(graded)), columns] = 1.0
        effects -= effects.mean(axis=1, keepdims=True)
        design = np.zeros((len(graded), len(panels) + len(judges)))
        design[np.arange(len(graded)), rows] = 1.0
        design[:, len(panels) :] = effects
        solution, *_ = np.linalg.lstsq(design, grades, rcond=None)
        values = solution[: len(panels)]
    return [
        PanelValue(
            panel=panel,
            system=first[panel].system,
            board=first[panel].board,
            species=first[panel].species,
            value=float(values[panel_at[panel]]),
        )
        for panel in panels
    ]
