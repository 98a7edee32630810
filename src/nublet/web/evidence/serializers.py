"""The shapes of evidence and ranking."""

from __future__ import annotations

from typing import Any, get_args

from rest_framework import serializers

from nublet.core.evidence.checks import Check
from nublet.core.evidence.models.ladders import LadderEvidence
from nublet.core.evidence.otherwise import Otherwise
from nublet.core.evidence.outcomes import TestEvidence, Verdict
from nublet.core.evidence.over_time import AtLook, OverTime
from nublet.core.evidence.readings import ALL_SPECIES
from nublet.core.protocols.tests import DEFAULT_LOOK
from nublet.core.ranking.draws import RankedSystem
from nublet.core.ranking.profiles import UseProfile
from nublet.web.api.plain import shown
from nublet.web.designs.models import DeviationKind, TrialDeviation
from nublet.web.evidence.beside import BoardResponse, BoardView
from nublet.web.evidence.ranking import RankingView
from nublet.web.evidence.selectors import EvidenceView
from nublet.web.readings.models import EntryKind, Reading, ReadingEntry

VERDICTS = [(verdict, verdict) for verdict in get_args(Verdict)]
_LADDER = shown(LadderEvidence, skip=("values",))
TestEvidenceSerializer = shown(
    TestEvidence,
    says="One test.",
    skip=("look", "fit", "response", "ladder"),
    ladder=_LADDER(allow_null=True),
    n_panels=serializers.IntegerField(read_only=True),
    residual_df=serializers.IntegerField(source="fit.residual_df", default=None, allow_null=True),
    system_p=serializers.FloatField(source="fit.system_p", default=None, allow_null=True),
)
EvidenceSerializer = shown(
    EvidenceView,
    name="EvidenceSerializer",
    tests=TestEvidenceSerializer(many=True),
    checks=shown(Check, also=("does",))(many=True),
)
BoardTestSerializer = shown(
    TestEvidence,
    name="BoardTestSerializer",
    says="One test on the board of everything that was read.",
    skip=("look", "fit", "response", "pairs", "values", "effects", "friedman", "sections", "margins", "odd"),
    ladder=_LADDER(allow_null=True),
)
BoardSerializer = shown(
    BoardView,
    name="EvidenceBoardSerializer",
    responses=shown(BoardResponse, name="BoardResponseSerializer", tests=BoardTestSerializer(many=True))(
        many=True
    ),
)
OtherwiseSerializer = shown(Otherwise)
OverTimeSerializer = shown(
    OverTime,
    looks=shown(AtLook, name="AtLookSerializer", test=BoardTestSerializer())(many=True),
    change=BoardTestSerializer(allow_null=True),
)
ProfileSerializer = shown(UseProfile, name="ProfileSerializer", skip=("look",))
RankedSystemSerializer = shown(RankedSystem)


class EntryLineSerializer(serializers.ModelSerializer[ReadingEntry]):
    """One entry in the record."""

    kind = serializers.ChoiceField(choices=EntryKind.choices)
    value = serializers.FloatField(allow_null=True)

    class Meta:
        model = ReadingEntry
        fields = ["kind", "value", "is_beyond", "note", "at"]


class ReadingBehindSerializer(serializers.ModelSerializer[Reading]):
    """A reading behind a point, with everything that was ever entered for it."""

    panel = serializers.CharField(source="spot.panel.code")
    board = serializers.CharField(source="spot.panel.block")
    species = serializers.CharField(source="spot.panel.species")
    judge = serializers.CharField(source="judge.display_name")
    value = serializers.FloatField()
    entries = EntryLineSerializer(many=True)
    is_after_unblinding = serializers.SerializerMethodField()

    def get_is_after_unblinding(self, reading: Reading) -> bool:
        """Whether it was read by somebody who had been told what the panels carry."""
        told_at = reading.spot.panel.trial.unblinded_at
        return told_at is not None and reading.seen_at is not None and reading.seen_at > told_at

    id = serializers.IntegerField(source="pk")
    left_out = serializers.SerializerMethodField()
    may_count_again = serializers.SerializerMethodField()
    deviations = serializers.SerializerMethodField()

    def get_left_out(self, reading: Reading) -> str:
        """Why it does not count, in the words of whoever said so; empty where it does."""
        told = self._told_of(reading)
        return "" if told is None else told.reason or told.says

    def get_may_count_again(self, reading: Reading) -> bool:
        """Whether somebody left it out by hand, and can take that back."""
        told = self._told_of(reading)
        return told is not None and told.kind == DeviationKind.SPOT_LEFT_OUT

    def get_deviations(self, reading: Reading) -> list[str]:
        """What went otherwise on its panel, of this test or of all of it, and why; what keeps it from counting is told apart."""
        told = self._told_of(reading)
        return [
            f"{each.says} {each.reason}".strip()
            for each in reading.spot.panel.deviations.all()
            if each.withdrawn_at is None
            and each.spoils_exposure in ("", reading.spot.exposure)
            and (told is None or each.pk != told.pk)
        ]

    def _told_of(self, reading: Reading) -> TrialDeviation | None:
        return next(
            (
                each
                for each in reading.spot.panel.deviations.all()
                if each.withdrawn_at is None
                and each.spoils_exposure == reading.spot.exposure
                # Of a window that was missed one look alone may be spoiled: the look's own row tells which.
                and each.spoils_look_min is None
            ),
            None,
        )

    class Meta:
        model = Reading
        fields = [
            "id", "panel", "board", "species", "judge", "look", "response", "view", "against", "turn", "value", "is_beyond", "note",
            "changed_at", "entries", "is_after_unblinding", "left_out", "may_count_again",
            "left_out_because", "deviations",
        ]  # fmt: skip


class LeaveOutSerializer(serializers.Serializer[Any]):
    """Why one reading does not count; empty lets it count again."""

    because = serializers.CharField(allow_blank=True, max_length=4000)


RankingSerializer = shown(
    RankingView,
    name="RankingSerializer",
    skip=("ranking",),
    profile=ProfileSerializer(source="ranking.profile"),
    systems=RankedSystemSerializer(source="ranking.systems", many=True),
    p_none_passes=serializers.FloatField(source="ranking.p_none_passes"),
    n_draws=serializers.IntegerField(source="ranking.n_draws"),
)


Query = serializers.Serializer[Any]


class ExportQuerySerializer(serializers.Serializer[Any]):
    """Readings of which section and response: by default of the main one, ``all`` for a table of everything that was read."""

    response = serializers.CharField(default="", allow_blank=True)
    section = serializers.CharField(default="", allow_blank=True)


class EvidenceQuerySerializer(serializers.Serializer[Any]):
    """Which evidence; by default all woods together, or one where it depends on the wood."""

    look = serializers.CharField(default=DEFAULT_LOOK)
    response = serializers.CharField(default="", allow_blank=True)
    species = serializers.CharField(default="", allow_blank=True)
    section = serializers.CharField(default="", allow_blank=True)


class BoardQuerySerializer(serializers.Serializer[Any]):
    """Which board of everything that was read."""

    look = serializers.CharField(default=DEFAULT_LOOK)
    species = serializers.CharField(default="", allow_blank=True)
    section = serializers.CharField(default="", allow_blank=True)


class OverTimeQuerySerializer(serializers.Serializer[Any]):
    """Which test over its looks."""

    test = serializers.CharField()
    response = serializers.CharField(default="", allow_blank=True)
    species = serializers.CharField(default=ALL_SPECIES)
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
