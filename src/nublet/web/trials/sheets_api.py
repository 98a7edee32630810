"""HTTP for the sheets to print. Keepers only."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from django.utils.text import slugify
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.views import APIView

from nublet.formats.sheets.kinds import SHEET_KINDS, draw_sheets
from nublet.formats.sheets.page import PAPERS, paper_named
from nublet.formats.sheets.writing import write_pdf, zip_svgs
from nublet.web.api.sign_in import IsKeeper, person_of
from nublet.web.trials.api import REFUSED
from nublet.web.trials.selectors import find_trial
from nublet.web.trials.sheets import sheets_of


class SheetQuerySerializer(serializers.Serializer[Any]):
    """On which paper, and of which board alone."""

    paper = serializers.ChoiceField(choices=list(PAPERS), default="a4")
    board = serializers.IntegerField(required=False)


class TrialSheetView(APIView):
    """One kind of sheets, as PDF or as a ZIP of SVGs."""

    permission_classes = [IsKeeper]

    @extend_schema(
        parameters=[SheetQuerySerializer],
        responses={
            (200, "application/pdf"): OpenApiTypes.BINARY,
            (200, "application/zip"): OpenApiTypes.BINARY,
            **REFUSED,
        },
    )
    def get(self, request: Request, trial_id: int, sheet: str, form: str) -> HttpResponse:
        """Print labels, templates, the cutting list or the preparation checklist at true size."""
        query = SheetQuerySerializer(data=request.query_params)
        query.is_valid(raise_exception=True)
        trial = find_trial(person_of(request), trial_id)
        kind = SHEET_KINDS[sheet]
        pages = draw_sheets(
            kind.id,
            sheets_of(trial, board=query.validated_data.get("board")),
            paper_named(query.validated_data["paper"]),
        )
        name = f"{slugify(trial.name) or 'trial'}-{kind.id}"
        if form == "pdf":
            content, media = write_pdf(pages, title=f"{kind.name}: {trial.name}"), "application/pdf"
        else:
            content, media = zip_svgs(pages, name=name), "application/zip"
        response = HttpResponse(content, content_type=media)
        response["Content-Disposition"] = f'attachment; filename="{name}.{form}"'
        return response
