"""What a judge does at the bench: the only writer of readings."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from typing import cast
from uuid import UUID

from django.db import IntegrityError, transaction
from django.http import Http404

from nublet.core.bench.standing import ReadingEntry as CoreEntry
from nublet.core.bench.standing import ReadingEntryKind, standing_reading
from nublet.core.errors import ReadingsError
from nublet.core.protocols.responses import RESPONSES, Response
from nublet.web.api.conflicts import ConflictError, OtherPersonError
from nublet.web.designs.models import TrialSpot
from nublet.web.people.models import Person
from nublet.web.people.policies import within
from nublet.web.readings.models import EntryKind, Reading, ReadingEntry
from nublet.web.readings.selectors import check_started
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial


@dataclass(frozen=True, kw_only=True)
class BenchEntry:
    """One key press: ``grade`` for a grade, ``note`` for a note, neither for a take-back.

    ``place`` is the section's number on the panel, 0 on an undivided one. ``judge`` is whose it is, where the browser says
    so: nobody else's session may bring it.
    """

    client_id: UUID
    panel: str
    exposure: str
    look: str
    kind: str
    place: int = 0
    grade: float | None = None
    note: str = ""
    judge: int | None = None


def enter_reading(judge: Person, trial_id: int, entry: BenchEntry) -> Reading:
    """Add one entry to the record and bring the reading up to date.

    The same ``client_id`` sent again changes nothing and answers as the first time, so that a browser may
    repeat what it is not sure has arrived. The entry table is itself the audit record.

    Raises
    ------
    Http404
        If the trial is not the judge's to grade.
    ReadingsError
        If the grade is off the scale, or there is no such panel, spot or look.
    ConflictError
        If the ``client_id`` belongs to another entry, or the entry to another judge.
    """
    try:
        with transaction.atomic():
            return _enter(judge, trial_id, entry)
    except IntegrityError:
        # Two requests raced to create the same reading or entry; the row now exists, so go through once more.
        with transaction.atomic():
            return _enter(judge, trial_id, entry)


def _enter(judge: Person, trial_id: int, entry: BenchEntry) -> Reading:
    # Before anything is looked for: what another may not grade is no reason to set this judge's entry aside.
    if entry.judge is not None and entry.judge != judge.pk:
        raise OtherPersonError(judge.display_name)
    trial = within(judge, "judge", Trial.objects.all()).filter(pk=trial_id).first()
    if trial is None:
        raise Http404
    check_started(trial)
    spot = _find_spot(trial, entry)
    response = _response_of(trial, spot)
    if entry.kind == EntryKind.GRADE:
        if entry.grade is None:
            raise ReadingsError(f"A {response.noun} is missing. {response.say_range()}", field="grade")
        response.check(entry.grade, field="grade", where=f"panel {entry.panel}")
    reading, _ = Reading.objects.get_or_create(spot=spot, judge=judge, look=entry.look, response=response.id)
    earlier = ReadingEntry.objects.filter(client_id=entry.client_id).first()
    if earlier is not None:
        if earlier.reading_id != reading.pk or not _says_the_same(earlier, entry, response):
            raise ConflictError("This entry's id belongs to another entry. Reload the page and grade again.")
        return reading
    ReadingEntry.objects.create(
        reading=reading,
        kind=entry.kind,
        response=response.id,
        value=_kept(entry.grade, response) if entry.kind == EntryKind.GRADE else None,
        note=entry.note.strip() if entry.kind == EntryKind.NOTE else "",
        client_id=entry.client_id,
    )
    standing = standing_reading(to_entry(each) for each in reading.entries.order_by("pk"))
    reading.value, reading.note = _kept(standing.value, response), standing.note
    reading.save()
    return reading


def _says_the_same(earlier: ReadingEntry, entry: BenchEntry, response: Response) -> bool:
    value = _kept(entry.grade, response) if entry.kind == EntryKind.GRADE else None
    note = entry.note.strip() if entry.kind == EntryKind.NOTE else ""
    return (earlier.kind, earlier.value, earlier.note) == (entry.kind, value, note)


def to_entry(row: ReadingEntry) -> CoreEntry:
    """The core's entry of a row."""
    value = None if row.value is None else float(row.value)
    return CoreEntry(entry=cast("ReadingEntryKind", row.kind), value=value, note=row.note)


def _find_spot(trial: Trial, entry: BenchEntry) -> TrialSpot:
    """Find the entry's spot and lock its row until the transaction ends.

    The lock makes entries for one spot wait for each other. It is on the spot, which exists, and not on the reading,
    which may not: locking a row that is missing locks the gap, and two who do so and then insert are a deadlock.
    """
    looks = {look.id for look in protocol_of(trial).looks}
    if entry.look not in looks:
        raise ReadingsError(
            f"There is no look {entry.look!r} in this protocol. Choose one of: {', '.join(sorted(looks))}.",
            field="look",
        )
    found = TrialSpot.objects.filter(
        panel__trial=trial,
        panel__code=entry.panel,
        panel__spoiled_at__isnull=True,
        exposure=entry.exposure,
        place=entry.place,
    ).values_list("pk", flat=True)[:1]
    spot = TrialSpot.objects.select_for_update().filter(pk__in=list(found)).first()
    if spot is None:
        raise ReadingsError(
            f"This trial has no panel {entry.panel!r} with a spot {entry.exposure!r} to grade. It may have been "
            "designed anew, or the panel spoiled: reload the page.",
            field="panel",
        )
    return spot


def _response_of(trial: Trial, spot: TrialSpot) -> Response:
    """What is read on a spot, by the trial's own protocol."""
    return RESPONSES[protocol_of(trial).test(spot.exposure).reads[0].response]


def _kept(value: float | None, response: Response) -> Decimal | None:
    """A value as the table keeps it."""
    return None if value is None else Decimal(str(response.rounded(value)))
