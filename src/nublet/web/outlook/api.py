"""HTTP for what a design can show before it is drawn. Keepers only."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from nublet.core.design.effort import Effort
from nublet.core.design.outlook import Outlook
from nublet.core.design.power import Spread
from nublet.web.api.plain import shown
from nublet.web.api.sign_in import person_of
from nublet.web.designs.serializers import OwnSectionSerializer, OwnSpotSerializer
from nublet.web.outlook.history import ProductHistory, history_of
from nublet.web.outlook.selectors import Cost, DesignOutlook, look_at_design
from nublet.web.trials.api import REFUSED
from nublet.web.trials.selectors import find_trial
from nublet.web.trials.serializers import TrialFieldsSerializer

PowerSerializer = shown(Outlook, name="PowerSerializer", skip=("spread",))


SpreadSerializer = shown(
    Spread,
    skip=("source",),
    also=("says",),
    origin=serializers.ChoiceField(choices=["usual", "own_trials", "given"], source="source"),
)


class SamplePanelSerializer(serializers.Serializer[Any]):
    """A panel as it might be laid out, mm."""

    sections = OwnSectionSerializer(many=True)
    spots = OwnSpotSerializer(many=True)


EffortSerializer = shown(Effort, also=("total_h",))


CostSerializer = shown(Cost, effort=EffortSerializer())


OutlookSerializer = shown(
    DesignOutlook,
    name="OutlookSerializer",
    outlook=PowerSerializer(allow_null=True),
    spread=SpreadSerializer(),
    samples=SamplePanelSerializer(many=True),
    cost=CostSerializer(),
)


HistorySerializer = shown(ProductHistory)


class ProductHistoryView(APIView):
    """What finished trials showed of a product."""

    acts = {"get": "see_evidence"}

    @extend_schema(responses={200: HistorySerializer, **REFUSED})
    def get(self, request: Request, item_id: int) -> Response:
        """Pool its differences from benchmarks over the shop's finished trials."""
        return Response(HistorySerializer(history_of(person_of(request), item_id)).data)


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
