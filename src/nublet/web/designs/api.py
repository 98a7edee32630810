"""HTTP for a trial's design. Keepers only."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from nublet.core.errors import DesignError
from nublet.web.api.sign_in import person_of
from nublet.web.designs import actions, deviations
from nublet.web.designs import serializers as shapes
from nublet.web.designs.models import TrialDeviation
from nublet.web.designs.selectors import view_design
from nublet.web.people.models import Person
from nublet.web.trials.api import REFUSED
from nublet.web.trials.selectors import find_trial


class DesignView(APIView):
    """A trial's design."""

    acts = {"get": "see_trial", "post": "draw_design"}

    @extend_schema(responses={200: shapes.DesignSerializer, **REFUSED})
    def get(self, request: Request, trial_id: int) -> Response:
        """Show the design with its key: which panel carries what."""
        return _answer(request, trial_id)

    @extend_schema(request=None, responses={201: shapes.DesignSerializer, **REFUSED})
    def post(self, request: Request, trial_id: int) -> Response:
        """Draw lots; an earlier design is replaced until the trial has started."""
        if isinstance(request.data, dict) and request.data.get("seed") is not None:
            raise DesignError(
                "A seed given by hand breaks the blind: whoever knows it can replay the lots. Draw without one; "
                "./nublet design takes a seed.",
                field="seed",
            )
        actions.draw_design(person_of(request), trial_id)
        return _answer(request, trial_id, status.HTTP_201_CREATED)


class StartView(APIView):
    """Starting a trial."""

    acts = {"post": "start_trial"}

    @extend_schema(request=shapes.StartSerializer, responses={200: shapes.DesignSerializer, **REFUSED})
    def post(self, request: Request, trial_id: int) -> Response:
        """Freeze design, build-ups and protocol under a fingerprint; boards are measured, or a word says why not."""
        form = shapes.StartSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        actions.start(person_of(request), trial_id, **form.validated_data)
        return _answer(request, trial_id)


class BoardView(APIView):
    """One board."""

    acts = {"patch": "change_trial"}

    @extend_schema(request=shapes.MeasuresSerializer, responses={200: shapes.DesignSerializer, **REFUSED})
    def patch(self, request: Request, trial_id: int, board_id: int) -> Response:
        """Measure a board; only what is given changes."""
        form = shapes.MeasuresSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        actions.measure_board(person_of(request), trial_id, board_id, form.validated_data)
        return _answer(request, trial_id)


class DeviationsView(APIView):
    """What went otherwise than recorded."""

    acts = {"post": "deviate"}

    @extend_schema(request=shapes.NewDeviationSerializer, responses={201: shapes.DesignSerializer, **REFUSED})
    def post(self, request: Request, trial_id: int) -> Response:
        """Record a deviation."""
        form = shapes.NewDeviationSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        _DEVIATIONS[form.validated_data["kind"]](person_of(request), trial_id, form.validated_data)
        return _answer(request, trial_id, status.HTTP_201_CREATED)


Said = Mapping[str, Any]
_DEVIATIONS: dict[str, Callable[[Person, int, Said], TrialDeviation]] = {
    "panel_spoiled": lambda person, trial_id, said: deviations.spoil_panel(
        person, trial_id, panel=said.get("panel") or "", reason=said["reason"]
    ),
    "panel_replaced": lambda person, trial_id, said: deviations.replace_panel(
        person, trial_id, panel=said.get("panel") or "", reason=said["reason"], board=said.get("board")
    ),
    "board_swapped": lambda person, trial_id, said: deviations.swap_board(
        person, trial_id, board=said.get("board") or 0, reason=said["reason"], fields=said
    ),
    "board_added": lambda person, trial_id, said: deviations.add_board(
        person, trial_id, species=said.get("species") or "", reason=said["reason"], fields=said
    ),
    "noted": lambda person, trial_id, said: deviations.note_deviation(
        person, trial_id, panel=said.get("panel"), reason=said["reason"]
    ),
}


def _answer(request: Request, trial_id: int, code: int = status.HTTP_200_OK) -> Response:
    found = view_design(find_trial(person_of(request), trial_id))
    return Response(shapes.DesignSerializer(found).data, status=code)
