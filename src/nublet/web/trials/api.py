"""HTTP for trials. Keepers only: judges reach a trial through the bench's routes alone."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from nublet.core.materials.cautions import CAUTIONS
from nublet.core.materials.families import FAMILIES
from nublet.web.api.errors import ProblemSerializer
from nublet.web.api.sign_in import person_of
from nublet.web.people.models import Person
from nublet.web.shelf.adapters import OWN_USES, protocols_of, woods_of
from nublet.web.shelf.selectors import list_things
from nublet.web.trials import actions, selectors, serializers

REFUSED = {400: ProblemSerializer, 403: ProblemSerializer, 404: ProblemSerializer, 409: ProblemSerializer}


class AnswersWithTrial(APIView):
    """A door that answers with a trial's summary.

    What there is to say of a trial's stages is known on top of all rooms; ``summarise`` is handed in with the route.
    """

    summarise: Callable[[Person, int], object] | None = None

    def answer(self, request: Request, trial_id: int, code: int = status.HTTP_200_OK) -> Response:
        """The trial's summary."""
        assert self.summarise is not None  # noqa: S101 - the route gives it
        summary = self.summarise(person_of(request), trial_id)
        return Response(serializers.TrialSummarySerializer(summary).data, status=code)


class ReferenceView(APIView):
    """What ships."""

    acts = {"get": "see_reference"}

    @extend_schema(responses={200: serializers.ReferenceSerializer})
    def get(self, request: Request) -> Response:
        """List the species, families, uses, protocols and cautions; the shop's own are among them."""
        shop = person_of(request).shop_id
        shipped = {
            "species": woods_of(shop, offered_only=True).values(),
            "families": FAMILIES.values(),
            "uses": list_things(person_of(request), OWN_USES),
            "protocols": protocols_of(shop, offered_only=True).values(),
            "cautions": CAUTIONS.values(),
        }
        return Response(serializers.ReferenceSerializer(shipped).data)


class TrialsView(AnswersWithTrial):
    """The shop's trials."""

    acts = {"get": "see_trials", "post": "make_trial"}

    list_lines: Callable[[Person], Sequence[object]] | None = None

    @extend_schema(responses={200: serializers.TrialLineSerializer(many=True)})
    def get(self, request: Request) -> Response:
        """List the shop's trials, newest first."""
        assert self.list_lines is not None  # noqa: S101 - the route gives it
        lines = self.list_lines(person_of(request))
        return Response(serializers.TrialLineSerializer(lines, many=True).data)

    @extend_schema(
        request=serializers.TrialFieldsSerializer,
        responses={201: serializers.TrialSummarySerializer, **REFUSED},
    )
    def post(self, request: Request) -> Response:
        """Make a trial."""
        form = serializers.TrialFieldsSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        trial = actions.create_trial(person_of(request), **form.validated_data)
        return self.answer(request, trial.pk, status.HTTP_201_CREATED)


class TrialView(AnswersWithTrial):
    """One trial."""

    acts = {"get": "see_trial", "patch": "change_trial"}

    @extend_schema(responses={200: serializers.TrialSummarySerializer, **REFUSED})
    def get(self, request: Request, trial_id: int) -> Response:
        """Show a trial."""
        return self.answer(request, trial_id)

    @extend_schema(
        request=serializers.TrialFieldsSerializer(partial=True),
        responses={200: serializers.TrialSummarySerializer, **REFUSED},
    )
    def patch(self, request: Request, trial_id: int) -> Response:
        """Change a trial; only what is given changes."""
        form = serializers.TrialFieldsSerializer(data=request.data, partial=True)
        form.is_valid(raise_exception=True)
        actions.update_trial(person_of(request), trial_id, **form.validated_data)
        return self.answer(request, trial_id)


class UnblindView(AnswersWithTrial):
    """Telling the judges."""

    acts = {"post": "unblind"}

    @extend_schema(
        request=serializers.UnblindSerializer, responses={200: serializers.TrialSummarySerializer, **REFUSED}
    )
    def post(self, request: Request, trial_id: int) -> Response:
        """Write down that the judges were told what the panels carry, and why."""
        form = serializers.UnblindSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        actions.unblind(person_of(request), trial_id, **form.validated_data)
        return self.answer(request, trial_id)


class HistoryView(APIView):
    """The record of who did what."""

    acts = {"get": "see_trial"}

    @extend_schema(responses={200: serializers.HistoryLineSerializer(many=True), **REFUSED})
    def get(self, request: Request, trial_id: int) -> Response:
        """List what was done to the trial, newest first."""
        lines = selectors.list_history(selectors.find_trial(person_of(request), trial_id))
        return Response(serializers.HistoryLineSerializer(lines, many=True).data)
