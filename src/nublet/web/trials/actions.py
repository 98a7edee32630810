"""What can be done to a trial: one function a change, and the only writers of its tables."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from django.db import transaction
from django.http import Http404
from django.utils import timezone

from nublet.core.bench.schools import BLOCK_CHECKS, GRADE_SCHOOLS
from nublet.core.design.areas import check_panel_size, check_sections
from nublet.core.design.cutting import check_saw
from nublet.core.design.exposing import EXPOSING_SCHOOLS
from nublet.core.design.layout import check_margin
from nublet.core.design.power import check_spread
from nublet.core.errors import NubletError
from nublet.core.evidence.stages import check_stages
from nublet.core.materials.schools import COAT_SCHOOLS, PREPARATION_SCHOOLS
from nublet.core.plain import tidy, words_of
from nublet.core.protocols.plain import protocol_as_plain
from nublet.core.protocols.shipped.table_basics import TABLE_BASICS
from nublet.core.protocols.worth import check_worth
from nublet.web.api.conflicts import ConflictError
from nublet.web.people.audit import record
from nublet.web.people.models import Person
from nublet.web.people.policies import require, within
from nublet.web.shelf.adapters import protocols_of, uses_of, woods_of
from nublet.web.trials.adapters import panel_size, saw_of
from nublet.web.trials.models import Trial
from nublet.web.trials.signals import (
    design_dropped,
    judges_chosen,
    sections_named,
    trial_checked,
    trial_made,
    trial_saved,
)

MAX_BOARDS_PER_SPECIES = 30
_MAX_REASON = 2000
# Changing one of these makes a standing design wrong.
_SHAPES_DESIGN = {
    "species", "boards_per_species", "protocol", "panel_length_mm", "panel_width_mm", "margin_mm", "sections",
    "pairs", "faces", "panels_each", "slip_replicates", "ladders", "arrangement", "block_size",
}  # fmt: skip
# These may change while a design stands, but not once it is frozen.
_ONLY_BEFORE_START = {
    "preparation_school",
    "coat_school",
    "exposing",
    "kerf_mm",
    "end_trim_mm",
    "end_piece_mm",
    "stages",
}


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
    require(actor, "make_trial")
    judges = _judges(actor, fields.pop("judges", None))
    fields.setdefault("protocol", TABLE_BASICS.id)
    trial = Trial(shop=actor.shop, is_simulated=is_simulated)
    set_fields(trial, fields)
    trial.save()
    trial.judges.set(judges)
    trial_made.send(Trial, trial=trial)
    record(actor, "create_trial", trial, name=trial.name)
    return trial


@transaction.atomic
def update_trial(actor: Person, trial_id: int, **fields: Any) -> Trial:
    """Change what the trial asks, its wood, its protocol, its panels' size or its judges.

    A change that a standing design does not fit discards that design; once the trial has started it is refused.

    Raises
    ------
    Http404, PermissionDenied
    NubletError
        If a field is not usable.
    ConflictError
        If the trial has started and the change would touch its design.
    """
    trial = lock_trial(actor, trial_id)
    judges = fields.pop("judges", None)
    stands = _SHAPES_DESIGN | _ONLY_BEFORE_START if trial.is_started else _SHAPES_DESIGN
    reshapes = {name for name in fields.keys() & stands if getattr(trial, name) != fields[name]}
    if reshapes:
        drop_design(actor, trial, what=f"the {', '.join(words_of(name) for name in sorted(reshapes))}")
    named = list(trial.sections)
    if fields.get("worth_knowing", trial.worth_knowing) != trial.worth_knowing:
        trial.worth_said_at = timezone.now()
    set_fields(trial, fields)
    trial.section_recipes = _follow_names(trial.section_recipes, named, trial.sections)
    trial.section_levels = _follow_names(trial.section_levels, named, trial.sections)
    trial.save()
    trial_saved.send(Trial, trial=trial)
    if named != trial.sections:
        sections_named.send(
            Trial, trial=trial, follow=lambda kept: _follow_names(kept, named, trial.sections)
        )
    if judges is not None:
        chosen = _judges(actor, judges)
        judges_chosen.send(Trial, trial=trial, judges=chosen)
        trial.judges.set(chosen)
    record(actor, "update_trial", trial, fields=sorted(fields))
    return trial


@transaction.atomic
def unblind(actor: Person, trial_id: int, *, reason: str) -> Trial:
    """Write down that the judges were told what the panels carry, by whom and why. What is read afterwards is marked.

    Raises
    ------
    Http404, PermissionDenied
    NubletError
        If the reason is missing.
    ConflictError
        If the trial has not started, or they have been told already.
    """
    trial = lock_trial(actor, trial_id, "unblind")
    words = reason.strip()
    if not words:
        raise NubletError("Say why the judges are told, such as 'the last look is over'.", field="reason")
    if len(words) > _MAX_REASON:
        raise NubletError(f"Keep it to {_MAX_REASON} letters.", field="reason")
    if not trial.is_started:
        raise ConflictError("This trial has not started: there is nothing that anybody could be told.")
    if trial.unblinded_at is not None:
        raise ConflictError("The judges have been told already. Reload the page.", field="reason")
    trial.unblinded_at, trial.unblinded_by, trial.unblinded_because = timezone.now(), actor, words
    trial.save()
    record(actor, "unblind", trial, reason=words)
    return trial


def _follow_names(recipes: Mapping[str, Any], before: Sequence[str], now: Sequence[str]) -> dict[str, Any]:
    """What sections carry, by their names now: one that is only renamed keeps it, one that is gone takes it along."""
    if len(before) == len(now):
        renamed = dict(zip(before, now, strict=True))
        kept = set(before) & set(now)
        return {name if name in kept else renamed[name]: plain for name, plain in recipes.items()}
    return {name: plain for name, plain in recipes.items() if name in now}


def lock_trial(actor: Person, trial_id: int, action: str = "change_trial") -> Trial:
    """A trial that the person may do this to, its row locked. Raises ``Http404`` or ``PermissionDenied``."""
    trial = within(actor, action, Trial.objects.select_for_update()).filter(pk=trial_id).first()
    if trial is None:
        raise Http404
    return trial


def drop_design(actor: Person, trial: Trial, *, what: str) -> None:
    """Discard a design that a change makes wrong; refuse once the trial has started. Its boards are kept."""
    if not trial.fingerprint:
        return
    if trial.is_started:
        raise ConflictError(
            f"This trial has started, so {what} can no longer change. Record what went otherwise as a deviation under "
            "Prepare, or make a new trial for a new comparison."
        )
    record(actor, "discard_design", trial, fingerprint=trial.fingerprint)
    design_dropped.send(Trial, trial=trial)
    trial.seed, trial.fingerprint, trial.designed_at = None, "", None
    trial.lots_secret = trial.order_secret = ""
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


def set_fields(trial: Trial, fields: Mapping[str, Any]) -> None:
    """Set a trial's fields and check them, without saving. Raises ``NubletError``."""
    for name, value in fields.items():
        setattr(trial, name, value)
    trial.name = tidy(trial.name)
    if not trial.name:
        raise NubletError("Give the trial a name, such as 'Saloon tables'.", field="name")
    if Trial.objects.filter(shop=trial.shop, name=trial.name).exclude(pk=trial.pk).exists():
        raise NubletError(
            f"There is already a trial called {trial.name!r}. Choose another name.", field="name"
        )
    # Only what is chosen anew is looked up: the trial's own protocol is no longer the shelf's.
    is_other = trial.protocol != trial.protocol_plain.get("id")
    protocols = protocols_of(trial.shop_id) if is_other else {}
    for field, chosen, known in (
        ("species", trial.species, woods_of(trial.shop_id)),
        ("uses", trial.uses, uses_of(trial.shop_id)),
        ("protocol", [trial.protocol] if is_other else [], protocols),
        ("preparation_school", [trial.preparation_school], PREPARATION_SCHOOLS),
        ("coat_school", [trial.coat_school], COAT_SCHOOLS),
        ("exposing", [trial.exposing], EXPOSING_SCHOOLS),
        ("grade_school", [trial.grade_school], GRADE_SCHOOLS),
        ("block_check", [trial.block_check], BLOCK_CHECKS),
    ):
        unknown = [item for item in chosen if item not in known]
        if unknown:
            raise NubletError(
                f"{unknown[0]!r} is not known as a choice for {field}. Choose from: {', '.join(sorted(known))}.",
                field=field,
            )
    if is_other:
        trial.protocol_plain = protocol_as_plain(protocols[trial.protocol])
        trial.protocol_version = protocols[trial.protocol].version
    trial.species = list(dict.fromkeys(trial.species))
    trial.uses = list(dict.fromkeys(trial.uses))
    if not 1 <= trial.boards_per_species <= MAX_BOARDS_PER_SPECIES:
        raise NubletError(
            f"{trial.boards_per_species} boards of each species cannot be. Give 1 to {MAX_BOARDS_PER_SPECIES}.",
            field="boards_per_species",
        )
    check_saw(saw_of(trial))
    check_panel_size(panel_size(trial))
    check_margin(trial.margin_mm)
    trial.sections = [tidy(name) for name in trial.sections]
    check_sections(trial.sections)
    if trial.sd is not None:
        check_spread(trial.sd)
    if "worth_knowing" in fields:
        trial.worth_knowing = check_worth(trial.worth_knowing)
    if trial.stages and {"stages", "boards_per_species"} & set(fields):
        check_stages(trial.stages, trial.boards_per_species)
    trial_checked.send(Trial, trial=trial, fields=frozenset(fields))
