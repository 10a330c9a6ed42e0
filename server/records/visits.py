"""Visits: planned, changed, walked, and what was noted at them."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

from django.db import transaction

from apercu_core.errors import Refused
from apercu_core.field.layout import Rectangle
from apercu_core.field.walking import serpentine
from config import clock
from config.client_ids import made_before
from config.problems import Conflict
from config.turns import take_turns
from crew.models import Person
from crew.permissions import require
from records.models import Note, Visit, VisitMeasure
from trials.models import Season, Unit, UnitKind


def plan_visit(
    *, by: Person, season: Season, id: uuid.UUID, name: str, due: date | None, measures: Sequence[uuid.UUID]
) -> Visit:
    """Plan a visit, or change one; the same again is harmless. Only visits of a series share a measure."""
    require(by, "plan", season)
    with transaction.atomic():
        take_turns(id)
        # Two visits that are planned at once would else both take the same measure.
        list(Season.objects.select_for_update(of=("self",), no_key=True).filter(pk=season.pk))
        visit = made_before(Visit, id, season_id=season.id)
        visit = visit or Visit(id=id, season=season, order=season.visits.count())
        if due != visit.due:
            visit.timing = None  # a person set the date
        visit.name, visit.due, visit.counted = name.strip(), due, None
        visit.save()
        _take(visit, season, measures)
    return visit


@dataclass(frozen=True, slots=True)
class SeriesDate:
    """One visit of a series. `timing`: what its date follows, as `Visit.timing`; `due`: the date, as far as it is
    known.
    """

    name: str
    due: date | None
    timing: dict[str, Any] | None = None


def plan_visit_series(
    *, by: Person, season: Season, id: uuid.UUID, measures: Sequence[uuid.UUID], dates: Sequence[SeriesDate]
) -> list[Visit]:
    """Plan visits that take the same measures on several days, in one act; the same again is harmless.

    A visit that takes one of the measures already becomes one of the series.
    """
    require(by, "plan", season)
    if not measures:
        raise Refused("bad-specification", "Choose what is taken at these visits.")
    with transaction.atomic():
        take_turns(id)
        locked = Season.objects.select_for_update(of=("self",), no_key=True).filter(pk=season.pk)
        list(locked)
        taking = Visit.objects.filter(season=season, taken__measure__in=measures, series=None)
        Visit.objects.filter(pk__in=list(taking.values_list("pk", flat=True))).update(series=id)
        made = []
        for one in dates:
            own = uuid.uuid5(id, one.name)  # a later day of the same series is another visit
            visit = made_before(Visit, own, season_id=season.id, series=id)
            if visit is None:
                visit = Visit(id=own, season=season, order=season.visits.count(), series=id)
                visit.name, visit.due, visit.timing = one.name.strip()[:120], one.due, one.timing
                visit.save()
                _take(visit, season, measures)
            made.append(visit)
    return made


def planned_of(visit: Visit) -> dict[str, Any]:
    """What a save of a visit's plan replaces; what was recorded at it isn't part of it."""
    measures = [str(taken.measure_id) for taken in visit.taken.all()]
    return {"name": visit.name, "due": visit.due, "measures": measures}


def _take(visit: Visit, season: Season, measures: Sequence[uuid.UUID]) -> None:
    own = {m.id: m for m in season.trial.measures.select_related("version__measure")}
    elsewhere = {t.measure_id: t.visit for t in VisitMeasure.objects.filter(visit__season=season).exclude(visit=visit)
                 .select_related("visit") if not (visit.series and t.visit.series)}  # fmt: skip
    for id in measures:
        if id not in own:
            raise Refused("bad-specification", "A measure of this visit isn’t one of the trial’s. Open the page again.")
        if id in elsewhere:
            raise Refused(
                "bad-specification",
                f"{own[id].version.measure.name} is taken at the visit {elsewhere[id].name!r} already. "
                "Plan several visits in one act to take it again on other days.",
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
