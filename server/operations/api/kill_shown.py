"""Kill windows in the reader's units and words."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

from rest_framework import serializers

from apercu_core.amounts import amounts_in
from apercu_core.kill_window.methods import WAYS
from apercu_core.kill_window.window import SCHOOLS, PlantAhead, Then
from apercu_core.timing.expected import Expected
from apercu_core.units import System, shown_in
from operations.api.serializers import NextStageOut
from operations.kill_windows import TreatmentWindow
from trials.models import Season

EFFECTS = ("kills", "partly", "fails", "unknown")
_BEFORE, _AFTER, _NOTHING_PLANNED = timedelta(weeks=7), timedelta(weeks=5), timedelta(weeks=20)
"""Around the kills and the crop on the axis; ahead of today where neither is planned."""


class OutcomeOfWayOut(serializers.Serializer[Any]):
    way = serializers.ChoiceField(choices=WAYS)
    effect = serializers.ChoiceField(choices=EFFECTS)
    why = serializers.CharField()


class PlantThenOut(serializers.Serializer[Any]):
    name = serializers.CharField()
    code = serializers.IntegerField(allow_null=True)
    seen = serializers.CharField(allow_blank=True)
    least = serializers.IntegerField(allow_null=True, help_text="The earliest stage that it may still be at.")
    most = serializers.IntegerField(allow_null=True, help_text="The latest that it may have reached.")
    cn = serializers.CharField(allow_blank=True)
    ways = OutcomeOfWayOut(many=True)


class ThenOut(serializers.Serializer[Any]):
    """A treatment on a day. `biomass`: least and most, in `biomass_unit` of the whole answer;
    `biomass_measured`: it goes on from a cut, else from the warmth since sowing alone.
    """

    day = serializers.DateField()
    before_crop = serializers.IntegerField(allow_null=True)
    biomass = serializers.ListField(child=serializers.FloatField(), allow_null=True)
    biomass_measured = serializers.BooleanField()
    plants = PlantThenOut(many=True)
    notes = serializers.ListField(child=serializers.CharField())


class SchoolOut(ThenOut):
    key = serializers.ChoiceField(choices=SCHOOLS)


class PlantAheadOut(serializers.Serializer[Any]):
    name = serializers.CharField()
    code = serializers.IntegerField(allow_null=True)
    day = serializers.DateField(allow_null=True)
    stages = NextStageOut(many=True)
    seed_day = serializers.DateField(allow_null=True)
    seed_early = serializers.DateField(allow_null=True)
    why_not = serializers.CharField(allow_blank=True)


class WayToSayOut(serializers.Serializer[Any]):
    key = serializers.ChoiceField(choices=("stage", "height", "calendar"))
    said = serializers.CharField()
    day = serializers.DateField(allow_null=True)
    early = serializers.DateField(allow_null=True)
    late = serializers.DateField(allow_null=True)
    why = serializers.ListField(child=serializers.CharField())


class PlannedDayOut(serializers.Serializer[Any]):
    id = serializers.UUIDField()
    name = serializers.CharField()
    day = serializers.DateField(allow_null=True)
    early = serializers.DateField(allow_null=True)
    late = serializers.DateField(allow_null=True)
    done = serializers.BooleanField()


class KillWindowOut(serializers.Serializer[Any]):
    treatment = serializers.UUIDField()
    kill = PlannedDayOut(allow_null=True)
    crop = PlannedDayOut(allow_null=True)
    plants = PlantAheadOut(many=True)
    schools = SchoolOut(many=True)
    ways = WayToSayOut(many=True)
    planned = ThenOut(allow_null=True)
    frost = serializers.ListField(child=serializers.CharField())
    second_pass = serializers.ListField(child=serializers.CharField())
    notes = serializers.ListField(child=serializers.CharField())


class KillWindowsOut(serializers.Serializer[Any]):
    """`starts`, `ends`: of the time axis that all treatments share."""

    today = serializers.DateField()
    starts = serializers.DateField()
    ends = serializers.DateField()
    biomass_unit = serializers.CharField()
    early_days = serializers.IntegerField()
    windows = KillWindowOut(many=True)


def windows_json(season: Season, found: list[TreatmentWindow], today: date, early_days: int, system: System) -> Any:
    days = [day for one in found for day in _days_of(one)] or [today, today + _NOTHING_PLANNED]
    shape = {
        "today": today, "starts": min(days) - _BEFORE, "ends": max(days) + _AFTER,
        "biomass_unit": shown_in("kg/ha", system)[0], "early_days": early_days,
        "windows": [_window(one, system) for one in found],
    }  # fmt: skip
    return KillWindowsOut(shape).data


def _days_of(one: TreatmentWindow) -> list[date]:
    """The kill, the crop and the schools."""
    days = [then.day for then in one.window.schools.values()]
    return [*days, *(day for op in (one.kill, one.crop) if op and (day := op.done or op.due))]


def _window(one: TreatmentWindow, system: System) -> dict[str, Any]:
    def said(sentences: Any) -> list[str]:
        return [amounts_in(text, system) for text in sentences]

    window = one.window
    return {
        "treatment": one.treatment.pk, "kill": _planned(one.kill), "crop": _planned(one.crop),
        "plants": [_ahead(plant, system) for plant in window.plants],
        "schools": [{"key": key, **_then(window.schools[key], system)} for key in SCHOOLS if key in window.schools],
        "ways": [
            {"key": way.key, "said": amounts_in(way.said, system), **_expected(way.expected, system)}
            for way in window.ways
        ],
        "planned": window.planned and _then(window.planned, system), "frost": said(window.frost),
        "second_pass": list(window.second_pass), "notes": said(window.notes),
    }  # fmt: skip


def _planned(operation: Any) -> dict[str, Any] | None:
    if operation is None:
        return None
    return {
        "id": operation.pk, "name": operation.name, "day": operation.done or operation.due, "early": operation.early,
        "late": operation.late, "done": operation.done is not None,
    }  # fmt: skip


def _expected(expected: Expected, system: System) -> dict[str, Any]:
    return {
        "day": expected.day, "early": expected.early, "late": expected.late,
        "why": [amounts_in(why, system) for why in expected.why],
    }  # fmt: skip


def _ahead(plant: PlantAhead, system: System) -> dict[str, Any]:
    seed = plant.seed_from
    return {
        "name": plant.name, "code": plant.seen and plant.seen.code, "day": plant.seen and plant.seen.day,
        "stages": [
            {"code": one.stage.code, "seen": one.stage.seen, **_expected(one.expected, system)} for one in plant.stages
        ],
        "seed_day": seed and seed.day, "seed_early": seed and seed.early, "why_not": amounts_in(plant.why_not, system),
    }  # fmt: skip


def _then(then: Then, system: System) -> dict[str, Any]:
    factor = shown_in("kg/ha", system)[1]
    return {
        "day": then.day, "before_crop": then.before_crop,
        "biomass": then.biomass and [round(value * factor, -1) for value in (then.biomass.low, then.biomass.high)],
        "biomass_measured": then.biomass is not None and then.biomass.measured,
        "plants": [
            {
                "name": one.name, "code": one.stage and one.stage.code, "seen": one.stage.seen if one.stage else "",
                "least": one.least and one.least.code, "most": one.most and one.most.code, "cn": one.cn,
                "ways": [{"way": w.way, "effect": w.effect, "why": w.why} for w in one.ways],
            }
            for one in then.plants
        ],
        "notes": [amounts_in(note, system) for note in then.notes],
    }  # fmt: skip
