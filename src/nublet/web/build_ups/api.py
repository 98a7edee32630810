"""HTTP for the build-ups of a trial. Keepers only."""

from __future__ import annotations

from collections.abc import Callable

from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from nublet.core.design.factor_records import presets_as_plain
from nublet.web.api.sign_in import person_of
from nublet.web.build_ups import actions, selectors
from nublet.web.build_ups import serializers as shapes
from nublet.web.build_ups.crossing_actions import set_crossing
from nublet.web.build_ups.section_actions import set_sections, try_without_wax
from nublet.web.trials.api import REFUSED, AnswersWithTrial
from nublet.web.trials.models import Trial
from nublet.web.trials.selectors import find_trial
from nublet.web.trials.serializers import (
    ChangeBuildUpSerializer,
    DraftRecipeSerializer,
    NewBuildUpSerializer,
    TrialSummarySerializer,
)


class OnPanels(APIView):
    """A door that reckons with the panels of the standing design.

    Designs are above build-ups: ``count_panels`` is handed in with the route.
    """

    count_panels: Callable[[Trial], int | None] | None = None

    def panels_of(self, trial: Trial) -> int | None:
        """How many panels of a build-up the standing design has."""
        return None if self.count_panels is None else self.count_panels(trial)


class BuildUpsView(AnswersWithTrial, OnPanels):
    """The build-ups of a trial."""

    acts = {"get": "see_trial", "post": "change_trial"}

    @extend_schema(responses={200: shapes.BuildUpsSerializer, **REFUSED})
    def get(self, request: Request, trial_id: int) -> Response:
        """Show all build-ups with what there is to say of them."""
        trial = find_trial(person_of(request), trial_id)
        found = selectors.view_build_ups(trial, n_panels=self.panels_of(trial))
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
        return self.answer(request, trial_id, status.HTTP_201_CREATED)


class BuildUpView(AnswersWithTrial, OnPanels):
    """One build-up of a trial."""

    acts = {"put": "change_trial", "delete": "change_trial"}

    @extend_schema(
        request=ChangeBuildUpSerializer, responses={200: shapes.ChangedBuildUpsSerializer, **REFUSED}
    )
    def put(self, request: Request, trial_id: int, build_up_id: int) -> Response:
        """Change a candidate; a version that is in use elsewhere, or frozen, gets a successor."""
        form = ChangeBuildUpSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        changed = actions.change_build_up(person_of(request), trial_id, build_up_id, **form.validated_data)
        made = changed.made_for_shelf
        trial = find_trial(person_of(request), trial_id)
        content = {
            "made_for_shelf": None if made is None else made.number,
            "view": selectors.view_build_ups(trial, n_panels=self.panels_of(trial)),
        }
        return Response(shapes.ChangedBuildUpsSerializer(content).data)

    @extend_schema(responses={200: TrialSummarySerializer, **REFUSED})
    def delete(self, request: Request, trial_id: int, build_up_id: int) -> Response:
        """Remove a candidate."""
        actions.remove_build_up(person_of(request), trial_id, build_up_id)
        return self.answer(request, trial_id)


class SectionsView(APIView):
    """What the sections of each panel carry."""

    acts = {"get": "see_trial", "put": "change_trial"}

    @extend_schema(responses={200: shapes.SectionsSerializer, **REFUSED})
    def get(self, request: Request, trial_id: int) -> Response:
        """Show each section with what clashes, what it costs and how long it takes on each build-up."""
        return self._answer(request, trial_id)

    @extend_schema(
        request=shapes.SectionsRequestSerializer, responses={200: shapes.SectionsSerializer, **REFUSED}
    )
    def put(self, request: Request, trial_id: int) -> Response:
        """Set all of them."""
        form = shapes.SectionsRequestSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        set_sections(person_of(request), trial_id, form.validated_data["sections"])
        return self._answer(request, trial_id)

    def _answer(self, request: Request, trial_id: int) -> Response:
        found = selectors.view_sections(find_trial(person_of(request), trial_id))
        return Response(shapes.SectionsSerializer({"sections": found}).data)


class CrossingView(AnswersWithTrial):
    """The factors that a trial crosses."""

    acts = {"get": "see_trial", "put": "change_trial"}

    @extend_schema(responses={200: shapes.CrossingSerializer, **REFUSED})
    def get(self, request: Request, trial_id: int) -> Response:
        """Show the factors with their levels, and the preparations that ship as levels."""
        trial = find_trial(person_of(request), trial_id)
        content = {"crossing": trial.crossing, "preparations": presets_as_plain()}
        return Response(shapes.CrossingSerializer(content).data)

    @extend_schema(
        request=shapes.CrossingFieldsSerializer, responses={200: TrialSummarySerializer, **REFUSED}
    )
    def put(self, request: Request, trial_id: int) -> Response:
        """Cross them: build-ups, bare pieces and sections follow."""
        form = shapes.CrossingFieldsSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        set_crossing(person_of(request), trial_id, form.validated_data)
        return self.answer(request, trial_id)


class WithoutWaxView(AnswersWithTrial):
    """A build-up with and without its last wax."""

    acts = {"post": "change_trial"}

    @extend_schema(request=None, responses={200: TrialSummarySerializer, **REFUSED})
    def post(self, request: Request, trial_id: int, build_up_id: int) -> Response:
        """Make the last wax a section, beside one without it."""
        try_without_wax(person_of(request), trial_id, build_up_id)
        return self.answer(request, trial_id)


class CheckRecipeView(OnPanels):
    """A recipe while it is being built."""

    acts = {"post": "see_trial"}

    @extend_schema(request=DraftRecipeSerializer, responses={200: shapes.DraftSerializer, **REFUSED})
    def post(self, request: Request, trial_id: int) -> Response:
        """Look a recipe over; nothing is saved."""
        form = DraftRecipeSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        trial = find_trial(person_of(request), trial_id)
        draft = selectors.check_draft(trial, form.validated_data["recipe"], n_panels=self.panels_of(trial))
        return Response(shapes.DraftSerializer(draft).data)


class SheetView(OnPanels):
    """The sheet of a build-up."""

    acts = {"get": "see_trial"}

    @extend_schema(responses={200: shapes.SheetSerializer, **REFUSED})
    def get(self, request: Request, trial_id: int, build_up_id: int) -> Response:
        """Write out the steps with quantities for this trial, windows and cautions."""
        trial = find_trial(person_of(request), trial_id)
        found = selectors.write_sheet(trial, build_up_id, n_panels=self.panels_of(trial))
        return Response(shapes.SheetSerializer(found).data)


class BenchmarkView(AnswersWithTrial):
    """Whether a build-up is a benchmark."""

    acts = {"put": "change_trial"}

    @extend_schema(request=shapes.BenchmarkSerializer, responses={200: TrialSummarySerializer, **REFUSED})
    def put(self, request: Request, trial_id: int, build_up_id: int) -> Response:
        """Make a candidate's build-up a benchmark of the shop, or no longer one."""
        form = shapes.BenchmarkSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        actions.set_benchmark(person_of(request), trial_id, build_up_id, **form.validated_data)
        return self.answer(request, trial_id)
