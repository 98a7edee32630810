"""HTTP for putting a trial's protocol together. Keepers only."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from nublet.core.design.asking import Asking
from nublet.core.protocols.plain import protocol_from_dict
from nublet.core.protocols.tests import Protocol
from nublet.web.api.plain import shown
from nublet.web.api.sign_in import person_of
from nublet.web.designs.serializers import OwnSectionSerializer, OwnSpotSerializer
from nublet.web.outlook import composer
from nublet.web.shelf.serializers import ProtocolFieldsSerializer
from nublet.web.trials.api import REFUSED
from nublet.web.trials.selectors import find_trial

CHANGES = list(composer.CHANGES)

LibrarySerializer = shown(composer.Library, name="LibrarySerializer")


class DrawnPanelSerializer(serializers.Serializer[Any]):
    """One of a build-up's panels as the draft fills it, mm."""

    sections = OwnSectionSerializer(many=True)
    spots = OwnSpotSerializer(many=True)


ComposedSerializer = shown(
    composer.Composed,
    name="ComposedSerializer",
    protocol=ProtocolFieldsSerializer(),
    asking=shown(Asking, skip=("sites",))(),
    panels=DrawnPanelSerializer(many=True),
)


class ChangeSerializer(serializers.Serializer[Any]):
    """What is to be done to the draft."""

    what = serializers.ChoiceField(choices=CHANGES)
    test = serializers.CharField(required=False, allow_blank=True, default="", max_length=60)
    protocol = serializers.CharField(required=False, allow_blank=True, default="", max_length=60)
    steps = serializers.IntegerField(required=False, min_value=2, max_value=12)
    lasts_min = serializers.FloatField(required=False, allow_null=True, min_value=0, max_value=5_300_000)
    temperature_c = serializers.FloatField(required=False, allow_null=True)
    times = serializers.IntegerField(required=False, allow_null=True, min_value=1, max_value=100_000)


class ComposeSerializer(serializers.Serializer[Any]):
    """A draft, none for the trial's own protocol, and what is to be done to it."""

    protocol = ProtocolFieldsSerializer(required=False, allow_null=True)
    change = ChangeSerializer(required=False, allow_null=True)


class ShelfComposeSerializer(serializers.Serializer[Any]):
    """A draft, and what is to be done to it."""

    protocol = ProtocolFieldsSerializer()
    change = ChangeSerializer(required=False, allow_null=True)


class LibraryView(APIView):
    """All that a protocol can be put together from."""

    acts = {"get": "see_shelf"}

    @extend_schema(responses={200: LibrarySerializer})
    def get(self, request: Request) -> Response:
        """List every test, and every protocol."""
        return Response(LibrarySerializer(composer.library_of(person_of(request))).data)


class ComposerView(APIView):
    """A trial's protocol while it is put together."""

    acts = {"post": "see_trial", "put": "change_trial"}

    @extend_schema(request=ComposeSerializer, responses={200: ComposedSerializer, **REFUSED})
    def post(self, request: Request, trial_id: int) -> Response:
        """Change a draft and say what follows from it; nothing is saved."""
        form = ComposeSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        asked = form.validated_data
        trial = find_trial(person_of(request), trial_id)
        return _answer(
            trial.shop_id,
            composer.draft_of(trial, asked.get("protocol")),
            asked.get("change"),
            setting=composer.setting_for(trial),
        )

    @extend_schema(request=ProtocolFieldsSerializer, responses={200: ComposedSerializer, **REFUSED})
    def put(self, request: Request, trial_id: int) -> Response:
        """Make a draft the trial's own protocol."""
        form = ProtocolFieldsSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        trial = composer.set_protocol(person_of(request), trial_id, form.validated_data)
        return _answer(trial.shop_id, composer.draft_of(trial, None), setting=composer.setting_for(trial))


class ShelfComposerView(APIView):
    """A protocol of the shelf while it is put together."""

    acts = {"post": "see_shelf"}

    @extend_schema(request=ShelfComposeSerializer, responses={200: ComposedSerializer, **REFUSED})
    def post(self, request: Request) -> Response:
        """Change a draft and say what follows from it, for a trial of a usual size; nothing is saved."""
        form = ShelfComposeSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        asked = form.validated_data
        draft = protocol_from_dict({**asked["protocol"], "version": 1}, protocol_id="")
        return _answer(person_of(request).shop_id, draft, asked.get("change"))


def _answer(shop_id: int, draft: Protocol, change: Any = None, **more: Any) -> Response:
    return Response(ComposedSerializer(composer.compose(shop_id, draft, change, **more)).data)
