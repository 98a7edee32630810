"""Which photographs a person may see. A judge sees his own alone until the judges were told what the panels carry."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from django.db.models import F, Q, QuerySet
from django.http import Http404

from nublet.core.protocols.looks import Look
from nublet.web.people.models import Person
from nublet.web.people.policies import may
from nublet.web.photographs.files import file_of
from nublet.web.photographs.models import Photograph
from nublet.web.readings.order import readers_of
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial


@dataclass(frozen=True, kw_only=True)
class ShownPhotograph:
    """A photograph by what it is of: a code, and never what the panel carries.

    ``exposure`` is empty where it shows a whole panel; ``nth_look`` is its look's place among the protocol's.
    """

    id: int
    panel: str
    exposure: str
    place: int
    look: str
    look_name: str
    nth_look: int
    width_px: int
    height_px: int
    taken_by: str
    taken_at: datetime
    is_own: bool


def visible_to(person: Person) -> QuerySet[Photograph]:
    """All photographs that a person may see.

    Whoever judges a trial sees his own of it until it is unblinded, the keepers of the key among them: they would see through
    others' eyes what they are to grade with their own.
    """
    rows = Photograph.objects.filter(withdrawn_at__isnull=True, panel__trial__shop=person.shop_id)
    own = Q(taken_by=person)
    judged = Trial.objects.filter(judges=person)
    told = Q(panel__trial__in=judged.filter(unblinded_at__isnull=False))
    if may(person, "see_evidence"):
        return rows.filter(own | told | ~Q(panel__trial__in=judged))
    return rows.filter(Q(panel__trial__in=judged), own | told)


def list_photographs(person: Person, trial_id: int, *, panel: str = "") -> list[ShownPhotograph]:
    """A trial's photographs that the person may see, as they were taken. Raises ``Http404``. Five queries."""
    trial = Trial.objects.filter(pk=trial_id, shop=person.shop_id).first()
    if trial is None or not readers_of(person, trial):
        raise Http404
    rows = visible_to(person).filter(panel__trial=trial)
    if panel:
        rows = rows.filter(panel__code=panel)
    looks = protocol_of(trial).all_looks
    found = rows.annotate(code=F("panel__code"), by=F("taken_by__display_name")).select_related("spot")
    return [_shown(row, row.code, row.by, looks, person) for row in found.order_by("taken_at", "pk")]


def show_photograph(person: Person, row: Photograph) -> ShownPhotograph:
    """One that was just taken."""
    looks = protocol_of(row.panel.trial).all_looks
    return _shown(row, row.panel.code, row.taken_by.display_name, looks, person)


def photograph_file(person: Person, photograph_id: int, size: str) -> tuple[Path, str]:
    """A photograph's file, and the name under which it is given: code, test and look. Raises ``Http404``."""
    row = visible_to(person).select_related("panel", "spot").filter(pk=photograph_id).first()
    if row is None:
        raise Http404
    parts = (row.panel.code, "" if row.spot is None else row.spot.exposure, row.look)
    return file_of(row.sha256, size), "-".join(part for part in parts if part) + ".jpg"


def _shown(row: Photograph, code: str, by: str, looks: Sequence[Look], person: Person) -> ShownPhotograph:
    names = {look.id: look.name for look in looks}
    order = [look.id for look in looks]
    return ShownPhotograph(
        id=row.pk,
        panel=code,
        exposure="" if row.spot is None else row.spot.exposure,
        place=0 if row.spot is None else row.spot.place,
        look=row.look,
        look_name=names.get(row.look, row.look),
        nth_look=order.index(row.look) if row.look in order else len(order),
        width_px=row.width_px,
        height_px=row.height_px,
        taken_by=by,
        taken_at=row.taken_at,
        is_own=row.taken_by_id == person.pk,
    )
