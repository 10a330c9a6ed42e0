"""Visits: planned, changed, walked, and what was noted at them."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
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
    """Plan a visit, or change one; the same again is harmless. Each measure is taken at one visit."""
    require(by, "plan", season)
    with transaction.atomic():
        take_turns(id)
        # Two visits that are planned at once would else both take the same measure.
        list(Season.objects.select_for_update(of=("self",), no_key=True).filter(pk=season.pk))
        visit = made_before(Visit, id, season_id=season.id)
        visit = visit or Visit(id=id, season=season, order=season.visits.count())
        visit.name, visit.due, visit.counted = name.strip(), due, None
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
            raise Refused("bad-specification", "A measure of this visit isn’t one of the trial’s. Open the page again.")
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
