"""What is mixed and decanted at the bench: written down, used up."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from django.db import transaction
from django.http import Http404

from nublet.core.errors import PlanError
from nublet.core.materials.mixes import Content, Work, content_of, fill_cup
from nublet.core.materials.panel_coats import coat_ml, panel_coats
from nublet.core.materials.recipes import Recipe
from nublet.web.bench import clock
from nublet.web.bench.adapters import key_of, log_of
from nublet.web.bench.cups import CupAhead, cups_ahead, kitchen_of
from nublet.web.bench.models import Mix
from nublet.web.bench.plan_actions import standing_plan
from nublet.web.bench.turns import spoiled_panels, still_wanted
from nublet.web.build_ups.adapters import sections_by_build_up, to_recipes, work_of
from nublet.web.build_ups.models import TrialBuildUp
from nublet.web.people.audit import record
from nublet.web.people.models import Person
from nublet.web.shelf.adapters import woods_of
from nublet.web.shelf.models import ProductBatch
from nublet.web.trials.actions import lock_trial
from nublet.web.trials.models import Trial


def mix_for(
    actor: Person,
    trial_id: int,
    *,
    build_up: int,
    item: str,
    n_panels: int,
    batch: int | None = None,
    at: datetime | None = None,
    work: int | None = None,
) -> Mix:
    """Write down a mix, or what was decanted; its pot life counts from ``at``.

    For the planned pass ``work`` and what follows from the same cup; without one for a coat on ``n_panels`` panels.

    Raises
    ------
    Http404, PermissionDenied
    PlanError
        If the build-up has no such coat, or the batch is not of its product.
    """
    with transaction.atomic():
        trial = lock_trial(actor, trial_id, "make_mix")
        row, recipe = _recipe_of(trial, build_up)
        coats = panel_coats(recipe, sections_by_build_up(trial, [row])[row.pk])
        coat = next((coat for coat in coats if coat.id == item), None)
        if coat is None:
            raise PlanError(f"This build-up has no {item!r}. Reload the page.", field="item")
        layer = coat.alone
        content = content_of(layer)
        ahead = None if work is None else _planned_cup(trial, work, content)
        if ahead is None:
            on = pass_work(trial, n_panels)
            serves = [[row.pk, item]]
            cup = fill_cup(
                content,
                coat_ml(coat, on.area_m2(recipe), absorbency=on.absorbency, waste=on.waste),
                on.measures,
            )
        else:
            serves = [[each.build_up_id, each.item] for each in ahead.passes]
            cup = ahead.cup
        chosen = None
        if batch is not None:
            chosen = ProductBatch.objects.filter(pk=batch, product=layer.product.id or 0).first()
            if chosen is None:
                raise PlanError(
                    f"This batch is not one of {layer.product.name}. Choose another.", field="batch"
                )
        mix = Mix.objects.create(
            trial=trial,
            build_up=row,
            item=item,
            product=layer.product.name,
            cup=content.key,
            serves=serves,
            batch=chosen,
            amounts=[{"what": a.what, "amount": a.amount, "quantity": a.quantity} for a in cup.amounts],
            pot_life_min=layer.product.label.pot_life_min if layer.hardener else None,
            made_at=clock.now() if at is None else clock.checked_moment(at, "at"),
            made_by=actor,
        )
        record(actor, "mix", trial, mix=mix.pk, item=item)
        return mix


@transaction.atomic
def empty_mix(actor: Person, trial_id: int, mix_id: int) -> Mix:
    """Say that a mix is used up or thrown away: it counts down no more."""
    trial = lock_trial(actor, trial_id, "make_mix")
    mix = Mix.objects.filter(trial=trial, pk=mix_id).first()
    if mix is None:
        raise Http404
    if mix.emptied_at is None:
        mix.emptied_at = clock.now()
        mix.save()
        record(actor, "empty_mix", trial, mix=mix.pk)
    return mix


def _planned_cup(trial: Trial, work: int, content: Content) -> CupAhead | None:
    """What is mixed for a planned pass and those after it; ``None`` where the plan was made anew meanwhile."""
    plan = standing_plan(trial)
    if plan is None:
        return None
    log = log_of(plan)
    works = {key_of(row): row for row in log.works}
    # As its card shows it: without panels that were spoiled or given up.
    rows = still_wanted(
        plan.operations.filter(kind="coat").order_by("start_at", "pk"),
        spoiled_panels([trial.pk])[trial.pk],
        works,
        log.closed,
    )
    found = cups_ahead(rows, kitchen_of(trial), works).get(work)
    return None if found is None or found.cup.content != content else found


def is_for(mix: Mix, trial: Trial, item: str, codes: Sequence[str]) -> bool:
    """Whether a mix can be put on panels for a coat: the same must be in the cup."""
    if not mix.cup:
        return mix.item == item
    rows = list(
        TrialBuildUp.objects.filter(trial=trial, panels__code__in=codes).select_related("version").distinct()
    )
    recipes = to_recipes(rows, trial.shop_id)
    sections = sections_by_build_up(trial, rows)
    for row in rows:
        recipe = recipes.get(row.pk)
        coats = [] if recipe is None else panel_coats(recipe, sections[row.pk])
        coat = next((coat for coat in coats if coat.id == item), None)
        if coat is None or content_of(coat.alone).key != mix.cup:
            return False
    return True


def pass_work(trial: Trial, n_panels: int) -> Work:
    """The work of one pass, for quantities."""
    return work_of(trial, woods_of(trial.shop_id), n_panels=n_panels)


def _recipe_of(trial: Trial, build_up: int) -> tuple[TrialBuildUp, Recipe]:
    row = TrialBuildUp.objects.filter(trial=trial, pk=build_up).select_related("version").first()
    recipe = None if row is None else to_recipes([row], trial.shop_id).get(row.pk)
    if row is None or recipe is None:
        raise Http404
    return row, recipe
