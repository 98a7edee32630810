"""Build-ups of a trial to the core's types."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from nublet.core.design.whole import share_out
from nublet.core.materials.build_ups import BuildUp
from nublet.core.materials.mixes import Work
from nublet.core.materials.preparations import Preparation, control_preparation, preparation_from_dict
from nublet.core.materials.product_records import product_from_dict
from nublet.core.materials.recipes import Recipe
from nublet.core.materials.sections import SectionRecipe, section_from_dict, sections_on
from nublet.core.materials.species import Species
from nublet.web.build_ups.models import TrialBuildUp
from nublet.web.shelf.adapters import outline_of, products_named, to_recipe
from nublet.web.trials.adapters import measures_of, protocol_of
from nublet.web.trials.models import Trial


def to_build_ups(rows: Iterable[TrialBuildUp]) -> list[BuildUp]:
    """Core build-ups of a trial's rows, products known by their families alone; rows need their version joined."""
    return [
        BuildUp(name=row.name, recipe=None if row.version is None else outline_of(row.version.recipe))
        for row in rows
    ]


def to_recipes(rows: Iterable[TrialBuildUp], shop_id: int) -> dict[int, Recipe]:
    """Full recipes by the build-up's number, without the control; rows need their version joined. One query."""
    versions = {row.pk: row.version for row in rows if row.version is not None}
    products = products_named((version.recipe for version in versions.values()), shop_id)
    return {pk: to_recipe(version, products) for pk, version in versions.items()}


def to_full_build_ups(rows: Iterable[TrialBuildUp], shop_id: int) -> list[BuildUp]:
    """Core build-ups with their products; rows need their version joined. One query."""
    rows = list(rows)
    recipes = to_recipes(rows, shop_id)
    return [BuildUp(name=row.name, recipe=recipes.get(row.pk)) for row in rows]


def sections_of(trial: Trial) -> tuple[SectionRecipe, ...]:
    """The recipes of the trial's sections, in order. One query where one of them names a product of the shelf."""
    plain = [{"name": name, **trial.section_recipes.get(name, {})} for name in trial.sections]
    if trial.section_products:
        products = {
            int(number): product_from_dict(each, product_id=int(number), is_stored=True)
            for number, each in trial.section_products.items()
        }
    else:
        products = products_named(plain, trial.shop_id) if any(each.get("layers") for each in plain) else {}
    return tuple(section_from_dict(each, products, is_stored=True) for each in plain)


def sections_by_build_up(trial: Trial, rows: Iterable[TrialBuildUp]) -> dict[int, tuple[SectionRecipe, ...]]:
    """The recipes of the sections of each build-up's panels, by its number: one that is left out there carries nothing."""
    sections = sections_of(trial)
    return {row.pk: sections_on(sections, row.sections_out) for row in rows}


def control_preparations(
    rows: Iterable[TrialBuildUp], recipes: Mapping[int, Recipe]
) -> dict[TrialBuildUp, Preparation]:
    """How each bare control among the rows is prepared: as it says, or the usual one as most build-ups are sanded."""
    usual = control_preparation([recipe.preparation for recipe in recipes.values()])
    return {
        row: usual if row.preparation is None else preparation_from_dict(row.preparation)
        for row in rows
        if row.is_control
    }


def work_of(trial: Trial, woods: Mapping[str, Species], *, n_panels: int | None = None) -> Work:
    """What each build-up of the trial is put on: ``n_panels``, or panels of every board while no design says less."""
    if n_panels is None:
        each = share_out(protocol_of(trial).tests).panels_each(trial.panels_each)
        n_panels = len(trial.species) * trial.boards_per_species * each
    return Work(
        n_panels=max(1, n_panels),
        face_m2=trial.panel_length_mm * trial.panel_width_mm / 1e6,
        woods=[woods[wood] for wood in trial.species if wood in woods],
        measures=measures_of(trial),
        thinner_prices=trial.shop.thinner_prices or {},
    )
