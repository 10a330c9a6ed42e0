"""Visits: planned, changed, and how far they have come."""

from __future__ import annotations

import uuid
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any, NamedTuple

from django.db import transaction
from django.db.models import Q, QuerySet

from apercu_core.design.layout import Rectangle
from apercu_core.design.walking import serpentine
from apercu_core.errors import Refused
from config import clock
from config.client_ids import made_before
from config.problems import Conflict
from config.turns import take_turns
from crew.models import Person
from crew.permissions import require
from records.models import Note, Observation, Visit, VisitMeasure
from trials.models import Season, TrialMeasure, Unit, UnitKind
from trials.zones import Shares, measured_in


def plan_visit(
    *, by: Person, season: Season, id: uuid.UUID, name: str, due: date | None, measures: Sequence[uuid.UUID]
) -> Visit:
    """Plan a visit, or change one; the same again is harmless. Each measure is taken at one visit."""
    require(by, "plan", season)
    with transaction.atomic():
        take_turns(id)
        # Two visits that are planned at once would else both take the same measure.
        list(Season.objects.select_for_update(of=("self",), no_key=True).filter(pk=season.pk))
        visit = made_before(Visit, id, season_id=season.id)
        visit = visit or Visit(id=id, season=season, order=season.visits.count())
        visit.name, visit.due = name.strip(), due
        visit.save()
        _take(visit, season, measures)
    return visit


def planned_of(visit: Visit) -> dict[str, Any]:
    """What a save of a visit's plan replaces; what was recorded at it isn't part of it."""
    measures = [str(taken.measure_id) for taken in visit.taken.all()]
    return {"name": visit.name, "due": visit.due, "measures": measures}


def _take(visit: Visit, season: Season, measures: Sequence[uuid.UUID]) -> None:
    own = {m.id: m for m in season.trial.measures.select_related("version__measure")}
    elsewhere = {t.measure_id: t.visit for t in VisitMeasure.objects.filter(visit__season=season).exclude(visit=visit)
                 .select_related("visit")}  # fmt: skip
    for id in measures:
        if id not in own:
            raise Refused("bad-specification", "A measure of this visit isn't one of the trial's. Open the page again.")
        if id in elsewhere:
            raise Refused(
                "bad-specification",
                f"{own[id].version.measure.name} is taken at the visit {elsewhere[id].name!r} already. "
                "Add a measure of its own for another date, for example with the month in its name.",
            )
    gone = {t.measure_id for t in visit.taken.all()} - set(measures)
    for id in gone:
        if visit.observations.filter(version=own[id].version).exists():
            raise Conflict(f"{own[id].version.measure.name} has records at this visit, so it stays with it.")
    visit.taken.filter(measure__in=gone).delete()
    for order, id in enumerate(measures):
        VisitMeasure.objects.update_or_create(visit=visit, measure=own[id], defaults={"order": order})


def leave_note(*, by: Person, visit: Visit, id: uuid.UUID, unit: Unit | None, text: str) -> Note:
    """Keep words about a plot or the visit; the same id again is harmless."""
    require(by, "record", visit)
    if not text.strip():
        raise Refused("bad-value", "The note is empty. Write a few words, or close it.")
    with transaction.atomic():
        take_turns(id)
        there = made_before(Note, id, visit_id=visit.id)
        return there or Note.objects.create(id=id, visit=visit, unit=unit, text=text.strip(), by=by, at=clock.now())


def walking_order(visit: Visit) -> list[Unit]:
    """The plots of a visit as one walks them, with their ground, block and treatment."""
    units = visit.season.units.filter(kind=UnitKind.PLOT).select_related("parent", "ground", "treatment")
    plots = [(u, u.ground) for u in units if u.ground]
    order = serpentine([Rectangle(g.x_m, g.y_m, g.width_m, g.length_m) for _, g in plots])
    return [plots[i][0] for i in order]


@dataclass(frozen=True, slots=True)
class Progress:
    """Plots with all their figures or a reason, of all plots; `begun`: with at least something."""

    done: int
    begun: int
    of: int
    contested: int


def samples_wanted(measure: TrialMeasure) -> int:
    return int(measure.version.settings.get("frames", 1))


class Figure(NamedTuple):
    """What progress needs of an observation; a tuple, since a season has thousands."""

    visit_id: uuid.UUID
    unit_id: uuid.UUID
    version_id: uuid.UUID
    value: float | None
    fate: str
    missing_reason: str
    current: bool
    contested: bool


def standing(observations: QuerySet[Observation]) -> QuerySet[Observation]:
    """Those that stand, and those that wait for a decision beside them."""
    return observations.filter(Q(current=True) | Q(contested=True))


def figures_of(observations: QuerySet[Observation]) -> list[Figure]:
    return [Figure(*row) for row in standing(observations).values_list(*Figure._fields)]


def without_its_zones(visit: Visit, shares: Shares) -> set[uuid.UUID]:
    """Plots that have none of the zones in which the visit's measures are taken, so that nothing is taken there."""
    zones = [set(measured_in(visit.season, taken.measure)) for taken in visit.taken.all()]
    if not zones or not all(zones):
        return set()
    return {unit for unit, own in shares.items() if not set().union(*zones) & set(own)}


def progress_of(
    visit: Visit, plots: int, rows: Iterable[Figure | Observation], shares: Shares | None = None
) -> Progress:
    """`rows`: the visit's standing figures; `plots`: the season has; `shares`: of their zones, if any."""
    plots -= len(without_its_zones(visit, shares or {}))
    wanted = {taken.measure.version_id: samples_wanted(taken.measure) for taken in visit.taken.all()}
    zones = {taken.measure.version_id: measured_in(visit.season, taken.measure) for taken in visit.taken.all()}

    def needed(unit: uuid.UUID, version: uuid.UUID) -> int:
        of_plot = (shares or {}).get(unit, {})
        places = sum(zone in of_plot for zone in zones[version]) if zones[version] else 1
        return wanted[version] * places

    have: dict[uuid.UUID, dict[uuid.UUID, int]] = {}
    contested = 0
    for row in rows:
        if row.contested:
            contested += 1
        if row.current and (row.value is not None or row.missing_reason) and row.version_id in wanted:
            of_plot = have.setdefault(row.unit_id, {})
            of_plot[row.version_id] = of_plot.get(row.version_id, 0) + (10**6 if row.fate or row.missing_reason else 1)
    done = sum(all(found.get(v, 0) >= needed(unit, v) for v in wanted) for unit, found in have.items()) if wanted else 0
    return Progress(done, len(have), plots, contested)
