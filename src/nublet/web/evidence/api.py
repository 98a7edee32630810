"""HTTP for evidence, ranking and export. Keepers only."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from django.http import HttpResponse, HttpResponseNotModified
from django.http.response import HttpResponseBase
from django.utils.text import slugify
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.renderers import JSONRenderer
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from nublet.formats.readings_csv import write_everything, write_readings
from nublet.web.api.sign_in import person_of
from nublet.web.evidence import selectors, serializers
from nublet.web.evidence.beside import view_board, view_otherwise, view_over_time
from nublet.web.evidence.kept import kept_or_made
from nublet.web.evidence.ranking import rank_for_use
from nublet.web.readings.leaving_out import count_reading, leave_reading_out
from nublet.web.trials.api import REFUSED
from nublet.web.trials.models import Trial
from nublet.web.trials.selectors import find_trial

EVERYTHING = "all"


def _kept(
    request: Request, trial: Trial, asked: Mapping[str, Any], make: Callable[[], Any]
) -> HttpResponseBase:
    """An answer as JSON, from the store where it is kept; unchanged for who has it already."""
    body, stamp = kept_or_made(trial, asked, lambda: JSONRenderer().render(make()))
    tag = f'"{stamp[:32]}"'
    is_known = request.headers.get("If-None-Match") == tag
    answer: HttpResponse = (
        HttpResponseNotModified() if is_known else HttpResponse(body, content_type="application/json")
    )
    answer["ETag"] = tag
    answer["Cache-Control"] = "private, no-cache"
    return answer


def _weighed(
    request: Request,
    trial_id: int,
    kind: str,
    asks: type[serializers.Query],
    make: Callable[[Trial, dict[str, Any]], Any],
) -> HttpResponseBase:
    """What is asked of a trial's evidence in the query, weighed or from the store."""
    query = asks(data=request.query_params)
    query.is_valid(raise_exception=True)
    trial, asked = find_trial(person_of(request), trial_id), query.validated_data
    return _kept(request, trial, {kind: asked}, lambda: make(trial, asked))


class EvidenceView(APIView):
    """What the panels show."""

    acts = {"get": "see_evidence"}

    @extend_schema(
        parameters=[serializers.EvidenceQuerySerializer],
        responses={200: serializers.EvidenceSerializer, **REFUSED},
    )
    def get(self, request: Request, trial_id: int) -> HttpResponseBase:
        """Weigh the evidence at one look. What was weighed before is sent again as long as its data stands."""
        return _weighed(
            request,
            trial_id,
            "evidence",
            serializers.EvidenceQuerySerializer,
            lambda trial, asked: (
                serializers.EvidenceSerializer(selectors.weigh_evidence(trial, **asked)).data
            ),
        )


class BoardView(APIView):
    """Everything that was read at once."""

    acts = {"get": "see_evidence"}

    @extend_schema(
        parameters=[serializers.BoardQuerySerializer], responses={200: serializers.BoardSerializer, **REFUSED}
    )
    def get(self, request: Request, trial_id: int) -> HttpResponseBase:
        """Weigh every response at one look; kept as the evidence is."""
        return _weighed(
            request,
            trial_id,
            "board",
            serializers.BoardQuerySerializer,
            lambda trial, asked: serializers.BoardSerializer(view_board(trial, **asked)).data,
        )


class OtherwiseView(APIView):
    """With what was left out."""

    acts = {"get": "see_evidence"}

    @extend_schema(
        parameters=[serializers.EvidenceQuerySerializer],
        responses={200: serializers.OtherwiseSerializer, **REFUSED},
    )
    def get(self, request: Request, trial_id: int) -> HttpResponseBase:
        """Weigh the evidence once more with what was left out, and tell what would be otherwise; kept as the evidence is."""
        return _weighed(
            request,
            trial_id,
            "otherwise",
            serializers.EvidenceQuerySerializer,
            lambda trial, asked: serializers.OtherwiseSerializer(view_otherwise(trial, **asked)).data,
        )


class OverTimeView(APIView):
    """One test over its looks."""

    acts = {"get": "see_evidence"}

    @extend_schema(
        parameters=[serializers.OverTimeQuerySerializer],
        responses={200: serializers.OverTimeSerializer, **REFUSED},
    )
    def get(self, request: Request, trial_id: int) -> HttpResponseBase:
        """Weigh one test at each look that was read, and what changed from the first to the last; kept as the evidence is."""
        return _weighed(
            request,
            trial_id,
            "over_time",
            serializers.OverTimeQuerySerializer,
            lambda trial, asked: serializers.OverTimeSerializer(view_over_time(trial, **asked)).data,
        )


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


class ReadingBehindView(APIView):
    """Whether one reading counts."""

    acts = {"patch": "deviate"}

    @extend_schema(
        request=serializers.LeaveOutSerializer,
        responses={200: serializers.ReadingBehindSerializer, **REFUSED},
    )
    def patch(self, request: Request, trial_id: int, reading_id: int) -> Response:
        """Leave one reading out with a reason, or let it count again."""
        form = serializers.LeaveOutSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        because = form.validated_data["because"].strip()
        person = person_of(request)
        row = (
            leave_reading_out(person, trial_id, reading_id, because=because)
            if because
            else count_reading(person, trial_id, reading_id)
        )
        return Response(serializers.ReadingBehindSerializer(row).data)


class RankingView(APIView):
    """Which build-up for a use."""

    acts = {"get": "see_evidence"}

    @extend_schema(
        parameters=[serializers.RankingQuerySerializer],
        responses={200: serializers.RankingSerializer, **REFUSED},
    )
    def get(self, request: Request, trial_id: int) -> HttpResponseBase:
        """Rank the build-ups for a use."""
        return _weighed(
            request,
            trial_id,
            "ranking",
            serializers.RankingQuerySerializer,
            lambda trial, asked: serializers.RankingSerializer(rank_for_use(trial, **asked)).data,
        )


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
