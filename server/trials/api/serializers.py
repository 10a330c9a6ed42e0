"""Shapes of trials."""

from __future__ import annotations

from copy import copy
from typing import Any, get_args
from zoneinfo import available_timezones

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from apercu_core.design.constraints import ConstraintKind
from apercu_core.design.proposal import Proposal
from apercu_core.design.rotation import Phase
from apercu_core.field.machines import Machines
from apercu_core.measures.own import OWN
from apercu_core.words import difference_unit
from config import clock
from config.dataclass_shapes import Shape
from config.etags import etag_of
from config.former_names import WithFormerNames
from config.typed_number import (
    TypedAmount,
    TypedLength,
    TypedNumber,
    TypedOrShown,
    TypedTemperature,
    TypedWhole,
)
from library.api.own_measures import OwnMeasureShape
from trials.api.description_shapes import FACTOR_KINDS, AcceptedShape, DetailsShape
from trials.measures_as_typed import ABOVE_0, shown_measure
from trials.models import Allocation, Design, Direction, Follows, MarginKind, Planned, Site, Trial, TrialMeasure


class TreatmentOut(serializers.Serializer[object]):
    id = serializers.UUIDField()
    name = serializers.CharField()
    code = serializers.CharField()
    is_control = serializers.BooleanField()
    levels = serializers.DictField(child=serializers.CharField())
    details = DetailsShape()


class FactorShape(serializers.Serializer[Any]):
    """`whole_strips`: its machine can't change from plot to plot, so a level covers a whole strip.

    `control`: the level that the others are compared with, at the same levels of the other factors.
    """

    name = serializers.CharField(max_length=60)
    levels = serializers.ListField(child=serializers.CharField(max_length=80), max_length=24)
    whole_strips = serializers.BooleanField(default=False)
    kind = serializers.ChoiceField(choices=FACTOR_KINDS, allow_blank=True, default="")
    control = serializers.CharField(max_length=80, allow_blank=True, default="")


class RemovedShape(serializers.Serializer[Any]):
    """A combination that can't be: the levels that it has, and why."""

    levels = serializers.DictField(child=serializers.CharField(max_length=80))
    why = serializers.CharField(max_length=200, allow_blank=True, default="")


class CrossingIn(serializers.Serializer[Any]):
    factors = FactorShape(many=True)
    removed = RemovedShape(many=True, default=list)


class CrossedOut(serializers.Serializer[Any]):
    name = serializers.CharField()
    code = serializers.CharField()
    levels = serializers.DictField(child=serializers.CharField())


class PhaseOut(Shape):
    """What stands in the plots of a phase, year after year."""

    class Meta:
        dataclass = Phase


class CrossingOut(serializers.Serializer[Any]):
    """Every combination that can be, the last factor changing fastest; `rotation`: where a factor is its phases."""

    treatments = CrossedOut(many=True)
    rotation = PhaseOut(many=True)


class ProposalOut(Shape):
    """The design that the factors and machines ask for, and why; the person decides."""

    design = serializers.ChoiceField(choices=Design.choices)

    class Meta:
        dataclass = Proposal


class EquipmentIn(serializers.Serializer[Any]):
    """Working widths as typed; without a unit they are in the person's own. Empty: not known."""

    drill = TypedLength(allow_null=True, default=None, least=0, most=1000)
    spreader = TypedLength(allow_null=True, default=None, least=0, most=1000)
    sprayer = TypedLength(allow_null=True, default=None, least=0, most=1000)
    mower = TypedLength(allow_null=True, default=None, least=0, most=1000)
    roller = TypedLength(allow_null=True, default=None, least=0, most=1000)
    cultivator = TypedLength(allow_null=True, default=None, least=0, most=1000)
    sprayer_section = TypedLength(allow_null=True, default=None, least=0, most=1000)
    combine = TypedLength(allow_null=True, default=None, least=0, most=1000)
    row_spacing = TypedLength(allow_null=True, default=None, least=0, most=1000)
    rows_caught = TypedWhole(least=1, most=200, allow_null=True, default=None)


