"""The shapes that the bench days' routes take and give. Shape only: the rules are in the core and the actions."""

from __future__ import annotations

from typing import Any, get_args

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from nublet.core.bench.sitting import CannotBeHad
from nublet.core.materials.cautions import CAUTIONS
from nublet.core.measuring.applied import AppliedWeight
from nublet.core.planning.chains import Kind
from nublet.formats.sheets.page import PAPERS
from nublet.web.api.parsing import NumberField
from nublet.web.api.plain import shown
from nublet.web.bench.beside import MovedIn, TrialBeside
from nublet.web.bench.cups import CupAhead
from nublet.web.bench.due import DueThing, DueView
from nublet.web.bench.far import FarDate
from nublet.web.bench.findings import Missed
from nublet.web.bench.log import AppliedCoat, CoatsTaken, LoggedWork, LogView
from nublet.web.bench.models import PlanState, WorkEntryKind
from nublet.web.bench.selectors import OtherWork
from nublet.web.bench.shop_serializers import INSTRUMENT_KINDS
from nublet.web.bench.shown_days import BenchDay
from nublet.web.bench.turns import PanelTurn
from nublet.web.build_ups.serializers import AmountSerializer
from nublet.web.trials.serializers import CautionSerializer

WORK_KINDS = list(get_args(Kind))
DUE_KINDS = [*WORK_KINDS, "mix"]
LONGEST_LOOK_MIN = 10 * 366 * 24 * 60
JUDGEMENTS = ["usable", "deviation", "spoiled"]


class AskForPlanSerializer(serializers.Serializer[Any]):
    """How to plan. ``start`` as 2027-03-01T09:00 in the shop's own time; empty for now."""

    start = serializers.CharField(max_length=40, required=False, allow_blank=True, allow_null=True)
    weighs = serializers.BooleanField(required=False, default=False)
    condition_h = serializers.FloatField(required=False, default=0, min_value=0, max_value=8760)
    prepares = serializers.BooleanField(required=False, default=False)
    again = serializers.BooleanField(required=False, default=False)
    mend = serializers.CharField(required=False, default="", allow_blank=True, max_length=300)
    together_with = serializers.ListField(
        child=serializers.IntegerField(), required=False, default=list, max_length=20
    )


class ProgressSerializer(serializers.Serializer[Any]):
    """How far the planner had come."""

    elapsed_s = serializers.FloatField()
    end_at = serializers.DateTimeField()
    n_sittings = serializers.IntegerField()


class PlanJobSerializer(serializers.Serializer[Any]):
    """A plan that is being made, or came to nothing."""

    state = serializers.ChoiceField(choices=PlanState.choices, source="plan.state")
    is_again = serializers.BooleanField(source="plan.is_again")
    is_stop_asked = serializers.BooleanField(source="plan.is_stop_asked")
    is_silent = serializers.BooleanField()
    is_waiting = serializers.BooleanField()
    elapsed_s = serializers.FloatField()
    progress = ProgressSerializer(many=True, source="plan.progress")
    trouble = serializers.CharField(source="plan.trouble")
    reasons = serializers.ListField(child=serializers.CharField(), source="plan.reasons")
    mends = serializers.ListField(
        child=serializers.ListField(child=serializers.CharField()), source="plan.mends"
    )


class StandingPlanSerializer(serializers.Serializer[Any]):
    """The plan that holds."""

    start_at = serializers.DateTimeField()
    weighs = serializers.BooleanField()
    condition_h = serializers.FloatField()
    prepares = serializers.BooleanField()
    made_at = serializers.DateTimeField(source="ended_at")
    last_work_at = serializers.DateTimeField()
    earliest_possible_at = serializers.DateTimeField()
    n_sittings = serializers.IntegerField()
    says = serializers.ListField(child=serializers.CharField())
    late = serializers.ListField(child=serializers.CharField())
    left_out = serializers.ListField(child=serializers.CharField())


class ShelfBatchSerializer(serializers.Serializer[Any]):
    """A batch on the shelf."""

    id = serializers.IntegerField(source="pk")
    number = serializers.CharField()


class MixSerializer(serializers.Serializer[Any]):
    """A batch that was mixed or decanted."""

    id = serializers.IntegerField(source="pk")
    build_up_id = serializers.IntegerField()
    item = serializers.CharField()
    cup = serializers.CharField()
    product = serializers.CharField()
    batch = serializers.CharField(source="batch.number", default="")
    amounts = AmountSerializer(many=True)
    pot_life_min = serializers.FloatField(allow_null=True)
    made_at = serializers.DateTimeField()


