"""Results that were worked out once, kept with a stamp of what they came from."""

from __future__ import annotations

from django.db import models

from nublet.web.trials.models import Trial


class KeptResult(models.Model):
    """One answer about a trial as it was sent: ``asked`` is what was asked for, ``stamp`` that of the data it came from.

    It can always be made again from the trial itself; nothing else refers to it.
    """

    trial = models.ForeignKey(Trial, on_delete=models.CASCADE, related_name="kept_results")
    asked = models.CharField(max_length=64, db_collation="utf8mb4_bin")
    stamp = models.CharField(max_length=64, db_collation="utf8mb4_bin")
    body = models.BinaryField()
    made_at = models.DateTimeField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["trial", "asked"], name="one_result_a_question")]
