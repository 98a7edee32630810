"""HTTP for practice. It knows of no trial, and each sees their own."""

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
from nublet.web.practice import actions, selectors

PracticeSerializer = shown(selectors.PracticeView, name="Practice")
DrillSerializer = shown(selectors.DrillView, name="Drill")
StepDrawingSerializer = shown(selectors.StepDrawing)
_REFUSED: dict[int, Any] = {400: ProblemSerializer}
_NOT_OWN: dict[int, Any] = {404: ProblemSerializer, **_REFUSED}


class NewDrillSerializer(serializers.Serializer[Any]):
    """Which scale, and how many marks."""

    response = serializers.CharField(max_length=30)
    n_marks = serializers.IntegerField(default=20)


class DrillAnswerSerializer(serializers.Serializer[Any]):
    """What was read on one mark."""

    nth = serializers.IntegerField()
    value = NumberField()


class ShowPracticeSerializer(serializers.Serializer[Any]):
    """Whether the evidence tells."""

    shows = serializers.BooleanField()


class PracticeView(APIView):
    """A person's practice."""

    acts = {"get": "practise", "post": "practise", "patch": "practise"}

    @extend_schema(responses={200: PracticeSerializer})
    def get(self, request: Request) -> Response:
        """Show what can be practised and how it went."""
        return Response(PracticeSerializer(selectors.view_practice(person_of(request))).data)

    @extend_schema(request=NewDrillSerializer, responses={201: DrillSerializer, **_REFUSED})
    def post(self, request: Request) -> Response:
        """Begin a drill."""
        form = NewDrillSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        person = person_of(request)
        drill = actions.begin_drill(person, **form.validated_data)
        return Response(DrillSerializer(selectors.view_drill(person, drill.pk)).data, status=201)

    @extend_schema(request=ShowPracticeSerializer, responses={200: PracticeSerializer, **_REFUSED})
    def patch(self, request: Request) -> Response:
        """Say whether the evidence of one's trials tells how one reads."""
        form = ShowPracticeSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        person = actions.show_practice(person_of(request), **form.validated_data)
        return Response(PracticeSerializer(selectors.view_practice(person)).data)


class DrillView(APIView):
    """One drill."""

    acts = {"get": "practise", "post": "practise"}

    @extend_schema(responses={200: DrillSerializer, **_NOT_OWN})
    def get(self, request: Request, drill_id: int) -> Response:
        """Show its marks, and how it went once all are read."""
        return Response(DrillSerializer(selectors.view_drill(person_of(request), drill_id)).data)

    @extend_schema(
        request=DrillAnswerSerializer, responses={200: DrillSerializer, 409: ProblemSerializer, **_NOT_OWN}
    )
    def post(self, request: Request, drill_id: int) -> Response:
        """Write down what was read on a mark."""
        form = DrillAnswerSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        person = person_of(request)
        actions.answer_mark(person, drill_id, **form.validated_data)
        return Response(DrillSerializer(selectors.view_drill(person, drill_id)).data)


class DrawingsView(APIView):
    """What the steps of a scale look like."""

    acts = {"get": "practise"}

    @extend_schema(responses={200: StepDrawingSerializer(many=True), **_REFUSED})
    def get(self, request: Request, scale: str) -> Response:
        """Draw each."""
        found = selectors.drawings_of(scale)
        return Response(StepDrawingSerializer(found, many=True).data)
