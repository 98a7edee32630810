"""Readings as CSV: UTF-8, a header, one row a reading. docs/formats.md describes the columns."""

from __future__ import annotations

import csv
import io
import math
from collections.abc import Iterable, Sequence
from typing import TextIO

from nublet.core.errors import ReadingsError
from nublet.core.evidence.readings import Reading

REQUIRED_COLUMNS = ("test", "system", "board", "panel", "grade")
OPTIONAL_COLUMNS = ("species", "section", "judge", "look")
COLUMNS = ("test", "species", "system", "section", "board", "panel", "judge", "look", "grade")
_MOST_PROBLEMS = 20


def read_readings(stream: TextIO, *, ignore_extra: bool = False) -> list[Reading]:
    """Read a table of readings.

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
    reader = csv.reader(stream, strict=True)
    try:
        header = next(reader, None)
        columns = _check_header(header, ignore_extra=ignore_extra)
        readings: list[Reading] = []
        problems: list[str] = []
        for cells in reader:
            if not any(cell.strip() for cell in cells):
                continue
            line = reader.line_num
            if len(cells) != len(header or ()):
                problems.append(f"line {line}: {len(cells)} cells, the header has {len(header or ())}")
                continue
            found = _read_row({name: cells[i].strip() for name, i in columns.items()}, line, problems)
            if found is not None:
                readings.append(found)
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
    return readings


def write_readings(readings: Iterable[Reading]) -> str:
    """Return readings as CSV text that :func:`read_readings` reads back to the same readings."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for reading in readings:
        writer.writerow(
            [
                _safe(reading.test),
                _safe(reading.species),
                _safe(reading.system),
                _safe(reading.section),
                _safe(reading.board),
                _safe(reading.panel),
                _safe(reading.judge),
                _safe(reading.look),
                "" if reading.grade is None else f"{reading.grade:.12g}",
            ]
        )
    return out.getvalue()


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
    names = [cell.strip().casefold() for cell in header]
    missing = [name for name in REQUIRED_COLUMNS if name not in names]
    if missing:
        raise ReadingsError(
            f"line 1: the columns {', '.join(missing)} are missing. Found: {', '.join(header)}. "
            f"Needed: {', '.join(REQUIRED_COLUMNS)}."
        )
    twice = sorted({name for name in names if name in COLUMNS and names.count(name) > 1})
    if twice:
        raise ReadingsError(f"line 1: the columns {', '.join(twice)} stand twice. Keep one of each.")
    extra = [cell for cell, name in zip(header, names, strict=True) if name not in COLUMNS]
    if extra and not ignore_extra:
        raise ReadingsError(
            f"line 1: unknown columns {', '.join(repr(cell) for cell in extra)}. Remove them, or read on "
            f"without them by --ignore-extra. Known: {', '.join(COLUMNS)}."
        )
    return {name: index for index, name in enumerate(names) if name in COLUMNS}


def _read_row(cells: dict[str, str], line: int, problems: list[str]) -> Reading | None:
    blank = [name for name in REQUIRED_COLUMNS if name != "grade" and not cells[name]]
    if blank:
        problems.append(f"line {line}, column {blank[0]}: blank. Fill it in.")
        return None
    grade: float | None = None
    if cells["grade"]:
        try:
            grade = float(cells["grade"])
        except ValueError:
            grade = math.nan
        if not math.isfinite(grade):
            problems.append(
                f"line {line}, column grade: {cells['grade']!r} is not a number. Give 1 to 5 with a decimal "
                "point, or leave it blank when it is missing."
            )
            return None
    plain = {name: _plain(text) for name, text in cells.items()}
    return Reading(
        test=plain["test"],
        system=plain["system"],
        board=plain["board"],
        panel=plain["panel"],
        grade=grade,
        species=plain.get("species") or None,
        section=plain.get("section") or None,
        judge=plain.get("judge") or None,
        look=plain.get("look") or None,
        row=line,
    )
