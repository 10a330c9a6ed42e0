"""Shapes of a site's weather."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from apercu_core.tables.questions import OddCell, Question
from apercu_core.weather.days import QUANTITIES
from config.dataclass_shapes import Shape
from config.typed_number import TypedIn, TypedTemperature
from weather.models import Source

SOURCES = (*Source.values, "forecast")


class StationOut(serializers.Serializer[Any]):
    id = serializers.UUIDField()
    name = serializers.CharField()
    service = serializers.CharField(allow_blank=True, help_text="Empty: people fill it.")
    distance = serializers.CharField(
        allow_blank=True, help_text="From the site, in words, where both places are known."
    )
    answered_at = serializers.DateTimeField(allow_null=True)
    tried_at = serializers.DateTimeField(allow_null=True)
    trouble = serializers.CharField(allow_blank=True)


class FoundStationOut(serializers.Serializer[Any]):
    key = serializers.CharField()
    name = serializers.CharField()
    distance = serializers.CharField(allow_blank=True)


class WeatherServiceOut(serializers.Serializer[Any]):
    id = serializers.UUIDField()
    name = serializers.CharField()
    url = serializers.CharField()
    trouble = serializers.CharField(allow_blank=True)
    answered_at = serializers.DateTimeField(allow_null=True)
    stations = FoundStationOut(many=True, help_text="The nearest first, where the site's place is known.")


class DayOut(serializers.Serializer[Any]):
    """A day in the reader's units."""

    day = serializers.DateField()
    tmin = serializers.FloatField(allow_null=True)
    tmax = serializers.FloatField(allow_null=True)
    rain = serializers.FloatField(allow_null=True)
    soil = serializers.FloatField(allow_null=True)
    source = serializers.ChoiceField(choices=SOURCES, allow_null=True, help_text="None: nothing is known.")  # type: ignore[assignment]


class MissingRunOut(serializers.Serializer[Any]):
    first = serializers.DateField()
    last = serializers.DateField()
    days = serializers.IntegerField()


class BarOut(serializers.Serializer[Any]):
    """A week: its rain and mean temperature in the reader's units; `share`: of the wettest week, for its height."""

    first = serializers.DateField()
    days = serializers.IntegerField()
    known = serializers.IntegerField()
    rain = serializers.FloatField(allow_null=True)
    share = serializers.FloatField(allow_null=True)
    mean = serializers.FloatField(allow_null=True)
    warmth = serializers.FloatField(allow_null=True, help_text="0 to 1, from the coldest to the warmest week.")


class StripWeatherOut(serializers.Serializer[Any]):
    """Weather as the season's strip draws it."""

    bars = BarOut(many=True)
    rain_unit = serializers.CharField()
    temperature_unit = serializers.CharField()
    most_rain = serializers.FloatField(help_text="Of a week.")
    coldest = serializers.FloatField(allow_null=True, help_text="Of the weeks' means.")
    warmest = serializers.FloatField(allow_null=True)


class SummaryOut(serializers.Serializer[Any]):
    """`sentences`: what the season had so far, against normal where that is known."""

    first = serializers.DateField()
    last = serializers.DateField()
    sentences = serializers.ListField(child=serializers.CharField())


class WeatherOut(serializers.Serializer[Any]):
    today = serializers.DateField()
    temperature_unit = serializers.CharField()
    rain_unit = serializers.CharField()
    may_register = serializers.BooleanField()
    station = StationOut(allow_null=True)
    stations = StationOut(many=True, help_text="Others of the workspace that no service fills.")
    services = WeatherServiceOut(many=True)
    normals_from = serializers.IntegerField(help_text="Number of earlier years; 0: there are no normals.")
    forecast_issued = serializers.DateField(allow_null=True)
    missing = MissingRunOut(many=True)
    missing_days = serializers.IntegerField()
    summary = SummaryOut(allow_null=True)
    days = DayOut(many=True, help_text="The latest first, days ahead among them.")
    more = serializers.BooleanField(help_text="Whether there are earlier days of the season than are listed.")


class DayIn(serializers.Serializer[Any]):
    tmin_c = TypedTemperature(allow_null=True, default=None)
    tmax_c = TypedTemperature(allow_null=True, default=None)
    rain_mm = TypedIn("mm", allow_null=True, default=None)
    soil_c = TypedTemperature(allow_null=True, default=None)


assert set(DayIn().fields) == set(QUANTITIES)


class WeatherServiceIn(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=120)
    url = serializers.CharField(max_length=300)


class StationIn(serializers.Serializer[Any]):
    """A service's station by `service` and `key`; one of the workspace by `id`; a new one of one's own by `id` and
    `name`.
    """

    service = serializers.UUIDField(allow_null=True, default=None)
    key = serializers.CharField(max_length=120, allow_blank=True, default="")
    id = serializers.UUIDField(allow_null=True, default=None)
    name = serializers.CharField(max_length=120, allow_blank=True, default="")


class WeatherFileIn(serializers.Serializer[Any]):
    file = serializers.FileField()
    answers = serializers.CharField(default="{}", help_text="Question id → key of the choice, as JSON.")
    keep = serializers.BooleanField(default=False)


class WeatherQuestionOut(Shape):
    id = serializers.CharField()
    answer = serializers.CharField(allow_blank=True)

    class Meta:
        dataclass = Question


class WeatherOddCellOut(Shape):
    class Meta:
        dataclass = OddCell


class ColumnTakenOut(serializers.Serializer[Any]):
    quantity = serializers.ChoiceField(choices=QUANTITIES)
    heading = serializers.CharField()
    unit = serializers.CharField()


class WeatherFileOut(serializers.Serializer[Any]):
    """What the file holds, and whether it was kept. `first`, `last`: of its days."""

    kept = serializers.BooleanField()
    days = serializers.IntegerField()
    first = serializers.DateField(allow_null=True)
    last = serializers.DateField(allow_null=True)
    columns = ColumnTakenOut(many=True)
    questions = WeatherQuestionOut(many=True)
    settled = serializers.BooleanField()
    odd = WeatherOddCellOut(many=True)
