"""The shapes that the trials' routes take and give. Shape only: the rules are in the core and the actions."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from nublet.web.people.api import PersonSerializer
from nublet.web.trials.models import Trial, TrialBuildUp

STAGE_STATES = ["empty", "under_way", "done", "attention"]
EXPOSURE_KINDS = ["liquid", "heat"]


class ChoiceSerializer(serializers.Serializer[Any]):
    """Something to choose: its id and its name."""

    id = serializers.CharField()
    name = serializers.CharField()


class FamilySerializer(ChoiceSerializer):
    """A finish family."""

    seat = serializers.ChoiceField(choices=["in", "on", "top"])
    setting = serializers.CharField()


class ExposureSerializer(ChoiceSerializer):
    """An exposure of a protocol."""

    short_name = serializers.CharField()
    agent = serializers.CharField()
    kind = serializers.ChoiceField(choices=EXPOSURE_KINDS)
    wetted_mm = serializers.FloatField()
    duration_min = serializers.FloatField()
    amount = serializers.CharField()


class LookSerializer(ChoiceSerializer):
    """A reading occasion."""

    after_min = serializers.FloatField()


class ProtocolSerializer(ChoiceSerializer):
    """A protocol."""

    version = serializers.IntegerField()
    says = serializers.CharField()
    exposures = ExposureSerializer(many=True)
    looks = LookSerializer(many=True)


class UseSerializer(ChoiceSerializer):
    """A use profile's name and what it asks."""

    says = serializers.CharField()


class ReferenceSerializer(serializers.Serializer[Any]):
    """What ships: choices for a new trial."""

    species = ChoiceSerializer(many=True)
    families = FamilySerializer(many=True)
    uses = UseSerializer(many=True)
    protocols = ProtocolSerializer(many=True)


class BuildUpSerializer(serializers.ModelSerializer[TrialBuildUp]):
    """A build-up of a trial."""

    class Meta:
        model = TrialBuildUp
        fields = ["id", "name", "family", "coats", "is_control"]


class NewBuildUpSerializer(serializers.Serializer[Any]):
    """A candidate to add or change."""

    name = serializers.CharField(max_length=120)
    family = serializers.CharField(max_length=60)
    coats = serializers.IntegerField(min_value=0, max_value=1000)


class TrialFieldsSerializer(serializers.Serializer[Any]):
    """What a keeper may set on a trial."""

    name = serializers.CharField(max_length=120)
    question = serializers.CharField(required=False, allow_blank=True, max_length=4000)
    uses = serializers.ListField(child=serializers.CharField(), required=False)
    species = serializers.ListField(child=serializers.CharField(), required=False)
    boards_per_species = serializers.IntegerField(required=False, min_value=0, max_value=1000)
    protocol = serializers.CharField(required=False)
    panel_length_mm = serializers.FloatField(required=False)
    panel_width_mm = serializers.FloatField(required=False)
    margin_mm = serializers.FloatField(required=False)
    judges = serializers.ListField(child=serializers.IntegerField(), required=False)


class StagesSerializer(serializers.Serializer[Any]):
    """Each stage's state."""

    question = serializers.ChoiceField(choices=STAGE_STATES)
    candidates = serializers.ChoiceField(choices=STAGE_STATES)
    design = serializers.ChoiceField(choices=STAGE_STATES)
    read = serializers.ChoiceField(choices=STAGE_STATES)
    evidence = serializers.ChoiceField(choices=STAGE_STATES)
    ranking = serializers.ChoiceField(choices=STAGE_STATES)


class TrialSerializer(serializers.ModelSerializer[Trial]):
    """A trial's own fields, for keepers."""

    judges = PersonSerializer(many=True)
    build_ups = BuildUpSerializer(many=True)
    uses = serializers.ListField(child=serializers.CharField())
    species = serializers.ListField(child=serializers.CharField())

    class Meta:
        model = Trial
        fields = [
            "id", "name", "question", "uses", "species", "boards_per_species", "protocol", "panel_length_mm",
            "panel_width_mm", "margin_mm", "seed", "fingerprint", "designed_at", "is_simulated", "judges",
            "build_ups",
        ]  # fmt: skip


class TrialSummarySerializer(serializers.Serializer[Any]):
    """A trial with its counts and stages."""

    trial = TrialSerializer()
    n_build_ups = serializers.IntegerField()
    n_panels = serializers.IntegerField()
    n_graded = serializers.IntegerField()
    n_expected = serializers.IntegerField()
    stages = StagesSerializer()


class SpotSerializer(serializers.Serializer[Any]):
    """A spot on a panel, mm from its lower left corner."""

    exposure = serializers.CharField()
    x_mm = serializers.FloatField()
    y_mm = serializers.FloatField()
    diameter_mm = serializers.FloatField()


class KeyedPanelSerializer(serializers.Serializer[Any]):
    """A panel with what it carries: for keepers only."""

    code = serializers.CharField()
    position = serializers.IntegerField()
    build_up = BuildUpSerializer()
    spots = SpotSerializer(many=True)


class BoardSerializer(serializers.Serializer[Any]):
    """A board with its panels in order along it."""

    name = serializers.CharField()
    species = serializers.CharField()
    panels = KeyedPanelSerializer(many=True)


class DesignSerializer(serializers.Serializer[Any]):
    """The standing design; ``boards`` is empty when none has been drawn."""

    seed = serializers.IntegerField(allow_null=True)
    fingerprint = serializers.CharField()
    designed_at = serializers.DateTimeField(allow_null=True)
    panel_length_mm = serializers.FloatField()
    panel_width_mm = serializers.FloatField()
    has_readings = serializers.BooleanField()
    boards = BoardSerializer(many=True)


class DrawDesignSerializer(serializers.Serializer[Any]):
    """The seed to draw lots with; without one it is drawn too."""

    seed = serializers.IntegerField(required=False, allow_null=True, min_value=0, max_value=2**53)
