"""A trial's factors crossed: its build-ups, bare pieces and sections follow from them, as a whole."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.db import transaction

from nublet.core.design.factor_records import crossing_from_dict, product_ids_of
from nublet.core.design.factors import Crossed, CrossedBuildUp, cross
from nublet.core.materials.sections import section_as_dict
from nublet.core.plain import as_plain, folded
from nublet.web.api.conflicts import ConflictError
from nublet.web.build_ups.actions import check_name_is_blind
from nublet.web.build_ups.adapters import to_full_build_ups
from nublet.web.build_ups.models import TrialBuildUp
from nublet.web.build_ups.section_actions import set_sections
from nublet.web.people.audit import record
from nublet.web.people.models import Person
from nublet.web.shelf.actions import make_version
from nublet.web.shelf.adapters import to_product
from nublet.web.shelf.models import ShelfProduct
from nublet.web.trials.actions import drop_design, lock_trial
from nublet.web.trials.models import Trial


@transaction.atomic
def set_crossing(actor: Person, trial_id: int, plain: Mapping[str, Any]) -> Trial:
    """Cross a trial's factors: make the build-ups, bare pieces and sections of every cell that is not taken out.

    What an earlier crossing made and this one does not is removed, and so is a candidate that is now a level; a build-up that keeps
    its name keeps its number. What was built by hand under another name stays.

    Raises
    ------
    Http404, PermissionDenied
    DesignError, BuildUpError
        If the factors cannot be crossed so; nothing is changed.
    ConflictError
        If the trial has started.
    """
    trial = lock_trial(actor, trial_id)
    if trial.is_started:
        raise ConflictError(
            "This trial has started, so what it crosses can no longer change. Make a new trial for a new comparison."
        )
    rows = ShelfProduct.objects.filter(shop=actor.shop_id, pk__in=product_ids_of(plain))
    crossing = crossing_from_dict(plain, {row.pk: to_product(row) for row in rows})
    found = cross(crossing)
    drop_design(actor, trial, what="what it crosses")
    levels = {
        folded(level.name)
        for factor in crossing.factors
        if factor.kind == "finish"
        for level in factor.levels
    }
    _remove_others(trial, found, levels)
    standing = {folded(row.name): row for row in TrialBuildUp.objects.filter(trial=trial)}
    for each in found.build_ups:
        out = [section for build_up, section in sorted(found.left_out) if build_up == each.name]
        _make(actor, each, standing.get(folded(each.name)) or TrialBuildUp(trial=trial, name=each.name), out)
    made = TrialBuildUp.objects.filter(trial=trial).select_related("version")
    check_name_is_blind(trial, to_full_build_ups(made, actor.shop_id))
    set_sections(actor, trial_id, [section_as_dict(each.section) for each in found.sections])
    trial.refresh_from_db()
    trial.crossing = dict(plain)
    trial.section_levels = {each.section.name: dict(each.levels) for each in found.sections}
    trial.save(update_fields=["crossing", "section_levels"])
    record(actor, "set_crossing", trial, n_build_ups=len(found.build_ups), n_sections=len(found.sections))
    return trial


def _remove_others(trial: Trial, found: Crossed, levels: set[str]) -> None:
    kept = {folded(each.name) for each in found.build_ups}
    for row in TrialBuildUp.objects.filter(trial=trial):
        is_made = bool(row.levels)
        is_level = not row.is_control and folded(row.name) in levels
        if (is_made or is_level) and folded(row.name) not in kept:
            row.delete()


def _make(actor: Person, each: CrossedBuildUp, row: TrialBuildUp, sections_out: list[str]) -> None:
    row.is_control, row.levels = each.recipe is None, dict(each.levels)
    if each.recipe is None:
        row.version, row.preparation = None, as_plain(each.preparation)
        row.save()
        return
    # What will not hold is shown, and refused with the lots: the cell can still be taken out.
    row.version, row.sections_out = make_version(actor, each.name, each.recipe), sections_out
    row.save()