class PourSerializer(serializers.Serializer[Any]):
    """One brew, bottle or heating that spots share."""

    id = serializers.IntegerField(source="pk")
    agent = serializers.CharField()
    batch = serializers.CharField()
    made_at = serializers.DateTimeField()
    made_by = serializers.CharField(source="made_by.display_name")


class NewPourSerializer(serializers.Serializer[Any]):
    """A pour to write down, for the test ``item`` and all of the same agent."""

    item = serializers.CharField(max_length=60)
    batch = serializers.CharField(max_length=200, required=False, allow_blank=True, default="")
    at = serializers.DateTimeField(required=False, allow_null=True, default=None)


PanelTurnSerializer = shown(PanelTurn)


CupAheadSerializer = shown(CupAhead, skip=("cup", "passes"), also=("key", "is_mixed"))


class OperationSerializer(serializers.Serializer[Any]):
    """The same work on each panel of a pass."""

    id = serializers.IntegerField(source="row.pk")
    hands_id = serializers.IntegerField(source="row.hands_id")
    hands = serializers.CharField(source="row.hands.name")
    build_up_id = serializers.IntegerField(source="row.build_up_id", allow_null=True)
    build_up = serializers.SerializerMethodField()
    board = serializers.CharField(source="row.board")
    kind = serializers.ChoiceField(choices=WORK_KINDS, source="row.kind")
    item = serializers.CharField(source="row.item")
    look_after_min = serializers.FloatField(source="row.look_after_min")
    nth = serializers.IntegerField(source="row.nth")
    act = serializers.CharField(source="row.act")
    start_at = serializers.DateTimeField(source="row.start_at")
    end_at = serializers.DateTimeField(source="row.end_at")
    what = serializers.CharField()
    short = serializers.CharField()
    product = serializers.CharField()
    is_hot = serializers.BooleanField()
    look = serializers.CharField()
    cautions = serializers.SerializerMethodField()
    amounts = AmountSerializer(many=True)
    cup = CupAheadSerializer(allow_null=True)
    pot_life_min = serializers.FloatField(allow_null=True)
    n_done = serializers.IntegerField()
    temperature_c = serializers.FloatField(allow_null=True)
    humidity_pct = serializers.FloatField(allow_null=True)
    block_c = serializers.FloatField(allow_null=True)
    mix = serializers.IntegerField(allow_null=True)
    note = serializers.CharField()
    agent = serializers.CharField()
    pour = serializers.IntegerField(allow_null=True)
    batches = ShelfBatchSerializer(many=True)
    until_even = serializers.BooleanField()
    wipe_after_min = serializers.ListField(child=serializers.FloatField(), allow_null=True)
    last_entry = serializers.UUIDField(allow_null=True)
    turns = PanelTurnSerializer(many=True)

    def get_build_up(self, operation: Any) -> str:
        """What its panels share; of a look nobody is told, for whoever looks is not to know."""
        row = operation.row
        return "" if row.kind == "look" or row.build_up is None else row.build_up.name

    @extend_schema_field(CautionSerializer(many=True))
    def get_cautions(self, operation: Any) -> list[dict[str, str]]:
        """What may happen and what to do, at this moment of the work."""
        known = (CAUTIONS[name] for name in operation.cautions)
        return [{"id": each.id, "says": each.says, "do": each.do} for each in known]


BenchDaySerializer = shown(BenchDay)


MissedSerializer = shown(
    Missed,
    skip=("spoils_exposure", "spoils_look_min"),
    judgement=serializers.ChoiceField(choices=JUDGEMENTS),
)


class LaneSerializer(serializers.Serializer[Any]):
    """A pair of hands as a lane."""

    id = serializers.IntegerField(source="pk")
    name = serializers.CharField()


OtherWorkSerializer = shown(OtherWork)
CannotBeHadSerializer = shown(CannotBeHad)
FarDateSerializer = shown(FarDate)


TrialBesideSerializer = shown(TrialBeside)
MovedInSerializer = shown(MovedIn)


