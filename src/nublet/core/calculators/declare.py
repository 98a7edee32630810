"""How a calculator is declared: what it asks, what it answers, its formula and its source.

A calculator is data, so that the page, the checks on what is typed, and the tests all come from one declaration.
Quantities are SI and named with their unit; the screen shows them metric or US.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal

from nublet.core.errors import CalculationError
from nublet.core.quantities import Prose, Quantity, amount, say

MAX_ROWS = 40


@dataclass(frozen=True, kw_only=True)
class NumberInput:
    """A number: its quantity, its default, and what it may be.

    ``shown_when`` is a choice's name and value: without that choice the number is not asked.
    """

    name: str
    label: str
    quantity: Quantity
    default: float
    low: float = 0
    high: float = 1_000_000
    hint: str = ""
    shown_when: tuple[str, str] | None = None
    kind: Literal["number"] = "number"


@dataclass(frozen=True, kw_only=True)
class ChoiceInput:
    """One of a few choices, as (id, words)."""

    name: str
    label: str
    options: tuple[tuple[str, str], ...]
    default: str
    hint: str = ""
    kind: Literal["choice"] = "choice"


@dataclass(frozen=True, kw_only=True)
class TextInput:
    """A name in a table's row."""

    name: str
    label: str
    default: str = ""
    kind: Literal["text"] = "text"


@dataclass(frozen=True, kw_only=True)
class TableInput:
    """Rows of numbers and names; ``default`` rows by column name."""

    name: str
    label: str
    columns: tuple[NumberInput | TextInput, ...]
    default: tuple[Mapping[str, Any], ...]
    fewest: int = 1
    hint: str = ""
    kind: Literal["table"] = "table"


Input = NumberInput | ChoiceInput | TableInput


@dataclass(frozen=True, kw_only=True)
class Figure:
    """One figure of an answer; ``value`` is ``None`` when it cannot be told."""

    label: str
    value: float | None
    quantity: Quantity
    says: str = ""


@dataclass(frozen=True, kw_only=True)
class Table:
    """Rows of an answer. ``columns`` are (label, quantity); a cell is a number, or words."""

    title: str
    columns: tuple[tuple[str, Quantity | Literal["words"]], ...]
    rows: tuple[tuple[float | str | None, ...], ...]


@dataclass(frozen=True, kw_only=True)
class Answer:
    """What a calculator answers: figures, the first of them the main one; tables; what to mind."""

    figures: tuple[Figure, ...]
    tables: tuple[Table, ...] = ()
    notes: tuple[Prose, ...] = ()


@dataclass(frozen=True, kw_only=True)
class Calculator:
    """A calculator. ``formula`` and ``source`` are shown with every answer."""

    id: str
    name: str
    question: str
    formula: str
    source: str
    inputs: tuple[Input, ...]
    compute: Callable[[Mapping[str, Any]], Answer]

    def defaults(self) -> dict[str, Any]:
        """The values that a fresh page shows."""
        return {
            one.name: [dict(row) for row in one.default] if isinstance(one, TableInput) else one.default
            for one in self.inputs
        }

    def answer(self, values: Mapping[str, Any]) -> Answer:
        """Check the values and compute; what is missing takes its default.

        Raises
        ------
        CalculationError
            If a value is unknown, of the wrong kind or out of range.
        """
        known = {one.name for one in self.inputs}
        for name in values:
            if name not in known:
                raise CalculationError(
                    f"{self.name} asks for no {name!r}. It asks for: {', '.join(sorted(known))}.", field=name
                )
        given = {**self.defaults(), **values}
        return self.compute({one.name: _checked(one, given[one.name]) for one in self.inputs})


def _checked(one: Input, value: Any) -> Any:
    if isinstance(one, NumberInput):
        return _number(one, value, one.name)
    if isinstance(one, ChoiceInput):
        if value not in [option for option, _ in one.options]:
            raise CalculationError(
                f"{one.label}: {value!r} is not a choice. Choose one of: {', '.join(option for option, _ in one.options)}.",
                field=one.name,
            )
        return value
    return _rows(one, value)


def _rows(one: TableInput, value: Any) -> list[dict[str, Any]]:
    if not isinstance(value, Sequence) or isinstance(value, str) or not one.fewest <= len(value) <= MAX_ROWS:
        raise CalculationError(f"{one.label}: give {one.fewest} to {MAX_ROWS} rows.", field=one.name)
    rows = []
    for index, row in enumerate(value):
        if not isinstance(row, Mapping):
            raise CalculationError(
                f"{one.label}: row {index + 1} must have named columns.", field=f"{one.name}.{index}"
            )
        cells: dict[str, Any] = {}
        for column in one.columns:
            where = f"{one.name}.{index}.{column.name}"
            cell = row.get(column.name, column.default)
            cells[column.name] = (
                _number(column, cell, where)
                if isinstance(column, NumberInput)
                else str(cell or "").strip()[:60]
            )
        rows.append(cells)
    return rows


def _number(one: NumberInput, value: Any, where: str) -> float:
    if value is None or value == "":
        raise CalculationError(f"{one.label}: fill in a number.", field=where)
    if isinstance(value, bool) or not isinstance(value, int | float) or not math.isfinite(value):
        raise CalculationError(f"{one.label}: {value!r} is not a number.", field=where)
    if not one.low <= value <= one.high:
        raise CalculationError(
            say(
                "{}: {} is out of range. Give {} to {}.",
                one.label,
                amount(one.quantity, value),
                amount(one.quantity, one.low, is_bare=True),
                amount(one.quantity, one.high),
            ),
            field=where,
        )
    return float(value)
