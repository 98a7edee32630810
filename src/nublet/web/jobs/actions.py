"""Asking for a file, making it in a worker, stopping it.

Workers are processes of ``manage.py work``, one for each queue, which the launcher starts and watches. Each makes one thing at a
time and gives way to the application, so that however many papers are asked for, a grade is answered at once.
"""

from __future__ import annotations

import logging
import signal
from collections.abc import Callable, Iterator, Mapping
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import datetime, timedelta
from types import FrameType
from typing import Any

from django.db import transaction
from django.http import Http404
from django.utils import timezone
from django_tasks import TaskResultStatus
from django_tasks_db.models import DBTaskResult

from nublet.core.errors import NubletError
from nublet.web.api.conflicts import ConflictError
from nublet.web.jobs.models import Job, JobFile, JobState
from nublet.web.people.models import Person
from nublet.web.people.policies import within

_log = logging.getLogger(__name__)

# Each has a worker of its own: a plan that is searched for minutes keeps no label waiting.
PAPERS, PLANS = "papers", "plans"
QUEUES = (PAPERS, PLANS)

MOST_WAITING = 20
KEPT = timedelta(days=1)
LIMIT_S = 300
# One answer of the database carries 16 MiB at most.
MAX_FILE_BYTES = 12 * 1024 * 1024
# A worker that was killed takes its work up again, but not what kills it each time.
MOST_TRIES = 3


class TooLongError(NubletError):
    """A job took longer than it may."""

    code = "too_long"


class StoppedError(Exception):
    """Somebody asked the job to stop."""


@dataclass(frozen=True, kw_only=True)
class Made:
    """A file: its name, its media type and what is in it."""

    name: str
    media: str
    content: bytes


Tell = Callable[[int, int], None]
Make = Callable[[Job, Tell], Made]


def ask_for(actor: Person, *, says: str, wants: Mapping[str, Any], enqueue: Callable[[int], object]) -> Job:
    """Ask for a file; ``enqueue`` puts the job's number into the queue once the asking is kept.

    Raises
    ------
    ConflictError
        If the shop waits for too many already.
    """
    with transaction.atomic():
        _forget_old(timezone.now() - KEPT)
        waiting = Job.objects.filter(shop=actor.shop_id, state__in=(JobState.WAITING, JobState.RUNNING))
        if waiting.count() >= MOST_WAITING:
            raise ConflictError(
                f"{MOST_WAITING} papers are being made already. Wait until one is ready, or stop one."
            )
        job = Job.objects.create(
            shop_id=actor.shop_id, asked_by=actor, says=says, wants=dict(wants), asked_at=timezone.now()
        )
        transaction.on_commit(lambda: enqueue(job.pk))
    return job


def find_job(actor: Person, job_id: int, action: str = "follow_paper") -> Job:
    """A job that the person may do this to. Raises ``Http404`` or ``PermissionDenied``."""
    job = within(actor, action, Job.objects.all()).filter(pk=job_id).first()
    if job is None:
        raise Http404
    return job


def find_file(actor: Person, job_id: int) -> JobFile:
    """What a job made. Raises ``Http404``, or ``ConflictError`` while there is nothing."""
    job = find_job(actor, job_id)
    made = JobFile.objects.filter(job=job).first()
    if made is None:
        raise ConflictError(job.trouble or "This is not ready yet. Ask again in a moment.")
    return made


def stop_job(actor: Person, job_id: int) -> Job:
    """Stop a job: at once while it waits, after its present page while it is made. One that has ended stays as it is."""
    with transaction.atomic():
        job = find_job(actor, job_id, "stop_paper")
        Job.objects.filter(pk=job.pk, state=JobState.WAITING).update(
            state=JobState.STOPPED, trouble=_STOPPED, ended_at=timezone.now()
        )
        Job.objects.filter(pk=job.pk, state=JobState.RUNNING).update(is_stop_asked=True)
        job.refresh_from_db()
    return job


def run_job(job_id: int, make: Make, *, attempt: int = 1) -> None:
    """Make what a job wants, in the worker; whatever goes wrong is kept with it, for whoever waits for it.

    ``attempt`` is 2 or more where a worker has died at it before.
    """
    if attempt > MOST_TRIES:
        _end(
            job_id,
            JobState.FAILED,
            f"The server broke off at it {MOST_TRIES} times. Print one board after the other.",
        )
        return
    begun = Job.objects.filter(pk=job_id, state__in=(JobState.WAITING, JobState.RUNNING)).update(
        state=JobState.RUNNING, n_done=0, n_all=0
    )
    if not begun:
        return
    job = Job.objects.select_related("shop", "asked_by").get(pk=job_id)

    def tell(n_done: int, n_all: int) -> None:
        Job.objects.filter(pk=job_id).update(n_done=n_done, n_all=n_all)
        if Job.objects.filter(pk=job_id, is_stop_asked=True).exists():
            raise StoppedError

    try:
        with _time_limit(LIMIT_S):
            made = make(job, tell)
        if len(made.content) > MAX_FILE_BYTES:
            raise NubletError("The file is too large to be handed over. Print one board after the other.")
    except StoppedError:
        _end(job_id, JobState.STOPPED, _STOPPED)
    except NubletError as error:
        _end(job_id, JobState.FAILED, error.message)
    except Http404:
        _end(job_id, JobState.FAILED, "What was to be printed is gone. Reload the page.")
    except Exception:
        _end(
            job_id,
            JobState.FAILED,
            "The server failed at it. Try again; if it fails again, tell whoever keeps the server.",
        )
        # The worker keeps what is raised in its table and says nothing.
        _log.exception("Job %s failed", job_id)
        raise
    else:
        with transaction.atomic():
            JobFile.objects.create(job=job, name=made.name, media=made.media, content=made.content)
            _end(job_id, JobState.DONE, "")


def take_up_again(queue: str) -> int:
    """Put back what a worker of this queue was at when it died; answers how much. For a worker before it begins."""
    return DBTaskResult.objects.running().filter(queue_name=queue).update(status=TaskResultStatus.READY)


_STOPPED = "It was stopped."


def _end(job_id: int, state: JobState, trouble: str) -> None:
    Job.objects.filter(pk=job_id).update(state=state, trouble=trouble, ended_at=timezone.now())


def _forget_old(before: datetime) -> None:
    # Files first, by a statement of their own: a cascade would read each.
    JobFile.objects.filter(job__in=Job.objects.filter(ended_at__lt=before)).delete()
    Job.objects.filter(ended_at__lt=before).delete()
    DBTaskResult.objects.filter(finished_at__lt=before).delete()


@contextmanager
def _time_limit(limit_s: int) -> Iterator[None]:
    """Raise ``TooLongError`` in this, the worker's main, thread when the time is up."""

    def give_up(_signum: int, _frame: FrameType | None) -> None:
        raise TooLongError(f"It took longer than {limit_s // 60} minutes. Print one board after the other.")

    before = signal.signal(signal.SIGALRM, give_up)
    signal.alarm(limit_s)
    try:
        yield
    finally:
        signal.alarm(0)
        signal.signal(signal.SIGALRM, before)
