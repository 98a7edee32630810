"""Who works when, what was planned, and what was done to which panel."""

from __future__ import annotations

from django.db import models
from django.db.models import F, Q

from nublet.web.build_ups.models import TrialBuildUp
from nublet.web.designs.models import TrialPanel
from nublet.web.people.models import Person, Shop
from nublet.web.shelf.models import ProductBatch
from nublet.web.trials.models import Trial


class ShopBench(models.Model):
    """What a shop's bench has. ``time_zone`` is a name of the zone database; hours of work are that zone's."""

    shop = models.OneToOneField(Shop, on_delete=models.PROTECT, related_name="bench")
    time_zone = models.CharField(max_length=60, default="UTC")
    heat_blocks = models.PositiveSmallIntegerField(default=1)
    irons = models.PositiveSmallIntegerField(default=1, db_default=1)
    rack_places = models.PositiveSmallIntegerField(null=True)
    cleanup_min = models.FloatField(default=10)
    airing_min = models.FloatField(default=30)
    # Minutes a square metre of the kinds of work whose pace the shop has set, by nublet.core.materials.paces.
    paces = models.JSONField(default=dict)


class Hands(models.Model):
    """A pair of hands. ``hours`` and ``days_off`` are plain, as in a plan's specification (docs/formats.md).

    Hands that plans or the log name are never deleted; they stop being active.
    """

    shop = models.ForeignKey(Shop, on_delete=models.PROTECT, related_name="hands")
    name = models.CharField(max_length=120)
    hours = models.JSONField(default=list)
    days_off = models.JSONField(default=list)
    is_active = models.BooleanField(default=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["shop", "name"], name="one_pair_of_hands_a_name")]

    def __str__(self) -> str:
        return self.name


class InstrumentAddress(models.Model):
    """Where an instrument of a kind is reached: a serial port or a socket."""

    shop = models.ForeignKey(Shop, on_delete=models.PROTECT, related_name="instruments")
    kind = models.CharField(max_length=20)
    address = models.CharField(max_length=120)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["shop", "kind"], name="one_instrument_a_kind")]


class PlanState(models.TextChoices):
    """How far the making of a plan has come."""

    RUNNING = "running"
    DONE = "done"
    IMPOSSIBLE = "impossible"
    FAILED = "failed"


class BenchPlan(models.Model):
    """A plan that was asked for. The newest one that is done stands.

    ``designed_at`` is when the design was drawn that it is for; another design has no plan. ``spec`` is the plain
    specification, whose times count from ``start_at``. ``progress`` is a list of mappings of
    ``elapsed_s``, ``end_at`` and ``n_sittings``; ``begun_at`` is empty while it waits for the
    planner, and ``beat_at`` is when that was last heard of. ``reasons`` say why
    there is no plan, ``late`` what is missed or will be late whatever is done, ``left_out`` the codes of panels for which nothing more
    is planned.
    """

    trial = models.ForeignKey(Trial, on_delete=models.CASCADE, related_name="plans")
    state = models.CharField(max_length=10, choices=PlanState.choices, default=PlanState.RUNNING)
    is_again = models.BooleanField(default=False)
    designed_at = models.DateTimeField()
    start_at = models.DateTimeField()
    time_zone = models.CharField(max_length=60)
    weighs = models.BooleanField(default=False)
    condition_h = models.FloatField(default=0)
    # Whether sanding and what else comes before the coats is part of it; and the paces that it was reckoned by.
    prepares = models.BooleanField(default=False, db_default=False)
    paces = models.JSONField(default=dict)
    spec = models.JSONField()
    asked_by = models.ForeignKey(Person, on_delete=models.PROTECT)
    asked_at = models.DateTimeField()
    begun_at = models.DateTimeField(null=True)
    beat_at = models.DateTimeField()
    is_stop_asked = models.BooleanField(default=False)
    progress = models.JSONField(default=list)
    ended_at = models.DateTimeField(null=True)
    trouble = models.TextField(blank=True)
    last_work_at = models.DateTimeField(null=True)
    earliest_possible_at = models.DateTimeField(null=True)
    n_sittings = models.PositiveIntegerField(default=0)
    says = models.JSONField(default=list)
    reasons = models.JSONField(default=list)
    # For each of the reasons what would mend it, in words; and which of such changes this plan was asked to try.
    mends = models.JSONField(default=list)
    tried = models.JSONField(default=list)
    # Names of the trials whose plans it was made round.
    beside = models.JSONField(default=list)
    # The plan that several were asked for with, and made at once with; empty for that plan itself, and for one that is made alone.
    lead = models.ForeignKey("self", on_delete=models.CASCADE, null=True, related_name="followers")
    # What it moved to another day of the plan before it: empty, or how many pieces of work, of how many, and the last work's days.
    moved = models.JSONField(default=dict)
    late = models.JSONField(default=list)
    left_out = models.JSONField(default=list)

    class Meta:
        constraints = [
            models.CheckConstraint(condition=Q(state__in=PlanState.values), name="plan_state_is_known"),
        ]


