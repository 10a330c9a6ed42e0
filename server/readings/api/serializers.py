"""Shapes of readings."""

from typing import get_args

from rest_framework import serializers
from rest_framework_dataclasses.serializers import DataclassSerializer

from apercu_core.doubts.doubt import Doubt
from apercu_core.reading.asked import How
from apercu_core.reading.description import Description
from apercu_core.reading.found import Cell
from apercu_core.statistics.specification import Method
from apercu_core.verdicts.margin import Band
from apercu_core.verdicts.verdict import Verdict
from config.dataclass_shapes import Shape
from config.typed_number import TypedNumber, TypedUsual
from readings.carry_over import CarryOver
from trials.models import Direction, MarginKind, Planned

METHODS = get_args(Method)


class _Nullable(serializers.FloatField):
    def __init__(self) -> None:
        super().__init__(allow_null=True)


class HowShape(Shape):
    """The method in force. `block_effect`: null as long as the design has it."""

    class Meta:
        dataclass = How


class HowIn(DataclassSerializer[How]):
    """What isn't given is as the trial's own method has it."""

    method = serializers.ChoiceField(choices=METHODS, required=False)
    alpha = serializers.FloatField(min_value=0.001, max_value=0.5, default=How().alpha)

    class Meta:
        dataclass, ref_name = How, "HowIn"


class AgainstIn(serializers.Serializer[object]):
    """The name of a treatment that all are compared with, in place of the controls; empty: these."""

    against = serializers.CharField(max_length=160, allow_blank=True, default="")


class LookIn(HowIn, AgainstIn):
    """The method, and what to compare with."""

    class Meta(HowIn.Meta):
        ref_name = "LookIn"


class AnswerOut(serializers.Serializer[object]):
    note = serializers.CharField()
    by = serializers.CharField()
    at = serializers.DateTimeField()


class DoubtOut(Shape):
    key = serializers.CharField()
    answer = AnswerOut(allow_null=True)

    class Meta:
        dataclass = Doubt


class CellOut(Shape):
    """`against`: the control that it is compared with; `blocks_likely`: for an 80 % chance if the estimate is true."""

    verdict = serializers.ChoiceField(choices=[verdict.value for verdict in Verdict])

    class Meta:
        dataclass = Cell


class BandOut(Shape):
    class Meta:
        dataclass = Band


class PlannedOut(serializers.Serializer[object]):
    treatment = serializers.CharField()
    kind = serializers.ChoiceField(choices=Planned.choices)
    margin = serializers.FloatField()
    estimate = serializers.FloatField()
    lower = serializers.FloatField()
    upper = serializers.FloatField()
    p = serializers.FloatField()
    shown = serializers.BooleanField()
    parts = serializers.CharField(allow_blank=True)
    chosen_after = serializers.BooleanField()


class PlotValueOut(serializers.Serializer[object]):
    label = serializers.CharField()  # type: ignore[assignment]
    block = serializers.CharField(allow_blank=True)
    treatment = serializers.CharField()
    value = _Nullable()
    samples = serializers.ListField(child=_Nullable())
    observations = serializers.ListField(child=serializers.UUIDField())
    residual = _Nullable()
    fitted = _Nullable()
    quantile = _Nullable()
    studentized = _Nullable()


class AnovaOut(serializers.Serializer[object]):
    term = serializers.CharField()
    label = serializers.CharField()  # type: ignore[assignment]
    df_num = serializers.FloatField()
    df_den = _Nullable()  # null: infinite
    f = serializers.FloatField()
    p = serializers.FloatField()


class ComponentOut(serializers.Serializer[object]):
    name = serializers.CharField()
    label = serializers.CharField()  # type: ignore[assignment]
    variance = serializers.FloatField()


class MeanOut(serializers.Serializer[object]):
    treatment = serializers.CharField()
    mean = serializers.FloatField()
    se = serializers.FloatField()
    df = _Nullable()  # null: infinite
    lower = serializers.FloatField()
    upper = serializers.FloatField()
    letters = serializers.CharField(allow_null=True)


class PairOut(serializers.Serializer[object]):
    a = serializers.CharField()
    b = serializers.CharField()
    estimate = serializers.FloatField()
    se = serializers.FloatField()
    df = _Nullable()  # null: infinite
    t = serializers.FloatField()
    p = serializers.FloatField()
    lower = _Nullable()
    upper = _Nullable()


class FullOut(serializers.Serializer[object]):
    model = serializers.CharField()
    design = serializers.CharField()
    method = serializers.ChoiceField(choices=METHODS)
    n_plots = serializers.IntegerField()
    grand_mean = serializers.FloatField()
    cv_percent = _Nullable()
    anova = AnovaOut(many=True)
    variance_components = ComponentOut(many=True)
    means = MeanOut(many=True)
    pairs = PairOut(many=True)
    lsd = _Nullable()
    shapiro_p = _Nullable()
    levene_p = _Nullable()


