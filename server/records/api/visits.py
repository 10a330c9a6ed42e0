"""Visits: the sheet, what is typed into it, undo, decisions and notes."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from functools import cache, reduce
from operator import or_
from typing import Any, cast
from uuid import UUID

from django.contrib.postgres.expressions import ArraySubquery
from django.db.models import OuterRef, Q, prefetch_related_objects
from django.shortcuts import get_object_or_404
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from apercu_core.amounts import amounts_in
from apercu_core.measures.catalogue import definition
from apercu_core.measures.entries import readings_in, unit_of_field
from apercu_core.measures.parts import COMMON
from apercu_core.measures.rules import for_device
from apercu_core.measures.settings import choices_of, settings_for
from apercu_core.measures.sheet import Settings, Sheet, SheetField
from apercu_core.numbers import read_number
from apercu_core.units import System, shown_in
from apercu_core.words import with_unit
from config.etags import IF_MATCH, etag_of, saved_unless_changed
from crew.models import Person
from records.api import visit_shapes as shapes
from records.device_clock import clock_off, corrected, said
from records.entering import GUESS, Typed, decide, redo, save_entries, undo
from records.models import Observation, Visit, VisitMeasure
from records.neighbours import expected_at, with_means
from records.past import past_of
from records.places import Places, places_at
from records.progress import Progress, progress_in, samples_at, samples_due, taken_with_measures, without_its_zones
from records.visits import (
    HowWalked,
    allotment_of,
    is_blind,
    leave_note,
    plan_visit,
    planned_of,
    walking_order,
)
from trials.action_thresholds import keep_action_threshold
from trials.api.at_site import AT_SITE, season_of
from trials.measure_parts import keep_parts, parts_of
from trials.models import Season, TrialMeasure, Unit
from trials.zones import measured_in, shares_in


def _person(request: Request) -> Person:
    return cast(Person, request.user)


def visit_of(request: Request, id: UUID) -> Visit:
    own = Visit.objects.with_role_of(_person(request)).select_related("season__trial__workspace", "season__site")
    return get_object_or_404(with_means(own.annotate(**_chosen_plots())), id=id)


@cache
def _chosen_plots() -> dict[str, ArraySubquery]:
    """Which plots of a visit's season are visited."""
    return {"only_ids": ArraySubquery(Visit.only.through.objects.filter(visit=OuterRef("pk")).values("unit"))}


def _row_of(request: Request, id: UUID) -> Observation:
    own = Observation.objects.with_role_of(_person(request))
    wanted = own.select_related("visit__season__trial__workspace", "unit", "version", "replaces")
    return get_object_or_404(wanted, id=id)


def measure_json(taken: VisitMeasure, season: Season, system: System) -> dict[str, Any]:
    measure = taken.measure
    version = measure.version
    sheet, shipped = version.entry_sheet, definition(version.catalogue)
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
                "kind": f.kind,
                "optional": f.optional,
                "choices": choices_of(f, version.settings),
                "timed": f.timed,
                "depths": _depths(f, sheet, version.settings, system),
            }
            for f in sheet.fields
        ],
        "samples": samples_at(taken),
        "samples_due": samples_due(taken),
        "sample_name": sheet.sample_name,
        "part_kind": sheet.parts,
        "parts": [asdict(one) for one in parts_of(measure)],
        "common_parts": COMMON.get(shipped.common_parts, ()) if shipped else (),
        "zones": measured_in(season, measure),
        "formula": sheet.said,
        "settings": [
            f"{s.name}: {_setting(value, s.unit, system)}"
            for s in sheet.settings
            if s.key != "frames"  # `samples` says how many this visit takes
            and (value := version.settings.get(s.key, s.usual)) is not None
        ],
        "pitfall": amounts_in(shipped.pitfall, system) if shipped else "",
        "watched": version.settings.get(sheet.watched) if sheet.watched else None,
        "zero_when_failed": version.zero_when_failed,
        "by_photograph": version.catalogue == GREEN_COVER,
        "counted_on_photograph": (
            sheet.area == "area" and not sheet.disturbs and [field.key for field in sheet.fields] == ["count"]
        ),
        "beyond": sheet.beyond_side,
        "rules": for_device(
            sheet,
            version.settings,
            version.unit,
            system,
            version.ranges,
        ),
    }