class PlannedOperation(models.Model):
    """The same work on each panel of a pass by one pair of hands.

    ``panels`` is a list of ``[code, start_s, end_s]``, seconds since the plan's start, in the order of the work.
    ``look_after_min`` is 0 and ``nth`` 1 where they mean nothing; of a coat's two weighings the one before is the first.
    ``act`` is the id of the act that is done, or that a look comes after; empty for what is laid and lifted.
    ``build_up`` is empty where a board's panels, which carry several, go through it together; ``board`` then names the board.
    """

    plan = models.ForeignKey(BenchPlan, on_delete=models.CASCADE, related_name="operations")
    hands = models.ForeignKey(Hands, on_delete=models.PROTECT)
    build_up = models.ForeignKey(TrialBuildUp, on_delete=models.PROTECT, null=True)
    board = models.CharField(max_length=120, blank=True, default="", db_default="")
    kind = models.CharField(max_length=10)
    item = models.CharField(max_length=60)
    look_after_min = models.FloatField(default=0)
    nth = models.PositiveSmallIntegerField(default=1)
    act = models.CharField(max_length=70, blank=True, default="", db_default="")
    start_at = models.DateTimeField(db_index=True)
    end_at = models.DateTimeField()
    panels = models.JSONField()

    class Meta:
        constraints = [
            models.CheckConstraint(condition=Q(end_at__gte=F("start_at")), name="an_operation_ends_later"),
            models.CheckConstraint(
                condition=Q(build_up__isnull=False) | ~Q(board=""),
                name="an_operation_is_of_a_build_up_or_a_board",
            ),
        ]

    @property
    def shared(self) -> str:
        """What its panels share: the name of their build-up, or of their board."""
        return self.board if self.build_up is None else self.build_up.name


class Mix(models.Model):
    """A batch mixed, or decanted, for a coat. ``amounts`` are mappings of ``what``, ``amount`` and ``quantity``.

    ``cup`` tells what else can be put on from it: see :attr:`nublet.core.materials.mixes.Content.key`. Empty in mixes from before
    there was one, which serve their own coat alone. ``serves`` lists the passes that it was made for, as pairs of a build-up's number
    and a coat.
    """

    trial = models.ForeignKey(Trial, on_delete=models.CASCADE, related_name="mixes")
    build_up = models.ForeignKey(TrialBuildUp, on_delete=models.PROTECT)
    item = models.CharField(max_length=60)
    product = models.CharField(max_length=120)
    cup = models.CharField(max_length=200, blank=True, default="")
    serves = models.JSONField(default=list)
    batch = models.ForeignKey(ProductBatch, on_delete=models.PROTECT, null=True)
    amounts = models.JSONField(default=list)
    pot_life_min = models.FloatField(null=True)
    made_at = models.DateTimeField()
    made_by = models.ForeignKey(Person, on_delete=models.PROTECT)
    emptied_at = models.DateTimeField(null=True)

    def is_for(self, row: PlannedOperation) -> bool:
        """Whether a planned pass is one that it was made for."""
        passes = self.serves or [[self.build_up_id, self.item]]
        return row.kind == "coat" and [row.build_up_id, row.item] in passes


