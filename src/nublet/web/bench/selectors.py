"""Reading the bench days for screens, each with a fixed number of queries. For keepers: a plan tells what panels carry."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import cast
from uuid import UUID
from zoneinfo import ZoneInfo

from nublet.core.bench.keys import WorkKey
from nublet.core.bench.sitting import CannotBeHad
from nublet.core.bench.windows import Window
from nublet.core.errors import PlanError
from nublet.core.materials.mixes import Amount
from nublet.core.materials.sheet import cautions_at
from nublet.core.planning.chains import Kind
from nublet.core.protocols.agents import cautions_of
from nublet.core.protocols.tests import Test
from nublet.web.bench import clock
from nublet.web.bench.adapters import BenchLog, key_of, log_of
from nublet.web.bench.bench_actions import active_hands, bench_of
from nublet.web.bench.bench_selectors import instruments_of
from nublet.web.bench.beside import MovedIn, TrialBeside, moved_in, trials_beside
from nublet.web.bench.cups import CupAhead, Kitchen, cups_ahead, kitchen_of
from nublet.web.bench.far import FarDate, far_dates_of
from nublet.web.bench.findings import Missed, find_missed
from nublet.web.bench.looks_seen import look_meant, wanted_on_bare_wood, with_looks_seen
from nublet.web.bench.models import (
    BenchPlan,
    Hands,
    Mix,
    PanelWork,
    PlannedOperation,
    PlanState,
    Pour,
    ShopBench,
    WorkEntry,
    WorkEntryKind,
)
from nublet.web.bench.plan_actions import is_running, is_waiting, standing_plan, standing_plans
from nublet.web.bench.pour_actions import latest_pours
from nublet.web.bench.shown_days import BenchDay, count_days, focus_of, shown_day, working_days
from nublet.web.bench.turns import (
    PanelTurn,
    is_done,
    panel_turn,
    spoiled_panels,
    still_wanted,
    turn_key,
    windows_of,
    worked_at,
)
from nublet.web.bench.words import WorkNames, names_of, say_shortly, say_work
from nublet.web.shelf.models import ProductBatch
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial

_MOST_DAYS = 14
_FAR_DAYS = 3 * 366


@dataclass(frozen=True, kw_only=True)
class OperationView:
    """An operation with the turns of its panels. ``row`` has its planned times and its hands.

    ``wipe_after_min`` is a coat's wipe-off window, so that a browser without a network can count it down too; ``until_even`` where a
    panel may be told to have had its last coat before it;
    ``last_entry`` is the id of the entry that can be taken back.
    """

    row: PlannedOperation
    what: str
    short: str
    product: str
    is_hot: bool
    look: str
    cautions: tuple[str, ...]
    amounts: tuple[Amount, ...]
    cup: CupAhead | None
    pot_life_min: float | None
    turns: tuple[PanelTurn, ...]
    temperature_c: float | None
    humidity_pct: float | None
    block_c: float | None
    mix: int | None
    note: str
    agent: str
    pour: int | None
    batches: tuple[ProductBatch, ...]
    wipe_after_min: tuple[float, float] | None
    until_even: bool
    last_entry: UUID | None

    @property
    def n_done(self) -> int:
        """Panels that were done or skipped."""
        return sum(turn.ended_at is not None for turn in self.turns)


@dataclass(frozen=True, kw_only=True)
class PlanJob:
    """A plan that is being made, or that came to nothing. ``is_silent`` when its planner was not heard of for long."""

    plan: BenchPlan
    is_silent: bool
    is_waiting: bool
    elapsed_s: float


@dataclass(frozen=True, kw_only=True)
class OtherWork:
    """What hands are planned to do for another trial, whose plan does not know of this one: first to last on a day."""

    trial_id: int
    trial_name: str
    hands: str
    start_at: datetime
    end_at: datetime


@dataclass(frozen=True, kw_only=True)
class DaysView:
    """A trial's bench days: those asked for with all that is on them."""

    now: datetime
    trial: Trial
    bench: ShopBench
    hands: tuple[Hands, ...]
    plan: BenchPlan | None
    job: PlanJob | None
    focus: date
    days: tuple[BenchDay, ...]
    shown: tuple[BenchDay, ...]
    operations: tuple[OperationView, ...]
    mixes: tuple[Mix, ...]
    pours: tuple[Pour, ...]
    missed: tuple[Missed, ...]
    far: tuple[FarDate, ...]
    n_logged: int
    instruments: tuple[str, ...]
    n_left_open: int
    others: tuple[OtherWork, ...]
    beside: tuple[TrialBeside, ...]
    moved: tuple[MovedIn, ...]
    cannot_be_had: tuple[CannotBeHad, ...]


