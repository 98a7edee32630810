"""Plain mappings to the fields of a dataclass."""

from __future__ import annotations

from dataclasses import dataclass, field

import pytest

from nublet.core.errors import ShelfError
from nublet.core.plain import read_fields, read_number, words_of


@dataclass(frozen=True, kw_only=True)
class Jar:
    name: str
    size_ml: float
    lid: bool = True
    note: str = ""
    best_c: float | None = None
    marks: tuple[str, ...] = field(default_factory=tuple)


def test_values_are_of_their_kind() -> None:
    plain = {"name": "  Honey ", "size_ml": 250, "lid": False, "best_c": 18, "note": None}
    values = read_fields(Jar, plain, skip={"marks"})
    assert values == {"name": "Honey", "size_ml": 250.0, "lid": False, "best_c": 18.0}
    assert isinstance(values["size_ml"], float)
    assert Jar(**values).note == ""


@pytest.mark.parametrize(
    ("change", "path", "says"),
    [
        ({"size_ml": None}, "jar.size_ml", "is missing"),
        ({"size_ml": "250"}, "jar.size_ml", "it is a number"),
        ({"size_ml": float("inf")}, "jar.size_ml", "it is a number"),
        ({"size_ml": True}, "jar.size_ml", "it is a number"),
        ({"lid": 1}, "jar.lid", "true or false"),
        ({"note": 3}, "jar.note", "it is a text"),
        ({"colour": "red"}, "jar.colour", "Known: jar.name, jar.size_ml"),
    ],
)
def test_what_is_not(change: dict[str, object], path: str, says: str) -> None:
    with pytest.raises(ShelfError) as refused:
        read_fields(Jar, {"name": "Honey", "size_ml": 250, **change}, prefix="jar.", skip={"marks"})
    assert refused.value.field == path
    assert says in refused.value.message


def test_words_and_numbers() -> None:
    assert words_of("label.pot_life_min") == "label pot life min"
    assert read_number(3, "x") == 3.0
    with pytest.raises(ShelfError, match="x y is nan"):
        read_number(float("nan"), "x_y")
