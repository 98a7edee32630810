"""The shapes that the trials' routes take and give. Shape only: the rules are in the core and the actions."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from nublet.core.bench.schools import BLOCK_CHECKS, GRADE_SCHOOLS
from nublet.core.design.blocks import ARRANGEMENTS
from nublet.core.design.exposing import EXPOSING_SCHOOLS
from nublet.core.materials.cautions import Caution
from nublet.core.materials.families import Family
from nublet.core.materials.schools import COAT_SCHOOLS, PREPARATION_SCHOOLS
from nublet.core.protocols.looks import Look
from nublet.core.protocols.sites import SITE_WORDS
from nublet.core.protocols.tests import Protocol
from nublet.core.protocols.worth import WorthAsked, compared
from nublet.web.api.plain import shown
from nublet.web.people.api import PersonSerializer
from nublet.web.shelf.adapters import outline_of
from nublet.web.shelf.serializers import DrawnLayerSerializer, RecipeSerializer
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial

STAGE_STATES = ["empty", "under_way", "done", "attention"]
EXPOSURE_KINDS = ["liquid", "heat"]
SIDES = ["front", "back"]
FACES = ["front", "both"]
LADDERS = ["together", "spread"]


class ChoiceSerializer(serializers.Serializer[Any]):
    """Something to choose: its id and its name."""

    id = serializers.CharField()
    name = serializers.CharField()


CautionSerializer = shown(Caution, skip=("moments",))


FamilySerializer = shown(Family, skip=("sets", "carrier", "repair"), also=("setting", "mending"))


class ExposureKindField(serializers.ChoiceField):
    """What an exposure is called for short: a hot thing, or a liquid."""

    def to_representation(self, value: object) -> str:
        """By whether it is hot."""
        return "heat" if value else "liquid"


class TestSerializer(ChoiceSerializer):
    """A test of a protocol."""

    short_name = serializers.CharField()
    agent = serializers.CharField()
    kind = ExposureKindField(choices=EXPOSURE_KINDS, source="is_hot")
    site = serializers.ChoiceField(choices=list(SITE_WORDS), source="site.kind")
    wetted_mm = serializers.FloatField(source="site.wetted_mm")
    duration_min = serializers.FloatField()
    amount = serializers.CharField()


LookSerializer = shown(Look)


WorthAskedSerializer = shown(WorthAsked)


class ProtocolSerializer(ChoiceSerializer):
    """A protocol."""

    version = serializers.IntegerField()
    says = serializers.CharField()
    tests = TestSerializer(many=True)
    looks = LookSerializer(many=True, source="all_looks")
    ladders = ChoiceSerializer(many=True)
    compared = serializers.SerializerMethodField()

    @extend_schema_field(WorthAskedSerializer(many=True))
    def get_compared(self, protocol: Protocol) -> list[dict[str, Any]]:
        """What of it can be called alike within a difference."""
        return list(WorthAskedSerializer(compared(protocol), many=True).data)


class UseSerializer(serializers.Serializer[Any]):
    """A use's name and what it asks; one that is archived is shown where it was chosen before."""

    id = serializers.CharField()
    name = serializers.CharField(source="thing.name")
    says = serializers.CharField(source="thing.says")
    is_archived = serializers.BooleanField()


class ReferenceSerializer(serializers.Serializer[Any]):
    """What ships: choices for a new trial."""

    species = ChoiceSerializer(many=True)
    families = FamilySerializer(many=True)
    uses = UseSerializer(many=True)
    protocols = ProtocolSerializer(many=True)
    cautions = CautionSerializer(many=True)


# One for all: making a serializer's fields takes many times as long as using them, and a list of trials shows hundreds.
_LAYER = DrawnLayerSerializer()


class BuildUpSerializer(serializers.Serializer[Any]):
    """A build-up of a trial, with its layers as a cross-section shows them."""

    id = serializers.IntegerField(read_only=True)
    name = serializers.CharField(max_length=120)
    family = serializers.CharField(allow_null=True)
    coats = serializers.IntegerField()
    layers = DrawnLayerSerializer(many=True)
    version = serializers.IntegerField(source="version.number", allow_null=True, default=None)
    is_control = serializers.BooleanField(required=False)
    is_benchmark = serializers.BooleanField()

    def to_representation(self, instance: Any) -> dict[str, Any]:
        """Families and coats stand in the version's recipe."""
        outline = None if instance.version is None else outline_of(instance.version.recipe)
        shown: dict[str, Any] = {
            "id": instance.pk,
            "name": instance.name,
            "family": None if outline is None else outline.leading_layer.product.family,
            "coats": 0 if outline is None else sum(layer.coats for layer in outline.layers),
            "layers": []
            if outline is None
            else [_LAYER.to_representation(layer) for layer in outline.all_layers],
            "version": None if instance.version is None else instance.version.number,
            "is_control": instance.is_control,
            "is_benchmark": instance.version is not None and instance.version.build_up.is_benchmark,
        }
        return shown


