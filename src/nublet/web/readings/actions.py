"""What a reader does at the bench: the only writer of readings."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime
from decimal import Decimal
from typing import cast
from uuid import UUID

from django.db import IntegrityError, transaction
from django.http import Http404

from nublet.core.bench.standing import ReadingEntry as CoreEntry
from nublet.core.bench.standing import ReadingEntryKind, standing_reading
from nublet.core.errors import ReadingsError
from nublet.core.measuring.singles import mean_of_singles
from nublet.core.protocols.looks import Look, Reader
from nublet.core.protocols.prompts import Prompt, choice_at, prompts_at
from nublet.core.protocols.responses import RESPONSES, Response
from nublet.core.protocols.tests import Protocol, Test
from nublet.web.api.conflicts import ConflictError, OtherPersonError
from nublet.web.bench import clock
from nublet.web.designs.models import TrialPanel, TrialSpot
from nublet.web.people.models import Person
from nublet.web.people.policies import may
from nublet.web.readings.due import check_seen
from nublet.web.readings.measured import WorkedOut, worked_out
from nublet.web.readings.models import EntryKind, Reading, ReadingEntry
from nublet.web.readings.order import READERS, readers_of
from nublet.web.readings.selectors import check_started
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial


@dataclass(frozen=True, kw_only=True)
class BenchEntry:
    """One key press: ``value`` for a value, ``note`` for a note, neither for a take-back.

    ``place`` is the section's number on the panel, 0 on an undivided one. ``response`` and ``view`` say which value; without
    them it is the first that is asked for at the look. Of a choice between two pieces ``against`` is the other's code.
    ``is_beyond`` says that it is more than the value; ``singles`` are the readings of an instrument of which the value is the mean,
    which is worked out here. ``judge`` is whose it is, where the browser says so: nobody else's session
    may bring it. ``at`` is when it was seen, by the server's clock as the device kept it, by default now; ``turn`` is 1 where the
    site came round a second time; ``undoes`` is the entry that a take-back undoes.
    """

    client_id: UUID
    panel: str
    exposure: str
    look: str
    kind: str
    place: int = 0
    response: str = ""
    view: str = ""
    against: str = ""
    value: float | None = None
    is_beyond: bool = False
    singles: tuple[float, ...] = ()
    note: str = ""
    judge: int | None = None
    at: datetime | None = None
    turn: int = 0
    undoes: UUID | None = None
    device: str = ""


@dataclass(frozen=True, kw_only=True)
class EnteredReading:
    """What stands after an entry; ``elsewhere`` where another of the reader's devices gave a value too: the later seen stands.

    ``worked_out`` is what follows from it for the hands that measured it.
    """

    value: float | None
    is_beyond: bool
    singles: tuple[float, ...]
    note: str
    worked_out: tuple[WorkedOut, ...] = ()
    elsewhere: ElsewhereValue | None = None


@dataclass(frozen=True, kw_only=True)
class ElsewhereValue:
    """A value from another device of the reader, and whether it is the one that stands."""

    value: float
    seen_at: datetime | None
    stands: bool


def enter_reading(judge: Person, trial_id: int, entry: BenchEntry) -> EnteredReading:
    """Add one entry to the record and bring the reading up to date.

    The same ``client_id`` sent again changes nothing and answers as the first time, so that a browser may
    repeat what it is not sure has arrived. The entry table is itself the audit record.

    Raises
    ------
    Http404
        If the trial is not the reader's to read.
    ReadingsError
        If the value is off the scale, or there is no such panel, spot or look, it is not asked for there, or what is looked at has
        not happened yet.
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


