"""What stands in the plots of a season: rows → the samples of each measure, of one visit or over several."""

from __future__ import annotations

import uuid
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime
from typing import Any, cast

from django.db.models import Min

from apercu_core.field.zones import weighted_mean
from apercu_core.measures.over_visits import OverVisits, VisitValues, over_visits
from apercu_core.numbers import read_number
from apercu_core.reading.asked import Blinding, Occasion
from config import clock
from library.models import MeasureKind
from records.models import MissingStatus, Observation, Source, VisitMeasure
from trials.models import Season, TrialMeasure
from trials.zones import Shares, measured_in, shares_in

Samples = dict[str, list[float | None]]


@dataclass(frozen=True, slots=True)
class MeasureValues:
    """`samples`: plot → samples in the stored unit; `examined`: beside them, the n of each k of n, None for what isn't
    one; `ids`: observations beside the samples, where each sample is one; `failed`: plots whose treatment failed;
    `beyond`: plots whose value lies beyond what was measured; `set_aside`: plots whose values a trouble set aside;
    `visits`: how many of them each value is the mean or the sum of; `by_part`: part → plot → samples, where the measure
    is told by parts; `unsaid`: part → in how many samples that have others it has no entry, and counts as none;
    `blinding`: whether treatment names were hidden where the entries were made.
    """

    samples: Samples
    examined: Samples | None
    ids: dict[str, list[str]]
    failed: tuple[str, ...]
    beyond: tuple[str, ...]
    set_aside: tuple[str, ...]
    occasion: Occasion | None
    visits: int
    by_part: Mapping[str, Samples]
    unsaid: Mapping[str, int]
    blinding: Blinding


@dataclass(slots=True)
class _AtVisit:
    """What one visit has of one measure; `joined`: plot → zone → values that make one sample together; `told`: plot →
    zone and sample → part → value.
    """

    samples: Samples = field(default_factory=dict)
    examined: Samples = field(default_factory=dict)
    ids: dict[str, list[str]] = field(default_factory=dict)
    failed: list[str] = field(default_factory=list)
    beyond: set[str] = field(default_factory=set)
    set_aside: set[str] = field(default_factory=set)
    joined: dict[uuid.UUID, dict[str, list[float | None]]] = field(default_factory=dict)
    told: dict[uuid.UUID, dict[tuple[str, int], dict[str, float | None]]] = field(default_factory=dict)
    by_part: dict[str, Samples] = field(default_factory=dict)
    unsaid: dict[str, int] = field(default_factory=dict)
    blinding: Counter[bool | None] = field(default_factory=Counter)

    def clear(self, label: str) -> None:
        self.samples[label], self.examined[label], self.ids[label] = [], [], []


def rule_of(measure: TrialMeasure) -> OverVisits:
    """What its value is where it was taken at several visits."""
    return cast(OverVisits, measure.over_visits or measure.version.usual_over_visits)


def values_in(
    season: Season, measures: Sequence[TrialMeasure], labels: Mapping[Any, str], lost: Mapping[str, date]
) -> dict[str, MeasureValues]:
    """By measure id. `labels`: of the plots, by id; `lost`: plot label → the day from which a trouble lost it."""
    visits: dict[str, list[tuple[uuid.UUID, str, date | None]]] = {str(m.id): [] for m in measures}
    taken = VisitMeasure.objects.filter(visit__season=season).order_by("visit__date", "visit__due", "visit__order")
    for measure, visit, name, day in taken.values_list("measure_id", "visit_id", "visit__name", "visit__date"):
        visits[str(measure)].append((visit, name, day))
    found = _by_visit(season, measures, labels, lost)
    return {str(m.id): _together(m, visits[str(m.id)], found, labels, bool(measured_in(season, m))) for m in measures}