class NewBuildUpSerializer(serializers.Serializer[Any]):
    """A candidate to add: a product by its label, a version from the shelf, or a family in some coats.

    With ``bare_like`` a further bare control, prepared as that build-up is.
    """

    name = serializers.CharField(max_length=120, required=False, allow_blank=True)
    product = serializers.IntegerField(required=False, allow_null=True)
    version = serializers.IntegerField(required=False, allow_null=True)
    family = serializers.CharField(max_length=60, required=False, allow_blank=True)
    coats = serializers.IntegerField(min_value=0, max_value=1000, required=False, allow_null=True)
    bare_like = serializers.IntegerField(required=False, allow_null=True)


class ChangeBuildUpSerializer(serializers.Serializer[Any]):
    """A candidate's name and recipe."""

    name = serializers.CharField(max_length=120)
    recipe = RecipeSerializer()


class DraftRecipeSerializer(serializers.Serializer[Any]):
    """A recipe to look over."""

    recipe = RecipeSerializer()


class TrialFieldsSerializer(serializers.Serializer[Any]):
    """What a keeper may set on a trial."""

    name = serializers.CharField(max_length=120)
    question = serializers.CharField(required=False, allow_blank=True, max_length=4000)
    uses = serializers.ListField(child=serializers.CharField(), required=False)
    species = serializers.ListField(child=serializers.CharField(), required=False)
    boards_per_species = serializers.IntegerField(required=False, min_value=1, max_value=1000)
    protocol = serializers.CharField(required=False)
    panel_length_mm = serializers.FloatField(required=False)
    panel_width_mm = serializers.FloatField(required=False)
    margin_mm = serializers.FloatField(required=False)
    sections = serializers.ListField(child=serializers.CharField(max_length=60), required=False)
    pairs = serializers.ListField(
        child=serializers.ListField(child=serializers.IntegerField(), min_length=2, max_length=2),
        required=False,
    )
    kerf_mm = serializers.FloatField(required=False)
    end_trim_mm = serializers.FloatField(required=False)
    end_piece_mm = serializers.FloatField(required=False)
    faces = serializers.ChoiceField(choices=FACES, required=False)
    panels_each = serializers.IntegerField(required=False, min_value=1, max_value=4)
    slip_replicates = serializers.IntegerField(required=False, min_value=1, max_value=20)
    ladders = serializers.ChoiceField(choices=LADDERS, required=False)
    exposing = serializers.ChoiceField(choices=list(EXPOSING_SCHOOLS), required=False)
    arrangement = serializers.ChoiceField(choices=list(ARRANGEMENTS), required=False)
    block_size = serializers.IntegerField(required=False, allow_null=True, min_value=2, max_value=1000)
    sd = serializers.FloatField(required=False, allow_null=True)
    preparation_school = serializers.ChoiceField(choices=list(PREPARATION_SCHOOLS), required=False)
    coat_school = serializers.ChoiceField(choices=list(COAT_SCHOOLS), required=False)
    times_on_paper = serializers.BooleanField(required=False)
    grade_school = serializers.ChoiceField(choices=list(GRADE_SCHOOLS), required=False)
    blind_repeats = serializers.BooleanField(required=False)
    block_check = serializers.ChoiceField(choices=list(BLOCK_CHECKS), required=False)
    worth_knowing = serializers.DictField(child=serializers.FloatField(), required=False)
    stages = serializers.ListField(child=serializers.IntegerField(), required=False)
    judges = serializers.ListField(child=serializers.IntegerField(), required=False)


class UnblindSerializer(serializers.Serializer[Any]):
    """Why the judges are told what the panels carry."""

    reason = serializers.CharField(allow_blank=True, max_length=4000)


class StagesSerializer(serializers.Serializer[Any]):
    """Each stage's state."""

    question = serializers.ChoiceField(choices=STAGE_STATES)
    candidates = serializers.ChoiceField(choices=STAGE_STATES)
    build_ups = serializers.ChoiceField(choices=STAGE_STATES)
    design = serializers.ChoiceField(choices=STAGE_STATES)
    prepare = serializers.ChoiceField(choices=STAGE_STATES)
    coat_and_cure = serializers.ChoiceField(choices=STAGE_STATES)
    expose = serializers.ChoiceField(choices=STAGE_STATES)
    read = serializers.ChoiceField(choices=STAGE_STATES)
    evidence = serializers.ChoiceField(choices=STAGE_STATES)
    ranking = serializers.ChoiceField(choices=STAGE_STATES)


