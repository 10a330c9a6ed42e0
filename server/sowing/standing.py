"""What the counts of a plot come to while somebody stands in it: against what was sown, and against thresholds."""

from __future__ import annotations

import math
import uuid
from dataclasses import dataclass
from typing import cast

from django.db.models import prefetch_related_objects

from apercu_core.reporting.standing import stand_said, threshold_said
from apercu_core.units import System, per_area_factor
from crew.models import Person
from records.models import Observation, Visit, VisitMeasure
from records.progress import taken_with_measures
from sowing.seed import SeasonSeed
from trials.models import Unit
from trials.zones import measured_in

STAND = "stand"


@dataclass(frozen=True, slots=True)
class Standing:
    """Sentences about a measure in a plot; `threshold`: in the measure's shown unit, None where there is none."""

    measure: uuid.UUID
    name: str
    unit: str
    threshold: float | None
    said: tuple[str, ...]


def standing_in(*, by: Person, visit: Visit, unit: Unit) -> list[Standing]:
    """Of each measure that isn't taken in zones, whose values would be of different ground."""
    prefetch_related_objects([visit], taken_with_measures())
    system = cast(System, by.units)
    found = []
    for taken in visit.taken.all():
        measure = taken.measure
        if measured_in(visit.season, measure):
            continue
        version = measure.version
        shown, factor = version.shown_in(system)
        said = [_against_sown(visit, taken, unit, system), _against_threshold(visit, taken, unit, system)]
        found.append(
            Standing(
                measure.pk, version.measure.name, shown,
                None if measure.action_threshold is None else measure.action_threshold * factor,
                tuple(filter(None, said)),
            )
        )  # fmt: skip
    return found


def _samples(visit: Visit, taken: VisitMeasure, units: list[uuid.UUID]) -> dict[uuid.UUID, list[float]]:
    """Values of the samples of each plot; those that are told by parts added up or, of layers, their mean."""
    makes_mean = taken.measure.version.entry_sheet.parts_make == "mean"
    rows = Observation.objects.filter(visit=visit, version=taken.measure.version_id, current=True, unit__in=units)
    sums: dict[uuid.UUID, dict[int, list[float]]] = {}
    for unit, sample, value in rows.values_list("unit_id", "sample", "value"):
        if value is not None:
            sums.setdefault(unit, {}).setdefault(sample, []).append(value)
    return {
        unit: [math.fsum(parts) / (len(parts) if makes_mean else 1) for parts in own.values()]
        for unit, own in sums.items()
    }


def _against_sown(visit: Visit, taken: VisitMeasure, unit: Unit, system: System) -> str:
    version = taken.measure.version
    if version.catalogue != STAND or unit.treatment_id is None:
        return ""
    values, per_m2 = _samples(visit, taken, [unit.pk]).get(unit.pk), per_area_factor(version.unit)
    if not values or not per_m2:
        return ""
    seed = SeasonSeed(visit.season)
    parts = next((one.parts for one in seed.sheet.treatments if one.treatment == str(unit.treatment_id)), ())
    found = [part.found for part in parts]
    return stand_said(
        math.fsum(values) / len(values) / per_m2, "plants/m²", _sum([one.live_seeds_m2 for one in found]),
        _sum([one.plants_m2 for one in found]), _sum([one.bulk_kg_ha for one in found]),
        any(one.assumed for one in found), system,
    )  # fmt: skip


def _sum(values: list[float | None]) -> float | None:
    """Of all components; None where one of them isn't known, or nothing is sown."""
    known = [value for value in values if value is not None]
    return math.fsum(known) if known and len(known) == len(values) else None


def _against_threshold(visit: Visit, taken: VisitMeasure, unit: Unit, system: System) -> str:
    """By the samples of the plot where several are taken, else by the plots of its treatment."""
    measure = taken.measure
    if measure.action_threshold is None:
        return ""
    if measure.version.entry_sheet.sampled:
        values, each = _samples(visit, taken, [unit.pk]).get(unit.pk, []), "frames"
    else:
        alike = list(visit.season.units.filter(treatment=unit.treatment_id).values_list("pk", flat=True))
        own = _samples(visit, taken, alike)
        values, each = [math.fsum(one) / len(one) for one in own.values()], "plots of this treatment"
    return threshold_said(values, measure.action_threshold, measure.version.unit, each, system)