def _by_visit(
    season: Season, measures: Sequence[TrialMeasure], labels: Mapping[Any, str], lost: Mapping[str, date]
) -> dict[tuple[str, uuid.UUID], _AtVisit]:
    """What stands, by measure and visit. A missing status speaks for the whole plot at its visit, whatever was counted
    there before; so does a trouble that lost the plot, from its day on.

    Where a measure is taken in zones, the plot has one value, their weighted mean, and no single observation to it.
    """
    zones = {str(m.id): measured_in(season, m) for m in measures}
    shares: Shares = shares_in(season) if any(zones.values()) else {}
    measure_of = {m.version_id: str(m.id) for m in measures}
    made = {str(m.id): m.version.entry_sheet.parts_make for m in measures}
    of_cover = {str(m.id): m.version.zero_when_failed for m in measures}
    found: dict[tuple[str, uuid.UUID], _AtVisit] = {}
    rows = (
        Observation.objects.filter(visit__season=season, current=True, version__in=list(measure_of), unit__kind="plot")
        .exclude(value=None, missing_reason="")
        .order_by("missing_status", "visit__order", "sample", "id")
        .values_list("id", "version_id", "visit_id", "unit_id", "value", "missing_status", "zone", "fields",
                     "visit__date", "component", "sample", "blind", "bound", "visit__walked", "source", "entered_at",
                     "why")
    )  # fmt: skip
    first = _first_looks(season, list(measure_of), lost, labels) if lost else {}
    zone_of_site = season.site.time_zone
    # Missing ones come last.
    for (id, version, visit, unit, value, missing_status, zone, fields, day, part, sample, blind, bound, walked, source,
         entered, why) in rows:  # fmt: skip
        measure, label = measure_of[version], labels[unit]
        at = found.setdefault((measure, visit), _AtVisit())
        if label in lost:
            if walked is None and source != Source.FILE:
                looked = first.get((visit, version, unit, zone, part, sample), entered) if why else entered
                day = clock.date_at(looked, zone_of_site)
            looked_on = walked or day
            if looked_on is not None and looked_on >= lost[label]:
                if value is not None:
                    at.set_aside.add(label)
                value, missing_status = None, MissingStatus.DAMAGED  # what stands isn't the treatment's any more
        if value is not None and not missing_status:
            at.blinding[blind] += 1
        if bound is not None and not missing_status:
            at.beyond.add(label)
        if part and not missing_status:
            at.told.setdefault(unit, {}).setdefault((zone, sample), {})[part] = value
            continue
        if zones[measure] and not missing_status:
            at.joined.setdefault(unit, {}).setdefault(zone, []).append(value)
            continue
        if missing_status or label not in at.samples:
            at.clear(label)
        if missing_status:
            at.joined.pop(unit, None)
            at.told.pop(unit, None)
            at.beyond.discard(label)
        if missing_status == MissingStatus.FAILED and not of_cover[measure]:
            value = None  # kept by an earlier release, which took every failed plot for a zero
        elif missing_status == MissingStatus.FAILED:
            at.failed.append(label)
        at.samples[label].append(value)
        at.examined[label].append(read_number(str(fields.get("n", ""))))
        at.ids[label].append(str(id))
    for (measure, _), at in found.items():
        _add_up(at, labels, made[measure])
        for unit, values in at.joined.items():
            own = {zone: share for zone, share in shares.get(unit, {}).items() if zone in zones[measure]}
            at.samples.setdefault(labels[unit], []).append(weighted_mean(values, own))
            at.ids.setdefault(labels[unit], [])
        for label in at.beyond:  # the mean of its other samples isn't that of the plot
            at.samples[label] = [None] * len(at.samples[label])
    return found


def _first_looks(
    season: Season, versions: Sequence[Any], lost: Mapping[str, date], labels: Mapping[Any, str]
) -> dict[tuple[Any, ...], datetime]:
    """When each place of the lost plots was first entered: a value that is corrected later was looked at then."""
    units = [unit for unit, label in labels.items() if label in lost]
    places = ("visit_id", "version_id", "unit_id", "zone", "component", "sample")
    rows = Observation.objects.filter(visit__season=season, version__in=versions, unit__in=units)
    return {tuple(row[name] for name in places): row["first"] for row in
            rows.values(*places).annotate(first=Min("entered_at")).order_by()}  # fmt: skip


