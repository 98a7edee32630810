"""Making a plan that was asked for, in whatever process: progress told, what it comes to kept."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass

from nublet.core.bench.replan import replan
from nublet.core.planning.plan import NoPlan, Plan, Progress, make_plan
from nublet.core.planning.reasons import mended
from nublet.formats.schedule_json import plan_spec_to_plain
from nublet.web.bench.adapters import log_of
from nublet.web.bench.models import BenchPlan
from nublet.web.bench.plan_actions import keep_plan, replan_from, tell_progress

_TELL_EVERY_S = 0.5


def make(plan: BenchPlan, *, limit_s: float | None = None) -> BenchPlan:
    """Make a plan in this process and keep it."""
    begun = told = time.monotonic()

    def tell(progress: Progress) -> bool:
        nonlocal told
        now = time.monotonic()
        if plan.progress and now - told < _TELL_EVERY_S:
            return False
        told = now
        return tell_progress(plan, progress, now - begun)

    made = _made(plan, tell, limit_s)
    left = list(plan.tried)
    while isinstance(made.plan, NoPlan) and left:
        known = {each.says for reason in made.plan.reasons for each in reason.relaxations}
        says = next((each for each in left if each in known), None)
        if says is None:
            break
        left.remove(says)
        plan.spec = plan_spec_to_plain(mended(made.plan.spec, says, made.plan.reasons))
        plan.save(update_fields=["spec"])
        made = _made(plan, tell, limit_s)
    return keep_plan(plan.pk, made.plan, late=made.late, left_out=made.left_out)


@dataclass(frozen=True, kw_only=True)
class _Made:
    """A plan or why there is none; what will be late, in words; and codes of panels that are left out."""

    plan: Plan | NoPlan
    late: tuple[str, ...] = ()
    left_out: tuple[str, ...] = ()


def _made(plan: BenchPlan, tell: Callable[[Progress], bool], limit_s: float | None) -> _Made:
    log = log_of(plan)
    if not plan.is_again:
        return _Made(plan=make_plan(log.spec, clock=time.monotonic, tell=tell, limit_s=limit_s))
    moment = replan_from(plan)
    found = replan(
        log.spec,
        log.done(running_until=moment, with_skipped=True),
        round(log.seconds(moment)),
        closed=log.closed,
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
    return _Made(
        plan=found.plan,
        late=(*(each.says for each in found.late), *overdue),
        left_out=tuple(panel for _, panel in found.left_out),
    )