def view_days(
    trial: Trial,
    *,
    first: date | None = None,
    last: date | None = None,
    work: int | None = None,
    n_days: int = 1,
) -> DaysView:
    """The days from ``first`` to ``last``, at most 14 of them.

    Without them ``n_days`` from the day of the operation that has the number ``work``, or from the day that matters now.
    """
    bench = bench_of(trial.shop)
    zone = ZoneInfo(bench.time_zone)
    now, plan = clock.now(), standing_plan(trial)
    logged = None if plan is None else log_of(plan)
    log = None if logged is None else with_looks_seen(logged, trial)
    works = {} if log is None else {key_of(row): row for row in log.works}
    spoiled = spoiled_panels([trial.pk])[trial.pk]
    rows = [] if plan is None or log is None else _wanted(plan, log, spoiled, works)
    kitchen = kitchen_of(trial)
    names = names_of(kitchen.protocol)
    cups = cups_ahead(rows, kitchen, works)
    days = count_days(rows, works, zone)
    today = now.astimezone(zone).date()
    _check_near(first, today if plan is None else plan.start_at.date())
    asked = next((worked_at(row, works).astimezone(zone).date() for row in rows if row.pk == work), None)
    focus = first = first or asked or focus_of(days, today)
    last = min(max(last or first + timedelta(days=n_days - 1), first), first + timedelta(days=_MOST_DAYS - 1))
    last_entries = _last_entries(trial, since=first - timedelta(days=2))
    windows = {} if log is None else windows_of(log, [*(plan.left_out if plan else []), *spoiled])
    shown = [
        _view(row, log, works, windows, kitchen, names, last_entries, cups.get(row.pk))
        for row in rows
        if log is not None and first <= worked_at(row, works).astimezone(zone).date() <= last
    ]
    lanes = {} if log is None else working_days(log.spec, zone, first, last)
    shown_days = tuple(
        shown_day(first + timedelta(days=n), days, lanes, zone) for n in range((last - first).days + 1)
    )
    return DaysView(
        now=now,
        trial=trial,
        bench=bench,
        hands=tuple(active_hands(trial.shop_id)),
        plan=plan,
        job=_job(BenchPlan.objects.filter(trial=trial).order_by("-pk").first(), plan, now),
        focus=focus,
        days=_bench_days(days),
        shown=shown_days,
        operations=tuple(shown),
        mixes=_standing_mixes(trial),
        pours=tuple(latest_pours(trial)),
        missed=() if logged is None else tuple(find_missed(logged, trial, logged.codes)),
        far=() if log is None else far_dates_of(trial, log, rows, names),
        n_logged=len(works),
        instruments=instruments_of(trial.shop_id),
        others=_others(trial, shown_days[0].opens_at, shown_days[-1].closes_at, zone),
        beside=trials_beside(trial, plan, now),
        moved=() if plan is None else moved_in(plan),
        cannot_be_had=wanted_on_bare_wood(trial, _not_coated_yet(shown, works)),
        n_left_open=sum(row.end_at < now and not is_done(row, works) for row in rows),
    )


def _not_coated_yet(shown: Iterable[OperationView], works: Mapping[WorkKey, PanelWork]) -> set[str]:
    """Codes of the panels that are to be coated on the days shown and carry no coat yet."""
    coated = {row.panel.code for row in works.values() if row.kind == "coat"}
    codes = {turn.code for each in shown if each.row.kind == "coat" for turn in each.turns}
    return codes - coated


def _wanted(
    plan: BenchPlan, log: BenchLog, spoiled: set[str], works: Mapping[WorkKey, PanelWork]
) -> list[PlannedOperation]:
    """The plan's operations that are work still, or were."""
    return still_wanted(_operations(plan), spoiled, works, log.closed)


def _bench_days(days: Mapping[date, tuple[datetime, datetime, int, int]]) -> tuple[BenchDay, ...]:
    """The days that have work, in order."""
    return tuple(
        BenchDay(date=day, opens_at=a, closes_at=b, n_operations=n, n_done=m)
        for day, (a, b, n, m) in sorted(days.items())
    )


def _check_near(first: date | None, begins: date) -> None:
    """Refuse a day that no plan reaches. Raises ``PlanError``."""
    if first is not None and abs((first - begins).days) > _FAR_DAYS:
        raise PlanError(f"Nothing is planned as far away as {first}. Choose another day.", field="first")


def _standing_mixes(trial: Trial) -> tuple[Mix, ...]:
    """The trial's latest mixes that are not emptied. One query."""
    rows = Mix.objects.filter(trial=trial, emptied_at__isnull=True).select_related("batch")
    return tuple(rows.order_by("-pk")[:30])


def operations_of(trial: Trial) -> tuple[BenchPlan | None, list[PlannedOperation], WorkNames]:
    """The standing plan with its operations, and the exposures' names, for calendars and sheets. Four queries."""
    plan = standing_plan(trial)
    rows = (
        []
        if plan is None
        else still_wanted(
            _operations(plan), spoiled_panels([trial.pk])[trial.pk], worked={}, closed=log_of(plan).closed
        )
    )
    return plan, rows, names_of(protocol_of(trial))


def _operations(plan: BenchPlan) -> Iterable[PlannedOperation]:
    return plan.operations.select_related("hands", "build_up").order_by("start_at", "pk")