def _depths(field: SheetField, sheet: Sheet, settings: Settings, system: System) -> dict[str, Any] | None:
    lies = field.spaced
    if lies is None:
        return None
    held = settings_for(sheet, settings)
    unit, factor = shown_in(next(one.unit for one in sheet.settings if one.key == lies.first), system)
    limit = held[lies.limit] * shown_in(field.unit, system)[1] if lies.limit else None
    return {"first": held[lies.first] * factor, "step": held[lies.step] * factor, "unit": unit, "limit": limit}


def _setting(value: float, unit: str, system: System) -> str:
    shown, factor = shown_in(unit, system)
    return with_unit(value * factor, shown)


def as_typed(row: Observation, system: System) -> dict[str, str]:
    """The figures as they were typed; a bare one from a person with other units is given the unit it was meant in."""
    fields: dict[str, str] = row.fields or {"value": row.typed}
    unit, meant = row.version.unit, cast(System, row.units)
    if meant == system:
        return fields
    own = row.version.entry_sheet.fields
    of = {f.key: f for f in own} | {GUESS: own[0]}  # what is guessed has one field
    return {key: _said_in(text, shown_in(unit_of_field(of[key], unit), meant)[0], of[key].kind) if key in of else text
            for key, text in fields.items()}  # fmt: skip


def _said_in(text: str, unit: str, kind: str) -> str:
    if kind == "readings":
        return "; ".join(_said_in(one, unit, "number") for one in readings_in(text))
    return f"{text} {unit}".strip() if read_number(text) is not None else text


def row_json(row: Observation | None, measures: dict[UUID, UUID], system: System) -> dict[str, Any] | None:
    """`measures`: version → measure of the trial; `system`: the reader's."""
    if row is None:
        return None
    return {
        "id": row.id, "unit": row.unit_id, "measure": measures[row.version_id], "zone": row.zone,
        "component_kind": row.component_kind, "component": row.component, "sample": row.sample,
        "value": row.value, "bound": row.bound, "fields": as_typed(row, system), "missing_status": row.missing_status,
        "missing_reason": row.missing_reason, "by": row.by.name, "at": row.entered_at,
    }  # fmt: skip


def progress_json(progress: Progress) -> dict[str, int]:
    return {"done": progress.done, "begun": progress.begun, "of": progress.of, "conflicts": progress.conflicts}


SHEET_PAGE = [
    OpenApiParameter("page", int, description="Of the sheet’s plots, from 1; the last where it names more."),
    OpenApiParameter("plot", UUID, description="The page that holds this plot, instead."),
]
GREEN_COVER = "green-cover"
"""The measure of the catalogue that is taken from photographs."""
MOST_STEPS = 2000
"""Fields on one page of a sheet; a visit with more comes in pages of plots."""


@dataclass(frozen=True, slots=True)
class _Page:
    """Some plots of a visit in walking order; `number` from 1."""

    number: int
    of: int
    plots: list[Unit]


