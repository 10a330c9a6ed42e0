"""Shapes of readings."""

from rest_framework import serializers

from apercu_core.words import decimals_for, difference_unit
from config.former_names import WithFormerNames
from config.typed_number import TypedLength, TypedNumber, TypedUsual, TypedWhole
from readings.outlook import MeasureOutlook
from trials.models import Design, Direction, MarginKind, Planned

METHODS = ("dunnett", "tukey", "lsd", "holm", "bonferroni", "sidak")
VERDICTS = (
    "clear-gain", "clear-loss", "clear-more", "clear-less", "real-size-unsettled", "real-but-small",
    "no-difference-worth-having", "not-settled", "no-margin", "no-answer",
)  # fmt: skip


class _Nullable(serializers.FloatField):
    def __init__(self) -> None:
        super().__init__(allow_null=True)


class HowShape(serializers.Serializer[object]):
    method = serializers.ChoiceField(choices=METHODS)
    alpha = serializers.FloatField(min_value=0.001, max_value=0.5, default=0.05)
    block_effect = serializers.ChoiceField(
        choices=("random", "fixed"), allow_null=True, default=None, help_text="Null: as the design has it."
    )
    df_method = serializers.ChoiceField(
        choices=("kenward_roger", "satterthwaite", "containment_anova"), default="kenward_roger"
    )
    counts = serializers.ChoiceField(choices=("estimated", "poisson", "negative_binomial"), default="estimated")
    scale = serializers.ChoiceField(
        choices=("measured", "log"), default="measured", help_text="Of values that aren't counts: log takes logarithms."
    )


class HowIn(HowShape):
    method = serializers.ChoiceField(choices=METHODS, required=False)


class AnswerOut(serializers.Serializer[object]):
    note = serializers.CharField()
    by = serializers.CharField()
    at = serializers.DateTimeField()


class DoubtOut(serializers.Serializer[object]):
    key = serializers.CharField()
    id = serializers.CharField()
    severity = serializers.ChoiceField(choices=("stops", "weakens", "worth-knowing"))
    title = serializers.CharField()
    finding = serializers.CharField()
    why = serializers.CharField()
    what_to_do = serializers.CharField()
    subject = serializers.CharField(allow_blank=True)
    plots = serializers.ListField(child=serializers.CharField())
    answer = AnswerOut(allow_null=True)


class CellOut(serializers.Serializer[object]):
    treatment = serializers.CharField()
    verdict = serializers.ChoiceField(choices=VERDICTS)
    estimate = _Nullable()
    lower = _Nullable()
    upper = _Nullable()
    p = _Nullable()
    reason = serializers.CharField(allow_blank=True)
    blocks = serializers.IntegerField(allow_null=True)
    blocks_likely = serializers.IntegerField(allow_null=True, help_text="For an 80 % chance if the estimate is true.")
    more_than_40 = serializers.BooleanField()
    stands_out = serializers.BooleanField()
    against = serializers.CharField(allow_blank=True, help_text="The control that it is compared with.")


class BandOut(serializers.Serializer[object]):
    low = serializers.FloatField()
    high = serializers.FloatField()


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


class DescriptionOut(serializers.Serializer[object]):
    """What was seen of one treatment, where nothing is tested: over its plots."""

    treatment = serializers.CharField()
    plots = serializers.IntegerField()
    mean = serializers.FloatField()
    low = serializers.FloatField()
    high = serializers.FloatField()


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
    full = FullOut(allow_null=True)


class ReadingOut(serializers.Serializer[object]):
    """`identity`: hash of everything that it was made of; `opened_at`, `opened_by`: when results were first seen."""

    identity = serializers.CharField()
    opened_at = serializers.DateTimeField()
    opened_by = serializers.CharField(allow_null=True)
    tried_after = serializers.BooleanField()
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


class ChancesOut(serializers.Serializer[object]):
    """Chance of each verdict, 0 to 1, when the true difference is `truth`."""

    truth = serializers.FloatField()
    clear_right = serializers.FloatField()
    clear_wrong = serializers.FloatField()
    real_unsettled = serializers.FloatField()
    real_small = serializers.FloatField()
    no_difference = serializers.FloatField()
    not_settled = serializers.FloatField()
    runs = serializers.IntegerField(help_text="Of the simulation; 0: exact.")


class KindOut(serializers.Serializer[object]):
    """One kind of difference, unadjusted, found with an 80 % chance."""

    name = serializers.CharField(source="difference.name")
    detectable = serializers.FloatField()
    df = serializers.FloatField(source="difference.df")


