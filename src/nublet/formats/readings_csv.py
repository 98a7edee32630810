"""Readings as CSV: UTF-8, a header, one row a reading. docs/formats.md describes the columns."""

from __future__ import annotations

import csv
import io
import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import chain
from statistics import stdev
from typing import TextIO

from nublet.core.errors import ReadingsError
from nublet.core.evidence.levels import FactorLevels
from nublet.core.evidence.readings import Reading
from nublet.core.evidence.rows import PieceRow
from nublet.core.protocols.responses import RESPONSES, Response

REQUIRED_COLUMNS = ("test", "system", "board", "panel", "grade")
# Each of these may stand in the place of one that is required: ``ladder`` and ``step`` name a test, a pass is a result.
IN_PLACE_OF = {"test": ("ladder", "step"), "grade": ("passed",)}
COLUMNS = (
    "test", "species", "system", "section", "board", "panel", "judge", "look", "view", "repeat", "ladder", "step", "after",
    "beyond", "passed", "grade",
)  # fmt: skip
_ALWAYS_WRITTEN = ("test", "species", "system", "section", "board", "panel", "judge", "look", "grade")
_YES, _NO = ("1", "yes", "true", "y"), ("0", "no", "false", "n", "")
EVERYTHING_COLUMNS = (
    "test", "species", "system", "board", "panel", "judge", "look", "response", "view", "against", "value", "beyond",
    "singles", "spread", "unit", "words", "left_out",
)  # fmt: skip
FACTOR_PREFIX = "factor:"
DELIMITERS = (",", ";", "\t")
_MOST_PROBLEMS = 20


@dataclass(frozen=True, kw_only=True)
class Table:
    """Readings, and whether passes stand in the place of grades."""

    readings: list[Reading]
    has_passes: bool


def read_readings(stream: TextIO, *, ignore_extra: bool = False) -> list[Reading]:
    """Read a table of readings; see :func:`read_table`."""
    return read_table(stream, ignore_extra=ignore_extra).readings


def read_table(stream: TextIO, *, ignore_extra: bool = False) -> Table:
    """Read a table of readings, separated by commas, semicolons or tabs.

    With semicolons or tabs a grade may have a decimal comma.

    Parameters
    ----------
    stream : text file
        Open with ``newline=""`` and ``encoding="utf-8-sig"``.
    ignore_extra : bool
        Leave out columns that are not known instead of refusing them.

    Raises
    ------
    ReadingsError
        No header, missing, repeated or unknown columns, or rows that cannot be read; up to 20 bad rows are
        listed with line, column and reason.
    """
    lines = iter(stream)
    try:
        top = next(lines, "")
        delimiter = _delimiter_of(top)
        reader = csv.reader(chain([top], lines), strict=True, delimiter=delimiter)
        header = next(reader, None)
        columns = _check_header(header, ignore_extra=ignore_extra)
        rows = _Rows(columns, decimal_comma=delimiter != ",")
        for cells in reader:
            if not any(cell.strip() for cell in cells):
                continue
            if len(cells) != len(header or ()):
                rows.problems.append(
                    f"line {reader.line_num}: {len(cells)} cells, the header has {len(header or ())}"
                )
                continue
            rows.read(cells, reader.line_num)
        readings, problems = rows.readings, rows.problems
    except csv.Error as error:
        raise ReadingsError(
            f"line {reader.line_num}: the file is not readable as CSV ({error}). Save it as comma-separated "
            "UTF-8 with a header."
        ) from error
    except UnicodeDecodeError as error:
        raise ReadingsError(
            f"The file is not UTF-8 (byte {error.start} cannot be read). Save it as UTF-8."
        ) from error
    if problems:
        shown = "\n  ".join(problems[:_MOST_PROBLEMS])
        more = f"\n  and {len(problems) - _MOST_PROBLEMS} more" if len(problems) > _MOST_PROBLEMS else ""
        raise ReadingsError(f"{len(problems)} rows cannot be read. Correct them:\n  {shown}{more}")
    return Table(readings=readings, has_passes="passed" in columns)


def write_readings(readings: Iterable[Reading]) -> str:
    """Return readings as CSV text that :func:`read_readings` reads back to the same readings.

    One that is left out has no grade there: the table holds what counts. A trial's factors are columns behind the others.
    """
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    rows = list(readings)
    factors = dict.fromkeys(factor for row in rows for factor, _ in row.levels)
    cells = [_cells(row) for row in rows]
    columns = [
        name
        for name in COLUMNS
        if name in _ALWAYS_WRITTEN or (name != "passed" and any(each.get(name) for each in cells))
    ]
    writer.writerow([*columns, *(_safe(FACTOR_PREFIX + factor) for factor in factors)])
    for reading, each in zip(rows, cells, strict=True):
        levels = dict(reading.levels)
        writer.writerow(
            [
                *(each.get(name, "") for name in columns),
                *(_safe(levels.get(factor)) for factor in factors),
            ]
        )
    return out.getvalue()


