"""Shapes of what a plan will be able to see."""

from rest_framework import serializers

from apercu_core.field.arrangement import Arrangement
from apercu_core.field.machines import WidthFit
from apercu_core.power.chances import Chances, Outlook
from apercu_core.power.effort import FramesChoice
from apercu_core.reading.planned_board import CurvePoint, FramesOutlook, PlannedOutlook
from apercu_core.words import decimals_for, difference_unit
from config.dataclass_shapes import Shape
from config.former_names import WithFormerNames
from config.typed_number import TypedLength, TypedNumber, TypedUsual, TypedWhole
from readings.outlook import Known, MeasureOutlook, PlanOutlook
from trials.models import Design, Planned


class OutlookIn(WithFormerNames):
    """A plan, and what is known beside it: how its chances and detectable differences are asked for."""

    former = {"left_out": "not_grown"}
    blocks = serializers.IntegerField(min_value=1, max_value=40)
    systematic = serializers.BooleanField(default=False)
    demonstration = serializers.BooleanField(default=False)
    design = serializers.ChoiceField(choices=Design.choices, default=Design.RCBD)
    whole_factor = serializers.CharField(max_length=60, allow_blank=True, default="")
    column_factor = serializers.CharField(max_length=60, allow_blank=True, default="")
    block_size = TypedWhole(least=2, most=96, allow_null=True, default=None, help_text="Of incomplete blocks.")
    width = TypedLength(allow_null=True, default=None, least=0.01, most=10_000, help_text="Of plots, as typed.")
    length = TypedLength(allow_null=True, default=None, least=0.01, most=10_000)
    gap = TypedLength(allow_null=True, default=0.0, least=0, most=10_000)
    alley = TypedLength(allow_null=True, default=0.0, least=0, most=10_000)
    side_by_side = serializers.BooleanField(allow_null=True, default=None)
    whole_share = TypedUsual(
        1.0, least=0, most=20, help_text="Spread of whole plots or strips, as a multiple of the plots'."
    )
    plot_minutes = TypedNumber(allow_null=True, default=None, least=0.1, most=240)
    frame_minutes = TypedNumber(allow_null=True, default=None, least=0.1, most=240)
    hours = TypedNumber(least=0.1, most=500, allow_null=True, default=None)
    not_grown = serializers.ListField(child=serializers.UUIDField(), max_length=96, default=list)
    frame_cv = serializers.DictField(
        child=TypedNumber(least=0.1, most=500, allow_null=True), default=dict, help_text="Measure id → %."
    )


class ChancesOut(Shape):
    """Chance of each verdict, 0 to 1, when the true difference is `truth`; `runs`: of the simulation, 0: exact."""

    class Meta:
        dataclass = Chances
        exclude = ("equivalent", "not_less", "not_more")


class KindOut(serializers.Serializer[object]):
    """One kind of difference, unadjusted, found with an 80 % chance."""

    name = serializers.CharField(source="difference.name")
    detectable = serializers.FloatField()
    df = serializers.FloatField(source="difference.df")


class CurvePointOut(Shape):
    """`hours`: of one visit for this measure."""

    class Meta:
        dataclass = CurvePoint


class FramesChoiceOut(Shape):
    class Meta:
        dataclass = FramesChoice


class FramesOut(Shape):
    """Frames against plots: how many a plot should have, and what the hours that there are allow.

    `best_choice`: frames of the choice that detects the least.
    """

    choices = FramesChoiceOut(many=True)
    best_choice = serializers.IntegerField(allow_null=True)

    class Meta:
        dataclass = FramesOutlook


class SeenOut(Shape):
    kinds = KindOut(many=True)
    chances = ChancesOut(many=True)

    class Meta:
        dataclass = Outlook


class SpreadOut(Shape):
    class Meta:
        dataclass = Known
        exclude = ("frame_cv",)


class PlannedOutlookOut(Shape):
    """Chances from 0 to 1; `blocks`: for an 80 % chance if there is no difference, null past `most`."""

    kind = serializers.ChoiceField(choices=Planned.choices)

    class Meta:
        dataclass = PlannedOutlook


class MeasureOutlookOut(Shape):
    """In the unit that the person is shown, but for the spread's mean, which is as stored.

    `in_complete_blocks`: the smallest difference that complete blocks on the same ground would see.
    """

    id = serializers.UUIDField(source="measure.id")
    name = serializers.CharField(source="measure.version.measure.name")
    difference_unit = serializers.SerializerMethodField()
    decimals = serializers.SerializerMethodField()
    planned = PlannedOutlookOut(allow_null=True)
    spread = SpreadOut(allow_null=True)
    curve = CurvePointOut(many=True)
    frames = FramesOut(allow_null=True)
    outlook = SeenOut(allow_null=True)

    class Meta:
        dataclass = MeasureOutlook
        exclude = ("measure",)

    def get_decimals(self, one: MeasureOutlook) -> int:
        return max(0, decimals_for(one.sigma or 0))

    def get_difference_unit(self, one: MeasureOutlook) -> str:
        return difference_unit(one.unit)


class FitOut(Shape):
    """How the plots' width suits the machines. `width`: the narrowest that does, m."""

    class Meta:
        dataclass = WidthFit


class IncompleteOut(serializers.Serializer[object]):
    """`sizes`: plots in each incomplete block of a replicate; `efficiency`: 0 to 1, average over pairs of treatments,
    by comparisons within these blocks alone.
    """

    sizes = serializers.ListField(child=serializers.IntegerField())
    efficiency = serializers.FloatField()


class ArrangementOut(Shape):
    """How blocks lie to each other, why, and the ground that they take, m."""

    class Meta:
        dataclass = Arrangement


class OutlookOut(Shape):
    arrangement = ArrangementOut(allow_null=True, help_text="Where the size of plots is known.")
    incomplete = IncompleteOut(allow_null=True)
    machines = FitOut()
    measures = MeasureOutlookOut(many=True)

    class Meta:
        dataclass = PlanOutlook
