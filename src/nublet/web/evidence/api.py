"""HTTP for evidence, ranking and export. Keepers only."""

from __future__ import annotations

from django.http import HttpResponse
from django.utils.text import slugify
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from nublet.formats.readings_csv import write_everything, write_readings
from nublet.web.api.sign_in import person_of
from nublet.web.evidence import selectors, serializers
from nublet.web.trials.api import REFUSED
from nublet.web.trials.selectors import find_trial

EVERYTHING = "all"


class EvidenceView(APIView):
    """What the panels show."""

    acts = {"get": "see_evidence"}

    @extend_schema(
        parameters=[serializers.EvidenceQuerySerializer],
        responses={200: serializers.EvidenceSerializer, **REFUSED},
    )
    def get(self, request: Request, trial_id: int) -> Response:
        """Weigh the evidence at one look."""
        query = serializers.EvidenceQuerySerializer(data=request.query_params)
        query.is_valid(raise_exception=True)
        found = selectors.weigh_evidence(find_trial(person_of(request), trial_id), **query.validated_data)
        return Response(serializers.EvidenceSerializer(found).data)


class ReadingsBehindView(APIView):
    """The readings behind one point."""

    acts = {"get": "see_evidence"}

    @extend_schema(
        parameters=[serializers.BehindQuerySerializer],
        responses={200: serializers.ReadingBehindSerializer(many=True), **REFUSED},
    )
    def get(self, request: Request, trial_id: int) -> Response:
        """List the readings behind one build-up's mean in one test."""
        query = serializers.BehindQuerySerializer(data=request.query_params)
        query.is_valid(raise_exception=True)
        trial = find_trial(person_of(request), trial_id)
        rows = selectors.readings_behind(trial, **query.validated_data)
        return Response(serializers.ReadingBehindSerializer(rows, many=True).data)


class RankingView(APIView):
    """Which build-up for a use."""

    acts = {"get": "see_evidence"}

    @extend_schema(
        parameters=[serializers.RankingQuerySerializer],
        responses={200: serializers.RankingSerializer, **REFUSED},
    )
    def get(self, request: Request, trial_id: int) -> Response:
        """Rank the build-ups for a use."""
        query = serializers.RankingQuerySerializer(data=request.query_params)
        query.is_valid(raise_exception=True)
        found = selectors.rank_for_use(find_trial(person_of(request), trial_id), **query.validated_data)
        return Response(serializers.RankingSerializer(found).data)


class ReadingsCsvView(APIView):
    """The readings to take away."""

    acts = {"get": "see_evidence"}

    @extend_schema(
        parameters=[serializers.ExportQuerySerializer],
        responses={(200, "text/csv"): OpenApiTypes.STR, **REFUSED},
    )
    def get(self, request: Request, trial_id: int) -> HttpResponse:
        """Export the readings, of one section where there are several, as CSV; of one response ``nublet analyse`` reads it."""
        query = serializers.ExportQuerySerializer(data=request.query_params)
        query.is_valid(raise_exception=True)
        trial = find_trial(person_of(request), trial_id)
        asked = query.validated_data
        if asked["response"] == EVERYTHING:
            text = write_everything(
                selectors.everything_read(trial, section=asked["section"]),
                factors=selectors.factors_of(trial, section=asked["section"]),
            )
        else:
            text = write_readings(selectors.readings_of(trial, **asked))
        response = HttpResponse(text, content_type="text/csv; charset=utf-8")
        name = "-".join(
            part for part in (slugify(trial.name) or f"trial-{trial.pk}", asked["response"]) if part
        )
        response["Content-Disposition"] = f'attachment; filename="{name}-readings.csv"'
        return response
