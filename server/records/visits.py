"""Visits: planned, changed, walked, and what was noted at them."""

from __future__ import annotations

import uuid
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from typing import Any

from django.db import transaction
from django.db.models import Min

from apercu_core.errors import Place, Refused
from apercu_core.field.layout import Rectangle
from apercu_core.field.observers import Allotment, allot
from apercu_core.field.sample_places import Placement
from apercu_core.field.walking import serpentine
from config import clock
from config.client_ids import made_before
from config.problems import Conflict
from config.turns import take_turns
from crew.models import Person, Workspace
from crew.permissions import MAY, require
from records.models import Note, Observer, Visit, VisitMeasure
from records.places import forget_unwalked
from records.progress import only_in, samples_at, samples_wanted
from trials.models import Season, Unit, UnitKind
from trials.recorded import share_season


@dataclass(frozen=True, slots=True)
class HowWalked:
    """How a visit is walked. `samples`: of a plot, by measure, where it isn't as many as the measure has; `plots`: by
    label, none: all; `observers`: who counts, in order; `blind`: None where the measures say; `bearing`, `spacing`:
    of a transect, degrees from north and m from sample to sample; `walked`: the day, where a person says it.
    """

    placement: Placement = "stratified"
    samples: Mapping[uuid.UUID, int] = field(default_factory=dict)
    plots: Sequence[str] = ()
    observers: Sequence[uuid.UUID] = ()
    blind: bool | None = None
    guess_first: bool = False
    bearing: float | None = None
    spacing: float | None = None
    walked: date | None = None


def plan_visit(
    *, by: Person, season: Season, id: uuid.UUID, name: str, due: date | None, measures: Sequence[uuid.UUID],
    how: HowWalked | None = None,
) -> Visit:  # fmt: skip
    """Plan a visit, or change one; the same again is harmless. Only visits of a series share a measure.

    `how`: None leaves it as it was, or as is usual for a new one.
    """
    require(by, "plan", season)
    with transaction.atomic():
        take_turns(id)
        # Two visits that are planned at once would else both take the same measure.
        list(Season.objects.select_for_update(of=("self",), no_key=True).filter(pk=season.pk))
        visit = made_before(Visit, id, season_id=season.id)
        how = how or (HowWalked() if visit is None else None)
        visit = visit or Visit(id=id, season=season, order=season.visits.count())
        if due != visit.due:
            visit.timing = None  # a person set the date
        visit.name, visit.due, visit.counted = name.strip(), due, None
        if how is not None:
            _require_transect(how)
            if how.placement != visit.placement:
                forget_unwalked(visit)
            visit.bearing, visit.spacing = how.bearing, how.spacing
            visit.placement, visit.blind, visit.guess_first = how.placement, how.blind, how.guess_first
            _say_walked(visit, season, how.walked)
        visit.save()
        _take(visit, season, measures)
        if how is not None:
            _walk_so(visit, season, how)
    return visit


def _say_walked(visit: Visit, season: Season, walked: date | None) -> None:
    """The day on which the plots were looked at, or that of the first entry again where nobody says it any more."""
    if walked == visit.walked:
        return
    zone = season.site.time_zone
    if walked and walked > clock.today(zone):
        what = "This day lies ahead. Enter the day on which the plots were walked."
        raise Refused("bad-value", what, [Place("how.walked", what)])
    first = visit.observations.aggregate(first=Min("entered_at"))["first"]
    visit.walked, visit.date = walked, walked or (clock.date_at(first, zone) if first else None)


def _require_transect(how: HowWalked) -> None:
    if how.placement != "transect":
        return
    missing = {"bearing": "Type which way the transect runs." if how.bearing is None else "",
               "spacing": "Type how far the samples lie apart." if how.spacing is None else ""}  # fmt: skip
    places = [Place(f"how.{where}", what) for where, what in missing.items() if what]
    if places:
        raise Refused("bad-value", "A transect needs a direction and a spacing.", places)


