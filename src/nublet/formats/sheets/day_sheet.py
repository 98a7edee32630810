"""A day's work on paper: for each pair of hands the operations in order, a box to tick and room for what really happened."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from datetime import date, datetime

from nublet.core.planning.calendar import moment_at
from nublet.core.planning.plan import Operation, Plan
from nublet.formats.calendar_ics import say_operation
from nublet.formats.sheets.lettering import shorten, wrap
from nublet.formats.sheets.page import (
    CONTENT_TOP_MM,
    EDGE_MM,
    FAINT,
    Page,
    Paper,
    content_height,
    number_pages,
    start_page,
)

_TIME_MM, _BOX_MM, _DONE_MM = 19.0, 4.0, 30.0
_LINE_MM, _GAP_MM = 4.4, 2.6


def days_of(plan: Plan) -> list[date]:
    """The days with work in them, in order."""
    return sorted({_begins(plan, operation).date() for operation in plan.operations})


def day_pages(
    plan: Plan, day: date, paper: Paper, *, trial: str, say: Callable[[Operation], str] = say_operation
) -> list[Page]:
    """The pages of one day, a person's work never beginning on another's page. Empty when there is no work."""
    pages: list[Page] = []
    for number, person in enumerate(plan.spec.people):
        own = [o for o in plan.operations if o.person == number and _begins(plan, o).date() == day]
        if own:
            title = f"{person.name}, {day:%A %d %B %Y}"
            pages += _pages(plan, own, paper, title=title, trial=trial, say=say)
    return number_pages(pages, fingerprint="")


def plan_pages(
    plan: Plan, paper: Paper, *, trial: str, say: Callable[[Operation], str] = say_operation
) -> list[Page]:
    """The pages of all days."""
    return [page for day in days_of(plan) for page in day_pages(plan, day, paper, trial=trial, say=say)]


def _pages(
    plan: Plan,
    operations: list[Operation],
    paper: Paper,
    *,
    title: str,
    trial: str,
    say: Callable[[Operation], str],
) -> Iterator[Page]:
    words_mm = paper.width_mm - 2 * EDGE_MM - _TIME_MM - _BOX_MM - 3 - _DONE_MM
    bottom = CONTENT_TOP_MM + content_height(paper)
    page, y = _begin(paper, title, trial)
    for operation in operations:
        lines = wrap(say(operation), 3.4, words_mm)
        height = len(lines) * _LINE_MM + _GAP_MM
        if y + height > bottom:
            yield page
            page, y = _begin(paper, title, trial)
        begins = _begins(plan, operation)
        page.line(EDGE_MM, y - 1, paper.width_mm - EDGE_MM, y - 1, width=0.1, ink=FAINT)
        page.text(EDGE_MM, y + 3.4, f"{begins:%H:%M:%S}", size=3.6, weight=700)
        page.rect(EDGE_MM + _TIME_MM, y + 0.2, _BOX_MM, _BOX_MM)
        for number, line in enumerate(lines):
            page.text(EDGE_MM + _TIME_MM + _BOX_MM + 3, y + 3.4 + number * _LINE_MM, line, size=3.4)
        right = paper.width_mm - EDGE_MM
        page.line(right - _DONE_MM + 2, y + 4, right, y + 4, width=0.15)
        y += height
    yield page


def _begin(paper: Paper, title: str, trial: str) -> tuple[Page, float]:
    page = start_page(
        paper, title=shorten(title, 5, paper.width_mm - 2 * EDGE_MM - 50), trial=shorten(trial, 3.6, 48)
    )
    y = CONTENT_TOP_MM
    page.text(EDGE_MM, y + 3, "Begin", size=3, ink=FAINT)
    page.text(EDGE_MM + _TIME_MM, y + 3, "Done", size=3, ink=FAINT)
    page.text(paper.width_mm - EDGE_MM - _DONE_MM + 2, y + 3, "When, and remarks", size=3, ink=FAINT)
    return page, y + 6.5


def _begins(plan: Plan, operation: Operation) -> datetime:
    return moment_at(plan.spec.start, operation.start_s)
