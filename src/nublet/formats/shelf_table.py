"""Shelf tables as CSV or JSON: UTF-8, a header, one row a thing. docs/formats.md describes the columns.

Reading never stops at the first fault: it returns the good rows and, for every bad one, line, column and reason.
"""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from typing import Any, Generic, TypeVar

from nublet.core.errors import ShelfError

MOST_ROWS = 20_000
Thing = TypeVar("Thing")


@dataclass(frozen=True, kw_only=True)
class RowFault:
    """Why a row cannot be used: its line in the file (or number in the list), the column, the reason."""

    line: int
    column: str
    reason: str


@dataclass(frozen=True, kw_only=True)
class ShelfTable(Generic[Thing]):
    """What a file holds: good things with their lines, and the faults of the others."""

    things: tuple[tuple[int, Thing], ...]
    faults: tuple[RowFault, ...]


@dataclass(frozen=True, kw_only=True)
class TableKind(Generic[Thing]):
    """How one kind of thing is written.

    ``cells_as_dict`` turns a row's cells (those that are not blank) into the plain mapping that ``from_dict`` reads and
    ``as_dict`` makes; both say their faults as ``ShelfError`` with the column as field. ``cells_of`` is the way back. What
    has no ``columns`` does not go into rows, and is written as JSON alone. ``key`` is what may stand in a file but once, ``key_words`` the same for a person.
    """

    noun: str
    from_dict: Callable[[Mapping[str, Any]], Thing]
    as_dict: Callable[[Thing], dict[str, Any]]
    key: Callable[[Thing], object]
    key_words: Callable[[Thing], str]
    columns: tuple[str, ...] = ()
    required: tuple[str, ...] = ()
    cells_as_dict: Callable[[Mapping[str, str]], dict[str, Any]] = dict
    cells_of: Callable[[Thing], Mapping[str, Any]] | None = None

    def read(self, content: bytes) -> ShelfTable[Thing]:
        """Read a CSV or JSON file; JSON begins with ``[`` or ``{``.

        Raises
        ------
        ShelfError
            If the file as a whole cannot be read: not UTF-8, no header, missing or unknown columns, too many rows.
        """
        try:
            text = content.decode("utf-8-sig")
        except UnicodeDecodeError as error:
            raise ShelfError(
                f"The file is not UTF-8 (byte {error.start} cannot be read). Save it as UTF-8.", field="file"
            ) from error
        rows = self._json_rows(text) if text.lstrip()[:1] in ("[", "{") else self._csv_rows(text)
        good: list[tuple[int, Thing]] = []
        faults: list[RowFault] = []
        seen: dict[object, int] = {}
        for line, row in rows:
            if isinstance(row, RowFault):
                faults.append(row)
                continue
            try:
                thing = self.from_dict(row)
            except ShelfError as error:
                faults.append(RowFault(line=line, column=_column(error.field), reason=error.message))
                continue
            earlier = seen.setdefault(self.key(thing), line)
            if earlier != line:
                reason = f"{self.key_words(thing)} is already on line {earlier}. Remove one or rename it."
                faults.append(RowFault(line=line, column="name", reason=reason))
                continue
            good.append((line, thing))
        return ShelfTable(things=tuple(good), faults=tuple(faults))

    def write_csv(self, things: Iterable[Thing]) -> str:
        """Write things as CSV with every column; :meth:`read` reads it back alike.

        Raises
        ------
        ShelfError
            If they do not go into rows.
        """
        if self.cells_of is None:
            raise self._no_rows()
        stream = io.StringIO()
        writer = csv.DictWriter(stream, self.columns, lineterminator="\r\n")
        writer.writeheader()
        for thing in things:
            writer.writerow({name: _cell(value) for name, value in self.cells_of(thing).items()})
        return stream.getvalue()

    def write_json(self, things: Iterable[Thing]) -> str:
        """Write things as a JSON list of objects."""
        return json.dumps([self.as_dict(thing) for thing in things], ensure_ascii=False, indent=1) + "\n"

    def _no_rows(self) -> ShelfError:
        return ShelfError(f"{self.noun.capitalize()}s do not go into rows. Use JSON.", field="file")

    def _json_rows(self, text: str) -> Rows:
        try:
            found = json.loads(text)
        except json.JSONDecodeError as error:
            raise ShelfError(
                f"Line {error.lineno}: the file is not JSON ({error.msg}). Check it there.", field="file"
            ) from error
        listed = found.get(f"{self.noun}s") if isinstance(found, dict) else found
        if not isinstance(listed, list):
            raise ShelfError(f"The file must hold a list of {self.noun}s.", field="file")
        self._check_count(len(listed))
        for number, entry in enumerate(listed, start=1):
            if isinstance(entry, dict):
                yield number, {name: value for name, value in entry.items() if name != "id"}
            else:
                reason = f"A {self.noun} must be an object with named fields."
                yield number, RowFault(line=number, column="", reason=reason)

    def _csv_rows(self, text: str) -> Rows:
        if self.cells_of is None:
            raise self._no_rows()
        reader = csv.reader(io.StringIO(text, newline=""), strict=True)
        try:
            header = [cell.strip() for cell in next(reader, [])]
            self._check_header(header)
            line, count = reader.line_num + 1, 0
            for cells in reader:
                started, line = line, reader.line_num + 1
                if not any(cell.strip() for cell in cells):
                    continue
                count += 1
                self._check_count(count)
                if len(cells) != len(header):
                    reason = f"{len(cells)} cells, the header has {len(header)}. Check the commas and quotes."
                    yield started, RowFault(line=started, column="", reason=reason)
                    continue
                yield started, self._csv_row(zip(header, cells, strict=True), started)
        except csv.Error as error:
            raise ShelfError(
                f"Line {reader.line_num}: not readable as CSV ({error}). Save it as comma-separated UTF-8.",
                field="file",
            ) from error

    def _csv_row(self, cells: Iterable[tuple[str, str]], line: int) -> dict[str, Any] | RowFault:
        try:
            return self.cells_as_dict({name: _uncell(cell) for name, cell in cells if cell.strip()})
        except ShelfError as error:
            return RowFault(line=line, column=_column(error.field), reason=error.message)

    def _check_header(self, header: list[str]) -> None:
        missing = [name for name in self.required if name not in header]
        if missing:
            raise ShelfError(
                f"The header lacks {', '.join(missing)}. A {self.noun} needs at least {' and '.join(self.required)}.",
                field="file",
            )
        unknown = [name or "(blank)" for name in header if name not in self.columns]
        if unknown:
            raise ShelfError(
                f"Unknown columns: {', '.join(unknown)}. Known: {', '.join(self.columns)}.", field="file"
            )
        twice = [name for name in dict.fromkeys(header) if header.count(name) > 1]
        if twice:
            raise ShelfError(f"The header has {twice[0]} twice. Remove one.", field="file")

    def _check_count(self, count: int) -> None:
        if count > MOST_ROWS:
            raise ShelfError(f"The file has more than {MOST_ROWS} {self.noun}s. Split it.", field="file")