def _cells(reading: Reading) -> dict[str, str]:
    def number(value: float | None) -> str:
        return "" if value is None else f"{value:.12g}"

    texts = {
        "test": reading.test, "species": reading.species, "system": reading.system, "section": reading.section,
        "board": reading.board, "panel": reading.panel, "judge": reading.judge, "look": reading.look, "view": reading.view,
        "ladder": reading.ladder,
    }  # fmt: skip
    return {
        **{name: _safe(text) for name, text in texts.items()},
        "repeat": str(reading.repeat) if reading.repeat else "",
        "step": number(reading.step),
        "after": number(reading.after),
        "beyond": "yes" if reading.is_beyond else "",
        "grade": "" if reading.left_out is not None else number(reading.grade),
    }


def write_everything(rows: Iterable[PieceRow], *, factors: Sequence[FactorLevels] = ()) -> str:
    """Return what was read on all scales and measures, and what was worked out, as CSV text, one row a value.

    Steps of a scale have their words beside the number, a mean the readings that it was made of and their standard deviation; a trial's factors are columns behind the others.
    """
    levels = [{each.system: each.level for each in factor.systems} for factor in factors]
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow([*EVERYTHING_COLUMNS, *(_safe(FACTOR_PREFIX + factor.factor) for factor in factors)])
    for row in rows:
        if row.value is None:
            continue
        response = RESPONSES[row.response]
        texts = (
            row.test, row.species, row.system, row.board, row.piece, row.judge, row.look, row.response, row.view, row.against,
        )  # fmt: skip
        writer.writerow(
            [
                *(_safe(text) for text in texts),
                f"{row.value:.12g}",
                "yes" if row.is_beyond else "",
                " ".join(f"{single:.12g}" for single in row.singles),
                f"{stdev(row.singles):.4g}" if len(row.singles) > 1 else "",
                _safe(response.unit),
                _safe(_words_of(response, row.value)),
                _safe(row.left_out),
                *(_safe(of_system.get(row.system)) for of_system in levels),
            ]
        )
    return out.getvalue()


def _words_of(response: Response, value: float) -> str:
    if response.form == "kinds":
        return " and ".join(step.words.lower() for step in response.kinds_in(value)) or "none"
    return next((step.words for step in response.steps if math.isclose(step.value, value)), "")


def _safe(text: str | None) -> str:
    """Guard a cell that a spreadsheet would take for a formula with an apostrophe."""
    if not text:
        return ""
    return f"'{text}" if text[0] in "=+-@\t\r'" else text


def _plain(text: str) -> str:
    """Undo :func:`_safe`."""
    return text[1:] if len(text) > 1 and text[0] == "'" and text[1] in "=+-@\t\r'" else text


def _check_header(header: Sequence[str] | None, *, ignore_extra: bool) -> dict[str, int]:
    if not header or not any(cell.strip() for cell in header):
        raise ReadingsError(f"The file is empty. The first line must name the columns: {', '.join(COLUMNS)}.")
    names = [_column_of(cell) for cell in header]
    missing = [
        name
        for name in REQUIRED_COLUMNS
        if name not in names and not all(other in names for other in IN_PLACE_OF.get(name, (name,)))
    ]
    if missing:
        raise ReadingsError(
            f"line 1: the columns {', '.join(missing)} are missing. Found: {', '.join(header)}. "
            f"Needed: {', '.join(REQUIRED_COLUMNS)} (ladder and step may stand for test, passed for grade)."
        )
    if "passed" in names and "grade" in names:
        raise ReadingsError("line 1: the columns grade and passed say the same. Keep one of them.")
    twice = sorted({name for name in names if _is_known(name) and names.count(name) > 1})
    if twice:
        raise ReadingsError(f"line 1: the columns {', '.join(twice)} stand twice. Keep one of each.")
    if FACTOR_PREFIX in names:
        raise ReadingsError(f"line 1: a column {FACTOR_PREFIX!r} names no factor. Write it behind the colon.")
    extra = [cell for cell, name in zip(header, names, strict=True) if not _is_known(name)]
    if extra and not ignore_extra:
        raise ReadingsError(
            f"line 1: unknown columns {', '.join(repr(cell) for cell in extra)}. Remove them, or read on "
            f"without them by --ignore-extra. Known: {', '.join(COLUMNS)}, {FACTOR_PREFIX}NAME."
        )
    return {name: index for index, name in enumerate(names) if _is_known(name)}


def _column_of(cell: str) -> str:
    """A column's name as it is known: a factor's own name keeps its letters."""
    name = _plain(cell.strip())
    prefix = name[: len(FACTOR_PREFIX)].casefold()
    return prefix + name[len(FACTOR_PREFIX) :].strip() if prefix == FACTOR_PREFIX else name.casefold()


