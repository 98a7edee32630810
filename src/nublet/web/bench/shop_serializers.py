"""The shapes of what a shop's bench has: hands and their hours, instruments, measures, prices."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from nublet.core.materials.paces import PACES
from nublet.core.planning.spec import WEEKDAYS
from nublet.instruments.lines import KINDS
from nublet.web.api.plain import shown
from nublet.web.bench.paces import ShopPace

INSTRUMENT_KINDS = list(KINDS)


class HoursSerializer(serializers.Serializer[Any]):
    """One span of working days; times of day as 09:00."""

    days = serializers.ListField(child=serializers.ChoiceField(choices=list(WEEKDAYS)))
    # "from" is no name in Python.
    locals()["from"] = serializers.CharField(max_length=5)
    to = serializers.CharField(max_length=5)


class HandsSerializer(serializers.Serializer[Any]):
    """A pair of hands with its weekly hours and days off."""

    id = serializers.IntegerField(required=False, allow_null=True)
    name = serializers.CharField(max_length=120)
    hours = HoursSerializer(many=True)
    days_off = serializers.ListField(child=serializers.CharField(max_length=10), required=False)


class InstrumentSerializer(serializers.Serializer[Any]):
    """A kind of instrument and where it is reached; empty where there is none."""

    kind = serializers.ChoiceField(choices=INSTRUMENT_KINDS)
    name = serializers.CharField(read_only=True)
    address = serializers.CharField(max_length=120, allow_blank=True)


class ThinnerPricesSerializer(serializers.Serializer[Any]):
    """Money a litre of each thinner; none where it is not known."""

    spirit = serializers.FloatField(min_value=0, max_value=100_000, allow_null=True, required=False)
    alcohol = serializers.FloatField(min_value=0, max_value=100_000, allow_null=True, required=False)
    strong_solvent = serializers.FloatField(min_value=0, max_value=100_000, allow_null=True, required=False)

    def to_representation(self, instance: Any) -> dict[str, float | None]:
        """Each by its name, known or not."""
        return {
            name: instance.get(name.replace("_", "-")) for name in ("spirit", "alcohol", "strong_solvent")
        }

    def to_internal_value(self, data: Any) -> dict[str, float]:
        """Only those that are known, by what the core calls them."""
        found = super().to_internal_value(data)
        return {name.replace("_", "-"): price for name, price in found.items() if price is not None}


class PacesField(serializers.DictField):
    """Shown with what is usual and what the log says; taken as minutes a square metre by kind, null for the usual."""

    child = serializers.FloatField(allow_null=True)


ShopPaceSerializer = shown(ShopPace, kind=serializers.ChoiceField(choices=list(PACES)))


class _BenchParts(serializers.Serializer[Any]):
    """What the shop's bench has."""

    time_zone = serializers.CharField(max_length=60)
    heat_blocks = serializers.IntegerField(min_value=0, max_value=100)
    irons = serializers.IntegerField(min_value=0, max_value=100)
    rack_places = serializers.IntegerField(min_value=1, max_value=1000, allow_null=True)
    cleanup_min = serializers.FloatField(min_value=0, max_value=1440)
    airing_min = serializers.FloatField(min_value=0, max_value=1440)
    cup_step_ml = serializers.FloatField(min_value=0.01, max_value=100)
    scale_step_g = serializers.FloatField(min_value=0.001, max_value=100)
    currency = serializers.CharField(max_length=8, allow_blank=True)
    thinner_prices = ThinnerPricesSerializer()
    hands = HandsSerializer(many=True)
    instruments = InstrumentSerializer(many=True)


class BenchFieldsSerializer(_BenchParts):
    """What can be set of the shop's bench."""

    paces = PacesField(required=False)


class BenchSerializer(_BenchParts):
    """The shop's bench, with how fast its hands work by its own log."""

    paces = ShopPaceSerializer(many=True)


class ReadingQuantitySerializer(serializers.Serializer[Any]):
    """What an instrument said: its numbers by name, and for a scanner the code."""

    kind = serializers.CharField()
    values = serializers.DictField(child=serializers.FloatField())
    code = serializers.CharField()
