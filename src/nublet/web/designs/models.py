"""What a design lays out: boards, panels and spots; and what went otherwise."""

from __future__ import annotations

from django.db import models
from django.db.models import F, Q

from nublet.core.protocols.sites import SITE_WORDS
from nublet.web.build_ups.models import TrialBuildUp
from nublet.web.people.models import Person
from nublet.web.trials.models import Trial


class TrialBoard(models.Model):
    """A plank: the block.

    ``number`` counts the boards of a species; those up to the trial's ``boards_per_species`` are its own, those above
    are kept with what was measured, in case they are wanted again. ``length_mm`` and ``width_mm`` are empty until
    measured; ``defects`` are mappings of ``from_mm``, ``to_mm`` and ``kind``.
    """

    trial = models.ForeignKey(Trial, on_delete=models.CASCADE, related_name="boards")
    name = models.CharField(max_length=60)
    species = models.CharField(max_length=60)
    number = models.PositiveSmallIntegerField()
    length_mm = models.FloatField(null=True)
    width_mm = models.FloatField(null=True)
    defects = models.JSONField(default=list)
    # When it was added beyond the plan of a started trial, and whether readings had been made by then.
    added_at = models.DateTimeField(null=True)
    added_after_reading = models.BooleanField(default=False, db_default=False)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["trial", "name"], name="one_board_name_a_trial"),
            models.UniqueConstraint(fields=["trial", "species", "number"], name="one_board_a_number"),
            models.CheckConstraint(
                condition=Q(length_mm__isnull=True) | Q(length_mm__gt=0), name="a_board_has_length"
            ),
            models.CheckConstraint(
                condition=Q(width_mm__isnull=True) | Q(width_mm__gt=0), name="a_board_has_width"
            ),
        ]


class TrialPanel(models.Model):
    """One test piece with its blind code: a panel of wood cut from a board, or a slip of glass that belongs to none.

    A slip has a ``slip_test``, the one test that it is for, and its ``position`` is the number of its replicate, which
    stands for a block. The ``position`` of a panel counts those of its board in the order of cutting; where that is on the
    board follows from the board's measures. ``part`` tells apart the panels of one build-up on one board, ``attempt`` those
    that took each other's place.
    ``sections`` are mappings of the core's sections, in the order in which they lie. A spoiled panel is kept with its
    readings, and counts for nothing.
    """

    trial = models.ForeignKey(Trial, on_delete=models.CASCADE, related_name="panels")
    code = models.CharField(max_length=8, db_collation="utf8mb4_bin")
    board = models.ForeignKey(TrialBoard, on_delete=models.PROTECT, null=True, related_name="panels")
    slip_test = models.CharField(max_length=60, null=True, db_collation="utf8mb4_bin")
    build_up = models.ForeignKey(TrialBuildUp, on_delete=models.PROTECT, related_name="panels")
    position = models.PositiveSmallIntegerField()
    part = models.PositiveSmallIntegerField(default=1)
    attempt = models.PositiveSmallIntegerField(default=1)
    sections = models.JSONField(default=list)
    spoiled_at = models.DateTimeField(null=True)
    replaces = models.OneToOneField("self", on_delete=models.PROTECT, null=True, related_name="replaced_by")

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["trial", "code"], name="one_panel_a_code"),
            models.UniqueConstraint(
                fields=["board", "build_up", "part", "attempt"], name="each_build_up_once_a_board"
            ),
            models.UniqueConstraint(fields=["board", "position"], name="one_panel_a_place"),
            # Unique where there is a test on glass: nothing equals an empty one.
            models.UniqueConstraint(
                fields=["build_up", "slip_test", "position", "attempt"], name="each_slip_once_a_replicate"
            ),
            models.CheckConstraint(
                condition=Q(board__isnull=True, slip_test__isnull=False)
                | Q(board__isnull=False, slip_test__isnull=True),
                name="a_piece_is_wood_or_glass",
            ),
        ]

    @property
    def is_slip(self) -> bool:
        """Whether it is of glass."""
        return self.slip_test is not None

    @property
    def block(self) -> str:
        """What it shares with those that it is compared with: its board, or its replicate. The board must be joined."""
        return f"Glass {self.position}" if self.board is None else self.board.name

    @property
    def species(self) -> str:
        """Its wood, or an empty text for glass. The board must be joined."""
        return "" if self.board is None else self.board.species

    @property
    def is_spoiled(self) -> bool:
        """Whether it counts for nothing any more."""
        return self.spoiled_at is not None


