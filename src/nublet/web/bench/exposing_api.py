"""HTTP for the expose stage. Keepers only; what they see names no build-up."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema, extend_schema_field
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from nublet.core.bench.act_steps import ExposedTest
from nublet.core.bench.schools import BLOCK_CHECKS
from nublet.core.bench.sitting import CannotBeHad
from nublet.core.materials.cautions import CAUTIONS
from nublet.instruments.lines import KINDS
from nublet.web.api.plain import shown
from nublet.web.api.sign_in import person_of
from nublet.web.bench import serializers as shapes
from nublet.web.bench import spot_actions
from nublet.web.bench.exposing import ExposedSite, LeftOutSpot, Meeting, NextStep, view_exposing
from nublet.web.bench.exposing_panels import ExposedPanel
from nublet.web.bench.log import view_log
from nublet.web.trials.api import REFUSED
from nublet.web.trials.selectors import find_trial
from nublet.web.trials.serializers import CautionSerializer


class _CautionsField(serializers.Field[Any, Any, Any, Any]):
    """Cautions by their ids, as what may happen and what to do."""

    def to_representation(self, value: Any) -> list[dict[str, str]]:
        known = (CAUTIONS[name] for name in value)
        return [{"id": each.id, "says": each.says, "do": each.do} for each in known]


ShownCautions = extend_schema_field(CautionSerializer(many=True))(_CautionsField)
ExposedTestSerializer = shown(ExposedTest, cautions=ShownCautions())


class ExposeSerializer(serializers.Serializer[Any]):
    """The sitting in hand and what else there is to expose."""

    now = serializers.DateTimeField()
    time_zone = serializers.CharField(source="bench.time_zone")
    is_started = serializers.BooleanField(source="trial.is_started")
    times_on_paper = serializers.BooleanField(source="trial.times_on_paper")
    block_check = serializers.ChoiceField(choices=list(BLOCK_CHECKS), source="trial.block_check")
    block_tolerance_c = serializers.FloatField()
    has_plan = serializers.BooleanField()
    is_judge = serializers.BooleanField()
    hands = shapes.LaneSerializer(many=True)
    instruments = serializers.ListField(child=serializers.ChoiceField(choices=list(KINDS)))
    tests = ExposedTestSerializer(many=True)
    meetings = shown(Meeting)(many=True)
    meeting = serializers.CharField()
    panels = shown(ExposedPanel)(many=True)
    sites = shown(ExposedSite)(many=True)
    steps = shown(NextStep)(many=True)
    pours = shapes.PourSerializer(many=True)
    left_out = shown(LeftOutSpot)(many=True)
    missed = shapes.MissedSerializer(many=True)
    cannot_be_had = shown(CannotBeHad)(many=True)


class ExposeQuerySerializer(serializers.Serializer[Any]):
    """Which sitting: by its id, or that of a planned operation."""

    meeting = serializers.CharField(required=False, allow_blank=True, max_length=200)
    work = serializers.IntegerField(required=False)


class ExposeView(APIView):
    """The sitting at which panels meet their tests."""

    acts = {"get": "see_days"}

    @extend_schema(parameters=[ExposeQuerySerializer], responses={200: ExposeSerializer, **REFUSED})
    def get(self, request: Request, trial_id: int) -> Response:
        """Show who meets which test when, how far each is, and what to do next."""
        query = ExposeQuerySerializer(data=request.query_params)
        query.is_valid(raise_exception=True)
        person = person_of(request)
        found = view_exposing(person, find_trial(person, trial_id), **query.validated_data)
        return Response(ExposeSerializer(found).data)


class SpotWentWrongSerializer(serializers.Serializer[Any]):
    """What becomes of a test on a panel; ``reason`` is wanted unless it counts again."""

    what = serializers.ChoiceField(choices=["leave_out", "count", "repeat"])
    panel = serializers.CharField(max_length=8)
    exposure = serializers.CharField(max_length=60)
    reason = serializers.CharField(required=False, allow_blank=True, default="", max_length=2000)


class SpotsView(APIView):
    """Spots that went wrong."""

    acts = {"post": "deviate"}

    @extend_schema(
        request=SpotWentWrongSerializer,
        responses={200: shapes.BenchLogSerializer, **REFUSED},
    )
    def post(self, request: Request, trial_id: int) -> Response:
        """Leave a test out on a panel, let it count again, or repeat it on a spare place; answers with the log."""
        form = SpotWentWrongSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        wants = dict(form.validated_data)
        actor = person_of(request)
        if wants.pop("what") == "count":
            wants.pop("reason")
            spot_actions.count_spot_again(actor, trial_id, **wants)
        else:
            change = {"leave_out": spot_actions.leave_spot_out, "repeat": spot_actions.repeat_spot}
            change[form.validated_data["what"]](actor, trial_id, **wants)
        found = view_log(find_trial(actor, trial_id))
        return Response(shapes.BenchLogSerializer(found).data)
