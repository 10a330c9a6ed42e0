"""How far visits have come, counted in the database and kept with the visit until something is recorded there.

What a write touches is marked by a trigger (migration `counted`), whoever writes, so that nothing has to remember to.
"""

from __future__ import annotations

import hashlib
import uuid
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from django.db import connection, transaction
from django.db.models import Prefetch

from records.models import Visit, VisitMeasure
from trials.zones import Shares, measured_in


@dataclass(frozen=True, slots=True)
class Progress:
    """Plots with all their figures or a reason, of all plots; `begun`: with at least something."""

    done: int
    begun: int
    of: int
    conflicts: int


@dataclass(frozen=True, slots=True)
class _Need:
    """Figures that a plot needs of each measure version; `by_plot`: where zones make it differ."""

    by_version: Mapping[uuid.UUID, int]
    by_plot: Mapping[tuple[uuid.UUID, uuid.UUID], int]
    only: frozenset[uuid.UUID] = frozenset()

    @property
    def key(self) -> str:
        """Of what was needed when it was counted: another need is counted anew."""
        said = [sorted((str(v), n) for v, n in self.by_version.items())]
        said.append(sorted((str(u), str(v), n) for (u, v), n in self.by_plot.items()))  # type: ignore[misc]
        if self.only:
            said.append(sorted(map(str, self.only)))  # type: ignore[arg-type]
        return hashlib.sha256(repr(said).encode()).hexdigest()[:16]


def taken_with_measures() -> Prefetch[Any]:
    """What a visit takes, with all that its sheet needs, in one query."""
    return Prefetch("taken", VisitMeasure.objects.select_related("measure__version__measure"))


def samples_wanted(measure: Any) -> int:
    return int(measure.version.settings.get("frames", 1))


def samples_at(taken: VisitMeasure) -> int:
    """Samples of a plot that this visit takes of the measure."""
    return taken.samples or samples_wanted(taken.measure)


def samples_due(taken: VisitMeasure) -> int:
    """Without which a plot isn't done: one where a sheet asks for one, however many an imported table had of it."""
    return samples_at(taken) if taken.measure.version.entry_sheet.sampled else samples_wanted(taken.measure)


def only_in(visit: Visit) -> frozenset[uuid.UUID]:
    """The plots that are visited, where these aren't all of the season."""
    known: Sequence[uuid.UUID] | None = getattr(visit, "only_ids", None)
    return frozenset(known if known is not None else (unit.pk for unit in visit.only.all()))


def without_its_zones(visit: Visit, shares: Shares) -> set[uuid.UUID]:
    """Plots that have none of the zones in which the visit's measures are taken, so that nothing is taken there."""
    zones = [set(measured_in(visit.season, taken.measure)) for taken in visit.taken.all()]
    if not zones or not all(zones):
        return set()
    return {unit for unit, own in shares.items() if not set().union(*zones) & set(own)}


def progress_of(visits: Sequence[Visit], plots: Mapping[uuid.UUID, int], shares: Mapping[uuid.UUID, Shares]
                ) -> dict[uuid.UUID, Progress]:  # fmt: skip
    """By visit. `plots`, `shares`: of each season; visits come with `taken__measure__version` and their season."""
    of = {v.id: _plots_of(v, plots[v.season_id], shares.get(v.season_id, {})) for v in visits}
    needs = {visit.id: _need(visit, shares.get(visit.season_id, {})) for visit in visits}
    stale = [visit for visit in visits if visit.counted != needs[visit.id].key]
    if stale:
        _count(stale, needs, of)
    return {v.id: Progress(v.done, v.begun, of[v.id], v.conflicts) for v in visits}


def _need(visit: Visit, shares: Shares) -> _Need:
    by_version, by_plot = {}, {}
    for taken in visit.taken.all():
        version, wanted = taken.measure.version_id, samples_due(taken)
        zones = measured_in(visit.season, taken.measure)
        by_version[version] = wanted
        for unit, own in shares.items() if zones else ():
            by_plot[unit, version] = wanted * sum(zone in own for zone in zones)
    return _Need(by_version, by_plot, only_in(visit))


def _plots_of(visit: Visit, plots: int, shares: Shares) -> int:
    """How many plots are visited; the season has so many."""
    bare, only = without_its_zones(visit, shares), only_in(visit)
    return len(only - bare) if only else plots - len(bare)


def _count(
    visits: Sequence[Visit], needs: Mapping[uuid.UUID, _Need], of: Mapping[uuid.UUID, int], *, held: bool = False
) -> None:
    """Count these visits anew, and keep it with each that nobody is writing to just now, or that is `held` locked."""
    own = [visit.id for visit in visits]
    if held:
        _counted(visits, needs, of, own)
        return
    with transaction.atomic():
        free = Visit.objects.select_for_update(skip_locked=True, no_key=True).filter(id__in=own)
        _counted(visits, needs, of, list(free.values_list("id", flat=True)))


