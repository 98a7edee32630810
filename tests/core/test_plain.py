"""Dataclasses to plain values and back."""

from __future__ import annotations

import json
from dataclasses import dataclass, field, replace
from datetime import date, datetime
from typing import Annotated, Any, Literal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nublet.core.errors import BuildUpError, ShelfError
from nublet.core.plain import Longest, Span, as_plain, check_fields, from_plain, read_number, words_of

Kind = Literal["clip", "screw"]


@dataclass(frozen=True, kw_only=True)
class Lid:
    kind: Kind
    turns: Annotated[int, Span(0, 9, "turns")] = 1


@dataclass(frozen=True, kw_only=True)
class Jar:
    name: Annotated[str, Longest(20)]
    size_ml: float
    is_clean: bool = True
    note: str = ""
    best_c: Annotated[float | None, Span(-5, 40, "°C")] = None
    kept_c: tuple[float | None, float | None] = (None, None)
    marks: tuple[str, ...] = field(default_factory=tuple)
    fills_ml: Annotated[tuple[float, ...], Span(0, 500, "mL")] = ()
    lids: tuple[Lid, ...] = ()
    spare: Lid | None = None
    colours: frozenset[Literal["blue", "green"]] = frozenset()
    filled_on: date | None = None
    seen_at: datetime | None = None


FULL: dict[str, Any] = {
    "name": "Honey",
    "size_ml": 250.0,
    "is_clean": False,
    "note": "thick",
    "best_c": 18.0,
    "kept_c": [None, 20.0],
    "marks": ["a", "b"],
    "fills_ml": [1.0, 2.5],
    "lids": [{"kind": "clip", "turns": 0}, {"kind": "screw", "turns": 3}],
    "spare": {"kind": "clip", "turns": 1},
    "colours": ["blue", "green"],
    "filled_on": "2027-03-01",
    "seen_at": "2027-03-01T09:00:00+00:00",
}
LIDS = st.builds(Lid, kind=st.sampled_from(["clip", "screw"]), turns=st.integers(0, 9))
NUMBERS = st.floats(allow_nan=False, allow_infinity=False)
TEXTS = st.text().map(str.strip)


@given(
    st.builds(
        Jar,
        name=TEXTS,
        size_ml=NUMBERS,
        best_c=st.none() | NUMBERS,
        kept_c=st.tuples(st.none() | NUMBERS, st.none() | NUMBERS),
        marks=st.lists(TEXTS).map(tuple),
        lids=st.lists(LIDS).map(tuple),
        spare=st.none() | LIDS,
        colours=st.frozensets(st.sampled_from(["blue", "green"])),
        filled_on=st.none() | st.dates(),
        seen_at=st.none() | st.datetimes(),
    )
)
def test_whatever_it_holds_comes_back(jar: Jar) -> None:
    assert from_plain(Jar, json.loads(json.dumps(as_plain(jar)))) == jar


def test_plain_values_are_read_each_as_its_kind_and_written_alike() -> None:
    jar = from_plain(Jar, {**FULL, "name": "  Honey ", "size_ml": 250})
    assert jar.lids == (Lid(kind="clip", turns=0), Lid(kind="screw", turns=3))
    assert isinstance(jar.size_ml, float)
    assert jar.colours == frozenset({"blue", "green"})
    assert (jar.filled_on, jar.kept_c) == (date(2027, 3, 1), (None, 20.0))
    assert as_plain(jar) == FULL
    assert "name" not in as_plain(jar, leave=("name",))


def test_what_is_missing_or_none_has_its_default_and_none_is_a_value_where_it_may_be_one() -> None:
    jar = from_plain(Jar, {"name": "Honey", "size_ml": 1, "note": None, "lids": None})
    assert jar == Jar(name="Honey", size_ml=1)

    @dataclass(frozen=True)
    class Shelf:
        row: int | None = 3

    assert from_plain(Shelf, {"row": None}).row is None
    assert from_plain(Shelf, {}).row == 3
    assert from_plain(Jar, {"size_ml": 1, "name": 7}, given={"name": "Jam"}).name == "Jam"


@pytest.mark.parametrize(
    ("change", "path", "says"),
    [
        ({"size_ml": None}, "jar.size_ml", "is missing"),
        ({"size_ml": "250"}, "jar.size_ml", "it is a number"),
        ({"size_ml": float("inf")}, "jar.size_ml", "it is a number"),
        ({"size_ml": True}, "jar.size_ml", "it is a number"),
        ({"is_clean": 1}, "jar.is_clean", "true or false"),
        ({"note": 3}, "jar.note", "it is a text"),
        ({"colour": "red"}, "jar.colour", "Known: jar.name, jar.size_ml"),
        ({"lids": "clip"}, "jar.lids", "it is a list"),
        ({"lids": [7]}, "jar.lids.0", "named fields"),
        ({"lids": [{"kind": "clip"}, {"kind": "zip"}]}, "jar.lids.1.kind", "Choose one of: clip, screw"),
        ({"lids": [{"kind": "clip", "turns": 1.5}]}, "jar.lids.0.turns", "whole number"),
        ({"spare": {"turns": 1}}, "jar.spare.kind", "is missing"),
        ({"colours": ["red"]}, "jar.colours", "Choose one of: blue, green"),
        ({"kept_c": [1]}, "jar.kept_c", "it has 2"),
        ({"fills_ml": ["x"]}, "jar.fills_ml", "it is a number"),
        ({"filled_on": "1 March"}, "jar.filled_on", "2027-03-01"),
        ({"seen_at": "soon"}, "jar.seen_at", "2027-03-01T09:00"),
    ],
)
def test_what_is_not(change: dict[str, object], path: str, says: str) -> None:
    with pytest.raises(BuildUpError) as refused:
        from_plain(Jar, {**FULL, **change}, at="jar", error=BuildUpError)
    assert refused.value.field == path
    assert says in refused.value.message


@pytest.mark.parametrize(
    ("change", "path", "says"),
    [
        ({"best_c": 41}, "jar.best_c", "-5 to 40 °C"),
        ({"best_c": float("nan")}, "jar.best_c", "-5 to 40 °C"),
        ({"fills_ml": (1.0, 501.0)}, "jar.fills_ml", "501 mL"),
        ({"name": "x" * 21}, "jar.name", "20 fit"),
        ({"note": "x" * 4001}, "jar.note", "4000 fit"),
        ({"spare": Lid(kind="clip", turns=10)}, "jar.spare.turns", "0 to 9 turns"),
        ({"lids": (Lid(kind="clip"), Lid(kind="clip", turns=-1))}, "jar.lids.1.turns", "0 to 9 turns"),
        ({"colours": frozenset({"red"})}, "jar.colours", "not a choice"),
        ({"lids": (Lid(kind="zip"),)}, "jar.lids.0.kind", "not a choice"),  # type: ignore[arg-type]
    ],
)
def test_what_cannot_be(change: dict[str, Any], path: str, says: str) -> None:
    jar = from_plain(Jar, FULL)
    check_fields(jar)
    with pytest.raises(ShelfError) as refused:
        check_fields(replace(jar, **change), "jar.")
    assert refused.value.field == path
    assert says in refused.value.message


def test_words_and_numbers() -> None:
    assert words_of("label.pot_life_min") == "label pot life min"
    assert read_number(3, "x") == 3.0
    with pytest.raises(ShelfError, match="x y is nan"):
        read_number(float("nan"), "x_y")