def _page(request: Request, walk: list[Unit], taken: list[VisitMeasure], season: Season) -> _Page:
    """The page that the query names, by its number or by a plot on it; the first else."""
    steps = sum(
        samples_at(t) * len(t.measure.version.entry_sheet.fields) * max(1, len(measured_in(season, t.measure)))
        * max(1, len(parts_of(t.measure))) for t in taken
    )  # fmt: skip
    size = max(1, MOST_STEPS // max(steps, 1))
    of = max(1, -(-len(walk) // size))
    wanted, plot = request.query_params.get("page", "1"), request.query_params.get("plot")
    number = int(wanted) if wanted.isascii() and wanted.isdigit() and len(wanted) < 9 else 1
    if plot:
        number = next((i // size + 1 for i, unit in enumerate(walk) if str(unit.id) == plot), number)
    number = min(max(number, 1), of)
    return _Page(number, of, walk[(number - 1) * size : number * size])


def visit_json(visit: Visit, request: Request) -> Any:
    """A visit with the page of its sheet that the request asks for."""
    person = _person(request)
    prefetch_related_objects([visit], taken_with_measures())
    taken = list(visit.taken.all())
    versions = {t.measure.version_id: t.measure_id for t in taken}
    system, shares = cast(System, person.units), shares_in(visit.season)
    everywhere, bare = walking_order(visit), without_its_zones(visit, shares)
    page = _page(request, [u for u in everywhere if u.id not in bare], taken, visit.season)
    waiting = list(visit.observations.filter(in_conflict=True, version__in=versions).order_by("received_at", "id"))
    # Whoever settles a conflict sees both figures, on whatever page they stand.
    units = {unit.id for unit in page.plots} | {row.unit_id for row in waiting}
    asked_for = [Q(version=t.measure.version_id, sample__lte=samples_at(t)) for t in taken]
    standing = visit.observations.filter(reduce(or_, asked_for, Q(pk=None)), current=True, unit__in=units)
    shown = [r for r in standing.order_by("received_at", "id") if r.value is not None or r.missing_reason]
    prefetch_related_objects([*shown, *waiting], "by")
    own = {t.measure.version_id: t.measure.version for t in taken}
    for row in [*shown, *waiting]:
        row.version = own[row.version_id]
    places, allotted = places_at(visit, everywhere), allotment_of(visit, everywhere)
    shape = {
        "id": visit.id, "etag": etag_of(planned_of(visit)),
        "trial": visit.season.trial_id, "site": visit.season.site_id, "units": system,
        "name": visit.name, "due": visit.due, "date": visit.date,
        "measures": [measure_json(t, visit.season, system) for t in taken],
        "order": [unit.id for unit in page.plots],
        "page": page.number, "pages": page.of,
        "zones": {str(unit): list(own) for unit, own in shares.items()},
        "blind": is_blind(visit), "guess_first": visit.guess_first,
        "observers": [], "why_so": allotted.why, "places": _NO_PLACES, "past": [], "expected": [],
        "rows": [], "conflicts": [],
        "notes": visit.notes.select_related("by"),
        "progress": progress_json(progress_in(visit, len(everywhere), shares)),
    }  # fmt: skip
    past = past_of(visit, units)
    treatments = {unit.id: unit.treatment_id for unit in everywhere}
    whole = shapes.VisitOut(shape).data
    # Plain values of the declared shape: a serializer takes several times as long for a page of rows.
    return whole | {
        "places": _places_json(places, system),
        "observers": [
            {"person": one.person_id, "name": one.person.name, "blocks": allotted.blocks[str(one.person_id)]}
            for one in visit.observers.all()
        ],
        "past": [
            {
                "unit": one.unit,
                "measure": versions[one.version],
                "zone": one.zone,
                "component": one.component,
                "value": one.value,
                "visit": one.visit,
                "date": one.date,
            }
            for one in past
        ],
        "expected": [
            {"unit": unit, "measure": versions[version], "zone": zone, **asdict(one)}
            for (unit, version, zone), one in expected_at(visit, units, treatments, past).items()
        ],
        "rows": [row_json(r, versions, system) for r in shown],
        "conflicts": [row_json(r, versions, system) for r in waiting],
    }


_NO_PLACES: dict[str, Any] = {
    "said": "", "corner": "", "width": 0.0, "length": 0.0, "by_plot": {}, "area": {}, "why_none": "",
}  # fmt: skip


def _places_json(places: Places, system: System) -> dict[str, Any]:
    laid = places.quadrat
    return {
        "said": amounts_in(places.said, system), "corner": places.corner,
        "why_none": amounts_in(places.why_none, system),
        "width": laid.width if laid else 0.0, "length": laid.length if laid else 0.0,
        "by_plot": {str(unit): [asdict(place) for place in own] for unit, own in places.by_plot.items()},
        "area": {str(unit): asdict(area) for unit, area in places.area.items()},
    }  # fmt: skip


class TrialVisitView(APIView):
    @extend_schema(parameters=[*IF_MATCH, *AT_SITE], request=shapes.VisitIn, responses=shapes.VisitOut)
    def put(self, request: Request, id: UUID, visit: UUID) -> Response:
        """Plan a visit under the id that the client made, or change it."""
        season = season_of(request, id)
        given = shapes.VisitIn(data=request.data, context={"request": request})
        given.is_valid(raise_exception=True)
        data = given.validated_data
        how = data.pop("how")
        how = HowWalked(**how) if how else None

        def shown() -> Any:
            there = season.visits.filter(id=visit).first()
            return there and planned_of(there)

        def current() -> Any:
            return visit_json(season.visits.get(id=visit), request)

        made = saved_unless_changed(
            request, Season.objects.filter(id=season.id), shown,
            lambda: plan_visit(by=_person(request), season=season, id=visit, how=how, **data), current, made=visit,
        )  # fmt: skip
        return Response(visit_json(made, request))


class VisitView(APIView):
    @extend_schema(parameters=SHEET_PAGE, responses=shapes.VisitOut)
    def get(self, request: Request, id: UUID) -> Response:
        """A visit with its sheet, its walking order and the figures that stand."""
        return Response(visit_json(visit_of(request, id), request))


class EntriesView(APIView):
    @extend_schema(request=shapes.EntriesIn, responses=shapes.OutcomesOut)
    def put(self, request: Request, id: UUID) -> Response:
        """Keep what was typed, all in one write; each entry says what became of it. Repeating is harmless."""
        visit = visit_of(request, id)
        given = shapes.EntriesIn(data=request.data)
        given.is_valid(raise_exception=True)
        sent_at = given.validated_data["sent_at"]
        off = clock_off(sent_at)
        entries = corrected([Typed(**entry) for entry in given.validated_data["entries"]], off)
        system = cast(System, _person(request).units)
        saved = save_entries(by=_person(request), visit=visit, entries=entries, walked=sent_at is not None)
        versions = {t.measure.version_id: t.measure_id for t in visit.taken.all()}
        shape = {
            "outcomes": [
                {"id": o.id, "state": o.state, "value": o.value, "bound": o.bound, "message": o.message,
                 "other": row_json(o.other, versions, system)} for o in saved.outcomes
            ],
            "progress": progress_json(saved.progress),
            "clock_off": said(off),
        }  # fmt: skip
        return Response(shape)  # plain values of the declared shape; a serializer would take as long as the write


class UndoView(APIView):
    @extend_schema(parameters=SHEET_PAGE, request=shapes.UndoIn, responses=shapes.VisitOut)
    def post(self, request: Request, id: UUID) -> Response:
        """Undo an entry by a further row, under the id that the client made."""
        given = shapes.UndoIn(data=request.data)
        given.is_valid(raise_exception=True)
        old = _row_of(request, id)
        undo(by=_person(request), old=old, id=given.validated_data["id"])
        return Response(visit_json(old.visit, request))


class RedoView(APIView):
    @extend_schema(parameters=SHEET_PAGE, request=shapes.RedoIn, responses=shapes.VisitOut)
    def post(self, request: Request, id: UUID) -> Response:
        """Go one step forward again in a place, after an undo."""
        visit = visit_of(request, id)
        given = shapes.RedoIn(data=request.data)
        given.is_valid(raise_exception=True)
        place = given.validated_data
        taken = get_object_or_404(visit.taken.select_related("measure"), measure=place["measure"])
        row = get_object_or_404(
            visit.observations.select_related("visit__season__trial__workspace", "version__measure", "stands_for"),
            unit=place["unit"], version=taken.measure.version_id, zone=place["zone"], sample=place["sample"],
            component_kind=place["component_kind"], component=place["component"],
            current=True,
        )  # fmt: skip
        redo(by=_person(request), at=row, id=place["id"])
        return Response(visit_json(visit, request))


class DecisionView(APIView):
    @extend_schema(parameters=SHEET_PAGE, request=shapes.DecisionIn, responses=shapes.VisitOut)
    def post(self, request: Request, id: UUID) -> Response:
        """Settle a conflict: which of the two stays, and why."""
        given = shapes.DecisionIn(data=request.data)
        given.is_valid(raise_exception=True)
        row = _row_of(request, id)
        decide(by=_person(request), conflicting=row, **given.validated_data)
        return Response(visit_json(row.visit, request))


class PartsView(APIView):
    @extend_schema(request=shapes.ListedPartsIn, responses=shapes.ListedPartsOut)
    def put(self, request: Request, id: UUID) -> Response:
        """List what a measure is told by, its species or grades."""
        own = TrialMeasure.objects.with_role_of(_person(request)).select_related("version__measure", "trial__workspace")
        measure = get_object_or_404(own, id=id)
        given = shapes.ListedPartsIn(data=request.data)
        given.is_valid(raise_exception=True)
        parts = [(one["name"], one["group"]) for one in given.validated_data["parts"]]
        kept = keep_parts(by=_person(request), measure=measure, parts=parts)
        return Response(shapes.ListedPartsOut({"parts": parts_of(kept)}).data)


class ActionThresholdView(APIView):
    @extend_schema(request=shapes.ActionThresholdIn, responses={204: None})
    def put(self, request: Request, id: UUID) -> Response:
        """Keep from which value of a measure on something is to be done, as typed; empty: there is none."""
        own = TrialMeasure.objects.with_role_of(_person(request)).select_related("version__measure", "trial__workspace")
        measure = get_object_or_404(own, id=id)
        given = shapes.ActionThresholdIn(data=request.data)
        given.is_valid(raise_exception=True)
        keep_action_threshold(by=_person(request), measure=measure, typed=given.validated_data["threshold"])
        return Response(status=204)


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
