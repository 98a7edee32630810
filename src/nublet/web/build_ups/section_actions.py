"""What a trial's sections carry: set as a whole, because each is only what it is beside the others."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

from django.db import transaction

from nublet.core.errors import BuildUpError, DesignError
from nublet.core.materials.recipes import Layer, recipe_as_dict
from nublet.core.materials.sections import SectionRecipe, section_as_dict, section_from_dict
from nublet.core.plain import tidy
from nublet.web.api.conflicts import ConflictError
from nublet.web.build_ups.actions import change_build_up, find_candidate
from nublet.web.build_ups.adapters import to_recipes
from nublet.web.people.audit import record
from nublet.web.people.models import Person
from nublet.web.shelf.adapters import products_named
from nublet.web.trials.actions import lock_trial, update_trial
from nublet.web.trials.models import Trial

# What a section that was made from a final wax is called, and the one beside it.
_WITHOUT, _WITH = "nothing on top", "waxed"


@transaction.atomic
def set_sections(actor: Person, trial_id: int, wanted: Sequence[Mapping[str, Any]]) -> Trial:
    """Set the sections of each panel, and what each carries on top of the panel's build-up.

    Other names, or another number of them, discard a standing design; other recipes alone do not.

    Raises
    ------
    Http404, PermissionDenied
    DesignError
        If a name is missing or given twice, or there are too many.
    BuildUpError
        If nobody could carry a recipe out; ``field`` begins with the section's place.
    ConflictError
        If the trial has started.
    """
    trial = lock_trial(actor, trial_id)
    products = products_named(wanted, actor.shop_id)
    sections = []
    for index, plain in enumerate(wanted):
        try:
            section = section_from_dict({**plain, "name": tidy(str(plain.get("name") or ""))}, products)
        except BuildUpError as error:
            raise BuildUpError(
                error.message, field=f"sections.{index}.{error.field}" if error.field else f"sections.{index}"
            ) from error
        sections.append(section)
    names = [section.name for section in sections]
    if len({name.casefold() for name in names}) < len(names):
        raise DesignError("Two sections have one name. Name each once.", field="sections")
    recipes = {section.name: _stored(section) for section in sections if not section.is_plain}
    if trial.is_started and (names != trial.sections or recipes != trial.section_recipes):
        raise ConflictError(
            "This trial has started, so what its sections carry can no longer change. Record what went otherwise as a "
            "deviation under Prepare, or make a new trial for a new comparison."
        )
    update_trial(actor, trial_id, sections=names)
    trial.refresh_from_db()
    trial.section_recipes = recipes
    trial.save(update_fields=["section_recipes"])
    record(actor, "set_sections", trial, sections=names)
    return trial


@transaction.atomic
def try_without_wax(actor: Person, trial_id: int, build_up_id: int) -> Trial:
    """Test a build-up with and without its last wax, as sections of one panel: the wax leaves the build-up and becomes a section.

    Raises
    ------
    Http404, PermissionDenied
    BuildUpError
        If the build-up has no last wax, or panels have sections already.
    """
    trial = lock_trial(actor, trial_id)
    row = find_candidate(trial, build_up_id)
    recipe = to_recipes([row], actor.shop_id)[row.pk]
    if recipe.final != "waxed" or recipe.final_product is None:
        raise BuildUpError(f"{row.name} has no last wax to leave off.", field="final")
    if trial.sections:
        raise BuildUpError(
            "The panels have sections already. Add one with the wax under Build-ups.", field="sections"
        )
    wax = Layer(product=recipe.final_product)
    bare = replace(recipe, final="none", final_product=None)
    change_build_up(actor, trial_id, build_up_id, name=row.name, recipe=recipe_as_dict(bare))
    return set_sections(
        actor,
        trial_id,
        [{"name": _WITHOUT}, section_as_dict(SectionRecipe(name=_WITH, layers=(wax,)))],
    )


def _stored(section: SectionRecipe) -> dict[str, Any]:
    plain = section_as_dict(section)
    del plain["name"]
    return plain
