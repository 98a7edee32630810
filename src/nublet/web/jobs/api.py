"""HTTP for following a file that is being made. Each sees their own."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from nublet.web.api.errors import ProblemSerializer
from nublet.web.api.sign_in import person_of
from nublet.web.jobs.actions import find_file, find_job, stop_job
from nublet.web.jobs.models import Job


class JobSerializer(serializers.ModelSerializer[Job]):
    """How far a job has come."""

    class Meta:
        model = Job
        fields = ["id", "says", "state", "n_done", "n_all", "is_stop_asked", "trouble"]
        read_only_fields = fields


JOB_ANSWERS: dict[int, Any] = {404: ProblemSerializer}


class JobView(APIView):
    """One job."""

    acts = {"get": "follow_paper", "delete": "stop_paper"}

    @extend_schema(responses={200: JobSerializer, **JOB_ANSWERS})
    def get(self, request: Request, job_id: int) -> Response:
        """Say how far it has come."""
        return Response(JobSerializer(find_job(person_of(request), job_id)).data)

    @extend_schema(responses={200: JobSerializer, **JOB_ANSWERS})
    def delete(self, request: Request, job_id: int) -> Response:
        """Stop it."""
        return Response(JobSerializer(stop_job(person_of(request), job_id)).data)


class JobFileView(APIView):
    """What a job made."""

    acts = {"get": "follow_paper"}

    @extend_schema(
        responses={
            (200, "application/pdf"): OpenApiTypes.BINARY,
            (200, "application/zip"): OpenApiTypes.BINARY,
            409: ProblemSerializer,
            **JOB_ANSWERS,
        }
    )
    def get(self, request: Request, job_id: int) -> HttpResponse:
        """Hand the file over."""
        made = find_file(person_of(request), job_id)
        response = HttpResponse(bytes(made.content), content_type=made.media)
        response["Content-Disposition"] = f'attachment; filename="{made.name}"'
        return response