class TrialSerializer(serializers.ModelSerializer[Trial]):
    """A trial's own fields, for keepers."""

    judges = PersonSerializer(many=True)
    build_ups = BuildUpSerializer(many=True)
    uses = serializers.ListField(child=serializers.CharField())
    species = serializers.ListField(child=serializers.CharField())
    preparation_school = serializers.ChoiceField(choices=list(PREPARATION_SCHOOLS))
    coat_school = serializers.ChoiceField(choices=list(COAT_SCHOOLS))
    sections = serializers.ListField(child=serializers.CharField())
    pairs = serializers.ListField(child=serializers.ListField(child=serializers.IntegerField()))
    faces = serializers.ChoiceField(choices=FACES)
    ladders = serializers.ChoiceField(choices=LADDERS)
    exposing = serializers.ChoiceField(choices=list(EXPOSING_SCHOOLS))
    grade_school = serializers.ChoiceField(choices=list(GRADE_SCHOOLS))
    block_check = serializers.ChoiceField(choices=list(BLOCK_CHECKS))
    arrangement = serializers.ChoiceField(choices=list(ARRANGEMENTS))
    worth_knowing = serializers.DictField(child=serializers.FloatField())
    stages = serializers.ListField(child=serializers.IntegerField())
    own_protocol = serializers.SerializerMethodField()
    unblinded_by = serializers.CharField(source="unblinded_by.display_name", default="")

    @extend_schema_field(ProtocolSerializer)
    def get_own_protocol(self, trial: Trial) -> dict[str, Any]:
        """The protocol that is the trial's own, whatever ships by its name."""
        shown: dict[str, Any] = ProtocolSerializer(protocol_of(trial)).data
        return shown

    class Meta:
        model = Trial
        fields = [
            "id", "name", "question", "uses", "species", "boards_per_species", "protocol", "panel_length_mm",
            "panel_width_mm", "margin_mm", "sections", "pairs", "kerf_mm", "end_trim_mm", "end_piece_mm", "faces",
            "panels_each", "slip_replicates", "ladders", "exposing", "arrangement", "block_size", "sd", "preparation_school",
            "coat_school", "own_protocol", "started_at", "seed", "fingerprint", "designed_at", "is_simulated", "judges",
            "build_ups", "times_on_paper", "grade_school", "blind_repeats", "block_check",
            "worth_knowing", "stages", "unblinded_at", "unblinded_by", "unblinded_because",
        ]  # fmt: skip


class TrialLineSerializer(serializers.Serializer[Any]):
    """A trial as a line of the list."""

    id = serializers.IntegerField()
    name = serializers.CharField()
    question = serializers.CharField()
    started_at = serializers.DateTimeField(allow_null=True)
    is_simulated = serializers.BooleanField()
    n_build_ups = serializers.IntegerField()
    n_panels = serializers.IntegerField()
    n_graded = serializers.IntegerField()
    n_expected = serializers.IntegerField()


class HistoryLineSerializer(serializers.Serializer[Any]):
    """Something that somebody did to a trial."""

    at = serializers.DateTimeField()
    person = serializers.CharField(source="person.display_name", default="")
    action = serializers.CharField()
    details = serializers.DictField()


class TrialSummarySerializer(serializers.Serializer[Any]):
    """A trial with its counts and stages."""

    trial = TrialSerializer()
    n_build_ups = serializers.IntegerField()
    n_panels = serializers.IntegerField()
    n_graded = serializers.IntegerField()
    n_expected = serializers.IntegerField()
    n_deviations = serializers.IntegerField()
    stages = StagesSerializer()


class SpotSerializer(serializers.Serializer[Any]):
    """A spot on a panel, mm from its lower left corner; ``place`` is its section's number, 0 on an undivided panel."""

    exposure = serializers.CharField()
    kind = serializers.ChoiceField(choices=list(SITE_WORDS))
    place = serializers.IntegerField()
    side = serializers.ChoiceField(choices=SIDES)
    x_mm = serializers.FloatField()
    y_mm = serializers.FloatField()
    diameter_mm = serializers.FloatField()
    along_mm = serializers.FloatField()
    across_mm = serializers.FloatField()


class AreaSerializer(serializers.Serializer[Any]):
    """A section of a panel by its number, lower left corner and size, mm."""

    place = serializers.IntegerField()
    x_mm = serializers.FloatField()
    y_mm = serializers.FloatField()
    length_mm = serializers.FloatField()
    width_mm = serializers.FloatField()
