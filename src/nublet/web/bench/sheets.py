"""The plan to take along: a calendar, and the days on paper. Both name products, and are for keepers' hands."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from zoneinfo import ZoneInfo

from django.utils.text import slugify
from django_tasks import TaskContext, task

from nublet.core.errors import PlanError
from nublet.core.planning.plan import Operation, Plan
from nublet.formats.calendar_ics import plan_to_calendar
from nublet.formats.sheets.day_sheet import day_pages, plan_pages
from nublet.formats.sheets.page import Page, paper_named
from nublet.formats.sheets.writing import write_pdf
from nublet.web.bench import clock
from nublet.web.bench.adapters import log_of, to_plan
from nublet.web.bench.bench_actions import bench_of
from nublet.web.bench.far import far_looks_of
from nublet.web.bench.models import PlannedOperation
from nublet.web.bench.selectors import operations_of
from nublet.web.bench.words import say_work
from nublet.web.jobs.actions import PAPERS, Made, Tell, ask_for, run_job
from nublet.web.jobs.models import Job
from nublet.web.people.models import Person
from nublet.web.trials.models import Trial
from nublet.web.trials.selectors import find_trial


def calendar_of(trial: Trial) -> bytes:
    """The standing plan's operations as iCalendar. Raises ``PlanError`` while there is none."""
    plan, rows, names = operations_of(trial)
    zone = ZoneInfo(bench_of(trial.shop).time_zone)
    dates = [
        (
            far.aim_at.astimezone(zone).date(),
            f"Look at {names.tests[far.test]}, {far.look.name}: {', '.join(far.panels)}",
        )
        for far in ([] if plan is None else far_looks_of(trial, log_of(plan), rows))
    ]
    return plan_to_calendar(_plan(trial), name=trial.name, made_at=clock.now(), say=_say, dates=dates)


def ask_for_day_sheet(actor: Person, trial_id: int, *, day: date | None, paper: str) -> Job:
    """Ask for one day on paper, or all. Raises ``Http404``, and ``PlanError`` when there is nothing to print."""
    trial = find_trial(actor, trial_id)
    _day_pages(trial, day, paper)
    return ask_for(
        actor,
        says=f"Bench days of {trial.name}",
        wants={"trial": trial.pk, "day": None if day is None else day.isoformat(), "paper": paper},
        enqueue=make_day_sheet.enqueue,
    )


@task(queue_name=PAPERS, takes_context=True)
def make_day_sheet(context: TaskContext, job_id: int) -> None:
    """Draw what a job wants."""
    run_job(job_id, _make, attempt=context.attempt)


def _make(job: Job, tell: Tell) -> Made:
    trial = find_trial(job.asked_by, job.wants["trial"])
    day = None if job.wants["day"] is None else date.fromisoformat(job.wants["day"])
    pages = _day_pages(trial, day, job.wants["paper"])
    tell(0, len(pages))
    content = write_pdf(pages, title=f"Bench days: {trial.name}", tell=tell)
    name = f"{slugify(trial.name) or 'trial'}-{day or 'days'}.pdf"
    return Made(name=name, media="application/pdf", content=content)


def _day_pages(trial: Trial, day: date | None, paper: str) -> Sequence[Page]:
    plan = _plan(trial)
    size = paper_named(paper)
    pages = (
        plan_pages(plan, size, trial=trial.name, say=_say)
        if day is None
        else day_pages(plan, day, size, trial=trial.name, say=_say)
    )
    if not pages:
        raise PlanError("There is no work on this day. Choose another.", field="day")
    return pages


def _plan(trial: Trial) -> Plan:
    plan, rows, names = operations_of(trial)
    if plan is None:
        raise PlanError("There is no plan yet. Make one under Coat and cure.")

    def say_item(row: PlannedOperation) -> str:
        return say_work(row.kind, row.item, row.look_after_min, row.nth, names, act=row.act)

    return to_plan(plan, rows, say_item)


def _say(operation: Operation) -> str:
    """The work and its panels; the item says it all by now."""
    return f"{operation.item}: {', '.join(panel.panel for panel in operation.panels)}"