def _is_known(name: str) -> bool:
    return name in COLUMNS or name.startswith(FACTOR_PREFIX)


def _delimiter_of(header: str) -> str:
    """What separates the header's cells: a comma, a semicolon or a tab, whichever stands there most."""
    return max(DELIMITERS, key=header.count)


class _Rows:
    """Reads rows one by one; equal texts are kept once, for a table of a million rows."""

    def __init__(self, columns: dict[str, int], *, decimal_comma: bool) -> None:
        self.readings: list[Reading] = []
        self.problems: list[str] = []
        # A column that is not there reads the blank cell that each row is given behind its last.
        self._at = tuple(columns.get(name, -1) for name in _TEXTS)
        self._typed = {name: columns[name] for name in _TYPED if name in columns}
        self._factors = [
            (name.removeprefix(FACTOR_PREFIX), index)
            for name, index in columns.items()
            if name.startswith(FACTOR_PREFIX)
        ]
        self._decimal_comma = decimal_comma
        self._kept: dict[str, str] = {"": ""}
        self._kept_levels: dict[tuple[str, ...], tuple[tuple[str, str], ...]] = {}

    def read(self, cells: list[str], line: int) -> None:
        """Add one row, or what is wrong with it."""
        cells.append("")
        kept = self._kept
        texts = []
        for index in self._at:
            cell = cells[index]
            text = kept.get(cell)
            if text is None:
                text = kept[cell] = _plain(cell.strip())
            texts.append(text)
        test, species, system, section, board, panel, judge, look, view, ladder, grade_text = texts
        try:
            typed = self._numbers(cells) if self._typed else {}
            grade = self._number("grade", grade_text) if grade_text else typed.get("passed")
        except ReadingsError as error:
            self.problems.append(f"line {line}, {error.message}")
            return
        step = typed.get("step")
        if not test and ladder and step is not None:
            name = f"{ladder} {step:g}"
            test = kept.setdefault(name, name)
        if not (test and system and board and panel):
            needed = {"test": test, "system": system, "board": board, "panel": panel}
            blank = next(name for name in REQUIRED_COLUMNS if not needed.get(name, "-"))
            self.problems.append(f"line {line}, column {blank}: blank. Fill it in.")
            return
        self.readings.append(
            Reading(
                test=test,
                system=system,
                board=board,
                panel=panel,
                grade=grade,
                species=species or None,
                section=section or None,
                judge=judge or None,
                look=look or None,
                view=view or None,
                repeat=int(typed.get("repeat") or 0),
                is_beyond=bool(typed.get("beyond")),
                after=typed.get("after"),
                ladder=ladder or None,
                step=step,
                row=line,
                levels=self._levels(cells) if self._factors else (),
            )
        )

    def _numbers(self, cells: Sequence[str]) -> dict[str, float | None]:
        """What the further columns hold; blank is nothing. Raises ``ReadingsError`` with the column and the reason."""
        found: dict[str, float | None] = {}
        for name, index in self._typed.items():
            text = _plain(cells[index].strip())
            if name in ("passed", "beyond"):
                folded = text.casefold()
                if folded not in (*_YES, *_NO):
                    raise ReadingsError(f"column {name}: {text!r} is neither yes nor no. Write 1 or 0.")
                found[name] = None if not text else float(folded in _YES)
                continue
            found[name] = self._number(name, text) if text else None
            if name == "repeat" and found[name] not in (None, 0, 1, 2, 3, 4, 5, 6, 7, 8, 9):
                raise ReadingsError(
                    f"column repeat: {text!r} is no number of a time round. Write 0, or 1 for the second time."
                )
        return found

    def _number(self, name: str, text: str) -> float:
        try:
            value = float(text.replace(",", ".") if self._decimal_comma else text)
        except ValueError:
            value = math.nan
        if not math.isfinite(value):
            raise ReadingsError(
                f"column {name}: {text!r} is not a number. Give one with a decimal point, or leave it blank when it is missing."
            )
        return value

    def _levels(self, cells: Sequence[str]) -> tuple[tuple[str, str], ...]:
        """The row's level of each factor; equal ones are one object."""
        key = tuple(cells[index] for _, index in self._factors)
        if key not in self._kept_levels:
            self._kept_levels[key] = tuple(
                (factor, _plain(cell.strip())) for (factor, _), cell in zip(self._factors, key, strict=True)
            )
        return self._kept_levels[key]


_TEXTS = (
    "test",
    "species",
    "system",
    "section",
    "board",
    "panel",
    "judge",
    "look",
    "view",
    "ladder",
    "grade",
)
_TYPED = ("repeat", "step", "after", "beyond", "passed")
