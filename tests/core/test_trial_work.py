"""From recipes and a protocol to what the planner plans."""

from __future__ import annotations

import time
from datetime import datetime

import pytest

from nublet.core.materials.doings import doing_of
from nublet.core.materials.hands_on import calendar_days
from nublet.core.materials.panel_coats import cure_left_h, panel_coats
from nublet.core.materials.preparations import Preparation
from nublet.core.materials.products import unnamed_product
from nublet.core.materials.recipes import Layer, Recipe
from nublet.core.planning.plan import Plan, make_plan
from nublet.core.planning.spec import CoatStep, Hands, PanelGroup, PlanSpec, WorkingHours
from nublet.core.planning.trial_work import (
    TrialGroup,
    cure_after_last_step_h,
    groups_of,
)
from nublet.core.protocols.looks import look_tolerance_min
from nublet.core.protocols.shipped.table_basics import TABLE_BASICS
from tests.core.finishes import HARDOIL, SATIN, SHELLAC, TUNG, WAX, layer

FACE_M2 = 0.06
ONCE = {exposure.id: 1 for exposure in TABLE_BASICS.tests}


def group(recipe: Recipe | None, **more: object) -> PanelGroup:
    trial_group = TrialGroup(name="A", recipe=recipe, panels=("K7", "T2"), face_m2=FACE_M2, exposures=ONCE)
    return groups_of([trial_group], TABLE_BASICS, **more)[0]  # type: ignore[arg-type]


def recipe_of(*layers: object, **more: object) -> Recipe:
    return Recipe(layers=tuple(layers), preparation=Preparation(), **more)  # type: ignore[arg-type]


def test_each_coat_is_a_step_with_the_labels_windows() -> None:
    found = group(recipe_of(layer(HARDOIL, 2, abrade_between="P400")))
    first, second = found.steps
    assert [step.id for step in found.steps] == ["coat 1", "coat 2"]
    assert first.wipe is not None
    assert (first.wipe.from_min, first.wipe.to_min) == (3, 15)
    assert (first.recoat_from_h, first.recoat_to_h) == (24, 72)
    assert (second.recoat_from_h, second.recoat_to_h) == (0, None)
    assert (first.abrade_minutes_per_panel, second.abrade_minutes_per_panel) == (0, 0.97)
    # 8 min/m² by rag on both faces of 0.06 m², and half a minute of handling.
    assert first.minutes_per_panel == pytest.approx(8 * 0.12 + 0.5)
    assert (first.pot_life_min, found.cure_h) == (240, 7 * 24)


def test_layers_wait_for_each_other_and_cure_on_together() -> None:
    soon = recipe_of(layer(TUNG), layer(SATIN, wait_before_h=240))
    found = group(soon)
    assert [(step.recoat_from_h, step.recoat_to_h) for step in found.steps] == [(240, None), (0, None)]
    # The oil beneath cures in 25 d and had 10 of them when the film went on.
    assert cure_left_h(panel_coats(soon)) == max((25 - 10) * 24, 24 * SATIN.cure_d())
    cured = recipe_of(layer(TUNG), layer(SATIN))
    assert group(cured).steps[0].recoat_from_h == 25 * 24
    assert cure_left_h(panel_coats(cured)) == 24 * SATIN.cure_d()


def test_last_coat_and_cure_agree_with_the_build_ups_calendar_days() -> None:
    for recipe in (
        recipe_of(layer(HARDOIL, 3)),
        recipe_of(layer(TUNG), layer(SATIN, 2, wait_before_h=240)),
        recipe_of(layer(SHELLAC, 3), final="waxed", final_product=WAX),
    ):
        found = group(recipe)
        waits = sum(step.recoat_from_h for step in found.steps)
        assert (waits + found.cure_h) / 24 == pytest.approx(calendar_days(recipe), abs=0.1)


def test_only_open_solvents_fill_the_air() -> None:
    assert [step.is_solvent_open for step in group(recipe_of(layer(SATIN))).steps] == [False]
    assert [step.is_solvent_open for step in group(recipe_of(layer(SHELLAC))).steps] == [True]


def test_control_has_exposures_and_no_coats() -> None:
    found = group(None)
    assert (found.steps, found.cure_h) == ((), 0)
    assert {exposure.id for exposure in found.exposures} == set(ONCE)
    hot = next(exposure for exposure in found.exposures if exposure.id == "dry-heat-100")
    assert hot.needs_heat_block
    assert hot.is_hot


def test_sections_and_judges_multiply_the_work() -> None:
    trial_group = TrialGroup(name="A", recipe=None, panels=("K7",), face_m2=FACE_M2, exposures={"wine-1h": 3})
    wine = groups_of([trial_group], TABLE_BASICS, n_judges=2)[0].exposures[0]
    assert wine.lay_minutes_per_panel == pytest.approx(3 * 0.75)
    assert [look.minutes_per_panel for look in wine.looks] == pytest.approx([1.2, 1.2])
    assert [look.tolerance_min for look in wine.looks] == [10, 144]
    assert look_tolerance_min(20) == 10


