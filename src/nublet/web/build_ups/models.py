"""Build-ups in a trial."""

from __future__ import annotations

from django.db import models
from django.db.models import Q

from nublet.web.shelf.models import BuildUpVersion
from nublet.web.trials.models import Trial


class TrialBuildUp(models.Model):
    """A build-up in a trial, by the version that it compares; the control is one too, and has none.

    ``preparation`` is that of a further bare control, which is prepared as some build-ups are; the usual one is sanded as most are.
    ``levels`` are those of the trial's factors, by their kinds; empty for what no crossing made. ``sections_out`` names
    sections that are not compared on it: they carry nothing of their own there.
    """

    trial = models.ForeignKey(Trial, on_delete=models.CASCADE, related_name="build_ups")
    name = models.CharField(max_length=120)
    version = models.ForeignKey(
        BuildUpVersion, on_delete=models.PROTECT, null=True, related_name="trial_build_ups"
    )
    is_control = models.BooleanField(default=False)
    preparation = models.JSONField(null=True)
    levels = models.JSONField(default=dict)
    sections_out = models.JSONField(default=list)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["trial", "name"], name="one_build_up_name_a_trial"),
            models.CheckConstraint(
                condition=Q(preparation__isnull=True) | Q(is_control=True),
                name="a_recipe_has_its_preparation",
            ),
            models.CheckConstraint(
                condition=Q(is_control=True, version__isnull=True)
                | Q(is_control=False, version__isnull=False),
                name="a_finish_has_a_recipe",
            ),
        ]
