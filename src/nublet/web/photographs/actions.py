"""Taking photographs and taking them back: the only writer of their rows."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from django.db import IntegrityError, transaction
from django.http import Http404

from nublet.core.errors import PhotographError
from nublet.formats.photographs import prepare_photograph
from nublet.web.api.conflicts import ConflictError, OtherPersonError
from nublet.web.bench import clock
from nublet.web.designs.models import TrialPanel, TrialSpot
from nublet.web.people.audit import record
from nublet.web.people.models import Person
from nublet.web.photographs.files import keep_files
from nublet.web.photographs.models import Photograph
from nublet.web.readings.order import readers_of
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial

# Of one panel: more is a mistake, or somebody who fills the disk.
MOST_OF_A_PANEL = 200


@dataclass(frozen=True, kw_only=True)
class PhotographEntry:
    """What a photograph is of: a panel, a spot of it where ``exposure`` is given, and the look at which it was taken.

    ``judge`` is whose it is, where the browser says so: nobody else's session may bring it. ``at`` is when it was taken, by default
    now.
    """

    client_id: UUID
    panel: str
    look: str
    exposure: str = ""
    place: int = 0
    judge: int | None = None
    at: datetime | None = None


def take_photograph(
    person: Person, trial_id: int, entry: PhotographEntry, read: Callable[[], bytes]
) -> Photograph:
    """Keep a photograph. The same ``client_id`` again changes nothing and answers as the first time.

    Parameters
    ----------
    person : Person
    trial_id : int
    entry : PhotographEntry
    read : callable
        Gives the file; asked only once all else is in order.

    Raises
    ------
    Http404
        If the trial is not the person's to read.
    PhotographError
        If the file is none, or there is no such panel, spot or look.
    ConflictError
        If the ``client_id`` belongs to another photograph, or the photograph to another person.
    """
    if entry.judge is not None and entry.judge != person.pk:
        raise OtherPersonError(person.display_name)
    trial = Trial.objects.filter(pk=trial_id, shop=person.shop_id).first()
    if trial is None or not readers_of(person, trial):
        raise Http404
    panel, spot = _what(trial, entry)
    if (earlier := _earlier(person, panel, spot, entry)) is not None:
        return earlier
    if panel.photographs.filter(withdrawn_at__isnull=True).count() >= MOST_OF_A_PANEL:
        raise PhotographError(
            f"{panel.code} has {MOST_OF_A_PANEL} photographs already. Take some of them back first.",
            field="panel",
        )
    # Outside the transaction: it takes a second, and no row waits for it.
    prepared = prepare_photograph(read())
    sha256 = keep_files(prepared)
    try:
        with transaction.atomic():
            made = Photograph.objects.create(
                panel=panel,
                spot=spot,
                look=entry.look,
                taken_by=person,
                sha256=sha256,
                width_px=prepared.width_px,
                height_px=prepared.height_px,
                client_id=entry.client_id,
                taken_at=min(entry.at or clock.now(), clock.now()),
            )
            record(person, "take_photograph", trial, panel=panel.code, look=entry.look)
            return made
    except IntegrityError:
        # Sent twice at once: the other one is there by now.
        earlier = _earlier(person, panel, spot, entry)
        if earlier is None:
            raise
        return earlier


def withdraw_photograph(person: Person, photograph_id: int) -> Photograph:
    """Take back one's own photograph: it is shown no more, and stays in the record. Raises ``Http404`` for any other."""
    with transaction.atomic():
        found = Photograph.objects.select_for_update().filter(pk=photograph_id, taken_by=person).first()
        if found is None:
            raise Http404
        if found.withdrawn_at is None:
            found.withdrawn_at = clock.now()
            found.save(update_fields=["withdrawn_at"])
            record(person, "withdraw_photograph", found.panel.trial, panel=found.panel.code, look=found.look)
        return found


def _what(trial: Trial, entry: PhotographEntry) -> tuple[TrialPanel, TrialSpot | None]:
    """The panel and the spot that are meant; one that is spoiled or left out may well be photographed."""
    panel = TrialPanel.objects.filter(trial=trial, code=entry.panel).first()
    if panel is None:
        raise PhotographError(
            f"This trial has no panel {entry.panel!r}. It may have been designed anew: reload the page.",
            field="panel",
        )
    protocol = protocol_of(trial)
    spot = None
    if entry.exposure:
        # Of a test that was repeated elsewhere the spot where it is now.
        spot = panel.spots.filter(exposure=entry.exposure, place=entry.place).order_by("-attempt").first()
        if spot is None:
            raise PhotographError(
                f"{entry.panel} has no spot {entry.exposure!r}. Reload the page.", field="exposure"
            )
    looks = protocol.all_looks if spot is None else protocol.looks_of(protocol.test(spot.exposure))
    if entry.look not in {look.id for look in looks}:
        raise PhotographError(
            f"There is no look {entry.look!r} here. Choose one of: {', '.join(look.id for look in looks)}.",
            field="look",
        )
    return panel, spot


def _earlier(
    person: Person, panel: TrialPanel, spot: TrialSpot | None, entry: PhotographEntry
) -> Photograph | None:
    earlier = Photograph.objects.filter(client_id=entry.client_id).first()
    if earlier is None:
        return None
    said = (earlier.taken_by_id, earlier.panel_id, earlier.spot_id, earlier.look)
    if said != (person.pk, panel.pk, None if spot is None else spot.pk, entry.look):
        raise ConflictError("This photograph's id belongs to another one. Reload the page and take it again.")
    return earlier
