"""A trial's sheets as files, drawn by the worker for papers."""

from __future__ import annotations

from django.utils.text import slugify
from django_tasks import TaskContext, task

from nublet.formats.sheets.kinds import SHEET_KINDS, draw_sheets
from nublet.formats.sheets.page import paper_named
from nublet.formats.sheets.writing import write_pdf, zip_svgs
from nublet.web.designs.sheets import sheets_of
from nublet.web.jobs.actions import PAPERS, Made, Tell, ask_for, run_job
from nublet.web.jobs.models import Job
from nublet.web.people.models import Person
from nublet.web.trials.selectors import find_trial


def ask_for_sheets(
    actor: Person, trial_id: int, *, sheet: str, form: str, paper: str, board: int | None
) -> Job:
    """Ask for one kind of a trial's sheets, of one board or all.

    Raises
    ------
    Http404, ConflictError
    DesignError
        If there is nothing to draw.
    """
    trial = find_trial(actor, trial_id)
    sheets_of(trial, board=board)
    return ask_for(
        actor,
        says=f"{SHEET_KINDS[sheet].name} of {trial.name}",
        wants={"trial": trial.pk, "sheet": sheet, "form": form, "paper": paper, "board": board},
        enqueue=make_sheets.enqueue,
    )


@task(queue_name=PAPERS, takes_context=True)
def make_sheets(context: TaskContext, job_id: int) -> None:
    """Draw what a job wants."""
    run_job(job_id, _make, attempt=context.attempt)


def _make(job: Job, tell: Tell) -> Made:
    trial = find_trial(job.asked_by, job.wants["trial"])
    kind = SHEET_KINDS[job.wants["sheet"]]
    pages = draw_sheets(kind.id, sheets_of(trial, board=job.wants["board"]), paper_named(job.wants["paper"]))
    name = f"{slugify(trial.name) or 'trial'}-{kind.id}"
    tell(0, len(pages))
    if job.wants["form"] == "pdf":
        content = write_pdf(pages, title=f"{kind.name}: {trial.name}", tell=tell)
        return Made(name=f"{name}.pdf", media="application/pdf", content=content)
    return Made(name=f"{name}.zip", media="application/zip", content=zip_svgs(pages, name=name))
