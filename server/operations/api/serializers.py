"""Shapes of the season and of what is due."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from apercu_core.amounts import shown_number
from apercu_core.cautions import caution_for_visit
from apercu_core.units import shown_in
from config.etags import etag_of
from config.typed_number import TypedNumber, TypedWhole
from operations.api.detail_shapes import (
    GrazingIn,
    GrazingOut,
    IntervalsIn,
    IntervalsOut,
    NutrientLotIn,
    NutrientLotOut,
    PlantingIn,
    PlantingOut,
)
from operations.api.trigger_shapes import ClosingIn, ClosingOut, TriggerIn, TriggerOut
from operations.models import Operation, OperationKind
from operations.visit_dates import hangs_on
from records.api.visit_shapes import PLACEMENT_KEYS, ProgressOut
from records.progress import samples_at
from records.visits import is_blind, planned_of
from trials.models import OverVisits
from weather.api.shapes import StripWeatherOut

DUE_KINDS = ("visit", "operation", "reading")
STATES = ("overdue", "due", "soon", "later", "begun", "done", "conflict")


class HowWalkedOut(serializers.Serializer[Any]):
    """How a visit is walked; `samples`: of a plot, by measure, where several are taken."""

    placement = serializers.ChoiceField(choices=PLACEMENT_KEYS)
    samples = serializers.DictField(child=serializers.IntegerField())
    plots = serializers.ListField(child=serializers.CharField(), help_text="None: all.")
    observers = serializers.ListField(child=serializers.UUIDField())
    blind = serializers.BooleanField()
    guess_first = serializers.BooleanField()
    walked = serializers.DateField(allow_null=True)
    bearing = serializers.FloatField(allow_null=True, help_text="Of a transect, ° from north.")
    spacing = serializers.FloatField(allow_null=True, help_text="From sample to sample, in the reader’s unit.")


class CrewOut(serializers.Serializer[Any]):
    """Somebody who may enter records."""

    id = serializers.UUIDField()
    name = serializers.CharField()


class PlacementOut(serializers.Serializer[Any]):
    key = serializers.ChoiceField(choices=PLACEMENT_KEYS)
    said = serializers.CharField()


class VisitMarkOut(serializers.Serializer[Any]):
    id = serializers.UUIDField(source="visit.id")
    etag = serializers.SerializerMethodField()
    name = serializers.CharField(source="visit.name")
    due = serializers.DateField(source="visit.due", allow_null=True)
    date = serializers.DateField(source="visit.date", allow_null=True)
    measures = serializers.SerializerMethodField()
    caution = serializers.SerializerMethodField()
    watched = serializers.SerializerMethodField(help_text="Waiting times that it falls into.")
    hangs_on = serializers.SerializerMethodField(help_text="What its date follows, in words.")
    progress = ProgressOut()
    state = serializers.ChoiceField(choices=STATES)
    how = serializers.SerializerMethodField()
    observers = serializers.SerializerMethodField(help_text="Names of who counts.")

    @extend_schema_field(HowWalkedOut)
    def get_how(self, mark: Any) -> dict[str, Any]:
        visit = mark.visit
        sampled = [t for t in visit.taken.all() if t.measure.version.entry_sheet.sampled]
        return {
            "placement": visit.placement or "free", "samples": {str(t.measure_id): samples_at(t) for t in sampled},
            "plots": sorted(unit.label for unit in visit.only.all()), "blind": is_blind(visit),
            "observers": [str(one.person_id) for one in visit.observers.all()], "guess_first": visit.guess_first,
            "walked": visit.walked,
            "bearing": visit.bearing, "spacing": visit.spacing and shown_number(visit.spacing, self._metres()),
        }  # fmt: skip

    def _metres(self) -> float:
        return shown_in("m", self.context["system"])[1]

    def get_observers(self, mark: Any) -> list[str]:
        return [one.person.name for one in mark.visit.observers.all()]

    def get_hangs_on(self, mark: Any) -> str:
        return hangs_on(mark.visit, self.context.get("operation_names", {}))

    def get_etag(self, mark: Any) -> str:
        return etag_of(planned_of(mark.visit))

    def get_measures(self, mark: Any) -> list[str]:
        return [str(taken.measure_id) for taken in mark.visit.taken.all()]

    def get_watched(self, mark: Any) -> list[str]:
        found: list[str] = self.context.get("watched", {}).get(str(mark.visit.id), [])
        return found

    def get_caution(self, mark: Any) -> str:
        return caution_for_visit(taken.measure.version.catalogue for taken in mark.visit.taken.all())


class OperationIn(serializers.Serializer[Any]):
    kind = serializers.ChoiceField(choices=OperationKind.choices)
    name = serializers.CharField(max_length=120)
    due = serializers.DateField(allow_null=True, default=None)
    done = serializers.DateField(allow_null=True, default=None)
    note = serializers.CharField(max_length=500, allow_blank=True, default="")
    after = serializers.UUIDField(allow_null=True, default=None, help_text="The operation that it follows.")
    after_days = TypedWhole(default=0, help_text="Days after that one; below zero: before it.")
    trigger = TriggerIn(allow_null=True, default=None, help_text="What brings it on instead of a date.")
    closes = ClosingIn(allow_null=True, default=None, help_text="When it is too late.")
    treatments = serializers.ListField(child=serializers.UUIDField(), max_length=200, default=list)
    plots = serializers.ListField(child=serializers.CharField(max_length=160), max_length=2000, default=list)
    zones = serializers.ListField(
        child=serializers.CharField(max_length=40),
        max_length=20,
        default=list,
        help_text="Of each plot; none: all of it.",
    )
    amount = serializers.CharField(max_length=120, allow_blank=True, default="")
    machine = serializers.CharField(max_length=120, allow_blank=True, default="")
    setting = serializers.CharField(max_length=120, allow_blank=True, default="")
    exempt = serializers.ListField(child=serializers.CharField(max_length=160), max_length=2000, default=list)
    exempt_quadrats = serializers.CharField(max_length=200, allow_blank=True, default="")
    intervals = IntervalsIn(default=dict)
    grazing = GrazingIn(allow_null=True, default=None)
    lot = NutrientLotIn(allow_null=True, default=None)
    planting = PlantingIn(allow_null=True, default=None)
    operator = serializers.CharField(max_length=120, allow_blank=True, default="")
    hours = TypedNumber(allow_null=True, default=None, least=0, most=1000)
    cost = serializers.DecimalField(max_digits=12, decimal_places=2, allow_null=True, default=None, min_value=0)


class KillDateIn(serializers.Serializer[Any]):
    id = serializers.UUIDField()
    name = serializers.CharField(max_length=120)
    treatments = serializers.ListField(child=serializers.UUIDField(), min_length=1, max_length=200)
    due = serializers.DateField(allow_null=True, default=None)
    after = serializers.UUIDField(allow_null=True, default=None)
    after_days = TypedWhole(default=0)
    trigger = TriggerIn(allow_null=True, default=None)


class KillDatesIn(serializers.Serializer[Any]):
    dates = serializers.ListField(child=KillDateIn(), min_length=1, max_length=100)


class VisitSeriesIn(serializers.Serializer[Any]):
    """Visits of the same measures: on dates, on days after an operation, or at growth stages of a plant."""

    name = serializers.CharField(max_length=100)
    measures = serializers.ListField(child=serializers.UUIDField(), min_length=1, max_length=40)
    dates = serializers.ListField(child=serializers.DateField(), max_length=100, default=list)
    after = serializers.UUIDField(allow_null=True, default=None)
    days = serializers.ListField(child=TypedWhole(), max_length=100, default=list)
    plant = serializers.CharField(max_length=120, allow_blank=True, default="")
    stages = serializers.ListField(child=TypedWhole(), max_length=40, default=list)
    over_visits = serializers.ChoiceField(
        choices=OverVisits.choices, allow_null=True, default=None,
        help_text="What the value of the measures is over several visits; none: as it was.",
    )  # fmt: skip


class RainAfterOut(serializers.Serializer[Any]):
    """Rain in the days after a sowing; the day after it is the first."""

    days = serializers.IntegerField()
    rain = serializers.FloatField(allow_null=True, help_text="None while a day of them isn't known.")


class OperationMarkOut(serializers.Serializer[Any]):
    id = serializers.UUIDField(source="operation.id")
    etag = serializers.SerializerMethodField()
    kind = serializers.ChoiceField(choices=OperationKind.choices, source="operation.kind")
    name = serializers.CharField(source="operation.name")
    due = serializers.DateField(source="operation.due", allow_null=True)
    done = serializers.DateField(source="operation.done", allow_null=True)
    note = serializers.CharField(source="operation.note", allow_blank=True)
    after = serializers.UUIDField(source="operation.after_id", allow_null=True)
    after_days = serializers.IntegerField(source="operation.after_days")
    trigger = TriggerOut(allow_null=True)
    closes = ClosingOut(allow_null=True)
    early = serializers.DateField(source="operation.early", allow_null=True, help_text="Of the forecast's range.")
    late = serializers.DateField(source="operation.late", allow_null=True)
    why = serializers.ListField(child=serializers.CharField(), help_text="What the forecast hangs on.")
    closes_day = serializers.DateField(source="operation.closes_day", allow_null=True)
    closes_why = serializers.ListField(child=serializers.CharField())
    warning = serializers.CharField(allow_blank=True, help_text="That it may close before it opens.")
    treatments = serializers.SerializerMethodField()
    plots = serializers.SerializerMethodField()
    zones = serializers.ListField(source="operation.zones", child=serializers.CharField())
    amount = serializers.CharField(source="operation.amount", allow_blank=True)
    machine = serializers.CharField(source="operation.machine", allow_blank=True)
    setting = serializers.CharField(source="operation.setting", allow_blank=True)
    exempt = serializers.SerializerMethodField()
    exempt_quadrats = serializers.CharField(source="operation.exempt_quadrats", allow_blank=True)
    intervals = IntervalsOut(source="operation.intervals")
    grazing = GrazingOut(allow_null=True)
    lot = NutrientLotOut(allow_null=True)
    planting = PlantingOut(allow_null=True)
    found = serializers.ListField(
        child=serializers.CharField(), help_text="What its grazing or lot comes to, and how well it was planted."
    )
    watched = serializers.ListField(child=serializers.CharField(), help_text="Waiting times that it falls into.")
    operator = serializers.CharField(source="operation.operator", allow_blank=True)
    hours = serializers.FloatField(source="operation.hours", allow_null=True)
    cost = serializers.DecimalField(source="operation.cost", max_digits=12, decimal_places=2, allow_null=True)
    caution = serializers.CharField(allow_blank=True)
    state = serializers.ChoiceField(choices=STATES)
    rain_after = RainAfterOut(many=True, help_text="Of a sowing that was done, where the site has weather.")
    warmth = serializers.CharField(
        allow_blank=True, help_text="Degree days since the sowing that was done, where the site has weather."
    )

    def get_etag(self, mark: Any) -> str:
        return etag_of(said_of(mark["operation"]))

    def get_treatments(self, mark: Any) -> list[str]:
        return [str(one.id) for one in mark["operation"].treatments.all()]

    def get_plots(self, mark: Any) -> list[str]:
        return [one.label for one in mark["operation"].plots.all()]

    def get_exempt(self, mark: Any) -> list[str]:
        return [one.label for one in mark["operation"].exempt.all()]


def said_of(operation: Operation) -> dict[str, Any]:
    """What a save of an operation replaces."""
    said = {name: getattr(operation, name) for name in ("kind", "name", "done", "note", "after_id", "after_days")}
    more = (
        "amount",
        "machine",
        "operator",
        "hours",
        "cost",
        "setting",
        "exempt_quadrats",
        "intervals",
        "grazing",
        "lot",
        "planting",
        "zones",
    )
    said |= {name: getattr(operation, name) for name in more}
    said["exempt"] = sorted(one.label for one in operation.exempt.all())
    # The day of one that hangs on another is worked out: nobody's save replaces it.
    said["due"] = None if operation.after_id or operation.trigger else operation.due
    said |= {"trigger": operation.trigger, "closes": operation.closes}
    said["treatments"] = sorted(str(one.id) for one in operation.treatments.all())
    said["plots"] = sorted(one.label for one in operation.plots.all())
    return said


class StageChoiceOut(serializers.Serializer[Any]):
    code = serializers.IntegerField()
    seen = serializers.CharField(help_text="What one sees.")
    older = serializers.CharField(allow_blank=True, help_text="The figure of the older cereal scale.")


class NextStageOut(serializers.Serializer[Any]):
    code = serializers.IntegerField()
    seen = serializers.CharField()
    day = serializers.DateField(allow_null=True)
    early = serializers.DateField(allow_null=True)
    late = serializers.DateField(allow_null=True)
    why = serializers.ListField(child=serializers.CharField())


class StandOut(serializers.Serializer[Any]):
    """A plant of a treatment: the last stage that was seen, and the next ones."""

    treatment = serializers.UUIDField()
    plant = serializers.CharField()
    name = serializers.CharField()
    code = serializers.IntegerField(allow_null=True, help_text="0: sown, and no stage seen yet.")
    day = serializers.DateField(allow_null=True)
    planned = serializers.BooleanField()
    next = NextStageOut(many=True)


class PlantOut(serializers.Serializer[Any]):
    key = serializers.CharField()
    name = serializers.CharField()
    treatments = serializers.ListField(child=serializers.UUIDField())
    stages = StageChoiceOut(many=True, help_text="Empty: there is no scale for it.")


class SeenStageOut(serializers.Serializer[Any]):
    id = serializers.UUIDField()
    treatment = serializers.UUIDField(source="treatment_id")
    plots = serializers.SerializerMethodField()
    plant = serializers.CharField()
    code = serializers.IntegerField()
    day = serializers.DateField()
    note = serializers.CharField(allow_blank=True)
    by = serializers.CharField(source="by.name")

    def get_plots(self, stage: Any) -> list[str]:
        return sorted(one.label for one in stage.plots.all())


class StagesOut(serializers.Serializer[Any]):
    today = serializers.DateField()
    plants = PlantOut(many=True)
    crops = serializers.ListField(child=serializers.CharField(), help_text="Names of crops that have stages.")
    stands = StandOut(many=True)
    seen = SeenStageOut(many=True)


class StageIn(serializers.Serializer[Any]):
    treatment = serializers.UUIDField()
    plant = serializers.CharField(max_length=120, help_text="Of the list; or `crop:` and the name of a cash crop.")
    code = TypedWhole(least=0, most=99)
    day = serializers.DateField()
    plots = serializers.ListField(child=serializers.CharField(max_length=160), max_length=2000, default=list)
    note = serializers.CharField(max_length=300, allow_blank=True, default="")


class SeasonUnitsOut(serializers.Serializer[Any]):
    """In which a trigger's amounts are typed."""

    temperature = serializers.CharField()
    area = serializers.CharField()
    degree_days = serializers.CharField()
    height = serializers.CharField()
    biomass = serializers.CharField()
    soil_temperature = serializers.CharField()