class DaysSerializer(serializers.Serializer[Any]):
    """A trial's bench days."""

    now = serializers.DateTimeField()
    time_zone = serializers.CharField(source="bench.time_zone")
    is_started = serializers.BooleanField(source="trial.is_started")
    is_designed = serializers.SerializerMethodField()
    hands = LaneSerializer(many=True)
    plan = StandingPlanSerializer(allow_null=True)
    job = PlanJobSerializer(allow_null=True)
    focus = serializers.DateField()
    days = BenchDaySerializer(many=True)
    shown = BenchDaySerializer(many=True)
    operations = OperationSerializer(many=True)
    mixes = MixSerializer(many=True)
    pours = PourSerializer(many=True)
    missed = MissedSerializer(many=True)
    far = FarDateSerializer(many=True)
    n_logged = serializers.IntegerField()
    n_left_open = serializers.IntegerField()
    others = OtherWorkSerializer(many=True)
    beside = TrialBesideSerializer(many=True)
    moved = MovedInSerializer(many=True)
    cannot_be_had = CannotBeHadSerializer(many=True)
    instruments = serializers.ListField(child=serializers.ChoiceField(choices=INSTRUMENT_KINDS))

    def get_is_designed(self, view: Any) -> bool:
        """Whether the trial has panels."""
        return bool(view.trial.designed_at)


class DaysQuerySerializer(serializers.Serializer[Any]):
    """Which days; at most 14. By default ``n_days`` from the day on which an operation is, or that matters now."""

    first = serializers.DateField(required=False)
    last = serializers.DateField(required=False)
    work = serializers.IntegerField(required=False)
    n_days = serializers.IntegerField(required=False, min_value=1, max_value=14)


class AskForDaySheetSerializer(serializers.Serializer[Any]):
    """Which day, of all when left out, and on which paper."""

    day = serializers.DateField(required=False, allow_null=True, default=None)
    paper = serializers.ChoiceField(choices=list(PAPERS), default="a4")


class MeasuredSerializer(serializers.Serializer[Any]):
    """What was read or typed."""

    temperature_c = serializers.FloatField(required=False, allow_null=True)
    humidity_pct = serializers.FloatField(required=False, allow_null=True)
    block_c = serializers.FloatField(required=False, allow_null=True)
    weight_g = serializers.FloatField(required=False, allow_null=True)
    mix = serializers.IntegerField(required=False, allow_null=True)
    pour = serializers.IntegerField(required=False, allow_null=True)


class NewWorkEntrySerializer(serializers.Serializer[Any]):
    """One key press at the bench; ``client_id`` makes repeating it harmless, ``undoes`` names the entry to take back."""

    client_id = serializers.UUIDField()
    entry = serializers.ChoiceField(choices=WorkEntryKind.choices)
    kind = serializers.ChoiceField(choices=WORK_KINDS)
    item = serializers.CharField(max_length=60)
    look_after_min = NumberField(required=False, default=0, min_value=0, max_value=LONGEST_LOOK_MIN)
    nth = serializers.IntegerField(required=False, default=1, min_value=1, max_value=2)
    act = serializers.CharField(required=False, allow_blank=True, default="", max_length=70)
    panels = serializers.ListField(child=serializers.CharField(max_length=8), allow_empty=False)
    at = serializers.DateTimeField()
    begun_at = serializers.DateTimeField(required=False, allow_null=True)
    hands = serializers.IntegerField(required=False, allow_null=True)
    reason = serializers.CharField(required=False, allow_blank=True, max_length=4000)
    measured = MeasuredSerializer(required=False)
    undoes = serializers.UUIDField(required=False, allow_null=True)


class StandingWorkSerializer(serializers.Serializer[Any]):
    """What stands on one panel after an entry."""

    panel = serializers.CharField(source="panel.code")
    begun_at = serializers.DateTimeField(allow_null=True)
    ended_at = serializers.DateTimeField(allow_null=True)
    skipped_because = serializers.CharField()
    is_even = serializers.BooleanField()


class NewMixSerializer(serializers.Serializer[Any]):
    """A mix for a coat: for a planned pass and what follows from the same cup, or for so many panels of a build-up."""

    build_up = serializers.IntegerField()
    item = serializers.CharField(max_length=60)
    n_panels = serializers.IntegerField(min_value=1, max_value=1000)
    work = serializers.IntegerField(required=False, allow_null=True)
    batch = serializers.IntegerField(required=False, allow_null=True)


AppliedCoatSerializer = shown(AppliedCoat, panels=shown(AppliedWeight, name="AppliedSerializer")(many=True))


CoatsTakenSerializer = shown(CoatsTaken)
LoggedWorkSerializer = shown(LoggedWork, kind=serializers.ChoiceField(choices=WORK_KINDS))


BenchLogSerializer = shown(
    LogView,
    name="BenchLogSerializer",
    applied=AppliedCoatSerializer(many=True),
    taken=CoatsTakenSerializer(many=True),
    works=LoggedWorkSerializer(many=True),
    missed=MissedSerializer(many=True),
)


DueThingSerializer = shown(DueThing, kind=serializers.ChoiceField(choices=DUE_KINDS))


DueSerializer = shown(DueView, name="DueSerializer", things=DueThingSerializer(many=True))
