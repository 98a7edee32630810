"""HTTP for the bench. These are the only routes of a trial that a judge may use; all of them are blind."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from nublet.web.api.errors import ProblemSerializer
from nublet.web.api.parsing import NumberField
from nublet.web.api.plain import shown
from nublet.web.api.sign_in import person_of
from nublet.web.readings.actions import BenchEntry, enter_reading
from nublet.web.readings.models import EntryKind
from nublet.web.readings.selectors import BlindPanel, JudgingTask, Sitting, list_judging, open_sitting
from nublet.web.trials.serializers import (
    EXPOSURE_KINDS,
    ExposureKindField,
)

JudgingTaskSerializer = shown(JudgingTask)


class BlindExposureSerializer(serializers.Serializer[Any]):
    """What stood on a spot."""

    id = serializers.CharField()
    name = serializers.CharField()
    short_name = serializers.CharField()
    kind = ExposureKindField(choices=EXPOSURE_KINDS, source="is_hot")


BlindPanelSerializer = shown(BlindPanel)


class GradeMeaningSerializer(serializers.Serializer[Any]):
    """One step of the scale and the key that enters it."""

    grade = serializers.IntegerField(source="value")
    key = serializers.CharField()
    words = serializers.CharField()
    says = serializers.CharField()


SittingSerializer = shown(
    Sitting, exposures=BlindExposureSerializer(many=True), grades=GradeMeaningSerializer(many=True)
)


class EntrySerializer(serializers.Serializer[Any]):
    """One key press at the bench; ``client_id`` makes repeating it harmless."""

    client_id = serializers.UUIDField()
    judge = serializers.IntegerField(required=False, allow_null=True)
    panel = serializers.CharField(max_length=8)
    exposure = serializers.CharField(max_length=60)
    place = serializers.IntegerField(required=False, min_value=0, max_value=100, default=0)
    look = serializers.CharField(max_length=30)
    kind = serializers.ChoiceField(choices=EntryKind.choices)
    grade = NumberField(required=False, allow_null=True)
    note = serializers.CharField(required=False, allow_blank=True, max_length=4000)


class StandingReadingSerializer(serializers.Serializer[Any]):
    """What the spot's entries amount to now."""

    grade = serializers.FloatField(source="value", allow_null=True)
    note = serializers.CharField()


class JudgingListView(APIView):
    """What there is to grade."""

    acts = {"get": "list_judging"}

    @extend_schema(responses={200: JudgingTaskSerializer(many=True)})
    def get(self, request: Request) -> Response:
        """List the looks that are the person's to grade."""
        return Response(JudgingTaskSerializer(list_judging(person_of(request)), many=True).data)


class SittingView(APIView):
    """One look of one trial for one judge."""

    acts = {"get": "judge"}

    @extend_schema(responses={200: SittingSerializer, 400: ProblemSerializer, 404: ProblemSerializer})
    def get(self, request: Request, trial_id: int, look: str) -> Response:
        """Show the panels in the judge's own order, by code alone."""
        return Response(SittingSerializer(open_sitting(person_of(request), trial_id, look)).data)


class EntriesView(APIView):
    """The record that readings are made of."""

    acts = {"post": "judge"}

    @extend_schema(
        request=EntrySerializer,
        responses={
            200: StandingReadingSerializer, 400: ProblemSerializer, 404: ProblemSerializer, 409: ProblemSerializer,
        },
    )  # fmt: skip
    def post(self, request: Request, trial_id: int) -> Response:
        """Grade, note or take back; answers with what stands."""
        form = EntrySerializer(data=request.data)
        form.is_valid(raise_exception=True)
        reading = enter_reading(person_of(request), trial_id, BenchEntry(**form.validated_data))
        return Response(StandingReadingSerializer(reading).data)
