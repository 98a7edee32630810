"""Making plans that were asked for, in whatever process: progress told, what they come to kept."""

from __future__ import annotations

import time
from collections.abc import Callable, Sequence
from functools import partial

from django.db import transaction

from nublet.core.bench.joint import Part, Tell, plan_jointly
from nublet.core.bench.replan import Replan, replan
from nublet.core.planning.plan import NoPlan, Progress, make_plan
from nublet.core.planning.reasons import mended
from nublet.formats.schedule_json import plan_spec_to_plain
from nublet.web.bench.adapters import log_of
from nublet.web.bench.looks_seen import with_looks_seen
from nublet.web.bench.models import BenchPlan
from nublet.web.bench.plan_actions import fail_plan, keep_plan, members_of, replan_from, tell_progress

_TELL_EVERY_S = 0.5


def make(plan: BenchPlan, *, limit_s: float | None = None) -> BenchPlan:
    """Make a plan in this process and keep it, with those that were asked for with it."""
    begun = told = time.monotonic()
    members = list(members_of(plan).select_related("trial"))
    start = min(each.start_at for each in members)

    def tell(progress: Progress | None) -> bool:
        nonlocal told
        now = time.monotonic()
        if (plan.progress or progress is None) and now - told < _TELL_EVERY_S:
            return False
        told = now
        return tell_progress(plan, progress, now - begun, start=start)

    if len(members) > 1:
        return _make_jointly(plan, members, tell, limit_s)
    made = _mended_until_it_goes(plan, lambda: _made(plan, tell, limit_s))
    return _keep(plan, made)


def _make_jointly(
    lead: BenchPlan, members: Sequence[BenchPlan], tell: Tell, limit_s: float | None
) -> BenchPlan:
    """Make the plans of several trials at once, and keep all of them or none."""
    for member in members:
        if member.tried:
            # What was tried for one of them holds beside the others too.
            _mended_until_it_goes(member, partial(_made, member, None, 0.0))
    logs = [with_looks_seen(log_of(member), member.trial) for member in members]
    moments = [replan_from(member) if lead.is_again else None for member in members]
    made = plan_jointly(
        [
            Part(
                spec=log.spec,
                now_s=None if moment is None else round(log.seconds(moment)),
                done=log.done(running_until=moment, with_skipped=True) if moment else (),
                closed=log.closed if moment else {},
            )
            for log, moment in zip(logs, moments, strict=True)
        ],
        clock=time.monotonic,
        tell=tell,
        limit_s=limit_s,
    )
    with transaction.atomic():
        kept = [
            _fail_beside(member, members, made) if part is None else _keep(member, part)
            for member, part in zip(members, made, strict=True)
        ]
    return next(each for each in kept if each.pk == lead.pk)


def _fail_beside(plan: BenchPlan, members: Sequence[BenchPlan], made: Sequence[Replan | None]) -> BenchPlan:
    """Say of a plan that another one, which it was to be made with, cannot be made."""
    stuck = " and ".join(
        member.trial.name for member, part in zip(members, made, strict=True) if part is not None
    )
    fail_plan(
        plan.pk,
        f"{stuck}, planned together with this, cannot be planned: what is in the way is told there. Mend it there, or plan this alone.",
        alone=True,
    )
    plan.refresh_from_db()
    return plan


def _mended_until_it_goes(plan: BenchPlan, make_it: Callable[[], Replan]) -> Replan:
    """What comes of a plan with the changes that it was asked to try, as far as they are in its way."""
    made = make_it()
    left = list(plan.tried)
    while isinstance(made.plan, NoPlan) and left:
        known = {each.says for reason in made.plan.reasons for each in reason.relaxations}
        says = next((each for each in left if each in known), None)
        if says is None:
            break
        left.remove(says)
        plan.spec = plan_spec_to_plain(mended(made.plan.spec, says, made.plan.reasons))
        plan.save(update_fields=["spec"])
        made = make_it()
    return made


def _made(plan: BenchPlan, tell: Callable[[Progress], bool] | None, limit_s: float | None) -> Replan:
    log = with_looks_seen(log_of(plan), plan.trial)
    if not plan.is_again:
        made = make_plan(log.spec, clock=time.monotonic, tell=tell, limit_s=limit_s)
        return Replan(plan=made, findings=(), late=(), left_out=())
    moment = replan_from(plan)
    return replan(
        log.spec,
        log.done(running_until=moment, with_skipped=True),
        round(log.seconds(moment)),
        closed=log.closed,
        clock=time.monotonic,
        tell=tell,
        limit_s=limit_s,
    )


def _keep(plan: BenchPlan, made: Replan) -> BenchPlan:
    # What is overdue is judged as if it were done now.
    overdue = tuple(
        f"If it is done now: {each.says}"
        for each in made.findings
        if not each.is_done and each.judgement != "usable"
    )
    return keep_plan(
        plan.pk,
        made.plan,
        late=(*made.late, *overdue),
        left_out=tuple(panel for _, panel in made.left_out),
    )
