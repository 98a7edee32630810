"""What can be done to a trial: one function a change, and the only writers of its tables."""

from __future__ import annotations

import secrets
from collections.abc import Mapping, Sequence
from typing import Any

from django.core.exceptions import PermissionDenied
from django.db import transaction
from django.http import Http404
from django.utils import timezone

from nublet.core.design.blocks import allocate_panels
from nublet.core.errors import NubletError
from nublet.core.materials.build_ups import CONTROL, BuildUp, check_build_ups, revealed_build_up
from nublet.core.materials.compatibility import refuse_undeclared
from nublet.core.materials.schools import COAT_SCHOOLS, PREPARATION_SCHOOLS
from nublet.core.protocols.exposures import PROTOCOLS
from nublet.core.ranking.profiles import USE_PROFILES
from nublet.web.api.errors import ConflictError
from nublet.web.people.actions import record
from nublet.web.people.models import Person
from nublet.web.shelf.actions import freeze_versions
from nublet.web.shelf.adapters import woods_of
from nublet.web.trials.adapters import (
    panel_size,
    planned_boards,
    protocol_of,
    setting_of,
    store_design,
    to_build_ups,
    to_full_build_ups,
    to_recipes,
)
from nublet.web.trials.models import Trial, TrialBuildUp, TrialPanel

MAX_BOARDS_PER_SPECIES = 30
# Changing one of these makes a standing design wrong.
_SHAPES_DESIGN = frozenset(
    {"species", "boards_per_species", "protocol", "panel_length_mm", "panel_width_mm", "margin_mm"}
)


@transaction.atomic
def create_trial(actor: Person, *, is_simulated: bool = False, **fields: Any) -> Trial:
    """Create a trial with its control; ``fields`` as in :func:`update_trial`.

    Raises
    ------
    PermissionDenied
        If the actor is a judge.
    NubletError
        If a field is not usable; nothing is written.
    """
    _must_keep_key(actor)
    judges = _judges(actor, fields.pop("judges", None))
    fields.setdefault("protocol", next(iter(PROTOCOLS)))
    trial = Trial(shop=actor.shop, is_simulated=is_simulated)
    _set_fields(trial, fields)
    trial.protocol_version = protocol_of(trial).version
    trial.save()
    trial.judges.set(judges)
    TrialBuildUp.objects.create(trial=trial, name=CONTROL.name, is_control=True)
    record(actor.shop, actor, "create_trial", f"trial {trial.pk}", name=trial.name)
    return trial


@transaction.atomic
def update_trial(actor: Person, trial_id: int, **fields: Any) -> Trial:
    """Change what the trial asks, its wood, its protocol, its panels' size or its judges.

    A change that a standing design does not fit discards that design; once there are readings it is refused.

    Raises
    ------
    Http404, PermissionDenied
    NubletError
        If a field is not usable.
    ConflictError
        If the trial has readings that the change would orphan.
    """
    trial = lock_trial(actor, trial_id)
    judges = fields.pop("judges", None)
    reshapes = {name for name in fields.keys() & _SHAPES_DESIGN if getattr(trial, name) != fields[name]}
    if reshapes:
        drop_design(actor, trial, what=f"the {', '.join(sorted(reshapes))}")
    _set_fields(trial, fields)
    trial.protocol_version = protocol_of(trial).version
    trial.save()
    if judges is not None:
        chosen = _judges(actor, judges)
        graded = Person.objects.filter(readings__spot__panel__trial=trial).exclude(
            pk__in=[p.pk for p in chosen]
        )
        for judge in graded.distinct()[:1]:
            raise ConflictError(
                f"{judge.display_name} has graded panels of this trial and cannot be taken off it.",
                field="judges",
            )
        trial.judges.set(chosen)
    record(actor.shop, actor, "update_trial", f"trial {trial.pk}", fields=sorted(fields))
    return trial


@transaction.atomic
def draw_design(actor: Person, trial_id: int, *, seed: int | None = None) -> Trial:
    """Draw lots: make the trial's boards, panels, codes and spots. Replaces an earlier design without readings.

    Raises
    ------
    BuildUpError, DesignError
        If there is nothing to compare, a build-up would not hold and is no declared experiment, there is no wood to put
        them on, or the spots do not fit.
    ConflictError
        If the trial has readings.
    """
    trial = lock_trial(actor, trial_id)
    drop_design(actor, trial, what="the design")
    rows = list(trial.build_ups.select_related("version").order_by("pk"))
    build_ups = to_build_ups(rows)
    check_build_ups(build_ups, minimum=1)
    woods = woods_of(actor.shop_id)
    for recipe in to_recipes(rows, actor.shop_id).values():
        refuse_undeclared(recipe, setting_of(trial, woods))
    design = allocate_panels(
        [build_up.name for build_up in build_ups],
        planned_boards(trial, woods),
        protocol_of(trial).exposures,
        size=panel_size(trial),
        margin_mm=trial.margin_mm,
        seed=secrets.randbelow(2**31) if seed is None else seed,
    )
    store_design(trial, design)
    trial.seed, trial.fingerprint, trial.designed_at = design.seed, design.fingerprint, timezone.now()
    trial.save()
    record(
        actor.shop,
        actor,
        "draw_design",
        f"trial {trial.pk}",
        seed=design.seed,
        fingerprint=design.fingerprint,
    )
    return trial


