"""What can be done to the build-ups of a trial: one function a change."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from django.db import transaction
from django.http import Http404

from nublet.core.errors import BuildUpError, NubletError
from nublet.core.materials.build_ups import BuildUp, check_build_ups, revealed_build_up
from nublet.core.materials.compatibility import refuse_undeclared
from nublet.core.materials.recipes import (
    Recipe,
    check_recipe,
    recipe_as_dict,
    recipe_by_label,
    recipe_from_dict,
    simple_recipe,
)
from nublet.core.plain import as_plain, tidy
from nublet.web.build_ups.adapters import control_preparations, to_build_ups, to_full_build_ups, to_recipes
from nublet.web.build_ups.models import TrialBuildUp
from nublet.web.people.audit import record
from nublet.web.people.models import Person
from nublet.web.shelf.actions import make_version
from nublet.web.shelf.adapters import products_named, to_product, to_recipe, uses_of, woods_of
from nublet.web.shelf.models import BuildUp as ShelfBuildUp
from nublet.web.shelf.models import BuildUpVersion, ShelfProduct
from nublet.web.trials.actions import drop_design, lock_trial
from nublet.web.trials.adapters import setting_of
from nublet.web.trials.models import Trial


@dataclass(frozen=True, kw_only=True)
class ChangeResult:
    """The trial's build-up after a change, and the version that was made for the shelf alone, if any."""

    row: TrialBuildUp
    made_for_shelf: BuildUpVersion | None


@transaction.atomic
def add_build_up(
    actor: Person,
    trial_id: int,
    *,
    name: str = "",
    product: int | None = None,
    version: int | None = None,
    family: str = "",
    coats: int | None = None,
) -> TrialBuildUp:
    """Add a candidate: a product as its label asks, a version from the shelf, or a family in some coats.

    Parameters
    ----------
    actor : Person
    trial_id : int
    name : str
        Empty takes the product's, or that of the version's build-up.
    product, version : int or None
        Shelf numbers; with a version the trial compares just that version, or, under another name, a copy of it.
    family, coats : str and int
        Used when neither is given; ``coats`` also overrides a label's.

    Raises
    ------
    Http404, PermissionDenied
    BuildUpError, ShelfError
        If it cannot be added as described.
    ConflictError
        If the trial has started.
    """
    trial = lock_trial(actor, trial_id)
    drop_design(actor, trial, what="the list of build-ups")
    if version is not None:
        chosen = BuildUpVersion.objects.filter(build_up__shop=actor.shop_id, pk=version).first()
        if chosen is None:
            raise BuildUpError("That version is not on your shelf. Choose another.", field="version")
        name = _clean(name) or chosen.build_up.name
        products = products_named([chosen.recipe], actor.shop_id)
        _check_candidate(trial, name, to_recipe(chosen, products))
        if name != chosen.build_up.name:
            # Under another name it is the beginning of another build-up, with the products as they are now.
            chosen = make_version(actor, name, recipe_from_dict(chosen.recipe, products))
    else:
        found = None if product is None else _find_product(actor, product)
        name = _clean(name) or ("" if found is None else found.name)
        recipe = (
            simple_recipe(family, 1 if coats is None else coats) if found is None else _by_label(found, coats)
        )
        _check_candidate(trial, name, recipe)
        chosen = make_version(actor, name, recipe)
    row = TrialBuildUp.objects.create(trial=trial, name=name, version=chosen)
    record(actor, "add_build_up", trial, name=name, version=chosen.number)
    return row


@transaction.atomic
def add_bare_control(actor: Person, trial_id: int, *, like: int) -> TrialBuildUp:
    """Add a further bare control, prepared as a build-up is: what its preparation alone does can then be told apart.

    Raises
    ------
    Http404, PermissionDenied
    BuildUpError
        If a bare control of the trial is prepared so already.
    ConflictError
        If the trial has started.
    """
    trial = lock_trial(actor, trial_id)
    row = find_candidate(trial, like)
    drop_design(actor, trial, what="the list of build-ups")
    rows = list(trial.build_ups.select_related("version").order_by("pk"))
    recipes = to_recipes(rows, actor.shop_id)
    wanted = recipes[row.pk].preparation
    for other, preparation in control_preparations(rows, recipes).items():
        if preparation == wanted:
            raise BuildUpError(f"{other.name} is prepared so already.", field="bare_like")
    # A name of its own, within what the table takes.
    name = f"Bare, as {row.name}"[:120]
    check_build_ups([*to_build_ups(rows), BuildUp(name=name, recipe=None)], minimum=0)
    made = TrialBuildUp.objects.create(trial=trial, name=name, is_control=True, preparation=as_plain(wanted))
    record(actor, "add_bare_control", trial, name=name)
    return made


