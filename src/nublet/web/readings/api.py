"""HTTP for the bench. These are the only routes of a trial that a judge may use; all of them are blind."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from nublet.core.measuring.singles import MOST_SINGLES
from nublet.core.protocols.prompts import Prompt
from nublet.web.api.errors import ProblemSerializer
from nublet.web.api.parsing import NumberField
from nublet.web.api.plain import shown
from nublet.web.api.sign_in import person_of
from nublet.web.readings.actions import BenchEntry, EnteredReading, enter_reading
from nublet.web.readings.calendar import calendar_for
from nublet.web.readings.models import EntryKind
from nublet.web.readings.order import READERS
from nublet.web.readings.selectors import BlindPanel, Sitting, open_sitting
from nublet.web.readings.tasks import JudgingTask, list_judging
from nublet.web.trials.serializers import (
    EXPOSURE_KINDS,
    ExposureKindField,
)

JudgingTaskSerializer = shown(JudgingTask)


PromptSerializer = shown(Prompt)


class BlindExposureSerializer(serializers.Serializer[Any]):
    """What was done at a site, and what is asked of the reader; by ``choice`` two pieces are chosen between."""

    id = serializers.CharField(source="test.id")
    name = serializers.CharField(source="test.name")
    short_name = serializers.CharField(source="test.short_name")
    kind = ExposureKindField(choices=EXPOSURE_KINDS, source="test.is_hot")
    prompts = PromptSerializer(many=True)
    choice = serializers.CharField()


BlindPanelSerializer = shown(BlindPanel)
SittingSerializer = shown(Sitting, exposures=BlindExposureSerializer(many=True))


class SittingQuerySerializer(serializers.Serializer[Any]):
    """As what the person reads."""

    by = serializers.ChoiceField(choices=list(READERS), default="judges")


class EntrySerializer(serializers.Serializer[Any]):
    """One key press at the bench; ``client_id`` makes repeating it harmless."""

    client_id = serializers.UUIDField()
    judge = serializers.IntegerField(required=False, allow_null=True)
    panel = serializers.CharField(max_length=8)
    exposure = serializers.CharField(max_length=60)
    place = serializers.IntegerField(required=False, min_value=0, max_value=100, default=0)
    look = serializers.CharField(max_length=30)
    response = serializers.CharField(required=False, allow_blank=True, default="", max_length=30)
    view = serializers.CharField(required=False, allow_blank=True, default="", max_length=20)
    against = serializers.CharField(required=False, allow_blank=True, default="", max_length=8)
    kind = serializers.ChoiceField(choices=EntryKind.choices)
    value = NumberField(required=False, allow_null=True)
    # What a browser of the last release still has waiting.
    grade = NumberField(required=False, allow_null=True, write_only=True)
    is_beyond = serializers.BooleanField(required=False, default=False)
    singles = serializers.ListField(
        child=NumberField(), required=False, default=list, max_length=MOST_SINGLES
    )
    at = serializers.DateTimeField(required=False, allow_null=True)
    turn = serializers.IntegerField(required=False, min_value=0, max_value=1, default=0)
    undoes = serializers.UUIDField(required=False, allow_null=True)
    device = serializers.CharField(required=False, allow_blank=True, default="", max_length=40)
    note = serializers.CharField(required=False, allow_blank=True, max_length=4000)

    def validate(self, fields: dict[str, Any]) -> dict[str, Any]:
        """One name for the value."""
        earlier = fields.pop("grade", None)
        singles = tuple(fields.get("singles") or ())
        return {**fields, "value": fields.get("value", earlier), "singles": singles}


StandingReadingSerializer = shown(EnteredReading, name="StandingReading")


class JudgingListView(APIView):
    """What there is to grade."""

    acts = {"get": "list_judging"}

    @extend_schema(responses={200: JudgingTaskSerializer(many=True)})
    def get(self, request: Request) -> Response:
        """List the looks that are the person's to read."""
        return Response(JudgingTaskSerializer(list_judging(person_of(request)), many=True).data)


class LooksCalendarView(APIView):
    """The reader's looks as a calendar."""

    acts = {"get": "list_judging"}

    @extend_schema(responses={(200, "text/calendar"): OpenApiTypes.BINARY})
    def get(self, request: Request) -> HttpResponse:
        """Give the looks that are to come as iCalendar: code and time."""
        answer = HttpResponse(calendar_for(person_of(request)), content_type="text/calendar; charset=utf-8")
        answer["Content-Disposition"] = 'attachment; filename="looks.ics"'
        return answer


class SittingView(APIView):
    """One look of one trial for one judge, or for the hands at the bench."""

    acts = {"get": "judge"}

    @extend_schema(
        parameters=[SittingQuerySerializer],
        responses={200: SittingSerializer, 400: ProblemSerializer, 404: ProblemSerializer},
    )
    def get(self, request: Request, trial_id: int, look: str) -> Response:
        """Show the panels in the judge's own order, by code alone."""
        query = SittingQuerySerializer(data=request.query_params)
        query.is_valid(raise_exception=True)
        sitting = open_sitting(person_of(request), trial_id, look, query.validated_data["by"])
        return Response(SittingSerializer(sitting).data)


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