class CurvePointOut(serializers.Serializer[object]):
    """`hours`: of one visit for this measure."""

    blocks = serializers.IntegerField()
    detectable = serializers.FloatField()
    plots = serializers.IntegerField()
    hours = serializers.FloatField()


class FramesChoiceOut(serializers.Serializer[object]):
    frames = serializers.IntegerField()
    blocks = serializers.IntegerField()
    plots = serializers.IntegerField()
    hours = serializers.FloatField()
    detectable = serializers.FloatField()


class FramesOut(serializers.Serializer[object]):
    """Frames against plots: how many a plot should have, and what the hours that there are allow."""

    now = serializers.IntegerField()
    best = serializers.IntegerField()
    cv_percent = serializers.FloatField()
    source = serializers.CharField()  # type: ignore[assignment]
    choices = FramesChoiceOut(many=True)
    best_choice = serializers.IntegerField(allow_null=True, help_text="Frames of the choice that detects the least.")


class SeenOut(serializers.Serializer[object]):
    blocks = serializers.IntegerField()
    plots = serializers.IntegerField()
    error_df = serializers.FloatField()
    kinds = KindOut(many=True)
    detectable = serializers.FloatField()
    detectable_with_one_more = serializers.FloatField()
    chances = ChancesOut(many=True)


class SpreadOut(serializers.Serializer[object]):
    mean = serializers.FloatField()
    cv_percent = serializers.FloatField()
    source = serializers.CharField()  # type: ignore[assignment]


class PlannedOutlookOut(serializers.Serializer[object]):
    """Chances from 0 to 1; `blocks`: for an 80 % chance if there is no difference."""

    kind = serializers.ChoiceField(choices=Planned.choices)
    chance = serializers.FloatField()
    chance_at_half = serializers.FloatField()
    blocks = serializers.IntegerField(allow_null=True)
    most = serializers.IntegerField(help_text="How many blocks were looked at; `blocks` is null past these.")


class MeasureOutlookOut(serializers.Serializer[object]):
    """In the unit that the person is shown, but for the spread's mean, which is as stored.

    `in_complete_blocks`: the smallest difference that complete blocks on the same ground would see.
    """

    id = serializers.UUIDField(source="measure.id")
    name = serializers.CharField(source="measure.version.measure.name")
    unit = serializers.CharField(allow_blank=True)
    difference_unit = serializers.SerializerMethodField()
    planned = PlannedOutlookOut(allow_null=True)
    spread = SpreadOut(allow_null=True)
    sigma = _Nullable()
    margin = _Nullable()
    decimals = serializers.SerializerMethodField()
    curve = CurvePointOut(many=True)
    sampled = serializers.BooleanField()
    frames = FramesOut(allow_null=True)
    outlook = SeenOut(allow_null=True)
    in_complete_blocks = _Nullable()
    reason = serializers.CharField(allow_blank=True)

    def get_decimals(self, one: MeasureOutlook) -> int:
        return max(0, decimals_for(one.sigma or 0))

    def get_difference_unit(self, one: MeasureOutlook) -> str:
        return difference_unit(one.unit)


class FitOut(serializers.Serializer[object]):
    """How the plots' width suits the machines. `width`: the narrowest that does, m."""

    width = serializers.FloatField(allow_null=True)
    too_narrow = serializers.CharField(allow_blank=True)
    hints = serializers.ListField(child=serializers.CharField())


class IncompleteOut(serializers.Serializer[object]):
    """`sizes`: plots in each incomplete block of a replicate; `efficiency`: 0 to 1, average over pairs of treatments,
    by comparisons within these blocks alone.
    """

    sizes = serializers.ListField(child=serializers.IntegerField())
    efficiency = serializers.FloatField()


class OutlookOut(serializers.Serializer[object]):
    incomplete = IncompleteOut(allow_null=True)
    machines = FitOut()
    plots = serializers.IntegerField()
    per_block = serializers.IntegerField()
    measures = MeasureOutlookOut(many=True)


class CarryOverOut(serializers.Serializer[object]):
    """What the treatments have left on the plots, by the last reading; `read`: whether there is one."""

    read = serializers.BooleanField()
    differ = serializers.ListField(child=serializers.CharField())
    open = serializers.ListField(child=serializers.CharField())
    even = serializers.ListField(child=serializers.CharField())


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
