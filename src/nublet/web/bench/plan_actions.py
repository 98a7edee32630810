"""Asking for a plan, following it, stopping it: plans are made by a process of their own, so that no request waits."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime, timedelta
from typing import Any, cast
from zoneinfo import ZoneInfo

from django.db import transaction
from django.db.models import F

from nublet.core.errors import PlanError
from nublet.core.planning.plan import NoPlan, Plan, Progress
from nublet.formats.schedule_json import plan_spec_to_plain
from nublet.web.api.conflicts import ConflictError
from nublet.web.bench import clock
from nublet.web.bench.adapters import busy_beside, log_of, operation_rows, spec_for
from nublet.web.bench.bench_actions import active_hands, bench_of
from nublet.web.bench.models import BenchPlan, Hands, PanelWork, PlannedOperation, PlanState
from nublet.web.people.audit import record
from nublet.web.people.models import Person
from nublet.web.trials.actions import lock_trial
from nublet.web.trials.models import Trial

# The planner tells of itself every second or two; one that was silent for so long is dead.
SILENT_AFTER = timedelta(seconds=45)
# A plan from now is ready a moment later, and its first work should not be late by then.
_READY_AFTER = timedelta(seconds=20)
_MAX_PROGRESS = 60


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
    enqueue : callable or None
        Puts the plan's number into the planner's queue once the asking is kept; without it whoever asks makes the plan.

    Raises
    ------
    Http404, PermissionDenied
    PlanError
        If there is nobody to plan for, or no panel.
    ConflictError
        If a plan is being made, or work has begun and the plan is not made again from now.
    """
    trial = lock_trial(actor, trial_id, "plan_days")
    newest = BenchPlan.objects.filter(trial=trial).order_by("-pk").first()
    if newest is not None and is_running(newest):
        raise ConflictError("A plan is being made already. Wait for it, or stop it.")
    before = _asked_like(trial, newest, again=again, mend=mend)
    tried: list[str] = []
    if before is not None:
        start_at, weighs, condition_h = before.start_at, before.weighs, before.condition_h
        prepares, again, tried = before.prepares, again or before.is_again, list(before.tried)
    bench = bench_of(actor.shop)
    now = clock.now()
    start_at = _shop_moment(start_at or now, bench.time_zone)
    others = plans_beside(trial, since=now)
    spec = spec_for(
        trial,
        bench,
        active_hands(actor.shop_id),
        start_at=start_at,
        weighs=weighs,
        condition_h=condition_h,
        prepares=prepares,
        busy=busy_beside(others, start_at=start_at, now=now),
    )
    plan = BenchPlan.objects.create(
        trial=trial,
        is_again=again,
        # A trial with panels has been designed.
        designed_at=trial.designed_at or now,
        start_at=start_at,
        time_zone=bench.time_zone,
        weighs=weighs,
        condition_h=condition_h,
        prepares=prepares,
        paces=bench.paces,
        beside=[plan.trial.name for plan in others],
        tried=[*tried, *([mend] if mend else [])],
        spec=plan_spec_to_plain(spec),
        asked_by=actor,
        asked_at=now,
        begun_at=now if enqueue is None else None,
        beat_at=now,
    )
    record(actor, "ask_for_plan", trial, plan=plan.pk, again=again)
    if enqueue is not None:
        transaction.on_commit(lambda: enqueue(plan.pk))
    return plan


def _shop_moment(moment: datetime, zone: str) -> datetime:
    """A moment in whole seconds, as a plan counts; without a zone it is the shop's own time."""
    zoned = moment if moment.tzinfo is not None else moment.replace(tzinfo=ZoneInfo(zone))
    return zoned.replace(microsecond=0)


def plans_beside(trial: Trial, *, since: datetime) -> list[BenchPlan]:
    """The plans that hold of the shop's other trials, with work after a moment. One query."""
    found = standing_plans(trial.shop_id, since=since)
    return [plan for number, plan in sorted(found.items()) if number != trial.pk]