class EquipmentOut(Shape):
    """Working widths in metres."""

    class Meta:
        dataclass = Machines


class TrialMeasureOut(serializers.ModelSerializer[TrialMeasure]):
    name = serializers.CharField(source="version.measure.name")
    unit = serializers.CharField(source="version.unit")
    difference_unit = serializers.SerializerMethodField()
    catalogue = serializers.CharField(source="version.catalogue")
    sheet = serializers.CharField(source="version.sheet")
    own = OwnMeasureShape(source="version.own_measure", allow_null=True)
    shown_unit = serializers.CharField(
        source="version.unit", help_text="Of margin and expected mean, in the units of the signed-in person."
    )
    settings = serializers.DictField(
        source="version.settings", child=serializers.FloatField(), help_text="In that person’s units too."
    )
    planned_for = serializers.PrimaryKeyRelatedField(many=True, read_only=True)  # type: ignore[var-annotated]
    control = serializers.UUIDField(source="control_id", allow_null=True)
    etag = serializers.SerializerMethodField()

    class Meta:
        model = TrialMeasure
        fields = (
            "id", "etag", "name", "unit", "shown_unit", "difference_unit", "catalogue", "sheet", "own", "settings",
            "margin", "margin_kind", "direction", "planned", "planned_for", "control", "primary", "expected",
            "cv_percent",
        )  # fmt: skip

    def to_representation(self, measure: TrialMeasure) -> dict[str, Any]:
        stored = super().to_representation(measure)
        return {**stored, **shown_measure(measure, self.context["request"].user.units)}

    def get_difference_unit(self, measure: TrialMeasure) -> str:
        return difference_unit(measure.version.shown_in(self.context["request"].user.units)[0])

    def get_etag(self, measure: TrialMeasure) -> str:
        return etag_of(margin_of(measure))


def margin_of(measure: TrialMeasure) -> dict[str, Any]:
    """What a change of a margin replaces."""
    names = ("margin", "margin_kind", "direction", "planned")
    return {name: getattr(measure, name) for name in names}


class TrialMeasureChange(serializers.Serializer[object]):
    margin = TypedNumber(allow_null=True, required=False)
    margin_kind = serializers.ChoiceField(choices=MarginKind.choices, required=False)
    direction = serializers.ChoiceField(choices=Direction.choices, required=False)
    planned = serializers.ChoiceField(choices=Planned.choices, required=False)
    reason = serializers.CharField(max_length=100, required=False, allow_blank=True)

    def validate_margin(self, value: float | None) -> float | None:
        if value is not None and value <= 0:
            raise serializers.ValidationError(ABOVE_0)
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
    whole_plot = serializers.CharField(allow_blank=True)
    incomplete_block = serializers.CharField(allow_blank=True)


_MONTH_DAY = serializers.RegexField(r"^(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])$", required=False, allow_blank=True)


class GrownShape(serializers.Serializer[Any]):
    """What grew in a year, what covered the ground after it, and how it was tilled; in the farm's own words."""

    year = serializers.CharField(max_length=20, allow_blank=True, default="")
    crop = serializers.CharField(max_length=80, allow_blank=True, default="")
    cover = serializers.CharField(max_length=80, allow_blank=True, default="")
    tillage = serializers.CharField(max_length=80, allow_blank=True, default="")


class SiteShape(serializers.ModelSerializer[Site]):
    """A site. Frost dates are months and days (`04-28`), as they usually fall."""

    id = serializers.UUIDField()
    name = serializers.CharField(max_length=120)
    time_zone = serializers.CharField(max_length=60, default="UTC")
    last_frost = copy(_MONTH_DAY)
    first_frost = copy(_MONTH_DAY)
    grown = serializers.ListField(child=GrownShape(), max_length=30, default=list)
    latitude = TypedOrShown(allow_null=True, default=None, least=-85, most=85)
    longitude = TypedOrShown(allow_null=True, default=None, least=-180, most=180)
    bearing_deg = TypedOrShown(default=0.0, least=-360, most=360)
    slope_percent = TypedOrShown(allow_null=True, default=None, least=0, most=200)
    coldest_c = TypedTemperature(allow_null=True, default=None, least=-60, most=30)

    class Meta:
        model = Site
        fields = (
            "id", "name", "place", "time_zone", "soil", "previous_crop", "last_frost", "first_frost", "gradient",
            "bearing_deg", "latitude", "longitude", "slope_percent", "drainage", "coldest_c", "grown", "weeds", "pests",
            "carry_over",
        )  # fmt: skip

    def validate_time_zone(self, value: str) -> str:
        if value not in available_timezones():
            raise serializers.ValidationError(f"There is no time zone called {value!r}; try Europe/London.")
        return value


