"""What a device needs to say what the counts of a plot come to, while somebody stands in it and may have no network."""

from __future__ import annotations

import math
import uuid
from dataclasses import dataclass
from typing import cast

from django.db.models import prefetch_related_objects

from apercu_core.measures.rules import ShownUnit
from apercu_core.measures.standing import SownThere
from apercu_core.units import System, per_area_factor, shown_in
from crew.models import Person
from records.models import Observation, Visit, VisitMeasure
from records.progress import taken_with_measures
from sowing.seed import SeasonSeed
from trials.zones import measured_in

STANDS = ("stand", "stand-dug")
FRAMES, PLOTS = "frames", "plots of this treatment"


@dataclass(frozen=True, slots=True)
class Standing:
    """Of one measure of a visit. `threshold`: in its stored unit, None where there is none; `shown`, `stand`, `rate`:
    how its values, plants and rates are shown; `each`: what one value is of; `alike`: whether the plots of one
    treatment are put together, since each has one sample only; `parts_make`: `sum` or `mean`; `per_m2`: factor from the
    stored unit to per m², None where nothing was sown against which it could be held; `sown`: by treatment;
    `means`: of plots, which may stand on other pages of the sheet.
    """

    measure: uuid.UUID
    name: str
    threshold: float | None
    shown: ShownUnit
    stand: ShownUnit
    rate: ShownUnit
    each: str
    alike: bool
    parts_make: str
    per_m2: float | None
    sown: dict[str, SownThere]
    means: dict[str, float]


def standing_of(*, by: Person, visit: Visit) -> list[Standing]:
    """Of each measure that isn't taken in zones, whose values would be of different ground."""
    prefetch_related_objects([visit], taken_with_measures())
    system = cast(System, by.units)
    found = []
    for taken in visit.taken.all():
        measure = taken.measure
        if measured_in(visit.season, measure):
            continue
        version = measure.version
        sheet, threshold = version.entry_sheet, measure.action_threshold
        alike = not sheet.sampled
        per_m2 = per_area_factor(version.unit) if version.catalogue in STANDS else None
        found.append(
            Standing(
                measure.pk, version.measure.name, threshold, ShownUnit(*version.shown_in(system)),
                ShownUnit(*shown_in("plants/m²", system)), ShownUnit(*shown_in("kg/ha", system)),
                PLOTS if alike else FRAMES, alike, sheet.parts_make, per_m2 and 1 / per_m2,
                _sown(visit) if per_m2 else {}, _means(visit, taken) if alike and threshold is not None else {},
            )
        )  # fmt: skip
    return found


def _sown(visit: Visit) -> dict[str, SownThere]:
    sown = {}
    for one in SeasonSeed(visit.season).sheet.treatments:
        found = [part.found for part in one.parts]
        sown[one.treatment] = SownThere(
            _sum([each.live_seeds_m2 for each in found]), _sum([each.plants_m2 for each in found]),
            _sum([each.bulk_kg_ha for each in found]), any(each.assumed for each in found),
        )  # fmt: skip
    return sown


def _sum(values: list[float | None]) -> float | None:
    """Of all components; None where one of them isn't known, or nothing is sown."""
    known = [value for value in values if value is not None]
    return math.fsum(known) if known and len(known) == len(values) else None


def _means(visit: Visit, taken: VisitMeasure) -> dict[str, float]:
    """Plot → its value; what is told by parts added up or, of layers, their mean."""
    makes_mean = taken.measure.version.entry_sheet.parts_make == "mean"
    rows = Observation.objects.filter(visit=visit, version=taken.measure.version_id, current=True)
    parts: dict[str, list[float]] = {}
    for unit, value in rows.values_list("unit_id", "value"):
        if value is not None:
            parts.setdefault(str(unit), []).append(value)
    return {unit: math.fsum(own) / (len(own) if makes_mean else 1) for unit, own in parts.items()}