def _asked_like(trial: Trial, newest: BenchPlan | None, *, again: bool, mend: str) -> BenchPlan | None:
    """The plan whose asking is kept: the newest for a mend to it, the standing one for one made again; ``None`` for a new one."""
    if mend:
        if newest is None or not any(mend in told for told in newest.mends):
            raise ConflictError("The newest plan tells of no such change. Reload the page.", field="mend")
        return newest
    standing = standing_plan(trial)
    if again and standing is None:
        raise ConflictError("There is no plan yet to make again. Make one first.")
    if not again and standing is not None and PanelWork.objects.filter(panel__trial=trial).exists():
        raise ConflictError("Work has begun, so the plan can only be made again from now.")
    return standing if again else None


@transaction.atomic
def stop_plan(actor: Person, trial_id: int) -> BenchPlan:
    """Ask the planner to keep the best plan so far and stop; one that still waits for its turn ends at once.

    Raises
    ------
    ConflictError
        If none is being made.
    """
    trial = lock_trial(actor, trial_id, "plan_days")
    plan = BenchPlan.objects.filter(trial=trial, state=PlanState.RUNNING).order_by("-pk").first()
    if plan is None:
        raise ConflictError("No plan is being made, so there is nothing to stop.")
    if is_waiting(plan):
        fail_plan(plan.pk, "It was stopped before its turn came.")
    BenchPlan.objects.filter(pk=plan.pk).update(is_stop_asked=True)
    record(actor, "stop_plan", trial, plan=plan.pk)
    plan.refresh_from_db()
    return plan


def begin_plan(plan_id: int) -> BenchPlan | None:
    """Take a plan up that was asked for, or again where its planner had died; ``None`` when there is nothing to make."""
    now = clock.now()
    begun = BenchPlan.objects.filter(pk=plan_id, state=PlanState.RUNNING).update(begun_at=now, beat_at=now)
    return BenchPlan.objects.select_related("trial").get(pk=plan_id) if begun else None


def is_waiting(plan: BenchPlan) -> bool:
    """Whether it waits for the planner, which is at another plan."""
    return plan.state == PlanState.RUNNING and plan.begun_at is None


def is_running(plan: BenchPlan) -> bool:
    """Whether it waits for its turn, or its planner is at work and was heard of lately."""
    return is_waiting(plan) or (plan.state == PlanState.RUNNING and clock.now() - plan.beat_at < SILENT_AFTER)


def standing_plan(trial: Trial) -> BenchPlan | None:
    """The plan that holds: the newest that was done for the design that stands. One query."""
    if trial.designed_at is None:
        return None
    return (
        BenchPlan.objects.filter(trial=trial, state=PlanState.DONE, designed_at=trial.designed_at)
        .order_by("-pk")
        .first()
    )


def standing_plans(shop_id: int, *, since: datetime) -> dict[int, BenchPlan]:
    """The plans that hold, by trial, of those with work after ``since``; their trials are joined. One query."""
    rows = (
        BenchPlan.objects.filter(
            trial__shop=shop_id,
            state=PlanState.DONE,
            designed_at=F("trial__designed_at"),
            last_work_at__gte=since,
        )
        .select_related("trial")
        .order_by("pk")
    )
    return {plan.trial_id: plan for plan in rows}


def tell_progress(plan: BenchPlan, progress: Progress, elapsed_s: float) -> bool:
    """Keep how far the planner has come; answers whether somebody asked it to stop."""
    shown = {
        "elapsed_s": round(elapsed_s, 1),
        "end_at": (plan.start_at + timedelta(seconds=progress.end_s)).isoformat(),
        "n_sittings": progress.n_sittings,
    }
    last = plan.progress[-1] if plan.progress else {}
    if last.get("end_at") != shown["end_at"] or last.get("n_sittings") != shown["n_sittings"]:
        plan.progress = [*plan.progress, shown][-_MAX_PROGRESS:]
    BenchPlan.objects.filter(pk=plan.pk).update(progress=plan.progress, beat_at=clock.now())
    return bool(BenchPlan.objects.filter(pk=plan.pk, is_stop_asked=True).exists())


