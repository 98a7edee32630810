"""The line protocol: one line asks, one line answers, and a check at its end tells a damaged line from a whole one.

    READ
    balance g=412.31 stable=yes *58

A line is printable ASCII and ends with a line feed. An answer is the kind of instrument, fields as ``name=value``, and
``*`` with the two hexadecimal digits of the exclusive or of all bytes before the star. A refusal begins with ``!``, a
word and a sentence. Runs on a bare Python, for the simulated instruments run in the launcher.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import reduce
from operator import xor

from nublet.core.bench.measures import MEASURES

READ, WHO, ZERO, PUT = "READ", "WHO", "ZERO", "PUT"
MAX_LINE = 200


@dataclass(frozen=True, kw_only=True)
class Quantity:
    """A number that an instrument gives: its unit, and the range outside which it is a fault and no reading."""

    unit: str
    low: float
    high: float


@dataclass(frozen=True, kw_only=True)
class InstrumentKind:
    """A kind of instrument: its name on the line and in words, and its quantities by their names on the line."""

    id: str
    name: str
    quantities: Mapping[str, Quantity] = field(default_factory=dict)


def _as_at_the_bench(name: str) -> Quantity:
    measure = MEASURES[name]
    return Quantity(unit=measure.unit, low=measure.low, high=measure.high)


KINDS: dict[str, InstrumentKind] = {
    kind.id: kind
    for kind in (
        # A balance's pan may be a little off.
        InstrumentKind(
            id="balance", name="balance", quantities={"g": replace(_as_at_the_bench("weight_g"), low=-50)}
        ),
        InstrumentKind(
            id="climate",
            name="thermo-hygrometer",
            quantities={"c": _as_at_the_bench("temperature_c"), "rh": _as_at_the_bench("humidity_pct")},
        ),
        InstrumentKind(id="block", name="block thermometer", quantities={"c": _as_at_the_bench("block_c")}),
        InstrumentKind(
            id="colour",
            name="colour meter",
            quantities={
                "l": Quantity(unit="L*", low=0, high=100),
                "a": Quantity(unit="a*", low=-128, high=128),
                "b": Quantity(unit="b*", low=-128, high=128),
            },
        ),
        InstrumentKind(
            id="gloss",
            name="gloss meter",
            quantities={f"g{angle}": Quantity(unit="GU", low=0, high=2000) for angle in (20, 60, 85)},
        ),
        InstrumentKind(id="scanner", name="code scanner"),
    )
}


@dataclass(frozen=True, kw_only=True)
class Answer:
    """A line that was read whole: the kind that answered and its fields; for a refusal ``refused`` has its sentence."""

    kind: str = ""
    fields: Mapping[str, str] = field(default_factory=dict)
    refused: str = ""


class DamagedLineError(ValueError):
    """The line is not what was sent."""


def check_of(text: str) -> str:
    """Two hexadecimal digits over the bytes of a text.

    Examples
    --------
    >>> check_of("balance g=412.31 stable=yes ")
    '58'
    """
    return f"{reduce(xor, text.encode('ascii'), 0):02X}"


def write_answer(kind: str, fields: Mapping[str, object]) -> str:
    """An answer as a line, without its line feed."""
    body = " ".join([kind, *(f"{name}={value}" for name, value in fields.items())]) + " "
    return f"{body}*{check_of(body)}"


def write_refusal(code: str, says: str) -> str:
    """A refusal as a line, without its line feed."""
    body = f"! {code} {says} "
    return f"{body}*{check_of(body)}"


def read_answer(line: bytes) -> Answer:
    """Read an answer.

    Raises
    ------
    DamagedLineError
        If it is not ASCII, its check is missing or does not agree, or a field is no field.
    """
    try:
        text = line.decode("ascii").rstrip("\r\n")
    except UnicodeDecodeError as error:
        raise DamagedLineError("not ASCII") from error
    body, star, check = text.rpartition("*")
    if not star or check_of(body) != check:
        raise DamagedLineError("the check does not agree")
    words = body.split()
    if not words:
        raise DamagedLineError("an empty line")
    if words[0] == "!":
        return Answer(refused=" ".join(words[2:]) or "it gave no reason")
    fields = dict(word.partition("=")[::2] for word in words[1:])
    return Answer(kind=words[0], fields=fields)


def read_quantities(kind: InstrumentKind, fields: Mapping[str, str]) -> dict[str, float]:
    """The numbers of an answer.

    Raises
    ------
    ValueError
        If one is missing, no number, or outside its range; the message says which.
    """
    values: dict[str, float] = {}
    for name, quantity in kind.quantities.items():
        try:
            value = float(fields[name])
        except KeyError as error:
            raise ValueError(f"it gave no {name}") from error
        except ValueError as error:
            raise ValueError(f"it gave {fields[name]!r} for {name}") from error
        if not (math.isfinite(value) and quantity.low <= value <= quantity.high):
            raise ValueError(
                f"it gave {value:g} {quantity.unit}, outside {quantity.low:g} to {quantity.high:g}"
            )
        values[name] = value
    return values