class DescriptionOut(Shape):
    """What was seen of one treatment, where nothing is tested: over its plots."""

    class Meta:
        dataclass = Description


class PartMeanOut(serializers.Serializer[object]):
    treatment = serializers.CharField()
    mean = serializers.FloatField(allow_null=True)
    plots = serializers.IntegerField()


class MeasurePartOut(serializers.Serializer[object]):
    """A part of the measure, described by the means of its treatments; it isn't tested."""

    name = serializers.CharField()
    group = serializers.CharField(allow_blank=True)
    means = PartMeanOut(many=True)
    unsaid = serializers.IntegerField(help_text="Samples with other parts and no entry of this one: it counts as none.")


class OccasionOut(serializers.Serializer[object]):
    """The visit at which a measure is taken; no date as long as nobody walked it."""

    visit = serializers.CharField()
    date = serializers.DateField(allow_null=True)


class MeasureReadingOut(serializers.Serializer[object]):
    id = serializers.UUIDField()
    name = serializers.CharField()
    unit = serializers.CharField(allow_blank=True)
    counted = serializers.BooleanField(help_text="Whether it is a count, or k of n.")
    difference_unit = serializers.CharField(allow_blank=True, help_text="Of percentages: percentage points.")
    group = serializers.CharField(help_text="What it is measured on: Cover, Weeds, Soil, Crop and others.")
    occasion = OccasionOut(allow_null=True)
    base = serializers.CharField(help_text="What its cells are compared with, in words.")
    controls = serializers.ListField(child=serializers.CharField())
    primary = serializers.BooleanField()
    direction = serializers.ChoiceField(choices=Direction.choices)
    margin = _Nullable()
    margin_kind = serializers.ChoiceField(choices=MarginKind.choices)
    planned_kind = serializers.ChoiceField(choices=Planned.choices)
    decimals = serializers.IntegerField()
    band = BandOut(allow_null=True)
    refusal = serializers.CharField(allow_blank=True)
    detectable = _Nullable()
    cells = CellOut(many=True)
    planned = PlannedOut(many=True)
    letters_withheld = serializers.CharField(allow_blank=True)
    notes = serializers.ListField(child=serializers.CharField())
    doubts = DoubtOut(many=True)
    plots = PlotValueOut(many=True)
    described = DescriptionOut(many=True, default=list)
    parts = MeasurePartOut(many=True, default=list)
    full = FullOut(allow_null=True)


class ReadingOut(serializers.Serializer[object]):
    """`identity`: hash of everything that it was made of; `opened_at`, `opened_by`: when results were first seen."""

    identity = serializers.CharField()
    opened_at = serializers.DateTimeField()
    opened_by = serializers.CharField(allow_null=True)
    tried_after = serializers.BooleanField()
    against = serializers.CharField(allow_blank=True, help_text="What was chosen to compare with, else empty.")
    base = serializers.CharField()
    how = HowShape()
    families = serializers.IntegerField()
    core_version = serializers.CharField()
    fingerprint = serializers.CharField()
    doubts = DoubtOut(many=True)
    board_doubts = DoubtOut(many=True, help_text="All of the board, what several measures share said once.")
    measures = MeasureReadingOut(many=True)


class AnswerIn(serializers.Serializer[object]):
    doubt = serializers.CharField(max_length=240)
    note = serializers.CharField(max_length=1000, allow_blank=True)


class CarryOverOut(Shape):
    """What the treatments have left on the plots, by the last reading; `read`: whether there is one."""

    class Meta:
        dataclass = CarryOver


class TruthIn(serializers.Serializer[object]):
    """`margins`: treatment id → how many margins it truly lies beyond the control, in the wanted direction."""

    margins = serializers.DictField(child=TypedNumber(least=-10, most=10, allow_null=True), default=dict)
    seed = serializers.IntegerField(min_value=0, max_value=2**53 - 1)
    seasons = serializers.IntegerField(min_value=1, max_value=1000)
    lost = serializers.ListField(child=serializers.CharField(max_length=160), default=list, max_length=200)
    whole_share = TypedUsual(1.0, least=0, most=20)


class RehearsedCell(serializers.Serializer[object]):
    treatment = serializers.UUIDField()
    verdict = serializers.CharField()
    counts = serializers.DictField(child=serializers.IntegerField())
    shown = serializers.IntegerField(allow_null=True, help_text="In how many seasons a planned test showed it.")


class RehearsedMeasure(serializers.Serializer[object]):
    name = serializers.CharField()
    planned = serializers.ChoiceField(choices=Planned.choices)
    cells = RehearsedCell(many=True)


class RehearsalOut(serializers.Serializer[object]):
    """How often each verdict came, and that of the last season."""

    seasons = serializers.IntegerField()
    left_out = serializers.ListField(child=serializers.CharField(), help_text="Measures without what it takes.")
    measures = RehearsedMeasure(many=True)
