"""Shapes of trials."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from trials.models import Allocation, Design, Direction, MarginKind, Planned, Trial, TrialMeasure


class TreatmentOut(serializers.Serializer[object]):
    id = serializers.UUIDField()
    name = serializers.CharField()
    code = serializers.CharField()
    is_control = serializers.BooleanField()


class TrialMeasureOut(serializers.ModelSerializer[TrialMeasure]):
    name = serializers.CharField(source="version.measure.name")
    unit = serializers.CharField(source="version.unit")

    class Meta:
        model = TrialMeasure
        fields = ("id", "name", "unit", "margin", "margin_kind", "direction", "planned")


class TrialMeasureChange(serializers.Serializer[object]):
    margin = serializers.FloatField(allow_null=True, required=False)
    margin_kind = serializers.ChoiceField(choices=MarginKind.choices, required=False)
    direction = serializers.ChoiceField(choices=Direction.choices, required=False)
    planned = serializers.ChoiceField(choices=Planned.choices, required=False)
    reason = serializers.CharField(max_length=100, required=False, allow_blank=True)

    def validate_margin(self, value: float | None) -> float | None:
        if value is not None and value <= 0:
            raise serializers.ValidationError("The margin must be a number above 0, or empty.")
        return value


class PlotOut(serializers.Serializer[Any]):
    """A plot on the ground; lengths in metres, y grows away from the first block."""

    id = serializers.UUIDField()
    label = serializers.CharField()  # type: ignore[assignment]
    block = serializers.CharField(allow_blank=True)
    treatment = serializers.UUIDField()
    x = serializers.FloatField()
    y = serializers.FloatField()
    width = serializers.FloatField()
    length = serializers.FloatField()


class VisitOut(serializers.Serializer[object]):
    id = serializers.UUIDField()
    name = serializers.CharField()
    date = serializers.DateField(allow_null=True)


class SiteOut(serializers.Serializer[object]):
    name = serializers.CharField()
    place = serializers.CharField()
    gradient = serializers.CharField()
    bearing_deg = serializers.FloatField()


class TrialLine(serializers.ModelSerializer[Trial]):
    site = serializers.SerializerMethodField()
    plots = serializers.IntegerField(source="plot_count")

    class Meta:
        model = Trial
        fields = ("id", "name", "question", "created_at", "site", "plots")

    def get_site(self, trial: Trial) -> str:
        return ", ".join(season.site.name for season in trial.seasons.all())


class TrialOut(serializers.Serializer[Any]):
    id = serializers.UUIDField()
    workspace = serializers.UUIDField()
    name = serializers.CharField()
    question = serializers.CharField()
    allocation = serializers.ChoiceField(choices=Allocation.choices)
    design = serializers.ChoiceField(choices=Design.choices)
    site = SiteOut()
    starts = serializers.DateField(allow_null=True)
    ends = serializers.DateField(allow_null=True)
    today = serializers.DateField()
    schematic = serializers.BooleanField()
    treatments = TreatmentOut(many=True)
    measures = TrialMeasureOut(many=True)
    plots = PlotOut(many=True)
    visits = VisitOut(many=True)
    may = serializers.ListField(child=serializers.CharField(), help_text="What the signed-in person may do here.")