def _walk_so(visit: Visit, season: Season, how: HowWalked) -> None:
    """Plots, people and numbers of samples of a visit that is saved."""
    plots = {u.label: u for u in season.units.filter(kind=UnitKind.PLOT)}
    if unknown := [label for label in how.plots if label not in plots]:
        raise Refused("bad-value", f"There is no plot {unknown[0]!r} on the map. Check the list of plots.")
    visit.only.set([plots[label] for label in how.plots])
    may = {p.id: p for p in may_record(season.trial.workspace)}
    if any(person not in may for person in how.observers):
        raise Refused("bad-value", "Somebody of this list can’t enter records here. Open the page again.")
    visit.observers.exclude(person__in=how.observers).delete()
    for order, person in enumerate(how.observers):
        Observer.objects.update_or_create(visit=visit, person=may[person], defaults={"order": order})
    for taken in visit.taken.select_related("measure__version__measure"):
        wanted = how.samples.get(taken.measure_id) or None
        usual = samples_wanted(taken.measure)
        if not taken.measure.version.entry_sheet.sampled:
            if wanted not in (None, samples_at(taken)):
                raise Refused("bad-value", f"{taken.measure.version.measure.name} is one entry of each plot.")
            continue  # an imported table may have had several
        wanted = None if wanted == usual else wanted
        if wanted != taken.samples:
            _require_none_beyond(visit, taken, wanted or usual)
            taken.samples = wanted
            taken.save(update_fields=["samples"])


def _require_none_beyond(visit: Visit, taken: VisitMeasure, samples: int) -> None:
    rows = visit.observations.filter(version=taken.measure.version_id, current=True, sample__gt=samples)
    if rows.exclude(value=None, missing_reason="").exists():
        name = taken.measure.version.measure.name
        raise Conflict(
            f"There are records of {name} beyond sample {samples} of a plot, so it can’t have fewer samples."
        )


def may_record(workspace: Workspace) -> list[Person]:
    """Who may enter records in a workspace, by name."""
    roles = [role for role, acts in MAY.items() if "record" in acts]
    return list(Person.objects.filter(memberships__workspace=workspace, memberships__role__in=roles).order_by("name"))


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
                visit.placement = HowWalked().placement
                visit.name, visit.due, visit.timing = one.name.strip()[:120], one.due, one.timing
                visit.save()
                _take(visit, season, measures)
            made.append(visit)
    return made


def planned_of(visit: Visit) -> dict[str, Any]:
    """What a save of a visit's plan replaces; what was recorded at it isn't part of it."""
    measures = [[str(taken.measure_id), taken.samples] for taken in visit.taken.all()]
    return {
        "name": visit.name, "due": visit.due, "measures": measures, "plots": sorted(map(str, only_in(visit))),
        "observers": [str(one.person_id) for one in visit.observers.all()], "placement": visit.placement,
        "blind": visit.blind, "guess_first": visit.guess_first, "bearing": visit.bearing, "spacing": visit.spacing,
        "walked": visit.walked,
    }  # fmt: skip


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


def is_blind(visit: Visit) -> bool:
    """Whether treatment names are hidden: as somebody set it, else where a measure is a score."""
    if visit.blind is not None:
        return visit.blind
    return any(taken.measure.version.entry_sheet.values == "score" for taken in visit.taken.all())


def allotment_of(visit: Visit, walk: Sequence[Unit]) -> Allotment:
    """Blocks of each observer, by the person's id, in the order in which the plots are walked."""
    blocks: dict[str, int] = {}
    for unit in walk:
        blocks[unit.block] = blocks.get(unit.block, 0) + 1
    return allot([str(one.person_id) for one in visit.observers.all()], blocks)


def leave_note(*, by: Person, visit: Visit, id: uuid.UUID, unit: Unit | None, text: str) -> Note:
    """Keep words about a plot or the visit; the same id again is harmless."""
    require(by, "record", visit)
    if not text.strip():
        raise Refused("bad-value", "The note is empty. Write a few words, or close it.")
    with transaction.atomic():
        take_turns(id)
        share_season(visit.season_id)
        there = made_before(Note, id, visit_id=visit.id)
        return there or Note.objects.create(id=id, visit=visit, unit=unit, text=text.strip(), by=by, at=clock.now())


def walking_order(visit: Visit) -> list[Unit]:
    """The plots of a visit as one walks them, with their ground, block and treatment."""
    units = visit.season.units.filter(kind=UnitKind.PLOT).select_related("parent", "ground", "treatment")
    if only := only_in(visit):
        units = units.filter(pk__in=only)
    plots = [(u, u.ground) for u in units if u.ground]
    order = serpentine([Rectangle(g.x_m, g.y_m, g.width_m, g.length_m) for _, g in plots])
    return [plots[i][0] for i in order]