@transaction.atomic
def change_build_up(
    actor: Person, trial_id: int, build_up_id: int, *, name: str, recipe: Mapping[str, Any]
) -> ChangeResult:
    """Change a candidate's name or recipe.

    A version that a started trial, or any other trial, uses is never changed: a new one is made, which this trial then
    compares. A trial that has started keeps its own version; the new one is made for the shelf.

    Raises
    ------
    Http404, PermissionDenied
    BuildUpError
        If nobody could carry the recipe out.
    BlockedCombinationError
        If it would not hold and is not declared as an experiment.
    """
    trial = lock_trial(actor, trial_id)
    row = find_candidate(trial, build_up_id)
    name = _clean(name)
    wanted = recipe_from_dict(recipe, products_named([recipe], actor.shop_id))
    refuse_undeclared(wanted, setting_of(trial, woods_of(actor.shop_id), uses_of(actor.shop_id)))
    if trial.is_started:
        _check_named(name)
        made = make_version(actor, name, wanted)
        record(actor, "make_version", made.build_up, name=name, number=made.number)
        return ChangeResult(row=row, made_for_shelf=made)
    _check_candidate(trial, name, wanted, instead_of=row)
    if name != row.name:
        # Panels carry the name in the key that was drawn; the design is made anew with it.
        drop_design(actor, trial, what="a build-up's name")
    before = None if row.version is None else row.version.recipe
    row.version = _version_for(actor, row, name, wanted)
    row.name = name
    row.save()
    record(
        actor,
        "change_build_up",
        trial,
        name=name,
        version=row.version.number,
        before=before,
    )
    return ChangeResult(row=row, made_for_shelf=None)


@transaction.atomic
def remove_build_up(actor: Person, trial_id: int, build_up_id: int) -> None:
    """Remove a candidate, or a further bare control; the usual control stays, and the version stays on the shelf."""
    trial = lock_trial(actor, trial_id)
    further = trial.build_ups.filter(pk=build_up_id, preparation__isnull=False).first()
    row = find_candidate(trial, build_up_id) if further is None else further
    drop_design(actor, trial, what="the list of build-ups")
    record(actor, "remove_build_up", trial, name=row.name)
    row.delete()


@transaction.atomic
def set_benchmark(actor: Person, trial_id: int, build_up_id: int, *, is_benchmark: bool) -> None:
    """Say whether a candidate's build-up is a benchmark of the shop, which every new trial begins with."""
    trial = lock_trial(actor, trial_id)
    row = find_candidate(trial, build_up_id)
    build_up = row.version.build_up if row.version is not None else None
    if build_up is None:
        raise Http404
    build_up.is_benchmark = is_benchmark
    build_up.save()
    record(actor, "set_benchmark", build_up, is_benchmark=is_benchmark)


def find_candidate(trial: Trial, build_up_id: int) -> TrialBuildUp:
    """A build-up of the trial that is not its control. Raises ``Http404`` or ``NubletError``."""
    row = trial.build_ups.select_related("version__build_up").filter(pk=build_up_id).first()
    if row is None:
        raise Http404
    if row.is_control:
        raise NubletError("The bare control belongs to every trial and cannot be changed or removed.")
    return row


def _version_for(actor: Person, row: TrialBuildUp, name: str, recipe: Recipe) -> BuildUpVersion:
    version = row.version
    assert version is not None  # noqa: S101 - a candidate has one, by the table's own constraint
    build_up = version.build_up
    if version.is_frozen or version.trial_build_ups.count() > 1:
        return make_version(actor, name, recipe)
    if name != build_up.name:
        is_taken = ShelfBuildUp.objects.filter(shop=actor.shop_id, name=name).exclude(pk=build_up.pk).exists()
        if is_taken or build_up.versions.count() > 1:
            return make_version(actor, name, recipe)
        build_up.name = name
        build_up.save()
    version.recipe = recipe_as_dict(recipe)
    version.save()
    return version


def _by_label(row: ShelfProduct, coats: int | None) -> Recipe:
    recipe = recipe_by_label(to_product(row))
    if coats is not None:
        recipe = replace(recipe, layers=(replace(recipe.layers[0], coats=coats),))
    check_recipe(recipe)
    return recipe


def _find_product(actor: Person, product_id: int) -> ShelfProduct:
    row = ShelfProduct.objects.filter(shop=actor.shop_id, pk=product_id, is_archived=False).first()
    if row is None:
        raise BuildUpError(
            f"Product {product_id} is not on your shelf, or is archived. Choose another.", field="product"
        )
    return row


def _check_candidate(
    trial: Trial, name: str, recipe: Recipe, *, instead_of: TrialBuildUp | None = None
) -> None:
    _check_named(name)
    rows = trial.build_ups.select_related("version").order_by("pk")
    others: Sequence[TrialBuildUp] = [row for row in rows if instead_of is None or row.pk != instead_of.pk]
    build_ups = [*to_full_build_ups(others, trial.shop_id), BuildUp(name=name, recipe=recipe)]
    check_build_ups(build_ups, minimum=0)
    check_name_is_blind(trial, build_ups)


def _check_named(name: str) -> None:
    if not name:
        raise BuildUpError("Give the build-up a name.", field="name")


def _clean(name: str) -> str:
    return tidy(name)


def add_benchmarks(trial: Trial) -> None:
    """Add the shop's benchmarks, each in its newest version."""
    newest = (
        BuildUpVersion.objects.filter(build_up__shop=trial.shop_id, build_up__is_benchmark=True)
        .select_related("build_up")
        .order_by("build_up", "-number")
    )
    seen: set[int] = set()
    for version in newest:
        if version.build_up_id not in seen:
            seen.add(version.build_up_id)
            TrialBuildUp.objects.create(trial=trial, name=version.build_up.name, version=version)


def check_name_is_blind(trial: Trial, build_ups: Sequence[BuildUp]) -> None:
    """Refuse a trial's name that tells judges what a panel carries."""
    revealed = revealed_build_up(trial.name, build_ups)
    if revealed is not None:
        raise NubletError(
            f"The trial's name, {trial.name!r}, gives {revealed!r} away, and judges see it. Name the trial after "
            "the use, such as 'Saloon tables'.",
            field="name",
        )
