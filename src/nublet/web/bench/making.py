"""Making a plan that was asked for, in whatever process: progress told, what it comes to kept."""

from __future__ import annotations

import time

from nublet.core.bench.replan import replan
from nublet.core.planning.plan import NoPlan, Plan, Progress, make_plan
from nublet.web.bench.adapters import log_of
from nublet.web.bench.models import BenchPlan
from nublet.web.bench.plan_actions import keep_plan, replan_from, tell_progress

_TELL_EVERY_S = 0.5


def make(plan: BenchPlan, *, limit_s: float | None = None) -> BenchPlan:
    """Make a plan in this process and keep it."""
    log = log_of(plan)
    begun = told = time.monotonic()

    def tell(progress: Progress) -> bool:
        nonlocal told
        now = time.monotonic()
        if plan.progress and now - told < _TELL_EVERY_S:
            return False
        told = now
        return tell_progress(plan, progress, now - begun)

    if not plan.is_again:
        made: Plan | NoPlan = make_plan(log.spec, clock=time.monotonic, tell=tell, limit_s=limit_s)
        return keep_plan(plan.pk, made)
    moment = replan_from(plan)
    found = replan(
        log.spec,
        log.done(running_until=moment, with_skipped=True),
        round(log.seconds(moment)),
        clock=time.monotonic,
        tell=tell,
        limit_s=limit_s,
    )
    # What is overdue is judged as if it were done now.
    overdue = tuple(
        f"If it is done now: {each.says}"
        for each in found.findings
        if not each.is_done and each.judgement != "usable"
    )
    return keep_plan(
        plan.pk,
        found.plan,
        late=(*found.late, *overdue),
        left_out=tuple(panel for _, panel in found.left_out),
    )
