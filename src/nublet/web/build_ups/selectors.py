"""Reading a trial's build-ups for screens: what they are, what clashes, what they take, cost and last."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from django.http import Http404

from nublet.core.materials.assessment import Assessment, assess_recipe
from nublet.core.materials.cautions import CAUTIONS, DEFERS, Caution
from nublet.core.materials.compatibility import Finding, Setting, find_conflicts
from nublet.core.materials.coverage import cost_per_m2
from nublet.core.materials.hands_on import calendar_days
from nublet.core.materials.mixes import Work
from nublet.core.materials.recipes import Layer, Recipe, recipe_from_dict
from nublet.core.materials.schools import SchoolAdvice, advise_on_schools
from nublet.core.materials.sections import SectionRecipe, recipe_on_section, section_as_dict
from nublet.core.materials.sheet import Step, application_steps, steps_of_preparation
from nublet.web.build_ups.adapters import (
    control_preparations,
    sections_by_build_up,
    sections_of,
    to_recipes,
    work_of,
)
from nublet.web.build_ups.models import TrialBuildUp
from nublet.web.shelf.adapters import products_named, uses_of, woods_of
from nublet.web.trials.adapters import setting_of
from nublet.web.trials.models import Trial


@dataclass(frozen=True, kw_only=True)
class BuildUpRow:
    """A build-up of the trial. ``recipe`` and ``assessment`` are ``None`` for a control; ``prepared`` are its steps then."""

    row: TrialBuildUp
    recipe: Recipe | None
    assessment: Assessment | None
    prepared: tuple[str, ...]

    @property
    def is_further(self) -> bool:
        """Whether it is a bare control beside the usual one."""
        return self.row.preparation is not None

    @property
    def plain(self) -> dict[str, Any] | None:
        """The recipe as it is stored."""
        return None if self.row.version is None else self.row.version.recipe

    @property
    def layers(self) -> tuple[Layer, ...]:
        """The layers to draw."""
        return () if self.recipe is None else self.recipe.all_layers


@dataclass(frozen=True, kw_only=True)
class BuildUpsView:
    """All build-ups of a trial, what its schools confound, and what to buy."""

    trial: Trial
    n_panels: int
    face_m2: float
    advice: SchoolAdvice
    rows: tuple[BuildUpRow, ...]


@dataclass(frozen=True, kw_only=True)
class SectionOn:
    """What there is to say of a section on one build-up: what clashes there that does not on the panel, and its figures."""

    build_up: str
    findings: tuple[Finding, ...]
    is_blocked: bool
    cost_per_m2: float | None
    days: float


@dataclass(frozen=True, kw_only=True)
class SectionRow:
    """A section of each panel. ``plain`` is its recipe as it is stored, ``layers`` what it puts on top.

    ``out`` are the build-ups on which it is not compared.
    """

    plain: dict[str, Any]
    layers: tuple[Layer, ...]
    on: tuple[SectionOn, ...]
    out: tuple[str, ...]


def view_sections(trial: Trial) -> tuple[SectionRow, ...]:
    """The trial's sections with what they come to on each build-up. Five queries at most."""
    woods = woods_of(trial.shop_id)
    setting = setting_of(trial, woods, uses_of(trial.shop_id))
    rows = list(trial.build_ups.select_related("version__build_up").order_by("pk"))
    recipes = to_recipes(rows, trial.shop_id)
    work = work_of(trial, woods, n_panels=1)
    return tuple(
        SectionRow(
            plain=section_as_dict(section),
            layers=section.layers,
            on=tuple(
                _section_on(row.name, recipes[row.pk], section, work, setting)
                for row in rows
                if row.pk in recipes and section.name not in row.sections_out
            ),
            out=tuple(row.name for row in rows if section.name in row.sections_out),
        )
        for section in sections_of(trial)
    )


