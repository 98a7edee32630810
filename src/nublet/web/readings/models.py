"""Readings, and every entry that made them."""

from __future__ import annotations

from django.db import models
from django.db.models import Q

from nublet.core.protocols.responses import GRADE
from nublet.web.designs.models import TrialSpot
from nublet.web.people.models import Person

# Room for every response that may be declared; to how many decimals one is kept its declaration says.
_DIGITS, _DECIMALS = 16, 4


def _can_be() -> Q:
    """That there is a value, and of a grade one on its scale; of every other response the core checks it.

    The ends of each would have to be in the table's own rule, and every new scale then be a change of the table.
    """
    low, high = GRADE.ends or (0.0, 0.0)
    return Q(value__isnull=False) & (~Q(response=GRADE.id) | Q(value__gte=low, value__lte=high))


class Reading(models.Model):
    """A reader's standing value and note for one spot at one look: what its entries amount to.

    ``value`` is one of the declared ``response``, None while there is none, and ``is_beyond`` says that it is more than that;
    ``view`` is from where it was looked at, empty where the protocol names no views. Of a choice between two pieces ``against`` is
    the code of the other. ``judge`` is whoever read it: a judge, or whose hands held the instrument.
    """

    spot = models.ForeignKey(TrialSpot, on_delete=models.PROTECT, related_name="readings")
    judge = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="readings")
    look = models.CharField(max_length=30)
    response = models.CharField(max_length=30, default=GRADE.id, db_default=GRADE.id)
    view = models.CharField(max_length=20, blank=True, default="", db_default="")
    against = models.CharField(
        max_length=8, blank=True, default="", db_default="", db_collation="utf8mb4_bin"
    )
    # Which time the reader saw it: 0 for the first, 1 for the one that came round unannounced.
    turn = models.PositiveSmallIntegerField(default=0, db_default=0)
    value = models.DecimalField(max_digits=_DIGITS, decimal_places=_DECIMALS, null=True)
    is_beyond = models.BooleanField(default=False, db_default=False)
    # The single readings of an instrument of which the value is the mean; empty where it was given as one number.
    singles = models.JSONField(default=list, blank=True)
    note = models.TextField(blank=True)
    # When the standing value was seen, by the server's clock as the reader's device kept it; empty while there is none.
    seen_at = models.DateTimeField(null=True)
    # Why a keeper left this one reading out; empty while it counts.
    left_out_because = models.TextField(blank=True, default="", db_default="")
    changed_at = models.DateTimeField(auto_now=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["spot", "judge", "look", "response", "view", "against", "turn"],
                name="one_reading_a_view",
            ),
            models.CheckConstraint(
                condition=Q(value__isnull=True) | _can_be(),
                name="value_is_of_its_response",
            ),
        ]


class EntryKind(models.TextChoices):
    """What was done at the bench."""

    GRADE = "grade"
    NOTE = "note"
    TAKE_BACK = "take_back"


class ReadingEntry(models.Model):
    """One key press at the bench. Entries are only ever added: a correction leaves the earlier one."""

    reading = models.ForeignKey(Reading, on_delete=models.PROTECT, related_name="entries")
    kind = models.CharField(max_length=10, choices=EntryKind.choices)
    # That of its reading, so that the table itself can hold the value to it.
    response = models.CharField(max_length=30, default=GRADE.id, db_default=GRADE.id)
    value = models.DecimalField(max_digits=_DIGITS, decimal_places=_DECIMALS, null=True)
    is_beyond = models.BooleanField(default=False, db_default=False)
    singles = models.JSONField(default=list, blank=True)
    note = models.TextField(blank=True)
    # Made by the browser, so that an entry sent twice after a lost answer counts once.
    client_id = models.UUIDField(unique=True)
    # Of a take-back the entry that it undoes, where the browser says so; else the last one left.
    undoes = models.UUIDField(null=True)
    # Which of the reader's devices it came from, by a name that the device drew for itself.
    device = models.CharField(max_length=40, blank=True, default="", db_default="")
    # When it happened; ``at`` is when it was received, which may be hours later.
    seen_at = models.DateTimeField(null=True)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [
            models.CheckConstraint(
                condition=(Q(kind="grade") & _can_be())
                | Q(kind="note")
                | Q(kind="take_back", value__isnull=True),
                name="entry_holds_what_its_kind_says",
            )
        ]
