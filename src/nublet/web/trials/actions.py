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
from nublet.core.materials.species import SPECIES
from nublet.core.protocols.exposures import PROTOCOLS
from nublet.core.ranking.profiles import USE_PROFILES
from nublet.web.api.errors import ConflictError
from nublet.web.people.actions import record
from nublet.web.people.models import Person
from nublet.web.trials.adapters import (
    panel_size,
    planned_boards,
    protocol_of,
    store_design,
    to_build_ups,
)
from nublet.web.trials.models import Trial, TrialBuildUp, TrialPanel
from nublet.web.trials.selectors import has_readings

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
    trial = _lock_trial(actor, trial_id)
    judges = fields.pop("judges", None)
    reshapes = {name for name in fields.keys() & _SHAPES_DESIGN if getattr(trial, name) != fields[name]}
    if reshapes:
        _drop_design(actor, trial, what=f"the {', '.join(sorted(reshapes))}")
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
def add_build_up(actor: Person, trial_id: int, *, name: str, family: str, coats: int) -> TrialBuildUp:
    """Add a candidate. Raises as :func:`update_trial` does."""
    trial = _lock_trial(actor, trial_id)
    _drop_design(actor, trial, what="the list of build-ups")
    name = " ".join(name.split())
    _check_candidates(
        trial,
        [*to_build_ups(trial.build_ups.order_by("pk")), BuildUp(name=name, family=family, coats=coats)],
    )
    row = TrialBuildUp.objects.create(trial=trial, name=name, family=family, coats=coats)
    record(actor.shop, actor, "add_build_up", f"trial {trial.pk}", name=name, family=family, coats=coats)
    return row


@transaction.atomic
def change_build_up(
    actor: Person, trial_id: int, build_up_id: int, *, name: str, family: str, coats: int
) -> TrialBuildUp:
    """Change a candidate's name, family or coats. The control has none of these to change."""
    trial = _lock_trial(actor, trial_id)
    row = _candidate(trial, build_up_id)
    _drop_design(actor, trial, what="a build-up")
    row.name, row.family, row.coats = " ".join(name.split()), family, coats
    others = [other for other in trial.build_ups.order_by("pk") if other.pk != row.pk]
    _check_candidates(trial, to_build_ups([*others, row]))
    row.save()
    record(actor.shop, actor, "change_build_up", f"trial {trial.pk}", name=row.name)
    return row


@transaction.atomic
def remove_build_up(actor: Person, trial_id: int, build_up_id: int) -> None:
    """Remove a candidate; the control stays."""
    trial = _lock_trial(actor, trial_id)
    row = _candidate(trial, build_up_id)
    _drop_design(actor, trial, what="the list of build-ups")
    record(actor.shop, actor, "remove_build_up", f"trial {trial.pk}", name=row.name)
    row.delete()


@transaction.atomic
def draw_design(actor: Person, trial_id: int, *, seed: int | None = None) -> Trial:
    """Draw lots: make the trial's boards, panels, codes and spots. Replaces an earlier design without readings.

    Raises
    ------
    BuildUpError, DesignError
        If there is nothing to compare, no wood to put it on, or the spots do not fit.
    ConflictError
        If the trial has readings.
    """
    trial = _lock_trial(actor, trial_id)
    _drop_design(actor, trial, what="the design")
    build_ups = to_build_ups(trial.build_ups.order_by("pk"))
    check_build_ups(build_ups, minimum=1)
    design = allocate_panels(
        [build_up.name for build_up in build_ups],
        planned_boards(trial),
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


def _lock_trial(actor: Person, trial_id: int) -> Trial:
    _must_keep_key(actor)
    trial = Trial.objects.select_for_update().filter(shop=actor.shop, pk=trial_id).first()
    if trial is None:
        raise Http404
    return trial


def _candidate(trial: Trial, build_up_id: int) -> TrialBuildUp:
    row = trial.build_ups.filter(pk=build_up_id).first()
    if row is None:
        raise Http404
    if row.is_control:
        raise NubletError("The bare control belongs to every trial and cannot be changed or removed.")
    return row


def _drop_design(actor: Person, trial: Trial, *, what: str) -> None:
    """Discard a design that a change makes wrong, unless readings stand on it."""
    if not trial.fingerprint:
        return
    if has_readings(trial):
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
        ("species", trial.species, SPECIES),
        ("uses", trial.uses, USE_PROFILES),
        ("protocol", [trial.protocol], PROTOCOLS),
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
        _check_name_is_blind(trial, to_build_ups(trial.build_ups.all()))


def _check_candidates(trial: Trial, build_ups: Sequence[BuildUp]) -> None:
    check_build_ups(build_ups, minimum=0)
    _check_name_is_blind(trial, build_ups)


def _check_name_is_blind(trial: Trial, build_ups: Sequence[BuildUp]) -> None:
    revealed = revealed_build_up(trial.name, build_ups)
    if revealed is not None:
        raise NubletError(
            f"The trial's name, {trial.name!r}, gives {revealed!r} away, and judges see it. Name the trial after "
            "the use, such as 'Saloon tables'.",
            field="name",
        )
