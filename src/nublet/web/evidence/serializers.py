"""The shapes of evidence and ranking."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from nublet.core.evidence.analysis import ALL_SPECIES
from nublet.core.evidence.readings import DEFAULT_LOOK
from nublet.web.readings.models import EntryKind, Reading, ReadingEntry

CHECK_LEVELS = ["pass", "warn", "fail"]


class IntervalField(serializers.ListField):
    """Low and high end."""

    child = serializers.FloatField()


class SystemEvidenceSerializer(serializers.Serializer[Any]):
    """A build-up's least-squares mean in one test."""

    system = serializers.CharField()
    mean = serializers.FloatField()
    se = serializers.FloatField(allow_null=True)
    ci = IntervalField(allow_null=True)
    letters = serializers.CharField()
    n_panels = serializers.IntegerField()


class PairEvidenceSerializer(serializers.Serializer[Any]):
    """Two build-ups compared."""

    a = serializers.CharField()
    b = serializers.CharField()
    difference = serializers.FloatField()
    se = serializers.FloatField(allow_null=True)
    ci = IntervalField(allow_null=True)
    p_tukey = serializers.FloatField(allow_null=True)
    told_apart = serializers.BooleanField(allow_null=True)


class TestEvidenceSerializer(serializers.Serializer[Any]):
    """One test."""

    test = serializers.CharField()
    species = serializers.CharField()
    says = serializers.CharField()
    n_panels = serializers.SerializerMethodField()
    residual_df = serializers.IntegerField(source="fit.residual_df", default=None, allow_null=True)
    system_p = serializers.FloatField(source="fit.system_p", default=None, allow_null=True)
    systems = SystemEvidenceSerializer(many=True)
    pairs = PairEvidenceSerializer(many=True)

    def get_n_panels(self, test: Any) -> int:
        """Panels with a value."""
        return len(test.values)


class CheckSerializer(serializers.Serializer[Any]):
    """One validity check."""

    check = serializers.CharField()
    level = serializers.ChoiceField(choices=CHECK_LEVELS)
    says = serializers.CharField()


class HeadlineSerializer(serializers.Serializer[Any]):
    """The sentences that head the evidence."""

    trust = serializers.CharField()
    troubles = serializers.ListField(child=serializers.CharField())
    told_apart = serializers.CharField()
    not_told_apart = serializers.CharField()
    wood = serializers.CharField(allow_blank=True)


class EvidenceSerializer(serializers.Serializer[Any]):
    """The evidence of one look and one choice of species."""

    look = serializers.CharField()
    species = serializers.CharField()
    species_choices = serializers.ListField(child=serializers.CharField())
    n_boards = serializers.IntegerField()
    judges = serializers.ListField(child=serializers.CharField())
    n_readings = serializers.IntegerField()
    is_simulated = serializers.BooleanField()
    section = serializers.CharField()
    section_choices = serializers.ListField(child=serializers.CharField())
    control = serializers.CharField()
    tests = TestEvidenceSerializer(many=True)
    depends_on_wood = serializers.ListField(child=serializers.CharField())
    headline = HeadlineSerializer()
    checks = CheckSerializer(many=True)


class EntryLineSerializer(serializers.ModelSerializer[ReadingEntry]):
    """One entry in the record."""

    kind = serializers.ChoiceField(choices=EntryKind.choices)
    grade = serializers.FloatField(source="value", allow_null=True)

    class Meta:
        model = ReadingEntry
        fields = ["kind", "grade", "note", "at"]


class ReadingBehindSerializer(serializers.ModelSerializer[Reading]):
    """A reading behind a point, with everything that was ever entered for it."""

    panel = serializers.CharField(source="spot.panel.code")
    board = serializers.CharField(source="spot.panel.board.name")
    species = serializers.CharField(source="spot.panel.board.species")
    judge = serializers.CharField(source="judge.display_name")
    grade = serializers.FloatField(source="value")
    entries = EntryLineSerializer(many=True)

    class Meta:
        model = Reading
        fields = ["panel", "board", "species", "judge", "look", "grade", "note", "changed_at", "entries"]


