"""What stands beside a plot: the other plots of its treatment at the visit, else its own value of the visit before."""

from __future__ import annotations

import uuid
from collections.abc import Collection, Mapping, Sequence
from functools import cache
from typing import Any

from django.contrib.postgres.expressions import ArraySubquery
from django.db.models import Avg, Exists, OuterRef, QuerySet
from django.db.models.functions import JSONObject

from apercu_core.errors import Refused
from apercu_core.measures.entries import made_factor
from apercu_core.measures.neighbours import Expected, expected_from, tells
from apercu_core.measures.settings import counted_area
from library.models import MeasureVersion
from records.models import MissingStatus, Observation, Visit, VisitMeasure
from records.past import Past, past_of

Spot = tuple[uuid.UUID, uuid.UUID, str]
"""Unit, measure version, zone."""


def with_means(visits: QuerySet[Visit]) -> QuerySet[Visit]:
    """Each with the means that stand in its plots, and whether its measures are taken at other visits too: what
    `expected_at` else asks for by itself.
    """
    return visits.annotate(**_beside())


@cache
def _beside() -> dict[str, Any]:
    again = VisitMeasure.objects.filter(measure__visits__visit=OuterRef("pk")).exclude(visit=OuterRef("pk"))
    return {"means": ArraySubquery(_means(OuterRef("pk"))), "again": Exists(again)}


def _means(visit: Any) -> Any:
    """Of each plot, measure and zone: JSON lists of unit, treatment, version, zone and mean."""
    standing = Observation.objects.filter(visit=visit, current=True).exclude(value=None)
    return (
        standing.exclude(missing_status=MissingStatus.FAILED)
        .values("unit_id", "unit__treatment_id", "version_id", "zone")
        .annotate(said=JSONObject(unit="unit_id", treatment="unit__treatment_id", version="version_id", zone="zone",
                                  mean=Avg("value")))
        .values("said")
    )  # fmt: skip


def expected_at(
    visit: Visit, units: Collection[uuid.UUID], treatments: Mapping[uuid.UUID, uuid.UUID | None],
    past: Sequence[Past] | None = None,
) -> dict[Spot, Expected]:  # fmt: skip
    """For each of these plots. `visit` comes with `taken`; `treatments`: of the season's plots; `past`: theirs, if it
    is known.
    """
    counted = {
        t.measure.version_id: _counted(t.measure.version) for t in visit.taken.all() if _tells(t.measure.version)
    }
    if not counted:
        return {}
    means: list[dict[str, Any]] | None = getattr(visit, "means", None)
    rows = [row["said"] for row in _means(visit.pk)] if means is None else means
    beside: dict[tuple[str, uuid.UUID, str], dict[uuid.UUID, float]] = {}
    for row in rows:
        key = (str(row["treatment"]), uuid.UUID(row["version"]), row["zone"])
        beside.setdefault(key, {})[uuid.UUID(row["unit"])] = row["mean"]
    if past is None:
        past = past_of(visit, units) if getattr(visit, "again", True) else []
    before = {(one.unit, one.version, one.zone): one.value for one in past if not one.component}
    zones = {zone for *_, zone in beside} | {zone for *_, zone in before} | {""}
    found: dict[Spot, Expected] = {}
    for unit in units:
        for version, one in counted.items():
            for zone in zones:
                others = beside.get((str(treatments.get(unit)), version, zone), {})
                values = [mean for other, mean in others.items() if other != unit]
                expected = expected_from(values, before.get((unit, version, zone)), one)
                if expected:
                    found[unit, version, zone] = expected
    return found


def _tells(version: MeasureVersion) -> bool:
    sheet = version.entry_sheet
    ranges = version.ranges
    return tells(sheet.values, sheet.parts, version.unit, ranges.possible)


def _counted(version: MeasureVersion) -> float | None:
    """The value of one thing in a sample, of what is counted."""
    sheet = version.entry_sheet
    if sheet.values != "count":
        return None
    try:
        area = counted_area(sheet, version.settings)
        return made_factor(sheet, version.unit, version.settings) / area if area else 1.0
    except Refused:
        return 1.0
