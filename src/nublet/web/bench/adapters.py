"""Rows of the bench days to the core's types and back."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from functools import cached_property
from typing import Any, cast
from zoneinfo import ZoneInfo

from nublet.core.bench.evenness import NOTHING_CLOSED, Closed, closed_steps
from nublet.core.bench.keys import VOID_WITHOUT, DoneWork, WorkKey
from nublet.core.bench.measures import MEASURES
from nublet.core.bench.standing import StandingWork, WorkEntryKind
from nublet.core.bench.standing import WorkEntry as CoreEntry
from nublet.core.errors import PlanError
from nublet.core.materials.preparations import Preparation
from nublet.core.materials.recipes import Recipe
from nublet.core.planning.busy import busy_with
from nublet.core.planning.calendar import moment_at, seconds_since
from nublet.core.planning.chains import Kind
from nublet.core.planning.plan import Operation, Plan, PlannedPanel
from nublet.core.planning.spec import Busy, BusyAir, BusyHands, PlanSpec
from nublet.core.planning.spec import Hands as CoreHands
from nublet.core.planning.trial_work import TrialGroup, groups_of
from nublet.formats.schedule_json import hands_from_plain, plan_spec_from_plain
from nublet.web.bench.models import BenchPlan, Hands, PanelWork, PlannedOperation, ShopBench, WorkEntry
from nublet.web.build_ups.adapters import control_preparations, sections_by_build_up, to_recipes
from nublet.web.designs.models import TrialPanel, TrialSpot
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial

NOTHING_BUSY = Busy()


def key_of(row: PanelWork) -> WorkKey:
    """The key of a row of the log; its panel is joined."""
    return WorkKey(row.panel.code, row.item, cast("Kind", row.kind), row.look_after_min, row.nth, row.act)


def to_entry(row: WorkEntry) -> CoreEntry:
    """The core's entry of a row with what it undoes joined."""
    return CoreEntry(
        id=str(row.client_id),
        entry=cast("WorkEntryKind", row.entry),
        panels=tuple(row.panels),
        at=row.at,
        begun_at=row.begun_at,
        hands=row.hands_id,
        mix=row.measured.get("mix"),
        pour=row.measured.get("pour"),
        reason=row.reason,
        measured={name: value for name, value in row.measured.items() if name in MEASURES},
        undoes=None if row.undoes is None else str(row.undoes.client_id),
    )


def standing_columns(standing: StandingWork) -> dict[str, Any]:
    """What stands, by the names of the log's columns."""
    return {
        "begun_at": standing.begun_at,
        "ended_at": standing.ended_at,
        "skipped_because": standing.skipped_because,
        "is_even": standing.is_even,
        "hands_id": standing.hands,
        "mix_id": standing.mix,
        "pour_id": standing.pour,
        **{name: standing.measured.get(name) for name in MEASURES},
    }


def to_hands(row: Hands) -> CoreHands:
    """The core's hands of a row. Raises ``PlanError`` where the hours cannot be."""
    return hands_from_plain({"name": row.name, "hours": row.hours, "days_off": row.days_off}, "hands")


def spec_for(
    trial: Trial,
    bench: ShopBench,
    hands: Iterable[Hands],
    *,
    start_at: datetime,
    weighs: bool,
    condition_h: float,
    prepares: bool = False,
    busy: Busy = NOTHING_BUSY,
) -> PlanSpec:
    """What a plan of the trial is asked for. Six queries.

    Panels of one build-up that carry different exposures are groups of their own. Spoiled panels are left out.

    Raises
    ------
    PlanError
        If there is nobody to plan for, or no panel.
    """
    people = tuple(to_hands(row) for row in hands)
    if not people:
        raise PlanError("Nobody works at the bench yet. Give each pair of hands its hours under Bench.")
    panels = list(
        TrialPanel.objects.filter(trial=trial, spoiled_at__isnull=True)
        .select_related("build_up__version", "board")
        .order_by("build_up", "board", "slip_test", "position")
    )
    if not panels:
        raise PlanError("This trial has no panels yet. Draw lots under Design first.")
    return PlanSpec(
        start=start_at.astimezone(ZoneInfo(bench.time_zone)),
        people=people,
        heat_blocks=bench.heat_blocks,
        irons=bench.irons,
        rack_places=bench.rack_places,
        cleanup_min=bench.cleanup_min,
        airing_min=bench.airing_min,
        is_together=trial.exposing == "together",
        busy=busy,
        groups=groups_of(
            _groups_of(trial, panels, prepares=prepares),
            protocol_of(trial),
            n_judges=max(1, trial.judges.count()),
            weighs=weighs,
            condition_h=condition_h,
            paces=bench.paces,
        ),
    )


