"""Following a plan that was asked for, stopping it, keeping what it comes to."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime, timedelta
from typing import Any

from django.db import transaction
from django.db.models import F, Q, QuerySet

from nublet.core.planning.plan import NoPlan, Plan, Progress
from nublet.web.api.conflicts import ConflictError
from nublet.web.bench import clock
from nublet.web.bench.adapters import log_of, operation_rows
from nublet.web.bench.models import BenchPlan, Hands, PlannedOperation, PlanState
from nublet.web.bench.moves import moved_by
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
        fail_plan(plan.lead_id or plan.pk, "It was stopped before its turn came.")
    members_of(plan).update(is_stop_asked=True)
    record(actor, "stop_plan", trial, plan=plan.pk)
    plan.refresh_from_db()
    return plan


def begin_plan(plan_id: int) -> BenchPlan | None:
    """Take a plan up that was asked for, or again where its planner had died; ``None`` when there is nothing to make."""
    now = clock.now()
    begun = _led_by(plan_id).filter(state=PlanState.RUNNING).update(begun_at=now, beat_at=now)
    return BenchPlan.objects.select_related("trial").get(pk=plan_id) if begun else None


def _led_by(plan_id: int) -> QuerySet[BenchPlan]:
    """A plan and those that are made with it."""
    return BenchPlan.objects.filter(Q(pk=plan_id) | Q(lead=plan_id)).order_by("pk")


def members_of(plan: BenchPlan) -> QuerySet[BenchPlan]:
    """The plans that are made at once, a plan among them; it alone where it is planned alone."""
    return _led_by(plan.lead_id or plan.pk)


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


def tell_progress(plan: BenchPlan, progress: Progress | None, elapsed_s: float, *, start: datetime) -> bool:
    """Keep how far the planner has come, by the clock that starts at ``start``, if it has a plan yet; answers whether somebody asked it to stop."""
    if progress is not None:
        shown = {
            "elapsed_s": round(elapsed_s, 1),
            "end_at": (start + timedelta(seconds=progress.end_s)).isoformat(),
            "n_sittings": progress.n_sittings,
        }
        last = plan.progress[-1] if plan.progress else {}
        if last.get("end_at") != shown["end_at"] or last.get("n_sittings") != shown["n_sittings"]:
            plan.progress = [*plan.progress, shown][-_MAX_PROGRESS:]
    members_of(plan).update(progress=plan.progress, beat_at=clock.now())
    return members_of(plan).filter(is_stop_asked=True).exists()


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
    plan.earliest_possible_at = log.moment(made.lower_bound_s)
    plan.n_sittings = made.n_sittings
    plan.says = [
        *([f"Planned together with {_names(together)}."] if (together := _companions(plan)) else []),
        *([f"Planned round what stands in {_names(plan.beside)}."] if plan.beside else []),
        *([f"Tried for this plan: {'; '.join(plan.tried)}."] if plan.tried else []),
        *made.says,
    ]
    hands = {row.name: row for row in Hands.objects.filter(shop=plan.trial.shop_id)}
    left = operation_rows(plan, made, hands, log.works)
    rows = [*left, *([] if before is None else _worked_on(plan, before, log.works))]
    # Where nothing is left the last work is what was done.
    plan.last_work_at = max((row.end_at for row in rows), default=log.moment(made.end_s))
    plan.moved = {} if before is None else moved_by(before, plan, left)
    plan.save()
    PlannedOperation.objects.bulk_create(rows, batch_size=500)
    return plan


def _companions(plan: BenchPlan) -> list[str]:
    """Names of the trials that are planned at once with a plan's."""
    return list(members_of(plan).exclude(pk=plan.pk).values_list("trial__name", flat=True))


def _names(names: Sequence[str]) -> str:
    """One, two and three."""
    return " and ".join([", ".join(names[:-1]), names[-1]] if len(names) > 1 else names)


@transaction.atomic
def fail_plan(plan_id: int, trouble: str, *, alone: bool = False) -> None:
    """Say that the planner could not go on; those that were to be made with it are not either, unless it is ``alone``."""
    rows = BenchPlan.objects.filter(pk=plan_id) if alone else _led_by(plan_id)
    rows.filter(state=PlanState.RUNNING).update(state=PlanState.FAILED, trouble=trouble, ended_at=clock.now())


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
