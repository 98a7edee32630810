"""Quantities that are shown and typed, each with the metric unit in which it is kept, and sentences that hold some.

A sentence is a text in metric units for whoever prints it. Made by :func:`say` it also keeps its pieces, so that a screen can
show its amounts in other units.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from string import Formatter
from typing import Annotated, Literal

Quantity = Literal[
    "number", "count", "percent", "grams", "millilitres", "litres", "square_metres", "millimetres", "micrometres",
    "celsius", "spread_m2_per_l", "g_per_l", "g_per_m2", "g_per_ml", "kg_per_m3", "newtons", "price", "price_per_l",
    "price_per_m2", "minutes", "hours", "days",
]  # fmt: skip

METRIC_SIGNS: dict[Quantity, str] = {
    "number": "",
    "count": "",
    "percent": "%",
    "grams": "g",
    "millilitres": "mL",
    "litres": "L",
    "square_metres": "m²",
    "millimetres": "mm",
    "micrometres": "µm",
    "celsius": "°C",
    "spread_m2_per_l": "m²/L",
    "g_per_l": "g/L",
    "g_per_m2": "g/m²",
    "g_per_ml": "g/mL",
    "kg_per_m3": "kg/m³",
    "newtons": "N",
    "price": "",
    "price_per_l": "/L",
    "price_per_m2": "/m²",
    "minutes": "min",
    "hours": "h",
    "days": "d",
}

_BY_SIGN: dict[str, Quantity] = {sign: quantity for quantity, sign in METRIC_SIGNS.items() if sign}


@dataclass(frozen=True)
class Piece:
    """A part of a sentence: ``text`` as it stands there; of an amount what it is, and its metric value.

    ``is_bare`` is an amount without its sign, which a later one of the same quantity carries: the 3 of "3 to 15 mL".
    """

    text: str
    quantity: str | None = None
    value: float | None = None
    is_bare: bool = False


class Words(str):
    """A sentence that knows its pieces. What is made of it as of any text, by adding or formatting, is plain text."""

    pieces: tuple[Piece, ...] = ()


class Typed:
    """In a field's ``Annotated``: its text is shown in pieces."""


Prose = Annotated[str, Typed()]


def amount(quantity: Quantity, value: float, form: str = "", *, is_bare: bool = False) -> Piece:
    """An amount for a sentence, written by a format such as ``".0f"``, by default in at most six figures.

    Examples
    --------
    >>> amount("millimetres", 30_000).text, amount("celsius", 12.5).text, amount("millilitres", 3, is_bare=True).text
    ('30,000 mm', '12.5 °C', '3')
    """
    text = format(value, form) if form else _figure(value)
    sign = "" if is_bare else METRIC_SIGNS[quantity]
    words = f"{text} {sign}".rstrip()
    # What is no number in metric units is none in others.
    return Piece(words, quantity, value, is_bare) if math.isfinite(value) else Piece(words)


def in_unit(value: float, unit: str, *, is_bare: bool = False) -> Piece:
    """An amount in a unit by its sign; in one that is no quantity's, such as "grit", a piece of text."""
    quantity = _BY_SIGN.get(unit)
    if quantity is not None:
        return amount(quantity, value, is_bare=is_bare)
    return Piece(_figure(value) if is_bare else f"{_figure(value)} {unit}".rstrip())


def say(template: str, *things: object) -> Words:
    """A sentence: each ``{}`` of the template takes the next thing, an amount, a sentence or anything else as text.

    Examples
    --------
    >>> said = say("Panel {}: {} of {}.", "K7", amount("millilitres", 2, is_bare=True), amount("millilitres", 15))
    >>> said, [piece.quantity for piece in said.pieces]
    ('Panel K7: 2 of 15 mL.', [None, 'millilitres', None, 'millilitres', None])
    """
    left = iter(things)
    found: list[Piece] = []
    for text, field, form, conversion in Formatter().parse(template):
        found.append(Piece(text))
        if field is None:
            continue
        thing = next(left)
        if isinstance(thing, Piece):
            found.append(thing)
        elif isinstance(thing, Words):
            found += pieces_of(thing)
        else:
            found.append(Piece(format(repr(thing) if conversion == "r" else thing, form or "")))
    return _sentence(found)


def pieces_of(text: str) -> tuple[Piece, ...]:
    """The pieces of a sentence; a text that was not said in pieces is one."""
    return text.pieces if isinstance(text, Words) and text.pieces else (Piece(text),)


def _sentence(pieces: Iterable[Piece]) -> Words:
    merged: list[Piece] = []
    for piece in pieces:
        if piece.quantity is None and merged and merged[-1].quantity is None:
            merged[-1] = Piece(merged[-1].text + piece.text)
        elif piece.text:
            merged.append(piece)
    words = Words("".join(piece.text for piece in merged))
    words.pieces = tuple(merged)
    return words


def _figure(value: float) -> str:
    # From ten thousand on digits are hard to count.
    if abs(value) < 10_000 or not math.isfinite(value):
        return f"{value:g}"
    return f"{value:,.0f}" if value == int(value) else f"{value:,.6g}"
