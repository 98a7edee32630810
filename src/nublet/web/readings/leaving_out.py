"""One reading that does not count, by a keeper's word: it is kept, both results are shown, and the log tells who said so."""

from __future__ import annotations

from django.db import transaction
from django.http import Http404

from nublet.core.errors import ReadingsError
from nublet.web.api.conflicts import ConflictError
from nublet.web.people.audit import record
from nublet.web.people.models import Person
from nublet.web.readings.models import Reading
from nublet.web.trials.actions import lock_trial

_MAX_REASON = 2000


@transaction.atomic
def leave_reading_out(actor: Person, trial_id: int, reading_id: int, *, because: str) -> Reading:
    """Let one reading not count any more.

    Raises
    ------
    Http404, PermissionDenied
    ReadingsError
        If no word says why.
    ConflictError
        If it is left out already.
    """
    row = _reading(actor, trial_id, reading_id)
    words = because.strip()
    if not words:
        raise ReadingsError("Say why it does not count, such as 'graded the wrong panel'.", field="because")
    if len(words) > _MAX_REASON:
        raise ReadingsError(f"Keep it to {_MAX_REASON} letters.", field="because")
    if row.left_out_because:
        raise ConflictError("This reading is left out already. Reload the page.", field="because")
    return _say(actor, row, words, "leave_reading_out")


@transaction.atomic
def count_reading(actor: Person, trial_id: int, reading_id: int) -> Reading:
    """Let a reading that was left out count again; the log keeps that it was. Raises as :func:`leave_reading_out`."""
    row = _reading(actor, trial_id, reading_id)
    if not row.left_out_because:
        raise ConflictError("This reading counts already. Reload the page.")
    return _say(actor, row, "", "count_reading")


def _reading(actor: Person, trial_id: int, reading_id: int) -> Reading:
    trial = lock_trial(actor, trial_id, "deviate")
    rows = Reading.objects.select_for_update().select_related("spot__panel", "judge")
    row = rows.filter(pk=reading_id, spot__panel__trial=trial, value__isnull=False).first()
    if row is None:
        raise Http404
    return row


def _say(actor: Person, row: Reading, because: str, action: str) -> Reading:
    was, row.left_out_because = row.left_out_because, because
    row.save()
    record(
        actor,
        action,
        row.spot.panel.trial,
        panel=row.spot.panel.code,
        exposure=row.spot.exposure,
        look=row.look,
        response=row.response,
        judge=row.judge.display_name,
        because=because or was,
    )
    return row
