"""A day's work on paper."""

from __future__ import annotations

import io
import re
from datetime import date

import pdfplumber
import pytest

from nublet.formats.sheets.day_sheet import day_pages, days_of, plan_pages
from nublet.formats.sheets.page import PAPERS
from nublet.formats.sheets.writing import write_pdf
from tests.core.plan_specs import large_spec
from tests.core.test_planning import SMALL
from tests.formats.test_calendar_ics import planned

MONDAY = date(2027, 3, 1)


def test_each_operation_of_the_day_stands_on_its_sheet_in_order() -> None:
    plan = planned(SMALL)
    assert days_of(plan) == [MONDAY, date(2027, 3, 2), date(2027, 3, 9)]
    pdf = write_pdf(day_pages(plan, MONDAY, PAPERS["a4"], trial="Saloon tables"), title="Monday")
    with pdfplumber.open(io.BytesIO(pdf)) as read:
        assert len(read.pages) == 1
        text = read.pages[0].extract_text()
    assert text.startswith("person 1, Monday 01 March 2027")
    assert re.findall(r"^\d\d:\d\d:\d\d (?:Coat|Wipe)", text, re.M) == [
        "09:00:00 Coat", "09:06:00 Wipe", "09:10:00 Coat", "09:16:00 Wipe",
    ]  # fmt: skip
    assert "CoatA1:A-1,A-2,A-3,A-4" in text.replace(" ", "")


@pytest.mark.parametrize("paper", ["a4", "letter"])
def test_a_full_day_runs_over_pages_and_loses_nothing(paper: str) -> None:
    plan = planned(large_spec(n_groups=4, n_panels=8, n_exposures=6))
    day = max(days_of(plan), key=lambda d: len(day_pages(plan, d, PAPERS["a4"], trial="")))
    sheet = PAPERS[paper]  # type: ignore[index]
    pages = day_pages(plan, day, sheet, trial="Saloon tables")
    assert len(pages) > 1
    begun = sum(len(re.findall(r">\d\d:\d\d:\d\d<", page.svg())) for page in pages)
    all_begun = sum(
        len(re.findall(r">\d\d:\d\d:\d\d<", page.svg())) for page in plan_pages(plan, sheet, trial="")
    )
    assert 0 < begun < all_begun == len(plan.operations)
    heights = [float(y) for page in pages for y in re.findall(r' y="([\d.]+)"', page.svg())]
    assert max(heights) < sheet.height_mm


def test_everyone_has_their_own_pages() -> None:
    groups = [SMALL["groups"][0], SMALL["groups"][0] | {"id": "B"}]
    plan = planned(SMALL | {"people": [{"name": "Nell"}, {"name": "Tobias"}], "groups": groups})
    headings = [
        re.findall(r">(\w+), Monday", page.svg())[0]
        for page in day_pages(plan, MONDAY, PAPERS["a4"], trial="")
    ]
    assert headings == ["Nell", "Tobias"]


def test_a_day_without_work_has_no_sheet() -> None:
    assert day_pages(planned(SMALL), date(2027, 3, 6), PAPERS["a4"], trial="") == []