class Pour(models.Model):
    """One brew, bottle or heating of an agent, which the spots of a sitting share. ``batch`` is the person's own word for it."""

    trial = models.ForeignKey(Trial, on_delete=models.CASCADE, related_name="pours")
    agent = models.CharField(max_length=60)
    batch = models.CharField(max_length=80, blank=True)
    made_at = models.DateTimeField()
    made_by = models.ForeignKey(Person, on_delete=models.PROTECT)


class PanelWork(models.Model):
    """What stands of one piece of work on one panel: what its entries amount to.

    ``kind``, ``item``, ``look_after_min``, ``nth`` and ``act`` as in :class:`PlannedOperation`. Work that was skipped has a reason and
    no times of its own: both are the moment at which it was given up. A coat that ``is_even`` was not wanted any more.
    """

    panel = models.ForeignKey(TrialPanel, on_delete=models.PROTECT, related_name="works")
    kind = models.CharField(max_length=10)
    item = models.CharField(max_length=60)
    look_after_min = models.FloatField(default=0)
    nth = models.PositiveSmallIntegerField(default=1)
    act = models.CharField(max_length=70, blank=True, default="", db_default="")
    begun_at = models.DateTimeField(null=True)
    ended_at = models.DateTimeField(null=True)
    skipped_because = models.TextField(blank=True)
    is_even = models.BooleanField(default=False, db_default=False)
    hands = models.ForeignKey(Hands, on_delete=models.PROTECT, null=True)
    mix = models.ForeignKey(Mix, on_delete=models.PROTECT, null=True)
    pour = models.ForeignKey(Pour, on_delete=models.PROTECT, null=True)
    temperature_c = models.FloatField(null=True)
    humidity_pct = models.FloatField(null=True)
    block_c = models.FloatField(null=True)
    weight_g = models.FloatField(null=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["panel", "item", "kind", "look_after_min", "nth", "act"], name="one_work_a_panel"
            ),
            models.CheckConstraint(
                condition=Q(ended_at__isnull=True) | Q(begun_at__isnull=False, ended_at__gte=F("begun_at")),
                name="work_ends_after_it_begins",
            ),
            models.CheckConstraint(
                condition=Q(weight_g__isnull=True) | Q(weight_g__gt=0), name="a_panel_weighs_something"
            ),
        ]


class WorkEntryKind(models.TextChoices):
    """What was pressed at the bench."""

    BEGIN = "begin"
    DONE = "done"
    SKIP = "skip"
    EVEN = "even"
    MEASURE = "measure"
    TAKE_BACK = "take_back"


class WorkEntry(models.Model):
    """One key press at the bench. Entries are only ever added: taking one back leaves it.

    ``panels`` is a list of codes. ``at`` is when it happened by the server's clock, as the browser kept it; ``begun_at`` is
    given with work that is written down afterwards. ``measured`` is a mapping of what was read: ``temperature_c``,
    ``humidity_pct``, ``block_c``, ``weight_g``, ``mix``, ``pour``.
    """

    trial = models.ForeignKey(Trial, on_delete=models.CASCADE, related_name="work_entries")
    entry = models.CharField(max_length=10, choices=WorkEntryKind.choices)
    kind = models.CharField(max_length=10)
    item = models.CharField(max_length=60)
    look_after_min = models.FloatField(default=0)
    nth = models.PositiveSmallIntegerField(default=1)
    act = models.CharField(max_length=70, blank=True, default="", db_default="")
    panels = models.JSONField()
    at = models.DateTimeField()
    begun_at = models.DateTimeField(null=True)
    hands = models.ForeignKey(Hands, on_delete=models.PROTECT, null=True)
    reason = models.TextField(blank=True)
    measured = models.JSONField(default=dict)
    undoes = models.OneToOneField("self", on_delete=models.PROTECT, null=True, related_name="undone_by")
    # Made by the browser, so that an entry sent twice after a lost answer counts once.
    client_id = models.UUIDField(unique=True)
    made_by = models.ForeignKey(Person, on_delete=models.PROTECT)
    received_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        indexes = [models.Index(fields=["trial", "item", "kind"], name="entries_of_some_work")]
