"""The shapes of a trial's design: boards, panels, deviations."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from nublet.core.design.areas import Section
from nublet.core.design.cutting import DEFECT_KINDS
from nublet.core.design.drawn import Spot
from nublet.web.api.plain import shown
from nublet.web.api.prose import ProseField
from nublet.web.designs.models import DeviationKind
from nublet.web.trials.serializers import AreaSerializer, BuildUpSerializer, SpotSerializer

# A missed window is found from the bench log and told by nobody.
TOLD_KINDS = [choice for choice in DeviationKind.choices if choice[0] != DeviationKind.WINDOW_MISSED]


class DefectSerializer(serializers.Serializer[Any]):
    """A stretch of a board to avoid, mm from its left end."""

    from_mm = serializers.FloatField(min_value=0, max_value=30000)
    to_mm = serializers.FloatField(min_value=0, max_value=30000)
    kind = serializers.ChoiceField(choices=list(DEFECT_KINDS), required=False)


class StartSerializer(serializers.Serializer[Any]):
    """What a start asks for."""

    unmeasured_because = serializers.CharField(required=False, allow_blank=True, default="", max_length=2000)


class MeasuresSerializer(serializers.Serializer[Any]):
    """What may be measured of a board; what is left out stays, null is not measured."""

    name = serializers.CharField(max_length=60, required=False)
    length_mm = serializers.FloatField(allow_null=True, required=False)
    width_mm = serializers.FloatField(allow_null=True, required=False)
    defects = DefectSerializer(many=True, required=False)


class KeyedSpotSerializer(SpotSerializer):
    """A spot with the name of its section."""

    section = serializers.CharField()


class SectionSerializer(AreaSerializer):
    """A section with its name."""

    name = serializers.CharField()


OwnSectionSerializer = shown(Section, name="OwnSectionSerializer")


OwnSpotSerializer = shown(Spot, name="OwnSpotSerializer")


class KeyedPanelSerializer(serializers.Serializer[Any]):
    """A panel with what it carries and where it is cut: for keepers only."""

    code = serializers.CharField(source="row.code")
    position = serializers.IntegerField(source="row.position")
    part = serializers.IntegerField(source="row.part")
    offset_mm = serializers.FloatField(source="place.offset_mm", default=None, allow_null=True)
    row = serializers.IntegerField(source="place.row", default=None, allow_null=True)
    build_up = BuildUpSerializer(source="row.build_up")
    sections = serializers.SerializerMethodField()
    spots = KeyedSpotSerializer(source="row.spots", many=True)
    is_spoiled = serializers.BooleanField(source="row.is_spoiled")
    replaces = serializers.CharField(source="row.replaces.code", default=None, allow_null=True)

    @extend_schema_field(SectionSerializer(many=True))
    def get_sections(self, panel: Any) -> list[dict[str, Any]]:
        """Sections in the order in which they lie."""
        return [
            dict(SectionSerializer({**section, "place": number}).data)
            for number, section in enumerate(panel.row.sections, start=1)
        ]


class BoardSerializer(serializers.Serializer[Any]):
    """A board with its measures, and its panels in the order of cutting."""

    id = serializers.IntegerField(source="row.pk")
    name = serializers.CharField(source="row.name")
    species = serializers.CharField(source="row.species")
    length_mm = serializers.FloatField(source="row.length_mm", allow_null=True)
    width_mm = serializers.FloatField(source="row.width_mm", allow_null=True)
    defects = DefectSerializer(source="row.defects", many=True)
    added_at = serializers.DateTimeField(source="row.added_at", allow_null=True)
    needed_mm = serializers.FloatField(allow_null=True)
    says = ProseField()
    panels = KeyedPanelSerializer(many=True)


class KeyedSlipSerializer(serializers.Serializer[Any]):
    """A slip of glass with what is put on it and for which test: for keepers only."""

    code = serializers.CharField()
    test = serializers.CharField(source="slip_test")
    replicate = serializers.IntegerField(source="position")
    build_up = BuildUpSerializer()
    is_spoiled = serializers.BooleanField()
    replaces = serializers.CharField(source="replaces.code", default=None, allow_null=True)


class DeviationSerializer(serializers.Serializer[Any]):
    """Something that went otherwise than recorded."""

    id = serializers.IntegerField(source="pk")
    kind = serializers.ChoiceField(choices=DeviationKind.choices)
    says = serializers.CharField()
    reason = serializers.CharField()
    recorded_by = serializers.CharField(source="recorded_by.display_name")
    at = serializers.DateTimeField()


class DesignSerializer(serializers.Serializer[Any]):
    """The standing design; its boards have no panels when none has been drawn."""

    seed = serializers.IntegerField(source="trial.seed", allow_null=True)
    fingerprint = serializers.CharField(source="trial.fingerprint")
    designed_at = serializers.DateTimeField(source="trial.designed_at", allow_null=True)
    started_at = serializers.DateTimeField(source="trial.started_at", allow_null=True)
    record_state = serializers.ChoiceField(choices=["none", "intact", "broken"])
    panel_length_mm = serializers.FloatField(source="trial.panel_length_mm")
    panel_width_mm = serializers.FloatField(source="trial.panel_width_mm")
    kerf_mm = serializers.FloatField(source="trial.kerf_mm")
    end_trim_mm = serializers.FloatField(source="trial.end_trim_mm")
    end_piece_mm = serializers.FloatField(source="trial.end_piece_mm")
    n_short = serializers.IntegerField()
    boards = BoardSerializer(many=True)
    slips = KeyedSlipSerializer(many=True)
    deviations = DeviationSerializer(many=True)


class NewDeviationSerializer(serializers.Serializer[Any]):
    """What went otherwise.

    ``panel`` is a code, or several to replace at once; ``board`` that of the new panel, or the one that was swapped;
    ``species`` the wood of a board that is added.
    """

    kind = serializers.ChoiceField(choices=TOLD_KINDS)
    reason = serializers.CharField(max_length=2000, allow_blank=True)
    panel = serializers.CharField(max_length=400, required=False, allow_null=True)
    board = serializers.IntegerField(required=False, allow_null=True)
    species = serializers.CharField(max_length=60, required=False, allow_blank=True)
    length_mm = serializers.FloatField(required=False, allow_null=True)
    width_mm = serializers.FloatField(required=False, allow_null=True)
    defects = DefectSerializer(many=True, required=False)
