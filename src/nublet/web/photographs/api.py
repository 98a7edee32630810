"""HTTP for photographs. Blind: what a route gives names a code, a test and a look."""

from __future__ import annotations

from typing import Any

from django.http import Http404, HttpResponse
from django.utils.http import content_disposition_header
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from nublet.formats.photographs import SIDES_PX
from nublet.web.api.errors import ProblemSerializer
from nublet.web.api.plain import shown
from nublet.web.api.sign_in import person_of
from nublet.web.photographs import actions, selectors

PhotographSerializer = shown(selectors.ShownPhotograph, name="Photograph")


class PhotographsQuerySerializer(serializers.Serializer[Any]):
    """Of which panel; of all without it."""

    panel = serializers.CharField(required=False, allow_blank=True, default="", max_length=8)


class NewPhotographSerializer(serializers.Serializer[Any]):
    """A photograph and what it is of; ``client_id`` makes sending it again harmless."""

    client_id = serializers.UUIDField()
    judge = serializers.IntegerField(required=False, allow_null=True)
    panel = serializers.CharField(max_length=8)
    exposure = serializers.CharField(required=False, allow_blank=True, default="", max_length=60)
    place = serializers.IntegerField(required=False, min_value=0, max_value=100, default=0)
    look = serializers.CharField(max_length=30)
    at = serializers.DateTimeField(required=False, allow_null=True)
    # What it is only its content says: neither its name nor the type that comes with it is believed.
    file = serializers.FileField(allow_empty_file=True)


_REFUSED: dict[int, Any] = {404: ProblemSerializer}


class PhotographsView(APIView):
    """The photographs of one trial."""

    acts = {"get": "see_photographs", "post": "take_photograph"}
    parser_classes = (MultiPartParser,)

    @extend_schema(
        parameters=[PhotographsQuerySerializer],
        responses={200: PhotographSerializer(many=True), 400: ProblemSerializer, **_REFUSED},
    )
    def get(self, request: Request, trial_id: int) -> Response:
        """List those that the person may see."""
        query = PhotographsQuerySerializer(data=request.query_params)
        query.is_valid(raise_exception=True)
        found = selectors.list_photographs(person_of(request), trial_id, **query.validated_data)
        return Response(PhotographSerializer(found, many=True).data)

    @extend_schema(
        request={"multipart/form-data": NewPhotographSerializer},
        responses={
            201: PhotographSerializer,
            400: ProblemSerializer,
            409: ProblemSerializer,
            415: ProblemSerializer,
            **_REFUSED,
        },
    )
    def post(self, request: Request, trial_id: int) -> Response:
        """Keep one."""
        form = NewPhotographSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        fields = dict(form.validated_data)
        file = fields.pop("file")
        person = person_of(request)
        made = actions.take_photograph(person, trial_id, actions.PhotographEntry(**fields), file.read)
        return Response(PhotographSerializer(selectors.show_photograph(person, made)).data, status=201)


class PhotographView(APIView):
    """One photograph."""

    acts = {"delete": "take_photograph"}

    @extend_schema(responses={204: None, **_REFUSED})
    def delete(self, request: Request, photograph_id: int) -> Response:
        """Take back one's own."""
        actions.withdraw_photograph(person_of(request), photograph_id)
        return Response(status=204)


class PhotographFileView(APIView):
    """What is seen on one."""

    acts = {"get": "see_photographs"}

    @extend_schema(responses={(200, "image/jpeg"): OpenApiTypes.BINARY, **_REFUSED})
    def get(self, request: Request, photograph_id: int, size: str) -> HttpResponse:
        """Give the file in one of its sizes."""
        if size not in SIDES_PX:
            raise Http404
        path, name = selectors.photograph_file(person_of(request), photograph_id, size)
        if not path.exists():
            raise Http404
        answer = HttpResponse(path.read_bytes(), content_type="image/jpeg")
        answer["Content-Disposition"] = (
            content_disposition_header(as_attachment=False, filename=name) or "inline"
        )
        answer["Content-Security-Policy"] = "default-src 'none'; sandbox"
        return answer