class CriterionSerializer(serializers.Serializer[Any]):
    """A criterion of the use."""

    id = serializers.CharField()
    name = serializers.CharField()
    weight = serializers.FloatField()
    tests = serializers.ListField(child=serializers.CharField())


class GateSerializer(serializers.Serializer[Any]):
    """A must-pass of the use."""

    test = serializers.CharField()
    threshold = serializers.FloatField()


class ProfileSerializer(serializers.Serializer[Any]):
    """The use profile, with the weights that were used."""

    id = serializers.CharField()
    name = serializers.CharField()
    says = serializers.CharField()
    criteria = CriterionSerializer(many=True)
    gates = GateSerializer(many=True)


class GateOutcomeSerializer(GateSerializer):
    """How probable it is that a build-up reaches a gate."""

    probability = serializers.FloatField(allow_null=True)


class CriterionScoreSerializer(serializers.Serializer[Any]):
    """A build-up's score on one criterion."""

    criterion = serializers.CharField()
    score = serializers.FloatField(allow_null=True)
    missing = serializers.ListField(child=serializers.CharField())


class RankedSystemSerializer(serializers.Serializer[Any]):
    """A build-up's place."""

    system = serializers.CharField()
    score = serializers.FloatField()
    score_low = serializers.FloatField()
    score_high = serializers.FloatField()
    p_best = serializers.FloatField()
    p_top_three = serializers.FloatField()
    expected_rank = serializers.FloatField()
    p_passes = serializers.FloatField()
    p_beaten_by_leader = serializers.FloatField()
    in_tie_group = serializers.BooleanField()
    gates = GateOutcomeSerializer(many=True)
    criteria = CriterionScoreSerializer(many=True)


class RankingSerializer(serializers.Serializer[Any]):
    """The verdict for one use."""

    profile = ProfileSerializer(source="ranking.profile")
    systems = RankedSystemSerializer(source="ranking.systems", many=True)
    p_none_passes = serializers.FloatField(source="ranking.p_none_passes")
    n_draws = serializers.IntegerField(source="ranking.n_draws")
    species = serializers.CharField()
    species_choices = serializers.ListField(child=serializers.CharField())
    section = serializers.CharField()
    section_choices = serializers.ListField(child=serializers.CharField())
    look = serializers.CharField()
    is_simulated = serializers.BooleanField()
    says = serializers.ListField(child=serializers.CharField())


class ExportQuerySerializer(serializers.Serializer[Any]):
    """Readings of which section."""

    section = serializers.CharField(default="", allow_blank=True)


class EvidenceQuerySerializer(serializers.Serializer[Any]):
    """Which evidence; by default all woods together, or one where it depends on the wood."""

    look = serializers.CharField(default=DEFAULT_LOOK)
    species = serializers.CharField(default="", allow_blank=True)
    section = serializers.CharField(default="", allow_blank=True)


class BehindQuerySerializer(EvidenceQuerySerializer):
    """Which point."""

    species = serializers.CharField(default=ALL_SPECIES)
    test = serializers.CharField()
    system = serializers.CharField()


class RankingQuerySerializer(serializers.Serializer[Any]):
    """Which use; ``weights`` such as ``stains:40,heat:0`` change the profile's."""

    use = serializers.CharField()
    species = serializers.CharField(default="", allow_blank=True)
    section = serializers.CharField(default="", allow_blank=True)
    weights = serializers.CharField(default="", allow_blank=True)

    def validate_weights(self, text: str) -> dict[str, float]:
        """Read ``name:number`` pairs."""
        weights: dict[str, float] = {}
        for part in filter(None, text.split(",")):
            name, _, number = part.partition(":")
            try:
                weights[name.strip()] = float(number)
            except ValueError as error:
                raise serializers.ValidationError(
                    f"{part!r} is not a weight. Write name:number, such as stains:40."
                ) from error
        return weights