Rows = Iterable[tuple[int, "dict[str, Any] | RowFault"]]


def number_in(cell: str, column: str) -> float:
    """A cell's number; one decimal comma is understood. Raises ``ShelfError``."""
    text = cell.strip()
    try:
        return float(text.replace(",", ".") if text.count(",") == 1 and "." not in text else text)
    except ValueError:
        raise ShelfError(f"{text!r} is not a number.", field=column) from None


def yes_or_no(cell: str, column: str) -> bool:
    """A cell's yes or no. Raises ``ShelfError``."""
    if cell.casefold() not in ("yes", "no", "true", "false"):
        raise ShelfError(f"{cell!r} is neither yes nor no.", field=column)
    return cell.casefold() in ("yes", "true")


def figure(value: float) -> str:
    """A number as a cell shows it."""
    return f"{value:.12g}"


def _column(field: str | None) -> str:
    """The column of a field path: ``parts.0.share`` stands in the column ``parts``."""
    path = field or ""
    return path if path.startswith(("label.", "found.")) else path.partition(".")[0]


def _cell(value: Any) -> Any:
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float):
        return figure(value)
    if isinstance(value, str) and value[:1] in ("=", "+", "-", "@", "'"):
        # A spreadsheet would take it for a formula.
        return f"'{value}"
    return "" if value is None else value


def _uncell(cell: str) -> str:
    text = cell.strip()
    return text[1:] if text[:1] == "'" and text[1:2] in ("=", "+", "-", "@", "'") else text
