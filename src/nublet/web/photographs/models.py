"""Photographs: who took which of what, and by what name its files are kept."""

from __future__ import annotations

from django.db import models

from nublet.web.designs.models import TrialPanel, TrialSpot
from nublet.web.people.models import Person


class Photograph(models.Model):
    """A photograph of a panel, or of one spot on it, at a look.

    Its files lie outside the database under ``sha256``, the digest of the largest of them (:mod:`nublet.web.photographs.files`).
    One that was taken back stays in the record and is shown nowhere.
    """

    panel = models.ForeignKey(TrialPanel, on_delete=models.PROTECT, related_name="photographs")
    spot = models.ForeignKey(TrialSpot, on_delete=models.PROTECT, related_name="photographs", null=True)
    look = models.CharField(max_length=30)
    taken_by = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="photographs")
    sha256 = models.CharField(max_length=64, db_collation="utf8mb4_bin")
    width_px = models.PositiveIntegerField()
    height_px = models.PositiveIntegerField()
    # Made by the browser, so that one that is sent twice after a lost answer counts once.
    client_id = models.UUIDField(unique=True)
    # When it was taken, by the server's clock as the device kept it; ``at`` is when it was received.
    taken_at = models.DateTimeField()
    at = models.DateTimeField(auto_now_add=True)
    withdrawn_at = models.DateTimeField(null=True)