def _view(
    row: PlannedOperation,
    log: BenchLog,
    works: Mapping[WorkKey, PanelWork],
    windows: Mapping[WorkKey, Window],
    kitchen: Kitchen,
    names: WorkNames,
    last_entries: Mapping[WorkKey, UUID],
    cup: CupAhead | None,
) -> OperationView:
    first = works.get(turn_key(row, row.panels[0][0]))
    found = kitchen.coat(row)
    layer = None if found is None else found.of
    is_coat = found is not None and row.kind == "coat"
    exposure = next((each for each in kitchen.protocol.tests if each.id == row.item), None)
    cautions: tuple[str, ...] = ()
    doing = kitchen.doing(row)
    if doing is not None:
        cautions = doing.cautions
    if layer is not None and row.kind in ("coat", "wipe"):
        cautions = cautions_at(layer, "coat" if row.kind == "coat" else "wipe")
    elif exposure is not None and row.kind in ("lay", "lift", "act"):
        about = {nature for each in kitchen.protocol.tests for nature in each.natures}
        cautions = cautions_of(exposure.natures, beside=about)
    return OperationView(
        row=row,
        what=doing.words
        if doing is not None
        else say_work(row.kind, row.item, row.look_after_min, row.nth, names, act=row.act),
        short=say_shortly(row.kind, row.item, names, act=row.act),
        product="" if layer is None else layer.product.name,
        is_hot=exposure is not None and exposure.is_hot,
        look=""
        if exposure is None or row.kind != "look"
        else look_meant(exposure, kitchen.protocol, row.look_after_min, row.act),
        cautions=cautions,
        amounts=() if cup is None else cup.cup.amounts,
        cup=cup,
        pot_life_min=layer.product.label.pot_life_min
        if is_coat and layer is not None and layer.hardener
        else None,
        turns=tuple(panel_turn(row, panel, log, works, windows) for panel in row.panels),
        temperature_c=None if first is None else first.temperature_c,
        humidity_pct=None if first is None else first.humidity_pct,
        block_c=None if first is None else first.block_c,
        mix=None if first is None else first.mix_id,
        note=found.of.note_of(found.coat) if found is not None and is_coat else "",
        agent=exposure.agent if exposure is not None and _is_poured(row, exposure) else "",
        pour=None if first is None else first.pour_id,
        batches=tuple(kitchen.batches.get(layer.product.id or 0, ()))
        if is_coat and layer is not None
        else (),
        wipe_after_min=layer.product.wipe_off_min if is_coat and layer is not None else None,
        until_even=row.kind in ("coat", "abrade") and log.is_until_even(row.panels[0][0], row.item),
        last_entry=next(
            (last_entries[key] for panel in row.panels if (key := turn_key(row, panel[0])) in last_entries),
            None,
        ),
    )


def _is_poured(row: PlannedOperation, test: Test) -> bool:
    """Whether it is what puts the test's agent on."""
    if test.site.kind == "slip":
        # What is dropped on glass is the finish itself.
        return False
    return row.kind == "lay" or (
        row.kind == "act" and test.main_act is not None and f"{row.act}-".startswith(f"{test.main_act.id}-")
    )


def _last_entries(trial: Trial, *, since: date) -> dict[WorkKey, UUID]:
    """The last entry that stands, by the work and panel that it is about. One query."""
    entries = (
        WorkEntry.objects.filter(trial=trial, at__date__gte=since, undone_by__isnull=True)
        .exclude(entry=WorkEntryKind.TAKE_BACK)
        .order_by("pk")
        .values_list("client_id", "panels", "item", "kind", "look_after_min", "nth", "act")
    )
    return {
        WorkKey(code, item, cast("Kind", kind), look, nth, act): client_id
        for client_id, panels, item, kind, look, nth, act in entries
        for code in panels
    }


def _others(trial: Trial, begins: datetime, ends: datetime, zone: ZoneInfo) -> tuple[OtherWork, ...]:
    """What other trials' plans have for the shop's hands between two moments. Two queries."""
    plans = standing_plans(trial.shop_id, since=begins)
    plans.pop(trial.pk, None)
    rows = PlannedOperation.objects.filter(
        plan__in=plans.values(), start_at__lt=ends, end_at__gt=begins
    ).select_related("hands", "plan__trial")
    found: dict[tuple[int, str, date], OtherWork] = {}
    for row in rows.order_by("start_at"):
        key = row.plan.trial_id, row.hands.name, row.start_at.astimezone(zone).date()
        known = found.get(key)
        found[key] = OtherWork(
            trial_id=row.plan.trial_id,
            trial_name=row.plan.trial.name,
            hands=row.hands.name,
            start_at=row.start_at if known is None else known.start_at,
            end_at=row.end_at if known is None else max(known.end_at, row.end_at),
        )
    return tuple(found.values())


def _job(newest: BenchPlan | None, standing: BenchPlan | None, now: datetime) -> PlanJob | None:
    if newest is None or newest.state == PlanState.DONE or (standing and newest.pk < standing.pk):
        return None
    return PlanJob(
        plan=newest,
        is_silent=newest.state == PlanState.RUNNING and not is_running(newest),
        is_waiting=is_waiting(newest),
        elapsed_s=((newest.ended_at or now) - newest.asked_at).total_seconds(),
    )
