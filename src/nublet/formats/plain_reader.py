"""Reading what JSON holds into the kinds that a specification has, with an error that names the place."""

from __future__ import annotations

import json
import math
from collections.abc import Mapping, Sequence
from typing import Any

from nublet.core.errors import NubletError


class PlainReader:
    """Reads values of one kind of file; every refusal is an ``error`` whose ``field`` is the value's dotted path."""

    def __init__(self, error: type[NubletError]) -> None:
        self.error = error

    def json(self, text: str) -> object:
        """What a JSON text holds."""
        try:
            return json.loads(text)
        except json.JSONDecodeError as error:
            raise self.error(
                f"This is not JSON: {error.msg} in line {error.lineno}, column {error.colno}."
            ) from error
        except RecursionError as error:
            raise self.error("This JSON is nested too deeply to be read.") from error

    def mapping(
        self, value: object, path: str, known: set[str], *, required: Sequence[str] = ()
    ) -> Mapping[str, Any]:
        """An object with known keys only, the required ones among them."""
        if not isinstance(value, Mapping):
            raise self.error(
                f"{path} is {shown(value)}; it is an object with {', '.join(sorted(known))}.", field=path
            )
        unknown = sorted(set(value) - known)
        if unknown:
            raise self.error(
                f"{path} has the unknown key {unknown[0]!r}. Known: {', '.join(sorted(known))}.", field=path
            )
        missing = [key for key in required if key not in value]
        if missing:
            raise self.error(f"{path} lacks {missing[0]!r}.", field=path)
        return value

    def items(self, value: object, path: str) -> list[Any]:
        """A list of whatever."""
        if not isinstance(value, list):
            raise self.error(f"{path} is {shown(value)}; it is a list.", field=path)
        return value

    def texts(self, value: object, path: str) -> list[str]:
        """A list of texts."""
        return [self.text(item, f"{path}.{index}") for index, item in enumerate(self.items(value, path))]

    def text(self, value: object, path: str) -> str:
        """A text that is not blank, stripped."""
        if not isinstance(value, str) or not value.strip():
            raise self.error(f"{path} is {shown(value)}; it is a text.", field=path)
        return value.strip()

    def number(self, value: object, path: str) -> float:
        """A finite number."""
        if isinstance(value, bool) or not isinstance(value, int | float) or not math.isfinite(value):
            raise self.error(f"{path} is {shown(value)}; it is a number.", field=path)
        return float(value)

    def measure(self, value: object, path: str) -> float | None:
        """A finite number, or none."""
        return None if value is None else self.number(value, path)

    def pair(self, value: object, path: str, of: str) -> tuple[float, float]:
        """A list of two numbers."""
        numbers = self.items(value, path)
        if len(numbers) != 2:
            raise self.error(f"{path} is {shown(value)}; it is a list of two: {of}.", field=path)
        return self.number(numbers[0], f"{path}.0"), self.number(numbers[1], f"{path}.1")

    def whole(self, value: object, path: str) -> int:
        """A whole number."""
        number = self.number(value, path)
        if number != int(number):
            raise self.error(f"{path} is {number:g}; it is a whole number.", field=path)
        return int(number)

    def flag(self, value: object, path: str) -> bool:
        """True or false."""
        if not isinstance(value, bool):
            raise self.error(f"{path} is {shown(value)}; it is true or false.", field=path)
        return value

    def choice(self, value: object, path: str, choices: Sequence[str]) -> Any:
        """One of the choices."""
        if value not in choices:
            raise self.error(f"{path} is {shown(value)}; choose one of: {', '.join(choices)}.", field=path)
        return value


def shown(value: object) -> str:
    """A value as JSON, shortened."""
    text = json.dumps(value, ensure_ascii=False, default=str)
    return text if len(text) <= 60 else f"{text[:57]}..."