def replan_from(plan: BenchPlan) -> datetime:
    """The moment from which a plan that is made again may use hands."""
    return max(plan.start_at, clock.now() + _READY_AFTER)


@transaction.atomic
def keep_plan(
    plan_id: int, made: Plan | NoPlan, *, late: tuple[str, ...] = (), left_out: tuple[str, ...] = ()
) -> BenchPlan:
    """Keep what the planner made. What was worked on of the plan before goes with it, so that the day stays whole."""
    plan = BenchPlan.objects.select_for_update().select_related("trial").get(pk=plan_id)
    if plan.state != PlanState.RUNNING:
        raise ConflictError("This plan has ended already.")
    before = standing_plan(plan.trial)
    plan.ended_at = clock.now()
    plan.late, plan.left_out = list(late), list(left_out)
    if isinstance(made, NoPlan):
        plan.state = PlanState.IMPOSSIBLE
        plan.reasons = [reason.says for reason in made.reasons]
        plan.mends = [[each.says for each in reason.relaxations] for reason in made.reasons]
        plan.save()
        return plan
    log = log_of(plan)
    plan.state = PlanState.DONE
    plan.last_work_at = log.moment(made.end_s)
    plan.earliest_possible_at = log.moment(made.lower_bound_s)
    plan.n_sittings = made.n_sittings
    plan.says = [
        *([f"Planned round what stands in {' and '.join(plan.beside)}."] if plan.beside else []),
        *([f"Tried for this plan: {'; '.join(plan.tried)}."] if plan.tried else []),
        *made.says,
    ]
    plan.save()
    hands = {row.name: row for row in Hands.objects.filter(shop=plan.trial.shop_id)}
    rows = operation_rows(plan, made, hands, log.works)
    if before is not None:
        rows += _worked_on(plan, before, log.works)
    PlannedOperation.objects.bulk_create(rows, batch_size=500)
    return plan


@transaction.atomic
def fail_plan(plan_id: int, trouble: str) -> None:
    """Say that the planner could not go on."""
    BenchPlan.objects.filter(pk=plan_id, state=PlanState.RUNNING).update(
        state=PlanState.FAILED, trouble=trouble, ended_at=clock.now()
    )


def _worked_on(plan: BenchPlan, before: BenchPlan, works: Any) -> list[PlannedOperation]:
    """Copies of the operations of the plan before, with those of their panels on which work was begun or given up."""
    begun = {(row.panel.code, row.item, row.kind, row.look_after_min, row.nth, row.act) for row in works}
    rows = []
    for old in before.operations.order_by("pk"):
        panels = [
            p for p in old.panels if (p[0], old.item, old.kind, old.look_after_min, old.nth, old.act) in begun
        ]
        if not panels:
            continue
        rows.append(
            PlannedOperation(
                plan=plan,
                hands_id=old.hands_id,
                build_up_id=old.build_up_id,
                board=old.board,
                kind=old.kind,
                item=old.item,
                look_after_min=old.look_after_min,
                nth=old.nth,
                act=old.act,
                start_at=plan.start_at + timedelta(seconds=panels[0][1]),
                end_at=plan.start_at + timedelta(seconds=panels[-1][2]),
                panels=panels,
            )
        )
    return rows


def check_start(start: Any) -> datetime | None:
    """A moment as it was given, with or without a zone. Raises ``PlanError``."""
    if start in (None, ""):
        return None
    try:
        return datetime.fromisoformat(cast("str", start))
    except ValueError as error:
        raise PlanError(f"{start!r} is no moment; write it as 2027-03-01T09:00.", field="start") from error