_SQL = """
WITH need AS (SELECT * FROM unnest(%(visits)s::uuid[], %(versions)s::uuid[], %(wanted)s::int[])
                AS need(visit_id, version_id, wanted)),
     of_plot AS (SELECT * FROM unnest(%(p_visits)s::uuid[], %(p_units)s::uuid[], %(p_versions)s::uuid[],
                                      %(p_wanted)s::int[]) AS of_plot(visit_id, unit_id, version_id, wanted)),
     place AS (
       SELECT visit_id, unit_id, version_id, max(received_at) AS newest,
              count(*) FILTER (WHERE in_conflict) AS conflicts,
              count(DISTINCT zone || chr(1) || sample)
                FILTER (WHERE current AND (value IS NOT NULL OR missing_reason <> '')) AS figures,
              bool_or(current AND (missing_status <> '' OR (missing_reason <> '' AND bound IS NULL))) AS explained
       FROM records_observation
       WHERE visit_id = ANY(%(own)s)
             AND (visit_id <> ALL(%(c_visits)s::uuid[])
                  OR (visit_id, unit_id) IN (SELECT * FROM unnest(%(c_visits)s::uuid[], %(c_units)s::uuid[])))
       GROUP BY visit_id, unit_id, version_id),
     plot AS (
       SELECT place.visit_id, place.unit_id, max(newest) AS newest, sum(conflicts) AS conflicts,
              count(*) FILTER (WHERE figures > 0 AND need.wanted IS NOT NULL) AS begun,
              count(*) FILTER (WHERE figures > 0 AND coalesce(of_plot.wanted, need.wanted) > 0
                                     AND (explained OR figures >= coalesce(of_plot.wanted, need.wanted))) AS whole
       FROM place LEFT JOIN need USING (visit_id, version_id) LEFT JOIN of_plot USING (visit_id, unit_id, version_id)
       GROUP BY place.visit_id, place.unit_id),
     wanted AS (SELECT visit_id, count(*) AS measures FROM need GROUP BY visit_id),
     spared AS (
       SELECT visit_id, unit_id, count(*) AS measures FROM of_plot WHERE wanted = 0 GROUP BY visit_id, unit_id),
     visit AS (
       SELECT plot.visit_id, max(newest) AS newest, sum(plot.conflicts)::int AS conflicts,
              count(*) FILTER (WHERE begun > 0) AS begun,
              count(*) FILTER (WHERE begun > 0 AND whole >= wanted.measures - coalesce(spared.measures, 0)) AS done
       FROM plot LEFT JOIN wanted USING (visit_id) LEFT JOIN spared USING (visit_id, unit_id) GROUP BY plot.visit_id),
     found AS (
       SELECT own.id, newest, coalesce(conflicts, 0) AS conflicts, coalesce(begun, 0) AS begun,
              coalesce(done, 0) AS done,
              own.plots > 0 AND coalesce(done, 0) >= own.plots AS whole, own.key
       FROM unnest(%(own)s::uuid[], %(keys)s::text[], %(plots)s::int[]) AS own(id, key, plots)
            LEFT JOIN visit ON visit.visit_id = own.id),
     kept AS (
       UPDATE records_visit SET counted = found.key, newest = found.newest, conflicts = found.conflicts,
              begun = found.begun, done = found.done, whole = found.whole
       FROM found WHERE records_visit.id = found.id AND found.id = ANY(%(free)s::uuid[]))
SELECT id, newest, conflicts, begun, done, whole FROM found
"""


def _counted(
    visits: Sequence[Visit], needs: Mapping[uuid.UUID, _Need], of: Mapping[uuid.UUID, int], free: list[uuid.UUID]
) -> None:
    need = [(v.id, version, n) for v in visits for version, n in needs[v.id].by_version.items()]
    of_plot = [(v.id, unit, version, n) for v in visits for (unit, version), n in needs[v.id].by_plot.items()]
    chosen = [(v.id, unit) for v in visits for unit in needs[v.id].only]
    given: dict[str, Any] = {"own": [visit.id for visit in visits], "free": free}
    given |= {"keys": [needs[v.id].key for v in visits], "plots": [of[v.id] for v in visits]}
    for i, name in enumerate(("visits", "versions", "wanted")):
        given[name] = [row[i] for row in need]
    for i, name in enumerate(("p_visits", "p_units", "p_versions", "p_wanted")):
        given[name] = [row[i] for row in of_plot]
    given |= {"c_visits": [visit for visit, _ in chosen], "c_units": [unit for _, unit in chosen]}
    by_id = {visit.id: visit for visit in visits}
    with connection.cursor() as cursor:
        cursor.execute(_SQL, given)
        for id, *counts in cursor.fetchall():
            visit = by_id[id]
            visit.newest, visit.conflicts, visit.begun, visit.done, visit.whole = counts
            visit.counted = needs[id].key


def progress_in(visit: Visit, plots: int, shares: Shares, *, held: bool = False) -> Progress:
    """Of one visit; its season has so many plots, with these zones. `held`: this transaction has locked the visit."""
    of = _plots_of(visit, plots, shares)
    need = _need(visit, shares)
    if visit.counted != need.key:
        _count([visit], {visit.id: need}, {visit.id: of}, held=held)
    return Progress(visit.done, visit.begun, of, visit.conflicts)
