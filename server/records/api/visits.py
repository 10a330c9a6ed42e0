"""Visits: the sheet, what is typed into it, undo, decisions and notes."""

from __future__ import annotations

from typing import Any, cast
from uuid import UUID

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from apercu_core.measures.catalogue import definition, zero_when_failed
from apercu_core.measures.sheets import SHEETS, unit_of_field
from apercu_core.numbers import read_number
from apercu_core.units import System, shown_in
from apercu_core.words import with_unit
from config.etags import etag_of, saved_unless_changed
from crew.models import Person
from records.api import visit_shapes as shapes
from records.entering import Typed, decide, redo, save_entries, take_back
from records.models import Observation, Visit
from records.visits import (
    Progress,
    figures_of,
    leave_note,
    plan_visit,
    planned_of,
    progress_of,
    samples_wanted,
    standing,
    walking_order,
    without_its_zones,
)
from trials.api.at_site import AT_SITE, season_of
from trials.models import Season, TrialMeasure
from trials.zones import measured_in, shares_in


def _person(request: Request) -> Person:
    return cast(Person, request.user)


def visit_of(request: Request, id: UUID) -> Visit:
    own = Visit.objects.visible_to(_person(request))
    return get_object_or_404(own.select_related("season__trial__workspace", "season__site"), id=id)


def _row_of(request: Request, id: UUID) -> Observation:
    own = Observation.objects.visible_to(_person(request))
    wanted = own.select_related("visit__season__trial__workspace", "unit", "version", "replaces")
    return get_object_or_404(wanted, id=id)


def measure_json(measure: TrialMeasure, season: Season, system: System) -> dict[str, Any]:
    version = measure.version
    sheet, shipped = SHEETS[version.sheet], definition(version.catalogue)
    unit, factor = version.shown_in(system)
    return {
        "id": measure.id,
        "name": version.measure.name,
        "unit": unit,
        "factor": factor,
        "fields": [
            {
                "key": f.key,
                "name": f.name,
                "unit": shown_in(unit_of_field(f, version.unit), system)[0],
                "whole": f.whole,
            }
            for f in sheet.fields
        ],
        "samples": samples_wanted(measure),
        "zones": measured_in(season, measure),
        "formula": sheet.formula,
        "settings": [
            f"{s.name}: {_setting(value, s.unit, system)}"
            for s in sheet.settings
            if (value := version.settings.get(s.key, s.usual)) is not None
        ],
        "pitfall": shipped.pitfall if shipped else "",
        "zero_when_failed": zero_when_failed(version.catalogue),
    }


def _setting(value: float, unit: str, system: System) -> str:
    shown, factor = shown_in(unit, system)
    return with_unit(value * factor, shown)


def as_typed(row: Observation, system: System) -> dict[str, str]:
    """The figures as they were typed; a bare one from a person with other units is given the unit it was meant in."""
    fields: dict[str, str] = row.fields or {"value": row.typed}
    unit = row.version.unit
    meant: System = "metric" if row.typed_unit in ("", unit) else "us"
    if meant == system:
        return fields
    units = {f.key: shown_in(unit_of_field(f, unit), meant)[0] for f in SHEETS[row.version.sheet].fields}
    return {k: f"{v} {units.get(k, '')}".strip() if read_number(v) is not None else v for k, v in fields.items()}


def row_json(row: Observation | None, measures: dict[UUID, UUID], system: System) -> dict[str, Any] | None:
    """`measures`: version → measure of the trial; `system`: the reader's."""
    if row is None:
        return None
    return {
        "id": row.id, "unit": row.unit_id, "measure": measures[row.version_id], "part": row.part,
        "subsample": row.subsample,
        "value": row.value, "fields": as_typed(row, system), "fate": row.fate,
        "missing_reason": row.missing_reason, "by": row.by.name, "at": row.entered_at,
    }  # fmt: skip


def progress_json(progress: Progress) -> dict[str, int]:
    return {"done": progress.done, "begun": progress.begun, "of": progress.of, "contested": progress.contested}


def _rows(visit: Visit) -> list[Observation]:
    return list(standing(visit.observations.all()).select_related("by", "version").order_by("received_at", "id"))


def visit_json(visit: Visit, person: Person) -> Any:
    taken = list(visit.taken.select_related("measure__version__measure"))
    versions = {t.measure.version_id: t.measure_id for t in taken}
    system, shares = cast(System, person.units), shares_in(visit.season)
    everywhere, bare = walking_order(visit), without_its_zones(visit, shares)
    walk = [unit for unit in everywhere if unit.id not in bare]
    rows = [row for row in _rows(visit) if row.version_id in versions]
    shown = [r for r in rows if r.current and (r.value is not None or r.missing_reason)]
    shape = {
        "id": visit.id, "etag": etag_of(planned_of(visit)),
        "trial": visit.season.trial_id, "site": visit.season.site_id,
        "name": visit.name, "due": visit.due, "date": visit.date,
        "measures": [measure_json(t.measure, visit.season, system) for t in taken],
        "order": [unit.id for unit in walk],
        "zones": {str(unit): list(found) for unit, found in shares.items()},
        "rows": [row_json(r, versions, system) for r in shown],
        "contested": [row_json(r, versions, system) for r in rows if r.contested],
        "notes": visit.notes.select_related("by"),
        "progress": progress_json(progress_of(visit, len(everywhere), rows, shares)),
    }  # fmt: skip
    return shapes.VisitOut(shape).data


