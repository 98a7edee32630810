"""The shapes of a trial's build-ups: recipe, what clashes, what it takes and costs, the sheet."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from nublet.core.design.factors import FACTOR_WORDS
from nublet.core.materials.assessment import Assessment
from nublet.core.materials.mixes import Amount
from nublet.core.materials.preparations import Preparation
from nublet.core.materials.sections import SectionRecipe
from nublet.core.materials.sheet import Step
from nublet.web.api.plain import shown, taken
from nublet.web.build_ups.selectors import SectionOn
from nublet.web.shelf.serializers import DrawnLayerSerializer, LayerSerializer, RecipeSerializer
from nublet.web.trials.serializers import CautionSerializer


class LayerNeedSerializer(serializers.Serializer[Any]):
    """What a layer takes for the trial."""

    product = serializers.CharField(source="product.name")
    coats_ml = serializers.ListField(child=serializers.FloatField())
    total_ml = serializers.FloatField()
    cost = serializers.FloatField(allow_null=True)


AssessmentSerializer = shown(Assessment, also=("is_blocked",), needs=LayerNeedSerializer(many=True))


class DraftSerializer(serializers.Serializer[Any]):
    """A recipe that is not saved, looked over."""

    assessment = AssessmentSerializer()
    layers = DrawnLayerSerializer(many=True)


class BuildUpDetailSerializer(serializers.Serializer[Any]):
    """A build-up of a trial with its recipe; recipe and assessment are null for the control."""

    id = serializers.IntegerField(source="row.pk")
    name = serializers.CharField(source="row.name")
    is_control = serializers.BooleanField(source="row.is_control")
    is_further = serializers.BooleanField()
    prepared = serializers.ListField(child=serializers.CharField())
    version = serializers.IntegerField(source="row.version.number", allow_null=True, default=None)
    version_id = serializers.IntegerField(source="row.version_id", allow_null=True)
    is_frozen = serializers.BooleanField(source="row.version.is_frozen", default=False)
    recipe = RecipeSerializer(source="plain", allow_null=True)
    layers = DrawnLayerSerializer(many=True)
    assessment = AssessmentSerializer(allow_null=True)


class BuildUpsSerializer(serializers.Serializer[Any]):
    """All build-ups of a trial, what its schools confound, where they stray, and what to buy."""

    n_panels = serializers.IntegerField()
    face_m2 = serializers.FloatField()
    is_started = serializers.BooleanField(source="trial.is_started")
    preparation_school = serializers.CharField(source="trial.preparation_school")
    coat_school = serializers.CharField(source="trial.coat_school")
    confounded = serializers.ListField(child=serializers.CharField(), source="advice.confounded")
    strays = serializers.ListField(child=serializers.CharField(), source="advice.strays")
    build_ups = BuildUpDetailSerializer(many=True, source="rows")


class ChangedBuildUpsSerializer(serializers.Serializer[Any]):
    """The build-ups after a change; ``made_for_shelf`` is the number of a version that this trial does not use."""

    made_for_shelf = serializers.IntegerField(allow_null=True)
    view = BuildUpsSerializer()


AmountSerializer = shown(Amount)


StepSerializer = shown(Step, kind=serializers.CharField())


class SheetSerializer(serializers.Serializer[Any]):
    """The sheet of a build-up for a trial."""

    trial = serializers.CharField(source="trial.name")
    is_simulated = serializers.BooleanField(source="trial.is_simulated")
    name = serializers.CharField(source="row.name")
    version = serializers.IntegerField(source="row.version.number")
    is_frozen = serializers.BooleanField(source="row.version.is_frozen")
    experiment_reason = serializers.CharField(source="recipe.experiment_reason")
    n_panels = serializers.IntegerField(source="work.n_panels")
    panel_length_mm = serializers.FloatField(source="trial.panel_length_mm")
    panel_width_mm = serializers.FloatField(source="trial.panel_width_mm")
    woods = serializers.ListField(child=serializers.CharField())
    layers = DrawnLayerSerializer(many=True, source="recipe.all_layers")
    steps = StepSerializer(many=True)
    assessment = AssessmentSerializer()
    cautions = CautionSerializer(many=True)
    defers = serializers.CharField()


SectionFieldsSerializer = taken(
    SectionRecipe, name="SectionFieldsSerializer", layers=LayerSerializer(many=True, required=False)
)


class SectionsRequestSerializer(serializers.Serializer[Any]):
    """All sections of a panel."""

    sections = SectionFieldsSerializer(many=True)


class SectionRowSerializer(serializers.Serializer[Any]):
    """A section with what it comes to on each build-up."""

    section = SectionFieldsSerializer(source="plain")
    layers = DrawnLayerSerializer(many=True)
    on = shown(SectionOn)(many=True)
    out = serializers.ListField(child=serializers.CharField())


class SectionsSerializer(serializers.Serializer[Any]):
    """All sections of a trial."""

    sections = SectionRowSerializer(many=True)


class LevelSerializer(serializers.Serializer[Any]):
    """One level of a factor: a product or a family, a preparation, a number of coats, or layers on top."""

    name = serializers.CharField(max_length=60)
    product = serializers.IntegerField(required=False, allow_null=True)
    family = serializers.CharField(required=False, allow_blank=True, max_length=60)
    coats = serializers.IntegerField(required=False, allow_null=True)
    preparation = taken(Preparation)(required=False, allow_null=True)
    layers = LayerSerializer(many=True, required=False)


class FactorSerializer(serializers.Serializer[Any]):
    """A factor with its levels, on panels or on sections."""

    kind = serializers.ChoiceField(choices=list(FACTOR_WORDS))
    on = serializers.ChoiceField(choices=["panels", "sections"])
    levels = LevelSerializer(many=True)


class CrossingFieldsSerializer(serializers.Serializer[Any]):
    """Factors crossed; ``out`` are cells that are taken out, ``bare_at`` levels of the preparation with a bare piece."""

    factors = FactorSerializer(many=True, required=False)
    out = serializers.ListField(
        child=serializers.ListField(child=serializers.CharField(max_length=60)), required=False
    )
    bare_at = serializers.ListField(child=serializers.CharField(max_length=60), required=False)


class CrossingSerializer(serializers.Serializer[Any]):
    """The factors that a trial crosses, and preparations to choose from."""

    crossing = CrossingFieldsSerializer()
    preparations = LevelSerializer(many=True)


class BenchmarkSerializer(serializers.Serializer[Any]):
    """Whether a build-up is a benchmark."""

    is_benchmark = serializers.BooleanField()
