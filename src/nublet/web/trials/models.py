"""Trials."""

from __future__ import annotations

from django.db import models
from django.db.models import Q

from nublet.core.bench.schools import BLOCK_CHECKS, GRADE_SCHOOLS
from nublet.core.design.blocks import ARRANGEMENTS
from nublet.core.design.exposing import EXPOSING_SCHOOLS
from nublet.core.materials.schools import COAT_SCHOOLS, PREPARATION_SCHOOLS
from nublet.web.people.models import Person, Shop


class TrialManager(models.Manager["Trial"]):
    """Trials without their records, which are long and seldom read; a record is fetched when it is asked for."""

    def get_queryset(self) -> models.QuerySet[Trial]:
        """All trials, their records left out."""
        return super().get_queryset().defer("record")


class Trial(models.Model):
    """One comparison with a question, candidates, uses and a design.

    ``uses`` and ``species`` are lists of the core's ids. ``protocol_plain`` is the trial's own protocol in the core's plain form;
    ``protocol`` and ``protocol_version`` say what it was copied from.
    ``sections``, ``pairs`` (of numbers of the trial's build-ups), ``kerf_mm`` and what follows up to
    ``block_size`` are those of the core's design specification. ``sd`` is a spread between panels that the tester gave.
    ``seed`` and ``fingerprint`` are those of the standing design, empty until there is one.

    ``started_at`` is set when a keeper starts the trial, or with the first reading; from then on what is compared
    stands. ``record`` is then the canonical JSON of design, build-ups and protocol, and ``fingerprint`` its SHA-256.
    """

    shop = models.ForeignKey(Shop, on_delete=models.PROTECT, related_name="trials")
    name = models.CharField(max_length=120)
    question = models.TextField(blank=True)
    uses = models.JSONField(default=list)
    species = models.JSONField(default=list)
    boards_per_species = models.PositiveSmallIntegerField(default=4)
    protocol = models.CharField(max_length=60)
    protocol_version = models.PositiveSmallIntegerField(default=1)
    protocol_plain = models.JSONField(default=dict)
    panel_length_mm = models.FloatField(default=400)
    panel_width_mm = models.FloatField(default=150)
    margin_mm = models.FloatField(default=15)
    sections = models.JSONField(default=list)
    # What each section carries on top of the panel's build-up, by its name; those without an entry carry it as it is. And
    # the products of these as they were when the trial started, by shelf number.
    section_recipes = models.JSONField(default=dict)
    section_products = models.JSONField(default=dict)
    # The factors that it crosses, plain as in nublet.core.design.factor_records; and of each section its levels, by the
    # factors' kinds.
    crossing = models.JSONField(default=dict)
    section_levels = models.JSONField(default=dict)
    pairs = models.JSONField(default=list)
    kerf_mm = models.FloatField(default=3)
    end_trim_mm = models.FloatField(default=20)
    end_piece_mm = models.FloatField(default=0)
    faces = models.CharField(max_length=10, default="front")
    panels_each = models.PositiveSmallIntegerField(default=1)
    exposing = models.CharField(max_length=10, default="together", db_default="as-ready")
    slip_replicates = models.PositiveSmallIntegerField(default=3, db_default=3)
    ladders = models.CharField(max_length=10, default="together")
    arrangement = models.CharField(max_length=12, default="auto")
    block_size = models.PositiveSmallIntegerField(null=True)
    sd = models.FloatField(null=True)
    seed = models.BigIntegerField(null=True)
    # 256 bits each, in hex. From the one lots, codes and places are drawn; from the other each judge's order. Neither,
    # nor anything that shows one of them, ever reaches a judge. A design drawn by a seed has no secret for its lots.
    lots_secret = models.CharField(max_length=64, default="", blank=True)
    order_secret = models.CharField(max_length=64, default="", blank=True)
    fingerprint = models.CharField(max_length=64, blank=True)
    designed_at = models.DateTimeField(null=True)
    started_at = models.DateTimeField(null=True)
    record = models.TextField(blank=True)
    preparation_school = models.CharField(max_length=20, default="by-label")
    coat_school = models.CharField(max_length=20, default="by-label")
    is_simulated = models.BooleanField(default=False)
    # Whether the shop keeps the times of its acts on paper: then no look is held back until the log tells of its act.
    times_on_paper = models.BooleanField(default=False, db_default=False)
    # How the judges are asked: grades by their numbers or in bench words, and whether some spots come round a second time
    # unannounced.
    grade_school = models.CharField(max_length=10, default="numbers", db_default="numbers")
    blind_repeats = models.BooleanField(default=True, db_default=True)
    # What becomes of a hot block that is more than 2 °C off at contact: it is flagged, or refused.
    block_check = models.CharField(max_length=10, default="flag", db_default="flag")
    # Which difference is the smallest worth knowing, by response, where it is not the usual one; and when that was said.
    worth_knowing = models.JSONField(default=dict)
    worth_said_at = models.DateTimeField(null=True)
    # Boards of each wood that each stage adds, where the trial is looked at before all are read; empty for one look.
    stages = models.JSONField(default=list)
    # When, by whom and why somebody told who grades what the panels carry; what is read afterwards is marked.
    unblinded_at = models.DateTimeField(null=True)
    unblinded_by = models.ForeignKey(Person, on_delete=models.PROTECT, null=True, related_name="+")
    unblinded_because = models.TextField(blank=True, default="")
    judges = models.ManyToManyField(Person, related_name="judged_trials")
    created_at = models.DateTimeField(auto_now_add=True)

    objects = TrialManager()

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
            models.CheckConstraint(
                condition=Q(exposing__in=list(EXPOSING_SCHOOLS)), name="exposing_school_is_known"
            ),
            models.CheckConstraint(
                condition=Q(grade_school__in=list(GRADE_SCHOOLS)), name="grade_school_is_known"
            ),
            models.CheckConstraint(
                condition=Q(block_check__in=list(BLOCK_CHECKS)), name="block_check_is_known"
            ),
            models.CheckConstraint(condition=Q(faces__in=["front", "both"]), name="faces_are_known"),
            models.CheckConstraint(condition=Q(ladders__in=["together", "spread"]), name="ladders_are_known"),
            models.CheckConstraint(
                condition=Q(arrangement__in=list(ARRANGEMENTS)), name="arrangement_is_known"
            ),
        ]

    def __str__(self) -> str:
        return self.name

    @property
    def is_started(self) -> bool:
        """Whether what it compares stands: it was started, or anything of it was ever graded or noted."""
        return self.started_at is not None