def test_a_trial_of_the_shipped_protocol_can_be_planned() -> None:
    hours = (
        WorkingHours(days=frozenset(["mon", "tue", "wed", "thu", "fri"]), from_min=9 * 60, to_min=17.5 * 60),
    )
    recipes = {"oil": recipe_of(layer(HARDOIL, 2)), "film": recipe_of(layer(SATIN, 3)), "bare": None}
    trial_groups = [
        TrialGroup(name=name, recipe=recipe, panels=(f"{name}1", f"{name}2"), face_m2=FACE_M2, exposures=ONCE)
        for name, recipe in recipes.items()
    ]
    spec = PlanSpec(
        start=datetime(2027, 3, 1, 9),  # noqa: DTZ001
        people=(Hands(name="Nell", hours=hours),),
        groups=groups_of(trial_groups, TABLE_BASICS, n_judges=3, weighs=True, condition_h=24),
        cleanup_min=10,
    )
    plan = make_plan(spec, clock=time.monotonic, limit_s=1)
    assert isinstance(plan, Plan)
    assert {operation.kind for operation in plan.operations} >= {
        "weigh",
        "coat",
        "wipe",
        "lay",
        "lift",
        "look",
    }
    coats = [operation for operation in plan.operations if operation.kind in ("weigh", "coat")]
    assert min(operation.start_s for operation in coats) >= 24 * 3600, "panels rest before they are coated"
    assert {operation.group for operation in plan.operations if operation.kind == "lay"} == set(recipes)


def worked_steps(recipe: Recipe | None, preparation: Preparation | None, **paces: float) -> list[CoatStep]:
    group = TrialGroup(
        name="A", recipe=recipe, panels=("K7",), face_m2=0.05, exposures={}, preparation=preparation
    )
    return list(groups_of([group], TABLE_BASICS, paces=paces)[0].steps)


def test_preparing_and_finishing_are_steps_with_their_waits() -> None:
    layer = Layer(product=unnamed_product("wax"), coats=1)
    recipe = Recipe(layers=(layer,), final="buffed")
    prepared = Preparation(grits=(80, 120), water_popped=True, charring="deep", brushed=True, cleaning="damp")
    steps = worked_steps(recipe, prepared)
    assert [step.id for step in steps] == [
        "char", "brush char", "sand", "wet", "sand again", "clean", "coat 1", "buff",
    ]  # fmt: skip
    assert {step.kind for step in steps if step.id != "coat 1"} == {"work"}
    by_id = {step.id: step for step in steps}
    assert by_id["wet"].recoat_from_h == 4
    assert by_id["clean"].recoat_from_h == 1
    # Both faces, two grits at 8 min a square metre, and a quarter of a minute of handling.
    assert by_id["sand"].minutes_per_panel == pytest.approx(0.1 * 8 * 2 + 0.25)
    assert by_id["char"].minutes_per_panel == pytest.approx(0.1 * 12 * 3 + 0.25)
    quicker = {step.id: step for step in worked_steps(recipe, prepared, sand=4.0)}
    assert quicker["sand"].minutes_per_panel == pytest.approx(0.1 * 4 * 2 + 0.25)
    assert quicker["sand again"].minutes_per_panel == pytest.approx(0.1 * 4 + 0.25)


def test_bare_wood_is_sanded_and_no_more_and_without_a_word_nothing_is_prepared() -> None:
    assert [step.id for step in worked_steps(None, Preparation(grits=(120,)))] == ["sand", "clean"]
    assert worked_steps(None, None) == []


def test_what_is_buffed_has_had_part_of_its_cure() -> None:
    recipe = Recipe(layers=(Layer(product=unnamed_product("wax"), coats=2),), final="buffed")
    *_, coat, buff = worked_steps(recipe, None)
    assert buff.id == "buff"
    assert cure_after_last_step_h(recipe) == pytest.approx(
        cure_left_h(panel_coats(recipe)) - coat.recoat_from_h
    )
    plain = Recipe(layers=recipe.layers)
    assert cure_after_last_step_h(plain) == cure_left_h(panel_coats(plain))


def test_each_coat_of_what_light_sets_passes_under_the_lamp() -> None:
    recipe = Recipe(layers=(Layer(product=unnamed_product("uv-oil"), coats=2),))
    steps = worked_steps(recipe, None)
    assert [step.id for step in steps] == ["coat 1", "lamp 1", "coat 2", "lamp 2"]
    first, lamp, *_ = steps
    assert (first.recoat_from_h, first.recoat_to_h) == (0, 1)
    assert (lamp.recoat_from_h, lamp.recoat_to_h) == unnamed_product("uv-oil").recoat_h
    doing = doing_of("lamp 2", None, recipe)
    assert doing is not None
    assert doing.cautions == ("uv-lamp",)
    assert doing_of("coat 2", Preparation(), recipe) is None
