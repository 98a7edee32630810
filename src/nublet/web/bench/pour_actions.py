"""The pour: one brew, bottle or heating that a sitting's spots share, written down once and named by what is laid from it."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from django.db import transaction

from nublet.core.errors import PlanError
from nublet.core.plain import tidy
from nublet.web.bench import clock
from nublet.web.bench.models import Pour
from nublet.web.people.audit import record
from nublet.web.people.models import Person
from nublet.web.trials.actions import lock_trial
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial

_MAX_BATCH = 80


@transaction.atomic
def make_pour(
    actor: Person, trial_id: int, *, item: str, batch: str = "", at: datetime | None = None
) -> Pour:
    """Write down what was brewed, opened or heated for a test; it serves every test of the same agent.

    Parameters
    ----------
    item : str
        The test's id.
    batch : str
        What tells this brew or bottle from another, in the person's own words.
    at : datetime or None
        When; ``None`` for now.

    Raises
    ------
    Http404, PermissionDenied
    PlanError
        If the trial has no such test, or it lays nothing.
    """
    trial = lock_trial(actor, trial_id, "log_work")
    agent = agent_of(trial, item)
    if not agent:
        raise PlanError(f"{item!r} is no test of this trial that anything is poured for.", field="item")
    words = tidy(batch)
    if len(words) > _MAX_BATCH:
        raise PlanError(f"Keep the batch to {_MAX_BATCH} letters.", field="batch")
    pour = Pour.objects.create(
        trial=trial,
        agent=agent,
        batch=words,
        made_at=clock.now() if at is None else clock.checked_moment(at, "at"),
        made_by=actor,
    )
    record(actor, "pour", trial, pour=pour.pk, agent=agent, batch=words)
    return pour


def agent_of(trial: Trial, item: str) -> str:
    """The agent of a test of the trial; empty for what has none."""
    return next((test.agent for test in protocol_of(trial).tests if test.id == item), "")


def latest_pours(trial: Trial, n: int = 30) -> Sequence[Pour]:
    """The trial's latest pours, the newest first. One query."""
    return tuple(Pour.objects.filter(trial=trial).select_related("made_by").order_by("-made_at", "-pk")[:n])