def _add_up(at: _AtVisit, labels: Mapping[Any, str], make: str) -> None:
    """One value of each sample that is told by parts: their sum or, of layers, their mean. A part that isn't told of a
    sample wasn't there; one that is missing with a reason leaves the sample without a sum. A mean needs every layer,
    since it would be another thing's without one.
    """
    parts = sorted({part for samples in at.told.values() for found in samples.values() for part in found})
    for unit, samples in at.told.items():
        for (zone, _), found in sorted(samples.items()):
            known = [value for value in found.values() if value is not None]
            total = sum(known) if len(known) == len(found) else None
            if make == "mean":
                total = sum(known) / len(parts) if len(known) == len(parts) else None
            if zone:
                at.joined.setdefault(unit, {}).setdefault(zone, []).append(total)
                continue
            at.samples.setdefault(labels[unit], []).append(total)
            for part in parts:
                at.by_part.setdefault(part, {}).setdefault(labels[unit], []).append(
                    found.get(part, None if make == "mean" else 0.0)
                )
                at.unsaid[part] = at.unsaid.get(part, 0) + (make != "mean" and part not in found)
        at.ids.setdefault(labels[unit], [])


def _parts_together(
    rule: OverVisits, visits: Sequence[VisitValues], used: Sequence[_AtVisit], make: str
) -> dict[str, Samples]:
    """Each part over the visits that the whole is made of; at a visit without it there was none of it, but for layers,
    of which nothing is known then.
    """
    without = None if make == "mean" else 0.0
    found: dict[str, Samples] = {}
    for part in sorted({part for one in used for part in one.by_part}):
        of_part = [
            VisitValues(
                visit.key, visit.name, visit.day,
                at.by_part.get(part) or {label: [without] * len(values) for label, values in visit.samples.items()},
            )
            for visit, at in zip(visits, used, strict=True)
        ]  # fmt: skip
        found[part] = over_visits(rule, of_part).samples
    return found


def _together(
    measure: TrialMeasure, visits: Sequence[tuple[uuid.UUID, str, date | None]],
    found: Mapping[tuple[str, uuid.UUID], _AtVisit], labels: Mapping[Any, str], zoned: bool,
) -> MeasureValues:  # fmt: skip
    key = str(measure.id)
    begun = [(visit, name, day) for visit, name, day in visits if (key, visit) in found]
    # A visit that a measure was taken from keeps its values for what reads them, though the visit no longer asks.
    begun += [(visit, "", None) for one, visit in found if one == key and all(visit != v for v, _, _ in begun)]
    counted_of = measure.version.kind == MeasureKind.K_OF_N and not zoned
    empty: Samples = {label: [] for label in labels.values()}
    if not begun:
        occasion = Occasion(visits[-1][1], _iso(visits[-1][2])) if visits else None
        return MeasureValues(
            dict(empty),
            dict(empty) if counted_of else None,
            {label: [] for label in empty},
            (),
            (),
            (),
            occasion,
            1,
            {},
            {},
            Blinding(),
        )
    own = [VisitValues(str(visit), name, day, found[key, visit].samples) for visit, name, day in begun]
    combined = over_visits(rule_of(measure), own)
    used = [found[key, visit] for visit, _, _ in begun if str(visit) in combined.used]
    alone = used[0] if len(used) == 1 else _AtVisit()
    return MeasureValues(
        empty | combined.samples,
        (empty | alone.examined) if counted_of else None,
        {label: [] for label in empty} | alone.ids,
        tuple(label for one in used for label in one.failed) if len(used) == 1 else _failed_always(used),
        tuple(label for label in labels.values() if any(label in one.beyond for one in used)),
        tuple(label for label in labels.values() if any(label in one.set_aside for one in used)),
        Occasion(combined.said, _iso(combined.day)),
        combined.taken,
        _parts_together(
            rule_of(measure),
            [one for one in own if one.key in combined.used],
            used,
            measure.version.entry_sheet.parts_make,
        ),
        {part: sum(one.unsaid.get(part, 0) for one in used) for one in used for part in one.unsaid},
        Blinding(*(sum(one.blinding[blind] for one in used) for blind in (True, False, None))),
    )


def _failed_always(used: Sequence[_AtVisit]) -> tuple[str, ...]:
    """Plots that had failed at each of several visits: only then is their mean or sum the zero of a failed cover."""
    return tuple(label for label in used[0].failed if all(label in one.failed for one in used))


def _iso(day: date | None) -> str:
    return day.isoformat() if day else ""
