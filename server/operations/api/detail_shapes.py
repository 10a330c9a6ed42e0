"""What is said of an operation beside when and where: waiting times, grazing, a lot, planting quality."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from apercu_core.agronomy.nutrients import ANALYSED_IN, NUTRIENTS
from apercu_core.timing.intervals import LONGEST_DAYS
from config.typed_number import TypedIn, TypedNumber


class IntervalsIn(serializers.Serializer[Any]):
    """Waiting times as the person read them on the label; empty ones aren't watched."""

    reentry_hours = TypedNumber(allow_null=True, default=None, least=0, most=2000)
    preharvest_days = TypedNumber(allow_null=True, default=None, least=0, most=LONGEST_DAYS)
    plantback_days = TypedNumber(allow_null=True, default=None, least=0, most=LONGEST_DAYS)
    grazing_days = TypedNumber(allow_null=True, default=None, least=0, most=LONGEST_DAYS)
    manure_days = TypedNumber(allow_null=True, default=None, least=0, most=LONGEST_DAYS)


class GrazingIn(serializers.Serializer[Any]):
    head = TypedNumber(least=0, most=100000)
    days = TypedNumber(least=0, most=400)
    area_ha = TypedIn("ha", least=0, most=100000)
    before_kg_ha = TypedIn("kg/ha", allow_null=True, default=None, least=0, most=60000)
    after_kg_ha = TypedIn("kg/ha", allow_null=True, default=None, least=0, most=60000)
    caged_kg_ha = TypedIn("kg/ha", allow_null=True, default=None, least=0, most=60000)
    dung_kg_ha = TypedIn("kg/ha", allow_null=True, default=None, least=0, most=60000)


class AnalysisIn(serializers.Serializer[Any]):
    nutrient = serializers.ChoiceField(choices=NUTRIENTS)
    content = TypedNumber(least=0, most=1000)


class NutrientLotIn(serializers.Serializer[Any]):
    """Manure or fertiliser: how much per area, and what its analysis says."""

    name = serializers.CharField(max_length=120, allow_blank=True, default="")
    rate = TypedNumber(least=0, most=1000000)
    rate_unit = serializers.ChoiceField(choices=tuple(ANALYSED_IN))
    analysis = serializers.ListField(child=AnalysisIn(), max_length=12)


class IntervalsOut(serializers.Serializer[Any]):
    reentry_hours = serializers.FloatField(allow_null=True, default=None)
    preharvest_days = serializers.FloatField(allow_null=True, default=None)
    plantback_days = serializers.FloatField(allow_null=True, default=None)
    grazing_days = serializers.FloatField(allow_null=True, default=None)
    manure_days = serializers.FloatField(allow_null=True, default=None)


class GrazingOut(serializers.Serializer[Any]):
    """In the reader's units."""

    head = serializers.FloatField()
    days = serializers.FloatField()
    area_ha = serializers.FloatField()
    before_kg_ha = serializers.FloatField(allow_null=True)
    after_kg_ha = serializers.FloatField(allow_null=True)
    caged_kg_ha = serializers.FloatField(allow_null=True)
    dung_kg_ha = serializers.FloatField(allow_null=True, default=None)


class AnalysisOut(serializers.Serializer[Any]):
    nutrient = serializers.CharField()
    content = serializers.FloatField()


class NutrientLotOut(serializers.Serializer[Any]):
    name = serializers.CharField(allow_blank=True)
    rate = serializers.FloatField()
    rate_unit = serializers.CharField()
    analysis = AnalysisOut(many=True)


class PlantingIn(serializers.Serializer[Any]):
    """How well a crop was planted into residue. Shares of the places along the rows that were looked at, %."""

    depth_cm = TypedIn("cm", allow_null=True, default=None, least=0, most=60)
    residue_percent = TypedNumber(allow_null=True, default=None, least=0, most=100)
    hairpinned_percent = TypedNumber(allow_null=True, default=None, least=0, most=100)
    open_percent = TypedNumber(allow_null=True, default=None, least=0, most=100)
    places = TypedNumber(allow_null=True, default=None, least=1, most=10000)


class PlantingOut(serializers.Serializer[Any]):
    """In the reader's units."""

    depth_cm = serializers.FloatField(allow_null=True)
    residue_percent = serializers.FloatField(allow_null=True)
    hairpinned_percent = serializers.FloatField(allow_null=True)
    open_percent = serializers.FloatField(allow_null=True)
    places = serializers.FloatField(allow_null=True)
