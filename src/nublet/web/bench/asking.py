"""Asking for plans, of one trial or of several at once: they are made by a process of their own, so that no request waits."""

from __future__ import annotations

from collections.abc import Callable, Collection, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Any, cast
from zoneinfo import ZoneInfo

from django.db import transaction

from nublet.core.errors import PlanError
from nublet.core.planning.spec import PlanSpec
from nublet.formats.schedule_json import plan_spec_to_plain
from nublet.web.api.conflicts import ConflictError
from nublet.web.bench import clock
from nublet.web.bench.adapters import busy_beside, spec_for
from nublet.web.bench.bench_actions import active_hands, bench_of
from nublet.web.bench.models import BenchPlan, PanelWork, ShopBench
from nublet.web.bench.plan_actions import is_running, members_of, standing_plan, standing_plans
from nublet.web.people.audit import record
from nublet.web.people.models import Person
from nublet.web.trials.actions import lock_trial
from nublet.web.trials.models import Trial

_MOST_AT_ONCE = 6


@dataclass(frozen=True, kw_only=True)
class _Asked:
    """What a plan of one trial is asked for."""

    start_at: datetime | None
    weighs: bool
    condition_h: float
    prepares: bool
    again: bool
    tried: tuple[str, ...] = ()


@transaction.atomic
def ask_for_plan(
    actor: Person,
    trial_id: int,
    *,
    start_at: datetime | None = None,
    weighs: bool = False,
    condition_h: float = 0.0,
    prepares: bool = False,
    again: bool = False,
    mend: str = "",
    together_with: Collection[int] = (),
    enqueue: Callable[[int], object] | None = None,
) -> BenchPlan:
    """Begin to make a plan.

    Parameters
    ----------
    start_at : datetime or None
        Nothing begins earlier; without a zone it is the shop's own time. ``None`` for now. A plan made again keeps its start.
    weighs, condition_h
        As for :func:`nublet.core.planning.trial_work.groups_of`; a plan made again keeps them.
    prepares : bool
        Whether sanding and what else comes before the coats is planned too; a plan made again keeps it.
    again : bool
        From now: what was done stands.
    mend : str
        One of the changes that the newest plan's reasons tell of, to be tried: for this plan, which is asked for as that one was, and for
        those that are made again after it.
    together_with : collection of int
        Other trials that are planned at once with it, none of them first. One that has a plan keeps what that was asked for. Where work
        has begun on any of them all are planned from now; else all begin anew.
    enqueue : callable or None
        Puts the plan's number into the planner's queue once the asking is kept; without it whoever asks makes the plan.

    Raises
    ------
    Http404, PermissionDenied
    PlanError
        If there is nobody to plan for, or no panel, or they are too many.
    ConflictError
        If a plan is being made, or work has begun and the plan is not made again from now.
    """
    numbers = sorted({trial_id, *together_with})
    if len(numbers) > _MOST_AT_ONCE:
        raise PlanError(
            f"{len(numbers)} trials are too many to be planned at once. Choose at most {_MOST_AT_ONCE - 1} beside this one.",
            field="together_with",
        )
    trials = {number: lock_trial(actor, number, "plan_days") for number in numbers}
    trial = trials.pop(trial_id)
    newest = _newest_ended(trial)
    before = _asked_like(trial, newest, again=again, mend=mend)
    asked = _Asked(start_at=start_at, weighs=weighs, condition_h=condition_h, prepares=prepares, again=again)
    if before is not None:
        asked = _like(before, again=again or before.is_again, mend=mend)
        if mend:
            trials |= _companions(actor, before)
    others = [(other, _asked_beside(other, asked)) for other in trials.values()]
    members = _all_from_one_moment([(trial, asked), *others], start_at)
    return _keep_asked(actor, members, enqueue)


def _newest_ended(trial: Trial) -> BenchPlan | None:
    """The trial's newest plan. Raises ``ConflictError`` while it is being made."""
    newest = BenchPlan.objects.filter(trial=trial).order_by("-pk").first()
    if newest is not None and is_running(newest):
        raise ConflictError(f"A plan of {trial.name} is being made already. Wait for it, or stop it.")
    return newest


def _asked_like(trial: Trial, newest: BenchPlan | None, *, again: bool, mend: str) -> BenchPlan | None:
    """The plan whose asking is kept: the newest for a mend to it, the standing one for one made again; ``None`` for a new one."""
    if mend:
        if newest is None or not any(mend in told for told in newest.mends):
            raise ConflictError("The newest plan tells of no such change. Reload the page.", field="mend")
        return newest
    standing = standing_plan(trial)
    if again and standing is None:
        raise ConflictError("There is no plan yet to make again. Make one first.")
    if not again and standing is not None and _has_begun(trial):
        raise ConflictError("Work has begun, so the plan can only be made again from now.")
    return standing if again else None