def _groups_of(trial: Trial, panels: Sequence[TrialPanel], *, prepares: bool) -> list[TrialGroup]:
    """Panels of one build-up that carry the same tests. Two queries."""
    recipes = to_recipes({panel.build_up for panel in panels}, trial.shop_id)
    bare = {row.pk: each for row, each in control_preparations({p.build_up for p in panels}, recipes).items()}
    sections = sections_by_build_up(trial, {panel.build_up for panel in panels})
    exposed: dict[int, Counter[str]] = defaultdict(Counter)
    for panel_id, exposure in TrialSpot.objects.filter(
        panel__trial=trial, left_out_at__isnull=True
    ).values_list("panel", "exposure"):
        exposed[panel_id][exposure] += 1
    order = [exposure.id for exposure in protocol_of(trial).tests]
    alike: dict[tuple[int, tuple[tuple[str, int], ...]], list[TrialPanel]] = defaultdict(list)
    for panel in panels:
        own = exposed[panel.pk]
        alike[panel.build_up_id, tuple((name, own[name]) for name in order if own[name])].append(panel)
    variants = Counter(build_up for build_up, _ in alike)
    seen: Counter[int] = Counter()
    groups = []
    for (build_up, exposures), rows in alike.items():
        seen[build_up] += 1
        name = rows[0].build_up.name
        groups.append(
            TrialGroup(
                name=name if variants[build_up] == 1 else f"{name} ({seen[build_up]})",
                # A slip is not coated beforehand: what is dropped and drawn out on it is its test.
                recipe=None if rows[0].is_slip else recipes.get(build_up),
                panels=tuple(row.code for row in rows),
                boards=tuple(row.block for row in rows),
                # Bare wood is bare all over, and glass has no sections.
                sections=() if rows[0].is_slip else sections[build_up],
                preparation=_prepared(rows[0], recipes, bare) if prepares else None,
                face_m2=trial.panel_length_mm * trial.panel_width_mm / 1e6,
                exposures=dict(exposures),
            )
        )
    return groups


def _prepared(
    panel: TrialPanel, recipes: Mapping[int, Recipe], bare: Mapping[int, Preparation]
) -> Preparation | None:
    """What is done to a panel first: as its recipe says, or as bare wood is; nothing to glass."""
    recipe = recipes.get(panel.build_up_id)
    if panel.is_slip:
        return None
    return bare.get(panel.build_up_id) if recipe is None else recipe.preparation


def busy_beside(plans: Iterable[BenchPlan], *, start_at: datetime, now: datetime) -> Busy:
    """What other plans still take of the shop, by the clock of a plan that starts at ``start_at``. Two queries a plan."""
    hands: list[BusyHands] = []
    air: list[BusyAir] = []
    for plan in plans:
        log = log_of(plan)
        rows = plan.operations.filter(end_at__gt=now).select_related("hands", "build_up").order_by("start_at")
        made = to_plan(plan, rows, lambda row: row.item)
        operations = [
            replace(
                operation,
                panels=tuple(
                    replace(panel, group=log.group_of(panel.panel) or panel.group)
                    for panel in operation.panels
                ),
            )
            for operation in made.operations
        ]
        taken = busy_with(
            log.spec,
            operations,
            later_s=seconds_since(start_at, plan.start_at),
            done=log.done(running_until=now),
            since_s=seconds_since(start_at, now),
        )
        hands += taken.hands
        air += taken.air
    return Busy(hands=tuple(hands), air=tuple(air))


def stored_spec(plan: BenchPlan) -> PlanSpec:
    """The specification that a plan was made from, its times in the zone that they had."""
    spec = plan_spec_from_plain(plan.spec)
    return replace(spec, start=plan.start_at.astimezone(ZoneInfo(plan.time_zone)))


