"""Cutting boards: as many panels as there can be, and the shortfall to the millimetre."""

from __future__ import annotations

from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nublet.core.design.areas import PanelSize
from nublet.core.design.cutting import Board, Defect, Saw, cut_board
from nublet.core.errors import DesignError

SIZE = PanelSize(length_mm=400, width_mm=150)
whole_defects = st.lists(
    st.tuples(st.integers(0, 40), st.integers(1, 12)).map(
        lambda d: Defect(from_mm=d[0] * 50.0, to_mm=(d[0] + d[1]) * 50.0)
    ),
    max_size=4,
)


def most_by_search(board: Board, length: int, kerf: int, trim: int) -> int:
    """The most panels of a lane, by trying every start on a grid of 10 mm (everything here is a multiple of it)."""
    assert board.length_mm is not None
    last = int(board.length_mm) - trim - length
    free = [
        start
        for start in range(trim, last + 1, 10)
        if all(start + length <= d.from_mm or start >= d.to_mm for d in board.defects)
    ]
    best: dict[int, int] = {}
    for start in reversed(free):
        after = [n for s, n in best.items() if s >= start + length + kerf]
        best[start] = 1 + max(after, default=0)
    return max(best.values(), default=0)


@settings(max_examples=150, deadline=None)
@given(
    length=st.integers(20, 250).map(lambda n: n * 10),
    defects=whole_defects,
    panel=st.sampled_from([100, 300, 400]),
    trim=st.sampled_from([0, 20, 50]),
)
def test_a_lane_gives_the_most_panels_that_it_can(
    length: int, defects: list[Defect], panel: int, trim: int
) -> None:
    board = Board(id="b", species="elm", length_mm=length, width_mm=150, defects=tuple(defects))
    size = PanelSize(length_mm=panel, width_mm=150)
    cut = cut_board(board, 40, size, Saw(kerf_mm=10, end_trim_mm=trim))
    assert cut.capacity == most_by_search(board, panel, 10, trim)
    assert len(cut.places) == cut.capacity


@settings(max_examples=80, deadline=None)
@given(length=st.floats(450, 4000), defects=whole_defects, n=st.integers(1, 9), width=st.floats(150, 700))
def test_the_shortfall_is_what_is_missing(length: float, defects: list[Defect], n: int, width: float) -> None:
    board = Board(id="b", species="elm", length_mm=length, width_mm=width, defects=tuple(defects))
    cut = cut_board(board, n, SIZE, Saw())
    assert (cut.capacity >= n) == (cut.short_mm == 0)
    if cut.short_mm:
        made_up = Board(
            id="b",
            species="elm",
            length_mm=length + cut.short_mm + 0.001,
            width_mm=width,
            defects=board.defects,
        )
        assert cut_board(made_up, n, SIZE, Saw()).capacity >= n
        still = Board(
            id="b",
            species="elm",
            length_mm=length + cut.short_mm - 0.01,
            width_mm=width,
            defects=board.defects,
        )
        assert cut_board(still, n, SIZE, Saw()).capacity < n


def test_each_place_lies_beside_the_one_before() -> None:
    board = Board(id="b", species="elm", length_mm=3000, width_mm=480)
    places = cut_board(board, 12, SIZE, Saw()).places
    for one, other in pairwise(places):
        steps = abs(one.row - other.row), abs(one.offset_mm - other.offset_mm)
        assert steps in ((1, 0), (0, 403))
    assert {place.row for place in places} == {0, 1, 2}


def test_a_board_not_measured_is_as_long_as_it_must_be() -> None:
    knot = Defect(from_mm=100, to_mm=150, kind="knot")
    cut = cut_board(Board(id="b", species="elm", defects=(knot,)), 3, SIZE, Saw())
    assert [place.offset_mm for place in cut.places] == [150, 553, 956]
    assert (cut.needed_mm, cut.capacity, cut.says) == (956 + 400 + 20, 3, "")


def test_a_narrow_board_says_how_much_is_missing() -> None:
    cut = cut_board(Board(id="b", species="elm", length_mm=3000, width_mm=137.5), 3, SIZE, Saw())
    assert (cut.capacity, cut.says) == (0, "Board 'b' is 13 mm too narrow for the panels.")


@pytest.mark.parametrize(
    ("board", "saw"),
    [
        (Board(id="b", species="elm", length_mm=0), Saw()),
        (Board(id="b", species="elm", width_mm=float("nan")), Saw()),
        (Board(id="b", species="elm", defects=(Defect(from_mm=-1, to_mm=3),)), Saw()),
        (Board(id="b", species="elm"), Saw(kerf_mm=-1)),
        (Board(id="b", species="elm"), Saw(end_trim_mm=1e9)),
    ],
)
def test_impossible_measures_are_refused(board: Board, saw: Saw) -> None:
    with pytest.raises(DesignError, match="cannot be"):
        cut_board(board, 2, SIZE, saw)
