"""Plans that were asked for, made by the worker for plans: each takes the time it takes, and no request waits for it."""

from __future__ import annotations

import logging

from django_tasks import TaskContext, task

from nublet.core.errors import NubletError
from nublet.web.bench.making import make
from nublet.web.bench.plan_actions import begin_plan, fail_plan
from nublet.web.jobs.actions import MOST_TRIES, PLANS

_log = logging.getLogger(__name__)


@task(queue_name=PLANS, takes_context=True)
def make_plan(context: TaskContext, plan_id: int) -> None:
    """Make one plan and keep it; whatever goes wrong is kept with the plan, for whoever waits for it."""
    if context.attempt > MOST_TRIES:
        fail_plan(plan_id, f"The planner broke off {MOST_TRIES} times. Tell whoever keeps the server.")
        return
    plan = begin_plan(plan_id)
    if plan is None:
        return
    try:
        make(plan)
    except NubletError as error:
        fail_plan(plan.pk, error.message)
    except Exception:
        fail_plan(plan.pk, "The planner failed. Try again; if it fails again, tell whoever keeps the server.")
        _log.exception("Plan %s failed", plan_id)
        raise