class ClosedPlotOut(serializers.Serializer[Any]):
    plot = serializers.CharField()
    until = serializers.DateField(help_text="The first day on which it may be entered again.")


class RateUnitOut(serializers.Serializer[Any]):
    """In which a lot's rate is given, and the unit of its analysis then."""

    rate = serializers.CharField()
    analysis = serializers.CharField()


class SeasonOut(serializers.Serializer[Any]):
    """Visits and operations of a trial, each with its state today."""

    crew = CrewOut(many=True)
    placements = PlacementOut(many=True, help_text="How places of samples can be drawn.")
    today = serializers.DateField()
    visits = VisitMarkOut(many=True)
    operations = OperationMarkOut(many=True)
    weather = StripWeatherOut(allow_null=True)
    units = SeasonUnitsOut()
    closed = ClosedPlotOut(many=True, help_text="Plots that may not be entered today.")
    zones = serializers.ListField(child=serializers.CharField(), help_text="Of each plot, by name.")
    nutrients = serializers.ListField(child=serializers.CharField(), help_text="That a lot's analysis may have.")
    rate_units = RateUnitOut(many=True)


class DueOut(serializers.Serializer[Any]):
    """One thing to do: a visit or an operation of a trial, or figures that nobody has read yet."""

    trial = serializers.UUIDField()
    site = serializers.UUIDField()
    trial_name = serializers.CharField()
    kind = serializers.ChoiceField(choices=DUE_KINDS)
    id = serializers.UUIDField()
    name = serializers.CharField()
    date = serializers.DateField(allow_null=True)
    state = serializers.ChoiceField(choices=STATES)
    done = serializers.IntegerField()
    of = serializers.IntegerField()