def _section_on(name: str, base: Recipe, section: SectionRecipe, work: Work, setting: Setting) -> SectionOn:
    recipe = recipe_on_section(base, section)
    known = {(each.rule, each.reason) for each in find_conflicts(base, setting)}
    found = find_conflicts(recipe, setting)
    return SectionOn(
        build_up=name,
        findings=tuple(each for each in found if (each.rule, each.reason) not in known),
        is_blocked=any(each.severity == "block" for each in found) and not recipe.experiment_reason,
        cost_per_m2=cost_per_m2(
            recipe, absorbency=work.absorbency, waste=work.waste, thinner_prices=work.thinner_prices
        ),
        days=calendar_days(recipe),
    )


@dataclass(frozen=True, kw_only=True)
class SheetView:
    """The sheet of one build-up for a trial."""

    trial: Trial
    row: TrialBuildUp
    recipe: Recipe
    work: Work
    steps: tuple[Step, ...]
    assessment: Assessment
    cautions: tuple[Caution, ...]
    defers: str = DEFERS

    @property
    def woods(self) -> list[str]:
        """Names of the woods that it is put on."""
        return [wood.name for wood in self.work.woods]


@dataclass(frozen=True, kw_only=True)
class DraftView:
    """What there is to say of a recipe that is not saved yet."""

    assessment: Assessment
    layers: tuple[Layer, ...]


def view_build_ups(trial: Trial, *, n_panels: int | None = None) -> BuildUpsView:
    """Look over all build-ups of a trial. Four queries at most, however many there are.

    ``n_panels``, here and below, is how many panels of a build-up the standing design has; ``None`` while none says so.
    """
    woods = woods_of(trial.shop_id)
    setting = setting_of(trial, woods, uses_of(trial.shop_id))
    rows = list(trial.build_ups.select_related("version__build_up").order_by("pk"))
    recipes = to_recipes(rows, trial.shop_id)
    work = work_of(trial, woods, n_panels=n_panels)
    bare = {row.pk: each for row, each in control_preparations(rows, recipes).items()}
    named = {row.name: recipes[row.pk] for row in rows if row.pk in recipes}
    return BuildUpsView(
        trial=trial,
        n_panels=work.n_panels,
        face_m2=work.face_m2,
        advice=advise_on_schools(trial.preparation_school, trial.coat_school, named),
        rows=tuple(
            BuildUpRow(
                row=row,
                recipe=recipes.get(row.pk),
                assessment=_assess(recipes.get(row.pk), work, setting),
                prepared=tuple(step.title for step in steps_of_preparation(bare[row.pk], work))
                if row.pk in bare
                else (),
            )
            for row in rows
        ),
    )


def check_draft(trial: Trial, plain: Mapping[str, Any], *, n_panels: int | None = None) -> DraftView:
    """Look a recipe over that is not saved yet. Raises ``BuildUpError`` when nobody could carry it out."""
    woods = woods_of(trial.shop_id)
    setting = setting_of(trial, woods, uses_of(trial.shop_id))
    recipe = recipe_from_dict(plain, products_named([plain], trial.shop_id))
    assessment = assess_recipe(recipe, work_of(trial, woods, n_panels=n_panels), setting)
    return DraftView(assessment=assessment, layers=recipe.all_layers)


def write_sheet(trial: Trial, build_up_id: int, *, n_panels: int | None = None) -> SheetView:
    """Write out a build-up's steps for the trial. Raises ``Http404`` for the control and for what is not there."""
    row = trial.build_ups.select_related("version__build_up").filter(pk=build_up_id).first()
    if row is None or row.version is None:
        raise Http404
    woods = woods_of(trial.shop_id)
    setting = setting_of(trial, woods, uses_of(trial.shop_id))
    recipe = to_recipes([row], trial.shop_id)[row.pk]
    work = work_of(trial, woods, n_panels=n_panels)
    steps = tuple(application_steps(recipe, work, sections_by_build_up(trial, [row])[row.pk]))
    shown = dict.fromkeys(caution for step in steps for caution in step.cautions)
    return SheetView(
        trial=trial,
        row=row,
        recipe=recipe,
        work=work,
        steps=steps,
        assessment=assess_recipe(recipe, work, setting),
        cautions=tuple(CAUTIONS[caution] for caution in shown),
    )


def _assess(recipe: Recipe | None, work: Work, setting: Setting) -> Assessment | None:
    return None if recipe is None else assess_recipe(recipe, work, setting)