STAGES = ("plan", "season", "walk", "read")


class TrialLine(serializers.ModelSerializer[Trial]):
    site = serializers.SerializerMethodField()
    plots = serializers.IntegerField(source="plot_count")
    stage = serializers.SerializerMethodField()
    years = serializers.SerializerMethodField(help_text="Of its seasons, so that trials of one name are told apart.")
    workspace = serializers.UUIDField(source="workspace_id")

    class Meta:
        model = Trial
        fields = ("id", "workspace", "name", "question", "created_at", "archived_at", "site", "years", "plots", "stage")

    @extend_schema_field(serializers.ChoiceField(choices=STAGES))
    def get_stage(self, trial: Any) -> str:
        """The station where the trial is: no map yet or not begun, no sowing recorded, walked in part, or all of it."""
        today = [(season.starts, clock.today(season.site.time_zone)) for season in trial.seasons.all()]
        ahead = all(starts is not None and starts > now for starts, now in today)
        if not trial.plot_count or (ahead and not trial.has_records):
            return "plan"
        if not (trial.sown or trial.has_records):
            return "season"
        return "walk" if trial.open_visits or not trial.has_records else "read"

    def get_years(self, trial: Trial) -> str:
        dates = [day for season in trial.seasons.all() for day in (season.starts, season.ends) if day]
        years = sorted({day.year for day in dates})
        return f"{years[0]}–{years[-1]}" if len(years) > 1 else str(years[0]) if years else ""

    def get_site(self, trial: Trial) -> str:
        return ", ".join(season.site.name for season in trial.seasons.all())


class ArchiveIn(serializers.Serializer[Any]):
    archived = serializers.BooleanField()


class ConstraintShape(serializers.Serializer[Any]):
    """What the draw has to keep to; `treatments` by name."""

    kind = serializers.ChoiceField(choices=get_args(ConstraintKind))
    treatments = serializers.ListField(child=serializers.CharField(max_length=160), default=list, max_length=96)
    most = serializers.IntegerField(min_value=1, default=1)


class PlanOut(serializers.Serializer[Any]):
    """The map as it was drawn; lengths in metres."""

    design = serializers.ChoiceField(choices=Design.choices)
    whole_factor = serializers.CharField(allow_blank=True)
    column_factor = serializers.CharField(allow_blank=True)
    block_size = serializers.IntegerField(help_text="The most plots in an incomplete block, 0 for other designs.")
    constraints = ConstraintShape(many=True)
    draws = serializers.IntegerField(help_text="How often the map was drawn, this time included.")
    blocks = serializers.IntegerField()
    width = serializers.FloatField()
    length = serializers.FloatField()
    gap = serializers.FloatField()
    alley = serializers.FloatField()
    serpentine = serializers.BooleanField()
    side_by_side = serializers.BooleanField(help_text="Blocks lie beside each other instead of behind.")
    seed = serializers.IntegerField()
    algorithm = serializers.CharField()
    drawn_at = serializers.DateTimeField()
    ground_width = serializers.FloatField()
    ground_length = serializers.FloatField()