GROUPS = ("due", "begun", "new", "soon")


class WantedByOut(serializers.Serializer[Any]):
    trial = serializers.UUIDField()
    site = serializers.UUIDField()
    trial_name = serializers.CharField()
    id = serializers.UUIDField()
    name = serializers.CharField()


class WantedTwiceOut(serializers.Serializer[Any]):
    """A machine that operations of several trials want on one day."""

    machine = serializers.CharField()
    day = serializers.DateField()
    operations = WantedByOut(many=True)


class TodayOut(serializers.Serializer[Any]):
    """Over all trials: what is due or overdue, what is half done, what is new to read, and what comes soon."""

    due = DueOut(many=True)
    begun = DueOut(many=True)
    new = DueOut(many=True)
    soon = DueOut(many=True)
    conflicts = WantedTwiceOut(many=True)
    more = serializers.ListField(
        child=serializers.ChoiceField(choices=GROUPS), help_text="Of which there are more than are listed."
    )


class DayLineOut(serializers.Serializer[Any]):
    """One piece of work on the day's list."""

    trial_name = serializers.CharField()
    site = serializers.CharField()
    kind = serializers.ChoiceField(choices=(*OperationKind.values, "visit"))
    name = serializers.CharField()
    due = serializers.DateField()
    where = serializers.CharField(help_text="Codes of treatments, plots, or the whole trial.")
    how = serializers.ListField(child=serializers.CharField(), help_text="Amount, machine, setting, person, note.")
    caution = serializers.CharField(allow_blank=True)
    watched = serializers.ListField(child=serializers.CharField())


class DayListOut(serializers.Serializer[Any]):
    day = serializers.DateField()
    lines = DayLineOut(many=True)
