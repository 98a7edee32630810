"""HTTP for the sheets to print. Keepers only."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers, status
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from nublet.formats.sheets.kinds import SHEET_KINDS
from nublet.formats.sheets.page import PAPERS
from nublet.web.api.sign_in import person_of
from nublet.web.designs.sheet_tasks import ask_for_sheets
from nublet.web.jobs.api import JobSerializer
from nublet.web.trials.api import REFUSED

SHEETS, FORMS = list(SHEET_KINDS), ["pdf", "zip"]


class AskForSheetsSerializer(serializers.Serializer[Any]):
    """Which sheets, as PDF or as a ZIP of SVGs, on which paper, and of which board alone."""

    sheet = serializers.ChoiceField(choices=SHEETS)
    form = serializers.ChoiceField(choices=FORMS, default="pdf")
    paper = serializers.ChoiceField(choices=list(PAPERS), default="a4")
    board = serializers.IntegerField(required=False, allow_null=True, default=None)


class TrialSheetsView(APIView):
    """Sheets to print."""

    acts = {"post": "ask_for_paper"}

    @extend_schema(request=AskForSheetsSerializer, responses={202: JobSerializer, **REFUSED})
    def post(self, request: Request, trial_id: int) -> Response:
        """Ask for labels, templates, the cutting list or the preparation checklist at true size."""
        form = AskForSheetsSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        job = ask_for_sheets(person_of(request), trial_id, **form.validated_data)
        return Response(JobSerializer(job).data, status=status.HTTP_202_ACCEPTED)
