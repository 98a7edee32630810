"""The long table of readings, and one value a panel.

The panel is the experimental unit: the grades of several judges for one panel are averaged, never counted
as replicates.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from nublet.core.errors import ReadingsError
from nublet.core.protocols.responses import GRADE, Response
from nublet.core.protocols.tests import DEFAULT_LOOK

ALL_SPECIES = "all"
# Why a reading stands apart.
KNEW = "read by one who could know what the panel carries, where others read it blind"
UNPLANNED = "on a board that was added beyond the plan, when readings had been made"
CONTROL_NAMES = ("control", "bare control", "bare", "untreated")


@dataclass(frozen=True, kw_only=True, slots=True)
class Reading:
    """One judge's grade (or an instrument's value) for one test on one panel at one look.

    ``grade`` is ``None`` when it is missing. ``row`` says where it stood in its file, for messages. ``left_out`` is why
    it does not count although it was made, such as a spot that was lifted hours late. ``levels`` are those of the trial's factors,
    as pairs of a factor and its level, the same factors in each reading of a table. ``view`` is from where it was seen; ``repeat``
    is above 0 where the same judge met the same spot unannounced once more, which tells of the judge alone. ``is_beyond`` says that
    the value was not reached while it was watched: *longer than*; ``after`` that it lies between that and ``grade``. ``ladder`` and
    ``step`` tell which step of a ladder the spot was, the mildest being the lowest number.
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
    view: str | None = None
    repeat: int = 0
    is_beyond: bool = False
    after: float | None = None
    ladder: str | None = None
    step: float | None = None
    row: int | None = None
    left_out: str | None = None
    levels: tuple[tuple[str, str], ...] = ()

    @property
    def where(self) -> str:
        """Where to look for it: its line, or its panel and test."""
        return f"line {self.row}" if self.row is not None else f"panel {self.panel}, {self.test}"


@dataclass(frozen=True, kw_only=True, slots=True)
class PanelValue:
    """The value of one panel, or of one of its sections, for one test at one look: the judges' mean, their leniency taken out."""

    panel: str
    system: str
    board: str
    species: str | None
    value: float
    section: str = ""


def check_readings(readings: Sequence[Reading], *, response: Response = GRADE) -> None:
    """Refuse a table that contradicts itself.

    Raises
    ------
    ReadingsError
        No rows; a grade off the scale; a look or species named in some rows and blank in others, or a section on one panel; a
        panel with two systems, boards or species; a board of two species; the same judge grading the same spot at the same look
        from the same view twice.
    """
    if not readings:
        raise ReadingsError("There are no readings in the table. Add rows below the header.")
    _check_filled("look", readings, [reading.look for reading in readings])
    _check_filled("species", readings, [reading.species for reading in readings])
    seen_panel: dict[str, Reading] = {}
    seen_board: dict[str, Reading] = {}
    seen_spot: dict[tuple[str | int | None, ...], Reading] = {}
    keys = {look: look_key(look) for look in {reading.look for reading in readings}}
    response.check_all(
        (r.grade for r in readings if r.grade is not None), lambda: _graded_badly(readings, response)
    )
    for reading in readings:
        first = seen_panel.setdefault(reading.panel, reading)
        # Asked here, and in a function only what it is: a call for each row is dear where there are a million.
        if (
            reading.system != first.system
            or reading.board != first.board
            or (reading.section is None) != (first.section is None)
        ):
            _refuse_panel(reading, first)
        board = seen_board.setdefault(reading.board, reading)
        if board.species != reading.species:
            raise ReadingsError(
                f"{reading.where}: board {reading.board!r} is {reading.species or 'of no species'} here but "
                f"{board.species or 'of no species'} at {board.where}. A board is of one species; give each "
                "board its own name.",
                field="species",
            )
        key = (
            reading.test, reading.panel, reading.section, reading.judge, keys[reading.look], reading.view, reading.repeat,
        )  # fmt: skip
        twin = seen_spot.setdefault(key, reading)
        if twin is not reading:
            _refuse_twin(reading, twin)


def _graded_badly(readings: Sequence[Reading], response: Response) -> None:
    """Say where the first grade stands that cannot be. Raises ``ReadingsError``."""
    for reading in readings:
        if reading.grade is not None:
            response.check(reading.grade, field="grade", where=reading.where)


def _refuse_twin(reading: Reading, twin: Reading) -> None:
    parts = [
        f"{name} {value!r}"
        for name, value in (
            ("test", reading.test),
            ("section", reading.section),
            ("judge", reading.judge),
            ("look", reading.look),
            ("view", reading.view),
            ("repeat", reading.repeat),
        )
        if value
    ]
    raise ReadingsError(
        f"{reading.where}: panel {reading.panel!r}, {', '.join(parts)} is already graded at {twin.where}. Keep one row, or name "
        "the judges, looks or views apart; a blind second time has repeat 1.",
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


def _refuse_panel(reading: Reading, first: Reading) -> None:
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
    blank, named = (reading, first) if reading.section is None else (first, reading)
    raise ReadingsError(
        f"{reading.where}: panel {reading.panel!r} has section {named.section!r} at {named.where} and none at {blank.where}. "
        "Name the section in every row of a panel, or in none.",
        field="section",
    )


def look_key(look: str | None) -> str | None:
    """The name of a look without what does not matter: ``24 h``, ``24h`` and ``24 H`` are one occasion."""
    return None if look is None else "".join(look.split()).casefold()


def choose_look(readings: Iterable[Reading], look: str | None) -> str | None:
    """Return the look to analyse, as the table first spells it: the one asked for, the only one there is, or 24 h.

    Raises
    ------
    ReadingsError
        If the look asked for is not in the table, or none was asked for and there are several without 24 h.
    """
    found: dict[str | None, str] = {}
    for spelled in dict.fromkeys(reading.look for reading in readings):
        if spelled is not None:
            found.setdefault(look_key(spelled), spelled)
    listed = ", ".join(found.values()) or "none"
    if look is not None:
        if look_key(look) not in found:
            raise ReadingsError(
                f"There is no look {look!r} in the table. Looks found: {listed}.", field="look"
            )
        return found[look_key(look)]
    if len(found) <= 1:
        return next(iter(found.values()), None)
    if look_key(DEFAULT_LOOK) in found:
        return found[look_key(DEFAULT_LOOK)]
    raise ReadingsError(
        f"The table has several looks ({listed}) and none is 24h. Say which with --look.", field="look"
    )
