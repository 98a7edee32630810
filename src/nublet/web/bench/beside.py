"""The shop's other trials beside one that is planned: which can be planned at once with it, and what its plan moved in which."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from django.db.models import Exists, OuterRef

from nublet.web.bench.models import BenchPlan, PanelWork
from nublet.web.bench.plan_actions import members_of, standing_plans
from nublet.web.bench.signals import asks_which_were_read
from nublet.web.trials.models import Trial

# The newest: whoever has more of them under way plans the rest round these.
_MOST = 12


@dataclass(frozen=True, kw_only=True)
class TrialBeside:
    """Another trial that can be planned at once with this one; ``is_companion`` where the plan that stands was."""

    trial_id: int
    trial_name: str
    is_planned: bool
    has_begun: bool
    is_companion: bool


@dataclass(frozen=True, kw_only=True)
class MovedIn:
    """What the plan that stands moved in a trial that was planned with it, or in its own, in words."""

    trial_id: int
    trial_name: str
    says: str


def trials_beside(trial: Trial, plan: BenchPlan | None, now: datetime) -> tuple[TrialBeside, ...]:
    """The shop's other trials with panels, but for those that have nothing left to plan. At most six queries.

    Those are what has a plan that is over, and what was read without one: it is carried out by hand.
    """
    rows = list(
        Trial.objects.filter(shop=trial.shop_id, designed_at__isnull=False)
        .exclude(pk=trial.pk)
        .order_by("-pk")
        .values_list("pk", "name")
    )
    if not rows:
        return ()
    numbers = [pk for pk, _ in rows]
    at_work = set(standing_plans(trial.shop_id, since=now))
    planned = set(BenchPlan.objects.filter(trial__in=numbers, state="done").values_list("trial", flat=True))
    answers: list[tuple[Any, Any]] = asks_which_were_read.send(Trial, trials=numbers)
    over = {number for _, read in answers for number in read or ()} | planned
    # Asked of each trial whether it has any, not of each piece of work whose it is.
    worked = Exists(PanelWork.objects.filter(panel__trial=OuterRef("pk")))
    begun = set(Trial.objects.filter(worked, pk__in=numbers).values_list("pk", flat=True))
    companions = set() if plan is None else set(members_of(plan).values_list("trial", flat=True))
    return tuple(
        TrialBeside(
            trial_id=pk,
            trial_name=name,
            is_planned=pk in at_work,
            has_begun=pk in begun,
            is_companion=pk in companions,
        )
        for pk, name in rows
        if pk in at_work or pk not in over
    )[:_MOST]


def moved_in(plan: BenchPlan) -> tuple[MovedIn, ...]:
    """What a plan moved in its own trial and in those planned at once with it, as far as they had plans before. One query."""
    members = members_of(plan).filter(state="done").select_related("trial")
    return tuple(
        MovedIn(trial_id=each.trial_id, trial_name=each.trial.name, says=_say(each.moved))
        for each in sorted(members, key=lambda each: (each.pk != plan.pk, each.pk))
        if each.moved.get("n_works")
    )


def _say(moved: dict[str, Any]) -> str:
    n, of = moved["n_moved"], moved["n_works"]
    parts: Iterable[str] = (
        f"{n} of {of} pieces of work that are left {'goes' if n == 1 else 'go'} to another day" if n else "no work goes to another day",
        "" if moved["last_was"] == moved["last_is"] or not moved["last_was"]
        else f"the last goes from {_day(moved['last_was'])} to {_day(moved['last_is'])}",
    )  # fmt: skip
    return f"{', '.join(part for part in parts if part)}."


def _day(iso: str) -> str:
    day = date.fromisoformat(iso)
    return f"{day.day} {day:%B}"
