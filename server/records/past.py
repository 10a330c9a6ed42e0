"""What stood in the plots of a visit when somebody was there before."""

from __future__ import annotations

import uuid
from collections.abc import Collection
from dataclasses import dataclass
from datetime import date

from django.db.models import Avg

from records.models import Observation, Visit, VisitMeasure


@dataclass(frozen=True, slots=True)
class Past:
    """The plot's mean at an earlier visit, in the version's unit."""

    unit: uuid.UUID
    version: uuid.UUID
    zone: str
    component: str
    value: float
    visit: str
    date: date | None


def past_of(visit: Visit, units: Collection[uuid.UUID]) -> list[Past]:
    """Of each place the newest value from the visits before this one; `visit` comes with `taken`."""
    own = {taken.measure_id for taken in visit.taken.all()}
    others = VisitMeasure.objects.filter(measure__in=own, visit__season=visit.season_id).exclude(visit=visit)
    earlier = {t.visit_id: t.visit for t in others.select_related("visit") if _before(t.visit, visit)}
    if not earlier:
        return []
    versions = [taken.measure.version_id for taken in visit.taken.all()]
    rows = (
        Observation.objects.filter(visit__in=list(earlier), version__in=versions, unit__in=units, current=True)
        .exclude(value=None)
        .values_list("unit_id", "version_id", "zone", "component", "visit_id")
        .annotate(mean=Avg("value"))
    )
    newest: dict[tuple[uuid.UUID, uuid.UUID, str, str], Past] = {}
    for unit, version, zone, component, id, mean in sorted(rows, key=lambda row: _when(earlier[row[4]])):
        then = earlier[id]
        newest[unit, version, zone, component] = Past(unit, version, zone, component, mean, then.name, then.date)
    return list(newest.values())


def _before(one: Visit, this: Visit) -> bool:
    """Whether it was walked before this visit, or before now where this one wasn't walked yet."""
    return one.date is not None and (this.date is None or _when(one) < _when(this))


def _when(visit: Visit) -> tuple[date, int, str]:
    return (visit.date or date.max, visit.order, str(visit.id))
