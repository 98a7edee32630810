"""Trials, their build-ups, boards, panels and spots."""

from __future__ import annotations

from django.db import models
from django.db.models import F, Q

from nublet.core.materials.schools import COAT_SCHOOLS, PREPARATION_SCHOOLS
from nublet.web.people.models import Person, Shop
from nublet.web.shelf.models import BuildUpVersion


class Trial(models.Model):
    """One comparison with a question, candidates, uses and a design.

    ``uses`` and ``species`` are lists of the core's ids; ``protocol`` and ``protocol_version`` name one of the
    core's protocols. ``seed`` and ``fingerprint`` are those of the standing design, empty until there is one.
    ``started_at`` is set with the first reading; from then on what is compared stands.
    """

    shop = models.ForeignKey(Shop, on_delete=models.PROTECT, related_name="trials")
    name = models.CharField(max_length=120)
    question = models.TextField(blank=True)
    uses = models.JSONField(default=list)
    species = models.JSONField(default=list)
    boards_per_species = models.PositiveSmallIntegerField(default=4)
    protocol = models.CharField(max_length=60)
    protocol_version = models.PositiveSmallIntegerField(default=1)
    panel_length_mm = models.FloatField(default=400)
    panel_width_mm = models.FloatField(default=150)
    margin_mm = models.FloatField(default=15)
    seed = models.BigIntegerField(null=True)
    fingerprint = models.CharField(max_length=64, blank=True)
    designed_at = models.DateTimeField(null=True)
    started_at = models.DateTimeField(null=True)
    preparation_school = models.CharField(max_length=20, default="by-label")
    coat_school = models.CharField(max_length=20, default="by-label")
    is_simulated = models.BooleanField(default=False)
    judges = models.ManyToManyField(Person, related_name="judged_trials")
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["shop", "name"], name="one_trial_name_a_shop"),
            models.CheckConstraint(
                condition=Q(preparation_school__in=list(PREPARATION_SCHOOLS)),
                name="preparation_school_is_known",
            ),
            models.CheckConstraint(
                condition=Q(coat_school__in=list(COAT_SCHOOLS)), name="coat_school_is_known"
            ),
        ]

    def __str__(self) -> str:
        return self.name

    @property
    def is_started(self) -> bool:
        """Whether anything of it was ever graded or noted, even if it was taken back."""
        return self.started_at is not None


class TrialBuildUp(models.Model):
    """A build-up in a trial, by the version that it compares; the control is one too, and has none."""

    trial = models.ForeignKey(Trial, on_delete=models.CASCADE, related_name="build_ups")
    name = models.CharField(max_length=120)
    version = models.ForeignKey(
        BuildUpVersion, on_delete=models.PROTECT, null=True, related_name="trial_build_ups"
    )
    is_control = models.BooleanField(default=False)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["trial", "name"], name="one_build_up_name_a_trial"),
            models.CheckConstraint(
                condition=Q(is_control=True, version__isnull=True)
                | Q(is_control=False, version__isnull=False),
                name="a_finish_has_a_recipe",
            ),
        ]


class TrialBoard(models.Model):
    """A plank: the block."""

    trial = models.ForeignKey(Trial, on_delete=models.CASCADE, related_name="boards")
    name = models.CharField(max_length=60)
    species = models.CharField(max_length=60)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["trial", "name"], name="one_board_name_a_trial")]


class TrialPanel(models.Model):
    """One test piece with its blind code."""

    trial = models.ForeignKey(Trial, on_delete=models.CASCADE, related_name="panels")
    code = models.CharField(max_length=8, db_collation="utf8mb4_bin")
    board = models.ForeignKey(TrialBoard, on_delete=models.PROTECT, related_name="panels")
    build_up = models.ForeignKey(TrialBuildUp, on_delete=models.PROTECT, related_name="panels")
    position = models.PositiveSmallIntegerField()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["trial", "code"], name="one_panel_a_code"),
            models.UniqueConstraint(fields=["board", "build_up"], name="each_build_up_once_a_board"),
            models.UniqueConstraint(fields=["board", "position"], name="one_panel_a_place"),
        ]


class TrialSpot(models.Model):
    """One exposure's ring on a panel, mm from its lower left corner."""

    panel = models.ForeignKey(TrialPanel, on_delete=models.CASCADE, related_name="spots")
    exposure = models.CharField(max_length=60)
    x_mm = models.FloatField()
    y_mm = models.FloatField()
    diameter_mm = models.FloatField()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["panel", "exposure"], name="each_exposure_once_a_panel"),
            models.CheckConstraint(
                condition=Q(x_mm__gte=F("diameter_mm") / 2) & Q(y_mm__gte=F("diameter_mm") / 2),
                name="a_spot_is_on_its_panel",
            ),
        ]
