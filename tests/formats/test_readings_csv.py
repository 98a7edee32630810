"""CSV in and out: there and back, and every way that a file can be wrong."""

from __future__ import annotations

import dataclasses
import io

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nublet.core.errors import ReadingsError
from nublet.core.evidence.levels import factor_levels
from nublet.core.evidence.readings import Reading
from nublet.formats.readings_csv import read_readings, write_readings

HEADER = "test,system,board,panel,grade"
words = st.text(
    st.characters(exclude_categories=("Cc", "Cs", "Zl", "Zp"), exclude_characters="\x85\xa0"), min_size=1, max_size=12
).map(str.strip).filter(bool)  # fmt: skip


def read(text: str, *, ignore_extra: bool = False) -> list[Reading]:
    return read_readings(io.StringIO(text, newline=""), ignore_extra=ignore_extra)


@settings(max_examples=150)
@given(
    st.lists(
        st.builds(
            Reading,
            test=words,
            system=words,
            board=words,
            panel=words,
            grade=st.none() | st.integers(4, 20).map(lambda quarter: quarter / 4),
            species=st.none() | words,
            section=st.none() | words,
            judge=st.none() | words,
            look=st.none() | words,
        ),
        max_size=8,
    ),
    st.lists(words, max_size=3, unique_by=str.strip),
    st.data(),
)
def test_there_and_back(readings: list[Reading], factors: list[str], data: st.DataObject) -> None:
    readings = [
        dataclasses.replace(row, levels=tuple((factor, data.draw(st.just("") | words)) for factor in factors))
        for row in readings
    ]
    back = read(write_readings(readings))
    assert [dataclasses.replace(r, row=None) for r in back] == readings


def test_a_build_up_has_one_level_of_each_factor() -> None:
    text = f"{HEADER},Factor: Top layer\nwater,A,b1,p1,3,wax\nwater,B,b1,p2,3,\nwater,A,b2,p3,3,none\n"
    (first, second, third) = read(text)
    assert (first.levels, second.levels) == ((("Top layer", "wax"),), (("Top layer", ""),))
    with pytest.raises(
        ReadingsError, match="line 4: build-up 'A' has Top layer 'none' here but 'wax' at line 2"
    ) as refused:
        factor_levels([first, second, third])
    assert refused.value.field == "factor:Top layer"
    (found,) = factor_levels([first, second])
    assert (found.levels, [each.system for each in found.systems]) == (("wax",), ["A"])


def test_a_name_that_a_spreadsheet_would_run_is_guarded() -> None:
    written = write_readings([Reading(test="t", system="=1+1", board="b", panel="p", grade=3)])
    assert ",'=1+1," in written
    assert read(written)[0].system == "=1+1"


def test_columns_in_any_order_blank_lines_and_spaces() -> None:
    found = read("Grade, panel,board,system,TEST\n\n 4.5 ,p1,b1,A,water\n,p2,b1,B,water\n")
    assert [(r.panel, r.grade, r.row) for r in found] == [("p1", 4.5, 3), ("p2", None, 4)]


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "The file is empty"),
        ("test,system\n", "columns board, panel, grade are missing"),
        (f"{HEADER},colour,mood\n", "unknown columns 'colour', 'mood'"),
        (f"{HEADER},grade\n", "columns grade stand twice"),
        (f"{HEADER},factor:Top,Factor: Top\n", "columns factor:Top stand twice"),
        (f"{HEADER},factor: \n", "names no factor"),
        (f"{HEADER}\nwater,A,b1,p1,good\n", "line 2, column grade: 'good' is not a number"),
        (f"{HEADER}\nwater,A,b1,p1,inf\n", "line 2, column grade: 'inf' is not a number"),
        (f"{HEADER}\nwater,A,,p1,3\n", "line 2, column board: blank"),
        (f"{HEADER}\nwater,A,b1\n", "line 2: 3 cells, the header has 5"),
        (f'{HEADER}\n"water,A,b1,p1,3\n', "not readable as CSV"),
    ],
)
def test_broken_files_say_what_where_and_what_to_do(text: str, says: str) -> None:
    with pytest.raises(ReadingsError) as refused:
        read(text)
    assert says in refused.value.message


def test_extra_columns_may_be_left_out() -> None:
    assert len(read(f"{HEADER},colour\nwater,A,b1,p1,3,red\n", ignore_extra=True)) == 1


def test_only_the_first_twenty_problems_are_listed() -> None:
    with pytest.raises(ReadingsError) as refused:
        read(HEADER + "\n" + "water,A,b1,p1,bad\n" * 30)
    assert refused.value.message.startswith("30 rows")
    assert refused.value.message.count("\n") == 21
    assert "and 10 more" in refused.value.message