def _enter(judge: Person, trial_id: int, entry: BenchEntry) -> EnteredReading:
    # Before anything is looked for: what another may not grade is no reason to set this judge's entry aside.
    if entry.judge is not None and entry.judge != judge.pk:
        raise OtherPersonError(judge.display_name)
    trial = Trial.objects.filter(pk=trial_id, shop=judge.shop_id).first()
    mine = () if trial is None else readers_of(judge, trial)
    if trial is None or not mine:
        raise Http404
    check_started(trial)
    spot = _find_spot(trial, entry)
    response, view = _asked(trial, spot, entry, mine)
    where = f"panel {entry.panel}"
    if entry.kind == EntryKind.GRADE:
        if entry.singles:
            mean = mean_of_singles(entry.singles, response, where=where)
            entry = replace(entry, value=mean.value)
        if entry.value is None:
            raise ReadingsError(f"A {response.noun} is missing. {response.say_range()}", field="value")
        response.check(entry.value, field="value", where=where)
        if entry.is_beyond and not response.may_exceed:
            raise ReadingsError(
                f"{where}: a {response.noun} cannot be “more than”. Give what it is.", field="is_beyond"
            )
    reading, _ = Reading.objects.get_or_create(
        spot=spot,
        judge=judge,
        look=entry.look,
        response=response.id,
        view=view,
        against=entry.against,
        turn=entry.turn,
    )
    earlier = ReadingEntry.objects.filter(client_id=entry.client_id).first()
    if earlier is not None:
        if earlier.reading_id != reading.pk or not _says_the_same(earlier, entry, response):
            raise ConflictError("This entry's id belongs to another entry. Reload the page and grade again.")
        return _entered(trial, spot, reading, entry)
    is_value = entry.kind == EntryKind.GRADE
    # A clock that runs ahead is no reason to refuse what was seen.
    seen_at = min(entry.at or clock.now(), clock.now())
    if is_value:
        check_seen(trial, spot, entry.look, seen_at)
    ReadingEntry.objects.create(
        reading=reading,
        kind=entry.kind,
        response=response.id,
        value=_kept(entry.value, response) if is_value else None,
        is_beyond=is_value and entry.is_beyond,
        singles=list(entry.singles) if is_value else [],
        note=entry.note.strip() if entry.kind == EntryKind.NOTE else "",
        client_id=entry.client_id,
        seen_at=seen_at,
        undoes=entry.undoes if entry.kind == EntryKind.TAKE_BACK else None,
        device=entry.device,
    )
    standing = standing_reading(to_entry(each) for each in reading.entries.order_by("pk"))
    reading.value, reading.note = _kept(standing.value, response), standing.note
    reading.is_beyond, reading.seen_at = standing.is_beyond, standing.seen_at
    reading.singles = list(standing.singles)
    reading.save()
    return _entered(trial, spot, reading, entry)


def _entered(trial: Trial, spot: TrialSpot, reading: Reading, entry: BenchEntry) -> EnteredReading:
    """What stands, and what another of the reader's devices said."""
    other = None
    if entry.kind == EntryKind.GRADE and entry.device:
        other = (
            reading.entries.filter(kind=EntryKind.GRADE)
            .exclude(device__in=["", entry.device])
            .order_by("-seen_at", "-pk")
            .first()
        )
    return EnteredReading(
        value=None if reading.value is None else float(reading.value),
        is_beyond=reading.is_beyond,
        singles=tuple(reading.singles),
        note=reading.note,
        worked_out=_follows(trial, spot, reading),
        elsewhere=None
        if other is None or other.value is None
        else ElsewhereValue(
            value=float(other.value), seen_at=other.seen_at, stands=other.seen_at == reading.seen_at
        ),
    )


def _follows(trial: Trial, spot: TrialSpot, reading: Reading) -> tuple[WorkedOut, ...]:
    """What follows from a measure that the hands took; nothing from what a judge gave."""
    protocol = protocol_of(trial)
    test = protocol.test(spot.exposure)
    look = _look_of(protocol, test, reading.look)
    if Prompt(response=reading.response, view=reading.view) not in prompts_at(test, look, "hands"):
        return ()
    # What follows is told of the bare wood's board: only those who keep the key have hands.
    if not may(reading.judge, READERS["hands"]):
        return ()
    return worked_out(trial, protocol, test, panel=spot.panel).get(
        (spot.panel.code, spot.place, reading.look), ()
    )


def _says_the_same(earlier: ReadingEntry, entry: BenchEntry, response: Response) -> bool:
    is_value = entry.kind == EntryKind.GRADE
    value = _kept(entry.value, response) if is_value else None
    note = entry.note.strip() if entry.kind == EntryKind.NOTE else ""
    said = (entry.kind, value, is_value and entry.is_beyond, note)
    return (earlier.kind, earlier.value, earlier.is_beyond, earlier.note) == said


