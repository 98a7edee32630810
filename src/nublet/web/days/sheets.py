"""The plan to take along: a calendar, and the days on paper. Both name products, and are for keepers' hands."""

from __future__ import annotations

from datetime import date

from nublet.core.errors import PlanError
from nublet.core.planning.plan import Operation, Plan
from nublet.formats.calendar_ics import plan_to_calendar
from nublet.formats.sheets.day_sheet import day_pages, plan_pages
from nublet.formats.sheets.page import paper_named
from nublet.formats.sheets.writing import write_pdf
from nublet.web.days import clock
from nublet.web.days.adapters import to_plan
from nublet.web.days.models import PlannedOperation
from nublet.web.days.selectors import operations_of
from nublet.web.days.words import say_work
from nublet.web.trials.models import Trial


def calendar_of(trial: Trial) -> bytes:
    """The standing plan's operations as iCalendar. Raises ``PlanError`` while there is none."""
    return plan_to_calendar(_plan(trial), name=trial.name, made_at=clock.now(), say=_say)


def days_pdf(trial: Trial, *, day: date | None, paper: str) -> bytes:
    """One day on paper, or all. Raises ``PlanError`` when there is nothing to print."""
    plan = _plan(trial)
    size = paper_named(paper)
    pages = (
        plan_pages(plan, size, trial=trial.name, say=_say)
        if day is None
        else day_pages(plan, day, size, trial=trial.name, say=_say)
    )
    if not pages:
        raise PlanError("There is no work on this day. Choose another.", field="day")
    return write_pdf(pages, title=f"Bench days: {trial.name}")


def _plan(trial: Trial) -> Plan:
    plan, rows, names = operations_of(trial)
    if plan is None:
        raise PlanError("There is no plan yet. Make one under Coat and cure.")

    def say_item(row: PlannedOperation) -> str:
        return say_work(row.kind, row.item, row.look_after_min, row.nth, names)

    return to_plan(plan, rows, say_item)


def _say(operation: Operation) -> str:
    """The work and its panels; the item says it all by now."""
    return f"{operation.item}: {', '.join(panel.panel for panel in operation.panels)}"