class TrialSpot(models.Model):
    """Where one test is on a piece, mm from its lower left corner to the middle.

    A ring has a diameter, all else reaches along the piece and across.
    ``place`` is the number of its section in the order in which they lie, from 1, and 0 on an undivided panel: unlike
    the section's name it tells a judge nothing.
    """

    panel = models.ForeignKey(TrialPanel, on_delete=models.CASCADE, related_name="spots")
    exposure = models.CharField(max_length=60)
    kind = models.CharField(max_length=5, default="spot", db_default="spot")
    place = models.PositiveSmallIntegerField(default=0)
    section = models.CharField(max_length=60, blank=True)
    side = models.CharField(max_length=5, default="front")
    x_mm = models.FloatField()
    y_mm = models.FloatField()
    diameter_mm = models.FloatField()
    along_mm = models.FloatField(default=0.0, db_default=0.0)
    across_mm = models.FloatField(default=0.0, db_default=0.0)
    # Counts for nothing any more, by itself or because the test was repeated on a spare spot; entries of the log up to this
    # number are then of the spot before it.
    left_out_at = models.DateTimeField(null=True)
    attempt = models.PositiveSmallIntegerField(default=1, db_default=1)
    entries_after = models.PositiveBigIntegerField(default=0, db_default=0)
    # How many values each judge gives for it over all looks, and the hands at the bench: what a trial can count by.
    n_judged = models.PositiveSmallIntegerField(default=0, db_default=0)
    n_by_hands = models.PositiveSmallIntegerField(default=0, db_default=0)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["panel", "place", "exposure", "attempt"], name="each_exposure_once_a_section"
            ),
            models.CheckConstraint(condition=Q(side__in=["front", "back"]), name="a_panel_has_two_sides"),
            models.CheckConstraint(condition=Q(kind__in=list(SITE_WORDS)), name="a_site_is_of_a_kind"),
            models.CheckConstraint(
                condition=Q(x_mm__gte=F("diameter_mm") / 2) & Q(y_mm__gte=F("diameter_mm") / 2),
                name="a_spot_is_on_its_panel",
            ),
            models.CheckConstraint(
                condition=Q(x_mm__gte=F("along_mm") / 2 - 0.001) & Q(y_mm__gte=F("across_mm") / 2 - 0.001),
                name="a_site_is_on_its_panel",
            ),
        ]


class DeviationKind(models.TextChoices):
    """What went otherwise than the record says."""

    PANEL_SPOILED = "panel_spoiled"
    PANEL_REPLACED = "panel_replaced"
    BOARD_SWAPPED = "board_swapped"
    BOARD_ADDED = "board_added"
    WINDOW_MISSED = "window_missed"
    SPOT_LEFT_OUT = "spot_left_out"
    SPOT_REPEATED = "spot_repeated"
    NOTED = "noted"


class TrialDeviation(models.Model):
    """Something that a started trial did otherwise than its record says. Deviations are only ever added.

    ``says`` names panels by their codes alone and no build-up; ``reason`` is the person's own word. What was found from
    the bench log has a ``found_key``, which names the window; when the log is corrected so that it no longer holds, it
    is withdrawn and counts no more.
    """

    trial = models.ForeignKey(Trial, on_delete=models.CASCADE, related_name="deviations")
    kind = models.CharField(max_length=20, choices=DeviationKind.choices)
    panel = models.ForeignKey(TrialPanel, on_delete=models.PROTECT, null=True, related_name="deviations")
    board = models.ForeignKey(TrialBoard, on_delete=models.PROTECT, null=True, related_name="deviations")
    says = models.TextField()
    reason = models.TextField()
    recorded_by = models.ForeignKey(Person, on_delete=models.PROTECT)
    at = models.DateTimeField(auto_now_add=True)
    found_key = models.CharField(max_length=120, null=True)
    # What follows from a missed window: "deviation" or "spoiled"; empty for what a person told.
    judgement = models.CharField(max_length=10, default="", blank=True)
    # The one exposure, and the one look of it, whose result is spoiled; empty for a whole panel.
    spoils_exposure = models.CharField(max_length=60, default="", blank=True)
    spoils_look_min = models.FloatField(null=True)
    withdrawn_at = models.DateTimeField(null=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["panel", "found_key"], name="each_missed_window_once"),
        ]