def to_entry(row: ReadingEntry) -> CoreEntry:
    """The core's entry of a row."""
    value = None if row.value is None else float(row.value)
    return CoreEntry(
        id=str(row.client_id),
        entry=cast("ReadingEntryKind", row.kind),
        value=value,
        is_beyond=row.is_beyond,
        note=row.note,
        singles=tuple(row.singles),
        seen_at=row.seen_at,
        undoes="" if row.undoes is None else str(row.undoes),
    )


def _find_spot(trial: Trial, entry: BenchEntry) -> TrialSpot:
    """Find the entry's spot and lock its row until the transaction ends.

    The lock makes entries for one spot wait for each other. It is on the spot, which exists, and not on the reading,
    which may not: locking a row that is missing locks the gap, and two who do so and then insert are a deadlock.
    """
    found = TrialSpot.objects.filter(
        panel__trial=trial,
        panel__code=entry.panel,
        panel__spoiled_at__isnull=True,
        left_out_at__isnull=True,
        exposure=entry.exposure,
        place=entry.place,
    ).values_list("pk", flat=True)[:1]
    spot = TrialSpot.objects.select_for_update().filter(pk__in=list(found)).first()
    if spot is None:
        raise ReadingsError(
            f"This trial has no panel {entry.panel!r} with a spot {entry.exposure!r} to grade. It may have been "
            "designed anew, the panel spoiled, or the spot left out: reload the page.",
            field="panel",
        )
    return spot


def _asked(
    trial: Trial, spot: TrialSpot, entry: BenchEntry, mine: tuple[Reader, ...]
) -> tuple[Response, str]:
    """Which value an entry is for, and from which view, by the trial's own protocol."""
    protocol = protocol_of(trial)
    test = protocol.test(spot.exposure)
    look = _look_of(protocol, test, entry.look)
    if entry.against:
        return _choice(trial, spot, entry, test, look, mine), ""
    asked = [prompt for by in mine for prompt in prompts_at(test, look, by)]
    wanted = Prompt(response=entry.response, view=entry.view)
    if not entry.response and asked:
        wanted = asked[0]
    if wanted not in asked:
        names = ", ".join(dict.fromkeys(RESPONSES[prompt.response].name_within for prompt in asked))
        raise ReadingsError(
            f"{test.name} does not ask you for {entry.response or 'a value'}"
            f"{f' {entry.view}' if entry.view else ''} at the look {look.name!r}. It asks for: {names or 'nothing'}.",
            field="response",
        )
    return RESPONSES[wanted.response], wanted.view


def _look_of(protocol: Protocol, test: Test, look_id: str) -> Look:
    looks = {look.id: look for look in protocol.looks_of(test)}
    if look_id not in looks:
        known = sorted({look.id for look in protocol.all_looks})
        if look_id not in known:
            raise ReadingsError(
                f"There is no look {look_id!r} in this protocol. Choose one of: {', '.join(known)}.",
                field="look",
            )
        raise ReadingsError(
            f"{test.name} is not read at {look_id!r}. Choose one of: {', '.join(looks)}.", field="look"
        )
    return looks[look_id]


def _choice(
    trial: Trial,
    spot: TrialSpot,
    entry: BenchEntry,
    test: Test,
    look: Look,
    mine: tuple[Reader, ...],
) -> Response:
    """The response of a choice between two pieces of one block, the first by its code."""
    response = next((found for by in mine if (found := choice_at(test, look, by))), "")
    if not response:
        raise ReadingsError(
            f"{test.name} asks for no choice between two panels at {look.name!r}.", field="against"
        )
    here = TrialPanel.objects.get(pk=spot.panel_id)
    has_partner = TrialSpot.objects.filter(
        panel__trial=trial,
        panel__code=entry.against,
        panel__board=here.board_id,
        panel__spoiled_at__isnull=True,
        left_out_at__isnull=True,
        exposure=spot.exposure,
        place=spot.place,
    ).exists()
    if not has_partner or entry.against <= here.code:
        raise ReadingsError(
            f"{here.code} is not compared with {entry.against!r} in this order. Reload the page.",
            field="against",
        )
    return RESPONSES[response]


def _kept(value: float | None, response: Response) -> Decimal | None:
    """A value as the table keeps it."""
    return None if value is None else Decimal(str(response.rounded(value)))
