"""What is due at a shop's bench now and in the next hours, over all its trials."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from nublet.core.bench.due import due_of_pass
from nublet.web.bench import clock
from nublet.web.bench.adapters import BenchLog, key_of, stored_spec
from nublet.web.bench.bench_actions import bench_of
from nublet.web.bench.models import BenchPlan, Mix, PanelWork, PlannedOperation
from nublet.web.bench.plan_actions import standing_plans
from nublet.web.bench.turns import spoiled_panels, still_wanted, turn_key, windows_of
from nublet.web.bench.words import names_of, say_work
from nublet.web.people.models import Person
from nublet.web.people.policies import may
from nublet.web.trials.adapters import protocol_of

# A trial outdoors is looked at for years after its last work; the plans of all others have long nothing left.
_LONGEST = timedelta(days=4 * 366)


@dataclass(frozen=True, kw_only=True)
class DueThing:
    """What comes next at the bench, on the panels of one pass.

    ``is_window`` for a window that stands open or opens later, from ``opens_at`` to ``closes_at``; else it is planned work,
    due at ``opens_at``.
    """

    trial_id: int
    trial_name: str
    operation_id: int | None
    verb: str
    what: str
    kind: str
    panels: tuple[str, ...]
    opens_at: datetime
    closes_at: datetime | None
    aim_at: datetime
    is_window: bool


@dataclass(frozen=True, kw_only=True)
class DueView:
    """All that is due in the next hours, soonest first, by the server's clock; judges have none of it."""

    now: datetime
    things: tuple[DueThing, ...]
    time_zone: str


def list_due(person: Person) -> DueView:
    """What is due at the person's bench, over all trials: windows, mixes and planned work.

    Nothing for a judge: which panels are coated or looked at together tells that they carry the same.
    """
    now = clock.now()
    if not may(person, "see_days"):
        return DueView(now=now, things=(), time_zone="UTC")
    bench = bench_of(person.shop)
    plans = standing_plans(person.shop_id, since=now - _LONGEST)
    by_trial: dict[int, list[PanelWork]] = defaultdict(list)
    for work in (
        PanelWork.objects.filter(panel__trial__in=plans).select_related("panel", "mix").order_by("pk")
    ):
        by_trial[work.panel.trial_id].append(work)
    rows: dict[int, list[PlannedOperation]] = defaultdict(list)
    for row in PlannedOperation.objects.filter(plan__in=plans.values()).order_by("start_at", "pk"):
        rows[row.plan_id].append(row)
    spoiled = spoiled_panels(plans)
    things = [
        thing
        for trial_id, plan in plans.items()
        for thing in _due_of(plan, by_trial[trial_id], rows[plan.pk], spoiled[trial_id], now)
    ]
    things += [
        _due_mix(mix)
        for mix in _standing_mixes(person.shop_id, now)
        if mix.trial_id in plans and _is_wanted(mix, rows[plans[mix.trial_id].pk], by_trial[mix.trial_id])
    ]
    things.sort(
        key=lambda thing: thing.closes_at if thing.opens_at <= now and thing.closes_at else thing.opens_at
    )
    return DueView(now=now, things=tuple(things[:60]), time_zone=bench.time_zone)


def _due_of(
    plan: BenchPlan,
    works: Sequence[PanelWork],
    rows: Sequence[PlannedOperation],
    spoiled: set[str],
    now: datetime,
) -> Iterable[DueThing]:
    log = BenchLog(spec=stored_spec(plan), works=works)
    done = {key_of(row): row for row in works}
    windows = windows_of(log, [*plan.left_out, *spoiled])
    names = names_of(protocol_of(plan.trial))
    now_s = log.seconds(now)
    for row in still_wanted(rows, spoiled, done, log.closed):
        # Looks are due to those who read, by what was done: see nublet.web.readings.tasks.
        if row.kind == "look":
            continue
        left = [
            (key, float(panel[1]))
            for panel in row.panels
            if (work := done.get(key := turn_key(row, panel[0]))) is None or work.ended_at is None
        ]
        found = due_of_pass(left, windows, start_s=log.seconds(row.start_at), now_s=now_s)
        if found is not None:
            yield DueThing(
                trial_id=plan.trial_id,
                trial_name=plan.trial.name,
                operation_id=row.pk,
                verb=say_work(row.kind, row.item, row.look_after_min, row.nth, names, act=row.act),
                kind=row.kind,
                what=row.item,
                panels=found.panels,
                opens_at=log.moment(found.opens_s),
                closes_at=None if found.closes_s is None else log.moment(found.closes_s),
                aim_at=log.moment(found.aim_s),
                is_window=found.is_window,
            )


def _standing_mixes(shop_id: int, now: datetime) -> Iterable[Mix]:
    return Mix.objects.filter(
        trial__shop=shop_id,
        emptied_at__isnull=True,
        pot_life_min__isnull=False,
        made_at__gte=now - timedelta(hours=24),
    ).select_related("trial")


def _is_wanted(mix: Mix, rows: Sequence[PlannedOperation], works: Sequence[PanelWork]) -> bool:
    """Whether a panel that it was mixed for is still to be coated: what is left of a mix after that is waste."""
    done = {key_of(work) for work in works if work.ended_at is not None}
    return any(turn_key(row, panel[0]) not in done for row in rows if mix.is_for(row) for panel in row.panels)


def _due_mix(mix: Mix) -> DueThing:
    until = mix.made_at + timedelta(minutes=mix.pot_life_min or 0)
    return DueThing(
        trial_id=mix.trial_id,
        trial_name=mix.trial.name,
        operation_id=None,
        verb=f"Use up {mix.product}",
        what=mix.item,
        kind="mix",
        panels=(),
        opens_at=mix.made_at,
        closes_at=until,
        aim_at=until,
        is_window=True,
    )