class TrialVisitView(APIView):
    @extend_schema(parameters=AT_SITE, request=shapes.VisitIn, responses=shapes.VisitOut)
    def put(self, request: Request, id: UUID, visit: UUID) -> Response:
        """Plan a visit under the id that the client made, or change it."""
        season = season_of(request, id)
        given = shapes.VisitIn(data=request.data)
        given.is_valid(raise_exception=True)
        data = given.validated_data

        def shown() -> Any:
            there = season.visits.filter(id=visit).first()
            return there and planned_of(there)

        def current() -> Any:
            return visit_json(season.visits.get(id=visit), _person(request))

        made = saved_unless_changed(
            request, Season.objects.filter(id=season.id), shown,
            lambda: plan_visit(by=_person(request), season=season, id=visit, **data), current, made=visit,
        )  # fmt: skip
        return Response(visit_json(made, _person(request)))


class VisitView(APIView):
    @extend_schema(responses=shapes.VisitOut)
    def get(self, request: Request, id: UUID) -> Response:
        """A visit with its sheet, its walking order and the figures that stand."""
        return Response(visit_json(visit_of(request, id), _person(request)))


class EntriesView(APIView):
    @extend_schema(request=shapes.EntriesIn, responses=shapes.OutcomesOut)
    def put(self, request: Request, id: UUID) -> Response:
        """Keep what was typed, all in one write; each entry says what became of it. Repeating is harmless."""
        visit = visit_of(request, id)
        given = shapes.EntriesIn(data=request.data)
        given.is_valid(raise_exception=True)
        entries = [Typed(**entry) for entry in given.validated_data["entries"]]
        outcomes = save_entries(by=_person(request), visit=visit, entries=entries)
        versions = {t.measure.version_id: t.measure_id for t in visit.taken.all()}
        plots, system = visit.season.units.filter(kind="plot").count(), cast(System, _person(request).units)
        shape = {
            "outcomes": [
                {"id": o.id, "state": o.state, "value": o.value, "message": o.message,
                 "other": row_json(o.other, versions, system)} for o in outcomes
            ],
            "progress": progress_json(
                progress_of(visit, plots, figures_of(visit.observations.all()), shares_in(visit.season))
            ),
        }  # fmt: skip
        return Response(shape)  # plain values of the declared shape; a serializer would take as long as the write


class TakeBackView(APIView):
    @extend_schema(request=shapes.TakeBackIn, responses=shapes.VisitOut)
    def post(self, request: Request, id: UUID) -> Response:
        """Undo an entry by a further row, under the id that the client made."""
        given = shapes.TakeBackIn(data=request.data)
        given.is_valid(raise_exception=True)
        old = _row_of(request, id)
        take_back(by=_person(request), old=old, id=given.validated_data["id"])
        return Response(visit_json(old.visit, _person(request)))


class RedoView(APIView):
    @extend_schema(request=shapes.PlaceIn, responses=shapes.VisitOut)
    def post(self, request: Request, id: UUID) -> Response:
        """Go one step forward again in a place, after an undo."""
        visit = visit_of(request, id)
        given = shapes.PlaceIn(data=request.data)
        given.is_valid(raise_exception=True)
        place = given.validated_data
        taken = get_object_or_404(visit.taken.select_related("measure"), measure=place["measure"])
        row = get_object_or_404(
            visit.observations.select_related("visit__season__trial__workspace", "version__measure", "stands_for"),
            unit=place["unit"], version=taken.measure.version_id, part=place["part"], subsample=place["subsample"],
            current=True,
        )  # fmt: skip
        redo(by=_person(request), at=row, id=place["id"])
        return Response(visit_json(visit, _person(request)))


class DecisionView(APIView):
    @extend_schema(request=shapes.DecisionIn, responses=shapes.VisitOut)
    def post(self, request: Request, id: UUID) -> Response:
        """Settle a conflict: which of the two stays, and why."""
        given = shapes.DecisionIn(data=request.data)
        given.is_valid(raise_exception=True)
        row = _row_of(request, id)
        decide(by=_person(request), contested=row, **given.validated_data)
        return Response(visit_json(row.visit, _person(request)))


class NoteView(APIView):
    @extend_schema(request=shapes.NoteIn, responses=shapes.NoteOut)
    def put(self, request: Request, id: UUID, note: UUID) -> Response:
        """Leave a note about a plot, or about the whole visit."""
        visit = visit_of(request, id)
        given = shapes.NoteIn(data=request.data)
        given.is_valid(raise_exception=True)
        unit = given.validated_data["unit"]
        plot = get_object_or_404(visit.season.units.all(), id=unit) if unit else None
        kept = leave_note(by=_person(request), visit=visit, id=note, unit=plot, text=given.validated_data["text"])
        return Response(shapes.NoteOut(kept).data)
