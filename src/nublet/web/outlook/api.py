"""HTTP for what a design can show before it is drawn. Keepers only."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from nublet.web.api.sign_in import person_of
from nublet.web.designs.serializers import OwnSectionSerializer, OwnSpotSerializer
from nublet.web.outlook.selectors import look_at_design
from nublet.web.trials.api import REFUSED
from nublet.web.trials.selectors import find_trial
from nublet.web.trials.serializers import TrialFieldsSerializer


class PointField(serializers.ListField):
    """A difference in grades and the power to notice it."""

    child = serializers.FloatField()


class ReachSerializer(serializers.Serializer[Any]):
    """The smallest differences noticed 8 times in 10, grades; null when none ever is."""

    n_boards = serializers.IntegerField()
    told_apart = serializers.FloatField(allow_null=True)
    named_pair = serializers.FloatField(allow_null=True)


class PowerSerializer(serializers.Serializer[Any]):
    """What the boards would show, as planned, with fewer and with more."""

    here = ReachSerializer()
    fewer = ReachSerializer(allow_null=True)
    more = ReachSerializer(allow_null=True)
    pooled = ReachSerializer(allow_null=True)
    n_boards_worth_knowing = serializers.IntegerField(allow_null=True)
    curve = PointField(child=PointField())
    curve_fewer = PointField(child=PointField())
    curve_more = PointField(child=PointField())
    says = serializers.ListField(child=serializers.CharField())


class SpreadSerializer(serializers.Serializer[Any]):
    """The standard deviation between panels, grades, and where it comes from."""

    sd = serializers.FloatField()
    origin = serializers.ChoiceField(choices=["usual", "own_trials", "given"], source="source")
    residual_df = serializers.IntegerField()
    n_trials = serializers.IntegerField()
    says = serializers.CharField()


class SpeciesOutlookSerializer(serializers.Serializer[Any]):
    """How a wood's boards are used."""

    species = serializers.CharField()
    block_size = serializers.IntegerField()
    n_boards = serializers.IntegerField()
    efficiency = serializers.FloatField()
    says = serializers.CharField()


class BoardOutlookSerializer(serializers.Serializer[Any]):
    """What a board would have to give, mm."""

    name = serializers.CharField()
    n_panels = serializers.IntegerField()
    needed_mm = serializers.FloatField()
    length_mm = serializers.FloatField(allow_null=True)
    says = serializers.CharField()


class TroubleSerializer(serializers.Serializer[Any]):
    """What keeps the design from being drawn."""

    field = serializers.CharField()
    says = serializers.CharField()


class SamplePanelSerializer(serializers.Serializer[Any]):
    """A panel as it might be laid out, mm."""

    sections = OwnSectionSerializer(many=True)
    spots = OwnSpotSerializer(many=True)


class EffortSerializer(serializers.Serializer[Any]):
    """Hands-on hours, estimated."""

    prepare_h = serializers.FloatField()
    coat_h = serializers.FloatField()
    expose_h = serializers.FloatField()
    read_h = serializers.FloatField()
    total_h = serializers.FloatField()


class CostSerializer(serializers.Serializer[Any]):
    """What a design takes."""

    effort = EffortSerializer()
    litres = serializers.FloatField()
    money = serializers.FloatField()
    purchase = serializers.FloatField()
    n_without_price = serializers.IntegerField()
    days = serializers.FloatField()


class OutlookSerializer(serializers.Serializer[Any]):
    """The live answer of the Design page."""

    outlook = PowerSerializer(allow_null=True)
    spread = SpreadSerializer()
    spread_is_simulated = serializers.BooleanField()
    n_build_ups = serializers.IntegerField()
    n_panels = serializers.IntegerField()
    n_spots = serializers.IntegerField()
    panel_length_mm = serializers.FloatField()
    panel_width_mm = serializers.FloatField()
    species = SpeciesOutlookSerializer(many=True)
    boards = BoardOutlookSerializer(many=True)
    says = serializers.ListField(child=serializers.CharField())
    troubles = TroubleSerializer(many=True)
    samples = SamplePanelSerializer(many=True)
    cost = CostSerializer()


class OutlookView(APIView):
    """What a design can show and what it costs."""

    acts = {"post": "see_trial"}

    @extend_schema(request=TrialFieldsSerializer(partial=True), responses={200: OutlookSerializer, **REFUSED})
    def post(self, request: Request, trial_id: int) -> Response:
        """Look ahead at the trial with some fields changed; nothing is saved."""
        form = TrialFieldsSerializer(data=request.data, partial=True)
        form.is_valid(raise_exception=True)
        form.validated_data.pop("judges", None)
        found = look_at_design(find_trial(person_of(request), trial_id), form.validated_data)
        return Response(OutlookSerializer(found).data)
