"""The data package of a season."""

from __future__ import annotations

import copy
from typing import Any, cast

from apercu_core.reading.asked import How
from apercu_core.tables.package import Bounded, InZone, PackagedMeasure, PackagedTrial, column_of, write_package
from apercu_core.verdicts.verdict import Direction
from crew.models import Person
from readings.actions import default_method, read_season
from readings.bridge import Given, gather, planned_at, shown_area
from records.models import Observation
from trials.models import Season
from trials.own_controls import named_controls
from trials.zones import shares_in


def data_package(*, by: Person, season: Season) -> bytes:
    """The ZIP (`apercu_core.tables.package` says what is in it); the same bytes for the same trial and reading."""
    stored = _result(by, season)
    given = gather(season)
    measures = tuple(
        PackagedMeasure(
            column_of(m.version.measure.name, m.version.unit), m.version.measure.name, m.version.unit, m.margin,
            m.margin_kind, cast(Direction, m.direction), planned_at(m, given.names)[0],
            m.own_controls["said"] if m.own_controls else given.names.get(str(m.control_id), ""),
            planned_at(m, given.names)[1],
            m.primary, shown_area(m, given),
            named_controls(m.own_controls, given.names),
        )
        for m in given.measures
    )  # fmt: skip
    trial = season.trial
    described = PackagedTrial(
        trial.name,
        trial.question,
        given.facts.control,
        given.facts.allocation,
        measures,
        given.facts.more_controls,
        _beyond(season, given),
    )
    samples = [given.samples[str(m.id)] for m in given.measures]
    zones = _in_zones(season, given) if season.by_zone else []
    return write_package(described, given.facts.plots, samples, _plan(season), stored, zones)


def _result(by: Person, season: Season) -> dict[str, Any]:
    """The results in stored units, so that the same trial gives the same bytes whoever asks; none until opened."""
    if season.results_opened_at is None:
        return {}
    metric = copy.copy(by)
    metric.units = "metric"
    seen = read_season(by=metric, season=season, how=How(method=default_method(season)))
    return {"identity": seen.identity, **seen.result}


def _beyond(season: Season, given: Given) -> tuple[Bounded, ...]:
    """What lies beyond what was measured, in stored units, of the plots that the reading names for it."""
    measures = {m.version_id: m for m in given.measures if given.beyond.get(str(m.id))}
    rows = (
        Observation.objects.filter(visit__season=season, current=True, version__in=list(measures), missing_status="")
        .exclude(bound=None)
        .select_related("unit", "visit")
        .order_by("unit__order", "visit__order", "zone", "component", "sample")
    )
    found = []
    for row in rows:
        measure = measures[row.version_id]
        version, label = measure.version, row.unit.label
        if row.bound is not None and label in given.beyond[str(measure.id)]:
            column, side = column_of(version.measure.name, version.unit), version.entry_sheet.beyond_side
            found.append(Bounded(label, column, row.visit.name, row.zone, row.component, row.sample, side, row.bound))
    return tuple(found)


def _in_zones(season: Season, given: Given) -> list[InZone]:
    """What was found in each zone, in stored units."""
    shares = shares_in(season)
    names = {m.version_id: column_of(m.version.measure.name, m.version.unit) for m in given.measures}
    rows = (
        Observation.objects.filter(visit__season=season, current=True, version__in=list(names))
        .exclude(zone="")
        .exclude(value=None, missing_reason="")
        .select_related("unit")
        .order_by("unit__order", "visit__order", "zone", "sample")
    )
    return [
        InZone(
            row.unit.label, names[row.version_id], row.zone, shares.get(row.unit_id, {}).get(row.zone, 0.0),
            row.sample, row.value,
        )
        for row in rows
    ]  # fmt: skip


def _plan(season: Season) -> dict[str, Any]:
    """The design with its seed, the site, and where each plot lies, in metres."""
    site = season.site
    plots = [
        {"plot": u.label, "x_m": u.ground.x_m, "y_m": u.ground.y_m, "width_m": u.ground.width_m,
         "length_m": u.ground.length_m,
         **{name: within for name in ("whole_plot", "incomplete_block") if (within := getattr(u, name))}}
        for u in season.units.plots().select_related("ground") if u.ground  # type: ignore[attr-defined]
    ]  # fmt: skip
    return {
        "design": season.design, "seed": season.seed, "algorithm": season.algorithm, "blocks": season.blocks,
        "starts": season.starts and season.starts.isoformat(), "ends": season.ends and season.ends.isoformat(),
        "site": {"name": site.name, "place": site.place, "soil": site.soil, "bearing_deg": site.bearing_deg},
        "zones": season.zones,
        "changed_by_hand": [one["said"] for one in season.moved],
        "treatments": [
            {"name": t.name, "code": t.code, "is_control": t.is_control, "levels": t.levels, "details": t.details}
            for t in season.trial.treatments.all()
        ],
        "plots": plots,
    }  # fmt: skip
