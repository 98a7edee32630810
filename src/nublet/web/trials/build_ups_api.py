"""HTTP for the build-ups of a trial. Keepers only."""

from __future__ import annotations

from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from nublet.web.api.errors import ProblemSerializer
from nublet.web.api.sign_in import IsKeeper, person_of
from nublet.web.trials import build_up_actions as actions
from nublet.web.trials import build_up_selectors as selectors
from nublet.web.trials import build_up_serializers as shapes
from nublet.web.trials.selectors import find_trial, summarise_trial
from nublet.web.trials.serializers import (
    ChangeBuildUpSerializer,
    DraftRecipeSerializer,
    NewBuildUpSerializer,
    TrialSummarySerializer,
)

REFUSED = {400: ProblemSerializer, 403: ProblemSerializer, 404: ProblemSerializer, 409: ProblemSerializer}


class BuildUpsView(APIView):
    """The build-ups of a trial."""

    permission_classes = [IsKeeper]

    @extend_schema(responses={200: shapes.BuildUpsSerializer, **REFUSED})
    def get(self, request: Request, trial_id: int) -> Response:
        """Show all build-ups with what there is to say of them."""
        found = selectors.view_build_ups(find_trial(person_of(request), trial_id))
        return Response(shapes.BuildUpsSerializer(found).data)

    @extend_schema(request=NewBuildUpSerializer, responses={201: TrialSummarySerializer, **REFUSED})
    def post(self, request: Request, trial_id: int) -> Response:
        """Add a candidate, or a further bare control."""
        form = NewBuildUpSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        fields = dict(form.validated_data)
        like = fields.pop("bare_like", None)
        if like is not None:
            actions.add_bare_control(person_of(request), trial_id, like=like)
        else:
            actions.add_build_up(person_of(request), trial_id, **fields)
        return _answer_trial(request, trial_id, status.HTTP_201_CREATED)


class BuildUpView(APIView):
    """One build-up of a trial."""

    permission_classes = [IsKeeper]

    @extend_schema(
        request=ChangeBuildUpSerializer, responses={200: shapes.ChangedBuildUpsSerializer, **REFUSED}
    )
    def put(self, request: Request, trial_id: int, build_up_id: int) -> Response:
        """Change a candidate; a version that is in use elsewhere, or frozen, gets a successor."""
        form = ChangeBuildUpSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        changed = actions.change_build_up(person_of(request), trial_id, build_up_id, **form.validated_data)
        made = changed.made_for_shelf
        content = {
            "made_for_shelf": None if made is None else made.number,
            "view": selectors.view_build_ups(find_trial(person_of(request), trial_id)),
        }
        return Response(shapes.ChangedBuildUpsSerializer(content).data)

    @extend_schema(responses={200: TrialSummarySerializer, **REFUSED})
    def delete(self, request: Request, trial_id: int, build_up_id: int) -> Response:
        """Remove a candidate."""
        actions.remove_build_up(person_of(request), trial_id, build_up_id)
        return _answer_trial(request, trial_id)


class CheckRecipeView(APIView):
    """A recipe while it is being built."""

    permission_classes = [IsKeeper]

    @extend_schema(request=DraftRecipeSerializer, responses={200: shapes.DraftSerializer, **REFUSED})
    def post(self, request: Request, trial_id: int) -> Response:
        """Look a recipe over; nothing is saved."""
        form = DraftRecipeSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        trial = find_trial(person_of(request), trial_id)
        return Response(
            shapes.DraftSerializer(selectors.check_draft(trial, form.validated_data["recipe"])).data
        )


class SheetView(APIView):
    """The sheet of a build-up."""

    permission_classes = [IsKeeper]

    @extend_schema(responses={200: shapes.SheetSerializer, **REFUSED})
    def get(self, request: Request, trial_id: int, build_up_id: int) -> Response:
        """Write out the steps with quantities for this trial, windows and cautions."""
        found = selectors.write_sheet(find_trial(person_of(request), trial_id), build_up_id)
        return Response(shapes.SheetSerializer(found).data)


def _answer_trial(request: Request, trial_id: int, code: int = status.HTTP_200_OK) -> Response:
    summary = summarise_trial(person_of(request), trial_id)
    return Response(TrialSummarySerializer(summary).data, status=code)