@dataclass(frozen=True, kw_only=True)
class BenchLog:
    """The log of a trial beside the specification that it is held against."""

    spec: PlanSpec
    works: Sequence[PanelWork]

    @cached_property
    def _groups(self) -> dict[str, str]:
        return {panel: group.id for group in self.spec.groups for panel in group.panels}

    @property
    def codes(self) -> set[str]:
        """Codes of the panels that the log tells of."""
        return {row.panel.code for row in self.works}

    def seconds(self, moment: datetime) -> float:
        """Seconds since the plan's start."""
        return seconds_since(self.spec.start, moment)

    def moment(self, seconds: float) -> datetime:
        """The moment so many seconds after the plan's start."""
        return moment_at(self.spec.start, seconds)

    def group_of(self, panel: str) -> str | None:
        """The group of a panel, ``None`` for one that is not planned any more."""
        return self._groups.get(panel)

    def done(self, *, running_until: datetime | None = None, with_skipped: bool = False) -> list[DoneWork]:
        """What was done, as the core judges it.

        With ``running_until`` what was begun counts as ended then; ``with_skipped`` counts what was given up as done.
        """
        found = []
        for row in self.works:
            group = self.group_of(row.panel.code)
            ended = row.ended_at or running_until
            if group is None or row.begun_at is None or ended is None:
                continue
            if row.is_even or (row.skipped_because and not with_skipped):
                continue
            work = DoneWork(
                group=group,
                panel=row.panel.code,
                item=row.item,
                kind=cast("Kind", row.kind),
                start_s=self.seconds(row.begun_at),
                end_s=self.seconds(max(ended, row.begun_at)),
                look_after_min=row.look_after_min,
                act=row.act,
            )
            found.append(work)
            if row.skipped_because:
                found += [
                    replace(work, kind=kind, look_after_min=look) for kind, look in self._given_up_with(work)
                ]
        return found

    @cached_property
    def closed(self) -> Closed:
        """The steps that are no work of a panel any more, because its sheen was even before them."""
        even = [key_of(row) for row in self.works if row.is_even]
        return closed_steps(self.spec, even, self.done()) if even else NOTHING_CLOSED

    def is_until_even(self, panel: str, item: str) -> bool:
        """Whether a coat is put on only where the sheen is not even before it."""
        return (self.group_of(panel) or "", item) in self._until_even

    @cached_property
    def _until_even(self) -> frozenset[tuple[str, str]]:
        return frozenset(
            (group.id, step.id) for group in self.spec.groups for step in group.steps if step.ends_when_even
        )

    def _given_up_with(self, work: DoneWork) -> list[tuple[Kind, float]]:
        """What counts as done with a piece of work that was given up, because it is no work any more."""
        looks = {
            (group.id, exposure.id): [look.after_min for look in exposure.looks]
            for group in self.spec.groups
            for exposure in group.exposures
        }
        return [
            (kind, after_min)
            for kind in VOID_WITHOUT.get(work.kind, ())
            for after_min in (looks.get((work.group, work.item), []) if kind == "look" else [0.0])
        ]


def log_of(plan: BenchPlan) -> BenchLog:
    """The trial's log against a plan's specification. One query."""
    works = (
        PanelWork.objects.filter(panel__trial=plan.trial_id)
        .select_related("panel", "mix", "pour")
        .order_by("pk")
    )
    return BenchLog(spec=stored_spec(plan), works=list(works))


def operation_rows(
    plan: BenchPlan,
    made: Plan,
    hands: Mapping[str, Hands],
    standing: Iterable[PanelWork],
) -> list[PlannedOperation]:
    """Rows, not saved yet, of a made plan's operations; weighings that stand in the log already are left out."""
    build_ups = dict(TrialPanel.objects.filter(trial=plan.trial_id).values_list("code", "build_up"))
    logged = {key_of(row) for row in standing if row.ended_at is not None}
    # A coat that is done, or planned earlier, makes a weighing the one after it.
    coated_s: dict[tuple[str, str], float] = {(key[0], key[1]): -1.0 for key in logged if key[2] == "coat"}
    for operation in made.operations:
        if operation.kind == "coat":
            coated_s.update({(panel.panel, operation.item): panel.start_s for panel in operation.panels})
    rows = []
    for operation in made.operations:
        first = operation.panels[0]
        nth = 1
        if operation.kind == "weigh" and first.start_s >= coated_s.get(
            (first.panel, operation.item), float("inf")
        ):
            nth = 2
        look = operation.look_after_min or 0.0
        panels = [
            panel
            for panel in operation.panels
            if WorkKey(panel.panel, operation.item, operation.kind, look, nth, operation.act) not in logged
        ]
        if panels:
            rows.append(
                PlannedOperation(
                    plan=plan,
                    hands=hands[made.spec.people[operation.person].name],
                    build_up_id=None if operation.board else build_ups[first.panel],
                    board=operation.board,
                    kind=operation.kind,
                    item=operation.item,
                    look_after_min=look,
                    nth=nth,
                    act=operation.act,
                    start_at=moment_at(made.spec.start, panels[0].start_s),
                    end_at=moment_at(made.spec.start, panels[-1].end_s),
                    panels=[[panel.panel, panel.start_s, panel.end_s] for panel in panels],
                )
            )
    return rows


def to_plan(
    plan: BenchPlan, rows: Iterable[PlannedOperation], say_item: Callable[[PlannedOperation], str]
) -> Plan:
    """The core's plan of rows, for calendars and sheets; ``say_item`` names the step of an operation.

    What hands did that do not work any more is left out: it is done, and nobody's day.
    """
    spec = stored_spec(plan)
    numbers = {person.name: number for number, person in enumerate(spec.people)}
    operations = [
        Operation(
            item=say_item(row),
            kind=cast("Kind", row.kind),
            look_after_min=row.look_after_min if row.kind == "look" else None,
            act=row.act,
            board=row.board,
            person=numbers[row.hands.name],
            panels=tuple(
                PlannedPanel(
                    group="" if row.build_up is None else row.build_up.name, panel=p, start_s=a, end_s=b
                )
                for p, a, b in row.panels
            ),
        )
        for row in rows
        if row.hands.name in numbers
    ]
    return Plan(
        spec=spec,
        operations=tuple(operations),
        end_s=max((operation.end_s for operation in operations), default=0),
        lower_bound_s=0,
        n_sittings=plan.n_sittings,
        waiting_s=0,
        says=tuple(plan.says),
    )
