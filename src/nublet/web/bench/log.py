"""Reading the log: what each panel took, what was done by whom, and what went otherwise."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from nublet.core.bench.taken import LayerTaken, coats_taken
from nublet.core.materials.coverage import expected_g_per_m2
from nublet.core.materials.panel_coats import PanelCoat, panel_coats
from nublet.core.materials.recipes import Recipe
from nublet.core.measuring.applied import AppliedWeight, weigh_coat
from nublet.web.bench.adapters import BenchLog, stored_spec
from nublet.web.bench.findings import Missed, find_missed
from nublet.web.bench.models import PanelWork
from nublet.web.bench.plan_actions import standing_plan
from nublet.web.bench.words import WorkNames, names_of, say_work
from nublet.web.build_ups.adapters import sections_by_build_up, to_recipes, work_of
from nublet.web.build_ups.models import TrialBuildUp
from nublet.web.shelf.adapters import woods_of
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial


@dataclass(frozen=True, kw_only=True)
class AppliedCoat:
    """One coat of a build-up as it was weighed, panel by panel; what its label lets expect."""

    build_up_id: int
    build_up: str
    item: str
    expected_g_per_m2: float | None
    panels: tuple[AppliedWeight, ...]


@dataclass(frozen=True, kw_only=True)
class CoatsTaken:
    """One layer of a build-up that is coated until the sheen is even."""

    build_up_id: int
    build_up: str
    layer: LayerTaken


@dataclass(frozen=True, kw_only=True)
class LoggedWork:
    """One piece of work as it stands in the log."""

    panel: str
    what: str
    kind: str
    begun_at: datetime | None
    ended_at: datetime | None
    skipped_because: str
    is_even: bool
    hands: str
    mix: str
    pour: str
    temperature_c: float | None
    humidity_pct: float | None
    block_c: float | None
    weight_g: float | None


@dataclass(frozen=True, kw_only=True)
class LogView:
    """A trial's log."""

    applied: tuple[AppliedCoat, ...]
    taken: tuple[CoatsTaken, ...]
    works: tuple[LoggedWork, ...]
    missed: tuple[Missed, ...]


def view_log(trial: Trial) -> LogView:
    """The trial's log, newest work first. A fixed number of queries; empty while there is no plan."""
    plan = standing_plan(trial)
    if plan is None:
        return LogView(applied=(), taken=(), works=(), missed=())
    works = list(
        PanelWork.objects.filter(panel__trial=trial)
        .select_related("panel", "mix__batch", "pour", "hands")
        .order_by("-ended_at", "-begun_at", "-pk")
    )
    names = names_of(protocol_of(trial))
    coated = _coated(trial)
    return LogView(
        applied=tuple(_applied(trial, works, coated)),
        taken=tuple(
            CoatsTaken(build_up_id=number, build_up=own.name, layer=layer)
            for number, own in coated.items()
            for layer in coats_taken(
                own.coats,
                [
                    (row.panel.code, row.item, row)
                    for row in works
                    if row.panel.build_up_id == number and row.kind == "coat"
                ],
            )
        ),
        works=tuple(_logged(row, names) for row in works),
        missed=tuple(
            find_missed(
                BenchLog(spec=stored_spec(plan), works=works), trial, {row.panel.code for row in works}
            )
        ),
    )


@dataclass(frozen=True, kw_only=True)
class _Coated:
    """A build-up with what it is coated with."""

    name: str
    recipe: Recipe
    coats: Sequence[PanelCoat]


def _coated(trial: Trial) -> dict[int, _Coated]:
    """The trial's build-ups that are coated, by number. Three queries."""
    build_ups = {row.pk: row for row in TrialBuildUp.objects.filter(trial=trial).select_related("version")}
    sections = sections_by_build_up(trial, build_ups.values())
    return {
        number: _Coated(
            name=build_ups[number].name, recipe=recipe, coats=panel_coats(recipe, sections[number])
        )
        for number, recipe in to_recipes(build_ups.values(), trial.shop_id).items()
    }


def _applied(trial: Trial, works: Sequence[PanelWork], coated: Mapping[int, _Coated]) -> list[AppliedCoat]:
    """What each panel took of each coat that was weighed before and after, judged against the others of its build-up."""
    weights: dict[tuple[int, str], dict[str, dict[int, float]]] = defaultdict(lambda: defaultdict(dict))
    for row in sorted(works, key=lambda work: work.pk):
        if row.kind == "weigh" and row.weight_g is not None:
            weights[row.panel.build_up_id, row.item][row.panel.code][row.nth] = row.weight_g
    if not weights:
        return []
    work = work_of(trial, woods_of(trial.shop_id), n_panels=1)
    found = []
    for (build_up, item), by_panel in sorted(weights.items()):
        own = coated.get(build_up)
        if own is None:
            continue
        coat = next((coat for coat in own.coats if coat.id == item), None)
        product = None if coat is None else coat.of.product
        expected = (
            None
            if coat is None or product is None
            else expected_g_per_m2(product, coat.spread_coat, absorbency=work.absorbency)
        )
        found.append(
            AppliedCoat(
                build_up_id=build_up,
                build_up=own.name,
                item=item,
                expected_g_per_m2=expected,
                panels=weigh_coat(
                    {code: (both[1], both[2]) for code, both in by_panel.items() if len(both) == 2},
                    area_m2=work.area_m2(own.recipe) * (1.0 if coat is None else coat.share),
                    expected_g_per_m2=expected,
                ),
            )
        )
    return found


def _logged(row: PanelWork, names: WorkNames) -> LoggedWork:
    batch = "" if row.mix is None or row.mix.batch is None else row.mix.batch.number
    return LoggedWork(
        panel=row.panel.code,
        what=say_work(row.kind, row.item, row.look_after_min, row.nth, names, act=row.act),
        kind=row.kind,
        begun_at=row.begun_at,
        ended_at=row.ended_at,
        skipped_because=row.skipped_because,
        is_even=row.is_even,
        hands="" if row.hands is None else row.hands.name,
        mix="" if row.mix is None else batch or "mixed",
        pour="" if row.pour is None else row.pour.batch or f"{row.pour.made_at:%H:%M}",
        temperature_c=row.temperature_c,
        humidity_pct=row.humidity_pct,
        block_c=row.block_c,
        weight_g=row.weight_g,
    )