class PlanIn(WithFormerNames):
    """Lengths as typed: a figure, with or without a unit; without one it is in the person's own.

    `id`: of this draw, made by the client; the same again draws nothing anew.
    """

    former = {"left_out": "not_grown"}
    id = serializers.UUIDField(allow_null=True, default=None)
    blocks = serializers.IntegerField(min_value=1, max_value=40)
    width = TypedLength(most=10_000)
    length = TypedLength(most=10_000)
    gap = TypedLength(allow_null=True, default=0.0, most=10_000)
    alley = TypedLength(allow_null=True, default=0.0, most=10_000)
    serpentine = serializers.BooleanField(default=False)
    side_by_side = serializers.BooleanField(
        allow_null=True, default=None, help_text="How blocks lie to each other; null: as is proposed."
    )
    seed = TypedWhole(least=0, most=2**53 - 1, allow_null=True, default=None)
    design = serializers.ChoiceField(choices=Design.choices, default=Design.RCBD)
    whole_factor = serializers.CharField(max_length=60, allow_blank=True, default="")
    column_factor = serializers.CharField(max_length=60, allow_blank=True, default="")
    block_size = TypedWhole(least=2, most=96, allow_null=True, default=None, help_text="Of incomplete blocks.")
    constraints = ConstraintShape(many=True, default=list)
    not_grown = serializers.ListField(child=serializers.UUIDField(), max_length=96, default=list)
    systematic = serializers.BooleanField(default=False, help_text="In the order listed, without chance.")
    demonstration = serializers.BooleanField(default=False, help_text="One plot of each treatment is enough.")


class AskedTreatmentIn(serializers.Serializer[Any]):
    id = serializers.UUIDField()
    name = serializers.CharField(max_length=160)
    code = serializers.CharField(max_length=8, allow_blank=True, default="")
    is_control = serializers.BooleanField(default=False)
    levels = serializers.DictField(child=serializers.CharField(max_length=80), default=dict)
    details = DetailsShape(default=dict)


class AskedMeasureIn(serializers.Serializer[Any]):
    id = serializers.UUIDField()
    name = serializers.CharField(max_length=120)
    unit = serializers.CharField(max_length=40, allow_blank=True)
    catalogue = serializers.CharField(max_length=40, allow_blank=True, default="")
    sheet = serializers.CharField(max_length=20, default="figure")
    own = OwnMeasureShape(allow_null=True, default=None)
    shown_unit = serializers.CharField(
        max_length=40, allow_blank=True, default="", help_text="Of margin and expected mean; empty: the measure’s unit."
    )
    settings = serializers.DictField(child=TypedAmount(), default=dict)
    margin = TypedAmount()
    margin_kind = serializers.ChoiceField(choices=MarginKind.choices, default=MarginKind.ABSOLUTE)
    direction = serializers.ChoiceField(choices=Direction.choices, default=Direction.NONE, allow_blank=True)
    planned = serializers.ChoiceField(choices=Planned.choices, default=Planned.NONE)
    planned_for = serializers.ListField(child=serializers.UUIDField(), max_length=96, default=list)
    control = serializers.UUIDField(allow_null=True, default=None)
    primary = serializers.BooleanField(default=False)
    expected = TypedAmount()
    cv_percent = TypedNumber(allow_null=True, default=None, least=0.1, most=500)

    def validate(self, data: dict[str, Any]) -> dict[str, Any]:
        if data["sheet"] == OWN and data["own"] is None:
            raise serializers.ValidationError({"own": "Say which values are typed in a plot."})
        return data

    def validate_direction(self, value: str) -> str:
        if not value:
            raise serializers.ValidationError("Say whether more or less is better, or neither.")
        return value


class AskIn(serializers.Serializer[Any]):
    """The whole page of Ask; sending it twice is harmless."""

    workspace = serializers.UUIDField()
    name = serializers.CharField(max_length=160)
    question = serializers.CharField(max_length=300, allow_blank=True)
    sites = serializers.ListField(child=SiteShape(), min_length=1, max_length=20)
    starts = serializers.DateField(allow_null=True, default=None)
    ends = serializers.DateField(allow_null=True, default=None)
    factors = FactorShape(many=True, default=list)
    removed = RemovedShape(many=True, default=list)
    accepted = AcceptedShape(many=True, default=list)
    treatments = AskedTreatmentIn(many=True)
    measures = AskedMeasureIn(many=True)
    reason = serializers.CharField(max_length=100, allow_blank=True, default="")


