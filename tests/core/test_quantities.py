"""Sentences that keep their amounts."""

from __future__ import annotations

import copy
import json
import pickle
import re
from pathlib import Path
from typing import get_args

import pytest

from nublet.core.design.cutting import Board, Saw, check_board, check_saw
from nublet.core.errors import NubletError
from nublet.core.quantities import METRIC_SIGNS, Piece, Quantity, Words, amount, in_unit, pieces_of, say

SOURCE = Path(__file__).parents[2] / "src" / "nublet"
MM = amount("millimetres", 15)


def test_a_sentence_is_its_metric_text_and_its_pieces() -> None:
    said = say("Board {!r}: {} to {} of {}.", "B1", amount("millimetres", 1, is_bare=True), MM, 3)
    assert said == "Board 'B1': 1 to 15 mm of 3."
    assert said.pieces == (
        Piece("Board 'B1': "),
        Piece("1", "millimetres", 1, True),
        Piece(" to "),
        Piece("15 mm", "millimetres", 15),
        Piece(" of 3."),
    )
    assert json.dumps({"says": said}) == """{"says": "Board 'B1': 1 to 15 mm of 3."}"""


def test_sentences_go_into_sentences_and_formats_hold() -> None:
    inner = say("{} wide", MM)
    outer = say("{}; {:.1f} more; {}", inner, 2, "plain")
    assert outer == "15 mm wide; 2.0 more; plain"
    assert outer.pieces == (Piece("15 mm", "millimetres", 15), Piece(" wide; 2.0 more; plain"))
    assert say("").pieces == ()
    assert say("{}", "{braces}") == "{braces}"


def test_pieces_outlive_copies_and_plain_text_is_one() -> None:
    said = say("{} apart", MM)
    for twin in (copy.deepcopy(said), pickle.loads(pickle.dumps(said))):
        assert twin == said
        assert twin.pieces == said.pieces
    assert pieces_of("text") == (Piece("text"),)
    assert pieces_of(Words("text")) == (Piece("text"),)
    assert pieces_of(said.upper()) == (Piece("15 MM APART"),)


@pytest.mark.parametrize(
    ("value", "text"),
    [(0, "0"), (12.5, "12.5"), (1 / 3, "0.333333"), (9999, "9999"), (30_000, "30,000"), (-40, "-40"), (1_000_000, "1,000,000")],
)  # fmt: skip
def test_figures_read_well(value: float, text: str) -> None:
    assert amount("millimetres", value).text == f"{text} mm"
    assert amount("number", value).text == text


def test_what_is_no_number_is_text() -> None:
    assert amount("millimetres", float("nan")) == Piece("nan mm")
    assert in_unit(float("inf"), "g") == Piece("inf g")


def test_units_that_are_no_quantity_are_text() -> None:
    assert in_unit(20, "°C") == Piece("20 °C", "celsius", 20)
    assert in_unit(3, "m²/L", is_bare=True) == Piece("3", "spread_m2_per_l", 3, True)
    assert in_unit(180, "grit") == Piece("180 grit")
    assert in_unit(180, "grit", is_bare=True) == Piece("180")
    assert set(METRIC_SIGNS) == set(get_args(Quantity))


def test_refusals_keep_their_amounts() -> None:
    with pytest.raises(NubletError, match=r"Give 0 to 30 mm\.") as refused:
        check_saw(Saw(kerf_mm=31))
    assert [p.value for p in pieces_of(refused.value.message) if p.quantity] == [31, 0, 30]
    with pytest.raises(NubletError, match=r"'B1': 31,000 mm long cannot be. Give 1 to 30,000 mm\."):
        check_board(Board(id="B1", species="beech", length_mm=31_000))


def test_no_sentence_writes_an_amount_as_plain_text() -> None:
    """What is written into a text with its sign would not show in another unit: ``say`` and ``amount`` do it."""
    signs = sorted(
        (sign for sign in METRIC_SIGNS.values() if sign and sign not in ("%", "min", "h", "d")), key=len
    )
    named = r"\}\s?\{[\w.]*(unit|sign)\}"
    plain = re.compile(r"\}\s?(" + "|".join(map(re.escape, reversed(signs))) + r")(?![\w/²³])|" + named)
    found = [
        f"{path.relative_to(SOURCE)}:{number}"
        for room in ("core", "web")
        for path in (SOURCE / room).rglob("*.py")
        for number, line in enumerate(path.read_text().splitlines(), start=1)
        # What writes amounts has its own file; durations are words in every unit.
        if path.name != "quantities.py" and "// size" not in line and plain.search(line)
    ]
    assert found == []
