"""Readings, and every entry that made them."""

from __future__ import annotations

from django.db import models
from django.db.models import Q

from nublet.web.designs.models import TrialSpot
from nublet.web.people.models import Person


class Reading(models.Model):
    """A judge's standing grade and note for one spot at one look: what its entries amount to."""

    spot = models.ForeignKey(TrialSpot, on_delete=models.PROTECT, related_name="readings")
    judge = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="readings")
    look = models.CharField(max_length=30)
    grade = models.DecimalField(max_digits=3, decimal_places=2, null=True)
    note = models.TextField(blank=True)
    changed_at = models.DateTimeField(auto_now=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["spot", "judge", "look"], name="one_reading_a_look"),
            models.CheckConstraint(
                condition=Q(grade__isnull=True) | Q(grade__gte=1, grade__lte=5),
                name="grade_is_on_the_scale",
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
    grade = models.DecimalField(max_digits=3, decimal_places=2, null=True)
    note = models.TextField(blank=True)
    # Made by the browser, so that an entry sent twice after a lost answer counts once.
    client_id = models.UUIDField(unique=True)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [
            models.CheckConstraint(
                condition=(Q(kind="grade", grade__gte=1, grade__lte=5) | Q(kind="note"))
                | Q(kind="take_back", grade__isnull=True),
                name="entry_holds_what_its_kind_says",
            )
        ]