class MovedOut(serializers.Serializer[Any]):
    """A change by hand after the draw, in words."""

    said = serializers.CharField()
    by = serializers.CharField()
    at = serializers.DateTimeField()


class EtagsOut(serializers.Serializer[Any]):
    """What a save of each part names in `If-Match`, so that nobody's change is written over unseen."""

    ask = serializers.CharField()
    plan = serializers.CharField()
    equipment = serializers.CharField()


class SeriesOut(serializers.Serializer[Any]):
    """A trial next to this one in its series, and what the later is to the earlier."""

    id = serializers.UUIDField()
    name = serializers.CharField()
    how = serializers.ChoiceField(choices=Follows.choices)


class TrialOut(serializers.Serializer[Any]):
    id = serializers.UUIDField()
    etags = EtagsOut()
    workspace = serializers.UUIDField()
    name = serializers.CharField()
    question = serializers.CharField()
    contradictions = serializers.ListField(
        child=serializers.CharField(), help_text="Sizes that the question names and no margin has."
    )
    allocation = serializers.ChoiceField(choices=Allocation.choices)
    design = serializers.ChoiceField(choices=Design.choices)
    site = SiteShape()
    sites = SiteShape(many=True)
    not_grown = serializers.ListField(child=serializers.UUIDField(), help_text="Treatments not grown at this site.")
    plan = PlanOut(allow_null=True)
    starts = serializers.DateField(allow_null=True)
    ends = serializers.DateField(allow_null=True)
    today = serializers.DateField()
    schematic = serializers.BooleanField()
    factors = FactorShape(many=True)
    removed = RemovedShape(many=True)
    accepted = AcceptedShape(many=True)
    proposal = ProposalOut()
    equipment = EquipmentOut()
    follows = SeriesOut(allow_null=True, help_text="The trial that this one repeats, continues or crosses.")
    followed_by = SeriesOut(many=True)
    earlier = serializers.DictField(
        child=serializers.ListField(child=serializers.CharField()), help_text="Site → trials that lay there before."
    )
    two_things = serializers.CharField(
        allow_blank=True, help_text="What is said where comparisons with the control change two things at once."
    )
    treatments = TreatmentOut(many=True)
    measures = TrialMeasureOut(many=True)
    plots = PlotOut(many=True)
    rotation_year = serializers.IntegerField(help_text="Years since the trial’s first on these plots.")
    moved = MovedOut(many=True)
    results_opened = serializers.BooleanField(help_text="Whether somebody has opened the results at this site.")
    recorded = serializers.BooleanField(help_text="Whether records are in, so that map and treatments stay.")
    length_unit = serializers.CharField(help_text="In which the signed-in person is shown lengths.")
    length_factor = serializers.FloatField(help_text="From metres to that unit.")
    may = serializers.ListField(child=serializers.CharField(), help_text="What the signed-in person may do here.")


class TemplateTreatmentOut(serializers.Serializer[Any]):
    name = serializers.CharField()
    is_control = serializers.BooleanField()
    levels = serializers.DictField(child=serializers.CharField())


class TemplateOut(serializers.Serializer[Any]):
    """A common trial: what it is, and the parts of Ask filled in. `measures`: keys of the catalogue."""

    key = serializers.CharField()
    name = serializers.CharField()
    what = serializers.CharField()
    question = serializers.CharField()
    factors = FactorShape(many=True)
    removed = RemovedShape(many=True)
    treatments = TemplateTreatmentOut(many=True)
    measures = serializers.ListField(child=serializers.CharField())


class SwapIn(serializers.Serializer[Any]):
    first = serializers.UUIDField()
    second = serializers.UUIDField()
    why = serializers.CharField(max_length=200, allow_blank=True)


class CopyIn(serializers.Serializer[Any]):
    id = serializers.UUIDField()
    name = serializers.CharField(max_length=160)
    layout = serializers.ChoiceField(choices=("none", "copied", "same-plots", "crossed"), default="none")
    factor = FactorShape(allow_null=True, default=None, help_text="That is crossed onto the plots.")