def _like(before: BenchPlan, *, again: bool, mend: str = "") -> _Asked:
    return _Asked(
        start_at=before.start_at,
        weighs=before.weighs,
        condition_h=before.condition_h,
        prepares=before.prepares,
        again=again,
        tried=(*before.tried, *([mend] if mend else [])),
    )


def _companions(actor: Person, plan: BenchPlan) -> dict[int, Trial]:
    """The trials that a plan was asked for with, locked."""
    numbers = members_of(plan).exclude(pk=plan.pk).values_list("trial", flat=True)
    return {number: lock_trial(actor, number, "plan_days") for number in sorted(numbers)}


def _asked_beside(trial: Trial, asked: _Asked) -> _Asked:
    """What one of the others is asked for: as its own plan was, else as the first."""
    _newest_ended(trial)
    standing = standing_plan(trial)
    if standing is None:
        return replace(asked, start_at=None, again=False, tried=())
    return _like(standing, again=_has_begun(trial))


def _has_begun(trial: Trial) -> bool:
    return PanelWork.objects.filter(panel__trial=trial).exists()


def _all_from_one_moment(
    members: Sequence[tuple[Trial, _Asked]], start_at: datetime | None
) -> list[tuple[Trial, _Asked]]:
    """What several trials are asked for, planned at once: all anew from the first one's start, or all from now.

    From now it is where work has begun on any, or the first is made again; what has begun, and the first, keep their starts.
    Raises ``PlanError`` where all are to start later and work has begun.
    """
    if len(members) == 1:
        return list(members)
    _, lead = members[0]
    begun = [trial for trial, asked in members if asked.again and _has_begun(trial)]
    if begun and start_at is not None:
        raise PlanError(
            f"Work has begun on {begun[0].name}, so that all are planned from now. Leave the time at which to begin empty.",
            field="start",
        )
    if not begun and not lead.again:
        return [(trial, replace(asked, again=False, start_at=lead.start_at)) for trial, asked in members]
    return [
        (
            trial,
            replace(asked, again=True, start_at=asked.start_at if trial in begun or asked is lead else None),
        )
        for trial, asked in members
    ]


def _keep_asked(
    actor: Person, members: Sequence[tuple[Trial, _Asked]], enqueue: Callable[[int], object] | None
) -> BenchPlan:
    """Keep what is asked for, that of the first as the one that leads the others."""
    bench, now = bench_of(actor.shop), clock.now()
    numbers = {trial.pk for trial, _ in members}
    others = [plan for plan in plans_beside(members[0][0], since=now) if plan.trial_id not in numbers]
    specs = [_spec_of(actor, bench, trial, asked, others, now) for trial, asked in members]
    plans: list[BenchPlan] = []
    for (trial, asked), spec in zip(members, specs, strict=True):
        plan = BenchPlan.objects.create(
            trial=trial,
            lead=plans[0] if plans else None,
            is_again=asked.again,
            # A trial with panels has been designed.
            designed_at=trial.designed_at or now,
            start_at=spec.start,
            time_zone=bench.time_zone,
            weighs=asked.weighs,
            condition_h=asked.condition_h,
            prepares=asked.prepares,
            paces=bench.paces,
            beside=[plan.trial.name for plan in others],
            tried=list(asked.tried),
            spec=plan_spec_to_plain(spec),
            asked_by=actor,
            asked_at=now,
            begun_at=now if enqueue is None else None,
            beat_at=now,
        )
        plans.append(plan)
        record(actor, "ask_for_plan", trial, plan=plan.pk, again=asked.again)
    if enqueue is not None:
        transaction.on_commit(lambda: enqueue(plans[0].pk))
    return plans[0]


def _spec_of(
    actor: Person, bench: ShopBench, trial: Trial, asked: _Asked, others: Sequence[BenchPlan], now: datetime
) -> PlanSpec:
    start_at = _shop_moment(asked.start_at or now, bench.time_zone)
    return spec_for(
        trial,
        bench,
        active_hands(actor.shop_id),
        start_at=start_at,
        weighs=asked.weighs,
        condition_h=asked.condition_h,
        prepares=asked.prepares,
        busy=busy_beside(others, start_at=start_at, now=now),
    )


def _shop_moment(moment: datetime, zone: str) -> datetime:
    """A moment in whole seconds, as a plan counts; without a zone it is the shop's own time."""
    zoned = moment if moment.tzinfo is not None else moment.replace(tzinfo=ZoneInfo(zone))
    return zoned.replace(microsecond=0)


def plans_beside(trial: Trial, *, since: datetime) -> list[BenchPlan]:
    """The plans that hold of the shop's other trials, with work after a moment. One query."""
    found = standing_plans(trial.shop_id, since=since)
    return [plan for number, plan in sorted(found.items()) if number != trial.pk]


def check_start(start: Any) -> datetime | None:
    """A moment as it was given, with or without a zone. Raises ``PlanError``."""
    if start in (None, ""):
        return None
    try:
        return datetime.fromisoformat(cast("str", start))
    except ValueError as error:
        raise PlanError(f"{start!r} is no moment; write it as 2027-03-01T09:00.", field="start") from error