def _must_keep_key(actor: Person) -> None:
    if not actor.keeps_key:
        raise PermissionDenied("Only owners and testers may change a trial: a judge works blind.")


@transaction.atomic
def start_trial(trial_id: int) -> None:
    """Start a trial: what it compares stands from now on, and its build-ups are frozen as they are. Once only.

    Whoever grades first starts it, so no permission is asked here.
    """
    trial = Trial.objects.select_for_update().get(pk=trial_id)
    if trial.is_started:
        return
    trial.started_at = timezone.now()
    trial.save()
    rows = trial.build_ups.select_related("version").order_by("pk")
    freeze_versions([row.version for row in rows if row.version is not None], trial.shop_id)
    record(trial.shop, None, "start_trial", f"trial {trial.pk}", fingerprint=trial.fingerprint)


def lock_trial(actor: Person, trial_id: int) -> Trial:
    """The shop's trial, its row locked. Raises ``Http404`` or ``PermissionDenied``."""
    _must_keep_key(actor)
    trial = Trial.objects.select_for_update().filter(shop=actor.shop, pk=trial_id).first()
    if trial is None:
        raise Http404
    return trial


def drop_design(actor: Person, trial: Trial, *, what: str) -> None:
    """Discard a design that a change makes wrong, unless readings stand on it."""
    if not trial.fingerprint:
        return
    if trial.is_started:
        raise ConflictError(
            f"Panels of this trial have been graded, so {what} can no longer change. Make a new trial for a "
            "new comparison."
        )
    record(actor.shop, actor, "discard_design", f"trial {trial.pk}", fingerprint=trial.fingerprint)
    TrialPanel.objects.filter(trial=trial).delete()
    trial.boards.all().delete()
    trial.seed, trial.fingerprint, trial.designed_at = None, "", None
    trial.save()


def _judges(actor: Person, ids: Sequence[int] | None) -> list[Person]:
    people = Person.objects.filter(shop=actor.shop, is_active=True)
    if ids is None:
        return list(people)
    chosen = list(people.filter(pk__in=ids))
    if len(chosen) != len(set(ids)):
        raise NubletError("One of the judges is not in your shop. Choose from the list.", field="judges")
    if not chosen:
        raise NubletError("A trial needs at least one judge. Choose who grades.", field="judges")
    return chosen


def _set_fields(trial: Trial, fields: Mapping[str, Any]) -> None:
    for name, value in fields.items():
        setattr(trial, name, value)
    trial.name = " ".join(trial.name.split())
    if not trial.name:
        raise NubletError("Give the trial a name, such as 'Saloon tables'.", field="name")
    if Trial.objects.filter(shop=trial.shop, name=trial.name).exclude(pk=trial.pk).exists():
        raise NubletError(
            f"There is already a trial called {trial.name!r}. Choose another name.", field="name"
        )
    for field, chosen, known in (
        ("species", trial.species, woods_of(trial.shop_id)),
        ("uses", trial.uses, USE_PROFILES),
        ("protocol", [trial.protocol], PROTOCOLS),
        ("preparation_school", [trial.preparation_school], PREPARATION_SCHOOLS),
        ("coat_school", [trial.coat_school], COAT_SCHOOLS),
    ):
        unknown = [item for item in chosen if item not in known]
        if unknown:
            raise NubletError(
                f"{unknown[0]!r} is not known as a choice for {field}. Choose from: {', '.join(sorted(known))}.",
                field=field,
            )
    trial.species = list(dict.fromkeys(trial.species))
    trial.uses = list(dict.fromkeys(trial.uses))
    if not 0 <= trial.boards_per_species <= MAX_BOARDS_PER_SPECIES:
        raise NubletError(
            f"{trial.boards_per_species} boards of each species cannot be. Give 1 to {MAX_BOARDS_PER_SPECIES}.",
            field="boards_per_species",
        )
    if trial.pk:
        rows = trial.build_ups.select_related("version")
        check_name_is_blind(trial, to_full_build_ups(rows, trial.shop_id))


def check_name_is_blind(trial: Trial, build_ups: Sequence[BuildUp]) -> None:
    """Refuse a trial's name that tells judges what a panel carries."""
    revealed = revealed_build_up(trial.name, build_ups)
    if revealed is not None:
        raise NubletError(
            f"The trial's name, {trial.name!r}, gives {revealed!r} away, and judges see it. Name the trial after "
            "the use, such as 'Saloon tables'.",
            field="name",
        )
