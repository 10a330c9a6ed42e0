"""The season of a trial, and what is due over all of them."""

from __future__ import annotations

from dataclasses import fields
from datetime import date, timedelta
from typing import Any, cast
from uuid import UUID

from django.db.models import Count
from django.shortcuts import get_object_or_404
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from apercu_core.agronomy.nutrients import ANALYSED_IN, NUTRIENTS
from apercu_core.agronomy.rain import WINDOWS, rain_after_sowing
from apercu_core.amounts import amounts_in, shown_temperature, temperature_unit
from apercu_core.cautions import caution_for
from apercu_core.field.sample_places import PLACEMENTS
from apercu_core.kill_window.window import EARLY_DAYS
from apercu_core.units import System
from apercu_core.weather.thermal_time import Scale, Warmth
from apercu_core.words import day_said, number
from config import clock
from config.etags import IF_MATCH, saved_unless_changed
from crew.models import Person
from crew.page_units import system_of
from operations.actions import (
    Done,
    For,
    KillDate,
    When,
    forget_stage,
    keep_kill_dates,
    keep_operation,
    keep_stage,
)
from operations.agenda import (
    SHOWN,
    OperationState,
    VisitState,
    agenda_of,
    open_on,
    operation_state,
    progress_at,
    state_of,
    with_agenda,
)
from operations.api import serializers as shapes
from operations.api.day_list import day_lines
from operations.api.details_shown import found_of, read_lot, shown_in_units, shown_lot
from operations.api.kill_shown import KillWindowsOut, windows_json
from operations.api.stages_shown import stages_json
from operations.api.trigger_shapes import read_closing, read_trigger, shown_trigger, trigger_units
from operations.kill_windows import kill_windows
from operations.models import GrowthStage, Operation, OperationKind
from operations.plants import plants_in
from operations.visit_dates import SeriesAsked, plan_series
from operations.warnings import WantedTwice, wanted_twice, watch
from records.visits import may_record
from trials.api.at_site import AT_SITE, season_of
from trials.models import Season
from weather.api.shown import rain_shown, strip_json, weather_of
from weather.known import SiteWeather


def _mark(
    state: OperationState,
    weather: SiteWeather | None,
    names: dict[str, str],
    watched: dict[str, list[str]],
    system: System,
) -> dict[str, Any]:
    caution = amounts_in(caution_for(state.operation.kind), system)
    one, rain = state.operation, _rain_after(state.operation, weather, system)
    return {
        "operation": one, "state": state.state, "caution": caution, "rain_after": rain,
        "warmth": _warmth_since(one, weather, system),
        "trigger": shown_trigger(one.trigger, names, system), "closes": shown_trigger(one.closes, names, system),
        "why": [amounts_in(why, system) for why in one.why], "warning": _closing_warning(one),
        "closes_why": [amounts_in(why, system) for why in one.closes_why],
        "grazing": shown_in_units(one.grazing, system), "lot": shown_lot(one.lot),
        "planting": shown_in_units(one.planting, system), "found": found_of(one, system),
        "watched": watched.get(str(one.pk), []),
    }  # fmt: skip


SINCE_SOWING = Scale(4.0)
"""How degree days since a sowing are told: above 4 °C, as most covers of cool seasons are (thumb)."""


def _warmth_since(operation: Operation, weather: SiteWeather | None, system: System) -> str:
    """Degree days from the sowing to yesterday, with how many of its days had no record."""
    if operation.kind != OperationKind.SOW or operation.done is None or weather is None:
        return ""
    until = weather.today - timedelta(days=1)
    if until < operation.done:
        return ""
    records = Warmth(weather.days, weather.climate, until)
    total, missing = records.so_far(operation.done, SINCE_SOWING)
    if missing and weather.climate is None:
        return ""
    normals = f", {missing} days of it by normals" if missing else ""
    unit, base = temperature_unit(system), shown_temperature(SINCE_SOWING.base_c, system)
    warmth = total if system == "metric" else 1.8 * total
    return f"{number(warmth, 0)} {unit} d above {number(base)} {unit} since then{normals}"


def _closing_warning(one: Operation) -> str:
    """Whether the time for it may be over before it comes."""
    if one.done is not None or one.closes_day is None or one.due is None:
        return ""
    if one.closes_day < one.due:
        return f"It closes on {day_said(one.closes_day)}, before it is due on {day_said(one.due)}."
    if one.late is not None and one.closes_early is not None and one.closes_early < one.late:
        return "The ranges overlap: it may close before it is due."
    return ""


def _rain_after(operation: Operation, weather: SiteWeather | None, system: System) -> list[dict[str, Any]]:
    """Rain in the windows after a sowing that was done; nothing for other operations, or without weather."""
    if operation.kind != OperationKind.SOW or operation.done is None or weather is None:
        return []
    fallen = {day: one.rain_mm for day, one in weather.days.items()}
    sums = rain_after_sowing(operation.done, fallen)
    return [
        {"days": days, "rain": None if mm is None else rain_shown(mm, system)}
        for days, mm in zip(WINDOWS, sums, strict=True)
    ]


def season_json(asked: Season, system: System) -> Any:
    season = with_agenda(Season.objects).get(pk=asked.pk)
    agenda = agenda_of([season])[season.id]
    weather = weather_of(season)
    names = {plant.key: plant.name for plant in plants_in(season).values()}
    seen = watch(season, agenda.today)
    marks = [_mark(o, weather, names, seen.sentences, system) for o in agenda.operations]
    strip = strip_json(season, weather, system)
    operations = {str(one.operation.pk): one.operation.name for one in agenda.operations}
    shown = {
        "today": agenda.today, "visits": agenda.visits, "operations": marks, "weather": strip,
        "units": trigger_units(system), "nutrients": NUTRIENTS, "zones": [one["name"] for one in season.zones],
        "closed": [{"plot": plot, "until": until} for plot, until in sorted(seen.closed.items())],
        "crew": may_record(season.trial.workspace),
        "placements": [{"key": key, "said": said} for key, said in PLACEMENTS.items()],
        "rate_units": [{"rate": rate, "analysis": of} for rate, of in ANALYSED_IN.items()],
    }  # fmt: skip
    about = {"watched": seen.sentences, "operation_names": operations, "system": system}
    return shapes.SeasonOut(shown, context=about).data


class SeasonView(APIView):
    @extend_schema(parameters=AT_SITE, responses=shapes.SeasonOut)
    def get(self, request: Request, id: UUID) -> Response:
        """Visits and operations of the trial, each with its state today."""
        return Response(season_json(season_of(request, id), system_of(request)))


class OperationView(APIView):
    @extend_schema(parameters=[*IF_MATCH, *AT_SITE], request=shapes.OperationIn, responses=shapes.SeasonOut)
    def put(self, request: Request, id: UUID, operation: UUID) -> Response:
        """Plan an operation under the id that the client made, change it, or say when it was done."""
        person = cast(Person, request.user)
        season = season_of(request, id)
        given = shapes.OperationIn(data=request.data, context={"request": request})
        given.is_valid(raise_exception=True)
        data = given.validated_data

        def shown() -> Any:
            there = season.operations.filter(id=operation).first()
            return there and shapes.said_of(there)

        saved_unless_changed(
            request, Season.objects.filter(id=season.id), shown,
            lambda: keep_operation(by=person, season=season, id=operation, **_said(data, system_of(request))),
            lambda: season_json(season, system_of(request)),
            made=operation,
        )  # fmt: skip
        return Response(season_json(season, system_of(request)))


class KillDatesView(APIView):
    @extend_schema(parameters=AT_SITE, request=shapes.KillDatesIn, responses=shapes.SeasonOut)
    def post(self, request: Request, id: UUID) -> Response:
        """Plan the ends of the covers in one act, each treatment at its own date. Sending it again is harmless."""
        season = season_of(request, id)
        given = shapes.KillDatesIn(data=request.data)
        given.is_valid(raise_exception=True)
        dates = [
            KillDate(
                one["id"],
                one["name"],
                When(
                    one["due"],
                    one["after"],
                    one["after_days"],
                    trigger=read_trigger(one["trigger"], system_of(request)) if one["trigger"] else None,
                ),
                one["treatments"],
            )
            for one in given.validated_data["dates"]
        ]
        keep_kill_dates(by=cast(Person, request.user), season=season, dates=dates)
        return Response(season_json(season, system_of(request)))


def _said(data: dict[str, Any], system: System) -> dict[str, Any]:
    """An operation as it was sent, as the action takes it."""
    rest = dict(data)
    rest["trigger"] = read_trigger(data["trigger"], system) if data["trigger"] else None
    rest["closes"] = read_closing(data["closes"], system)
    what_for = For(*(rest.pop(one.name) for one in fields(For)))
    rest["lot"] = read_lot(data["lot"])
    rest["intervals"] = {name: value for name, value in data["intervals"].items() if value is not None}
    done = Done(**{one.name: rest.pop(one.name) for one in fields(Done)})
    return {**rest, "what_for": what_for, "said": done}


class VisitSeriesView(APIView):
    @extend_schema(parameters=AT_SITE, request=shapes.VisitSeriesIn, responses=shapes.SeasonOut)
    def put(self, request: Request, id: UUID, series: UUID) -> Response:
        """Plan visits of the same measures on several days, under the id that the client made. Again is harmless."""
        season = season_of(request, id)
        given = shapes.VisitSeriesIn(data=request.data, context={"request": request})
        given.is_valid(raise_exception=True)
        plan_series(by=cast(Person, request.user), season=season, id=series, asked=SeriesAsked(**given.validated_data))
        return Response(season_json(season, system_of(request)))


class KillWindowsView(APIView):
    @extend_schema(
        parameters=[
            *AT_SITE, OpenApiParameter("early_days", int, description="Days before the crop of an early kill (28).")
        ],
        responses=KillWindowsOut,
    )  # fmt: skip
    def get(self, request: Request, id: UUID) -> Response:
        """The weeks around the kill for each cover: stages ahead, schools, ways to say when, each method."""
        season = season_of(request, id)
        given = serializers.IntegerField(min_value=1, max_value=200)
        days = given.run_validation(request.query_params.get("early_days") or EARLY_DAYS)
        today = clock.today(season.site.time_zone)
        found = kill_windows(season, days)
        return Response(windows_json(season, found, today, days, system_of(request)))


class StagesView(APIView):
    @extend_schema(parameters=AT_SITE, responses=shapes.StagesOut)
    def get(self, request: Request, id: UUID) -> Response:
        """Plants of the trial with their stages, what was seen, and when the next ones are expected."""
        return Response(stages_json(season_of(request, id), system_of(request)))


class StageView(APIView):
    @extend_schema(parameters=AT_SITE, request=shapes.StageIn, responses=shapes.StagesOut)
    def put(self, request: Request, id: UUID, stage: UUID) -> Response:
        """Enter a stage that was seen, under the id that the client made."""
        season = season_of(request, id)
        given = shapes.StageIn(data=request.data)
        given.is_valid(raise_exception=True)
        keep_stage(by=cast(Person, request.user), season=season, id=stage, **given.validated_data)
        return Response(stages_json(season_of(request, id), system_of(request)))

    @extend_schema(parameters=AT_SITE, responses=shapes.StagesOut)
    def delete(self, request: Request, id: UUID, stage: UUID) -> Response:
        """Remove a stage that was entered by mistake."""
        season = season_of(request, id)
        own = GrowthStage.objects.visible_to(cast(Person, request.user)).filter(season=season)
        forget_stage(by=cast(Person, request.user), stage=get_object_or_404(own, id=stage))
        return Response(stages_json(season_of(request, id), system_of(request)))


class DayListView(APIView):
    @extend_schema(
        parameters=[OpenApiParameter("day", date, description="Today where none is given.")],
        responses=shapes.DayListOut,
    )
    def get(self, request: Request) -> Response:
        """What is due on a day or overdue by then, over all trials that the signed-in person sees, to be printed."""
        given = serializers.DateField().run_validation(request.query_params.get("day") or clock.now().date())
        lines = day_lines(cast(Person, request.user), given, system_of(request))
        return Response(shapes.DayListOut({"day": given, "lines": lines}).data)


class TodayView(APIView):
    @extend_schema(responses=shapes.TodayOut)
    def get(self, request: Request) -> Response:
        """What is due, half done and soon, over all trials that the signed-in person sees."""
        visits, operations, news = open_on(cast(Person, request.user))
        several = _at_several_sites([*(v.season for v in visits), *(o.season for o in operations), *news])
        progress = progress_at(visits, {visit.season_id: visit.season for visit in visits}.values())
        lines = [
            *(_visit_line(state_of(visit, progress[visit.id]), several) for visit in visits),
            *(_operation_line(operation_state(operation), several) for operation in operations),
        ]
        lines.sort(key=lambda line: (line["date"] is None, line["date"], line["trial_name"], line["name"]))
        groups = {"due": ("overdue", "due"), "begun": ("begun", "conflict"), "soon": ("soon",)}
        shape: dict[str, list[Any]] = {
            name: [line for line in lines if line["state"] in states] for name, states in groups.items()
        }
        shape["new"] = [_news(season, several) for season in news]
        more = [name for name, found in shape.items() if len(found) > SHOWN]
        shown = {name: found[:SHOWN] for name, found in shape.items()}
        twice = [_wanted_twice(one) for one in wanted_twice(cast(Person, request.user))]
        return Response(shapes.TodayOut({**shown, "more": more, "conflicts": twice}).data)


def _wanted_twice(one: WantedTwice) -> dict[str, Any]:
    return {
        "machine": one.machine, "day": one.day,
        "operations": [
            {"trial": o.season.trial_id, "site": o.season.site_id, "trial_name": o.season.trial.name, "id": o.pk,
             "name": o.name}
            for o in one.operations
        ],
    }  # fmt: skip


def _at_several_sites(seasons: list[Season]) -> set[UUID]:
    """Trials of these seasons that lie at more than one site."""
    counted = Season.objects.filter(trial__in={season.trial_id for season in seasons}).values("trial")
    return {row["trial"] for row in counted.annotate(n=Count("id")).filter(n__gt=1).order_by()}


def _about(season: Season, several: set[UUID]) -> dict[str, Any]:
    name = f"{season.trial.name}, {season.site.name}" if season.trial_id in several else season.trial.name
    return {"trial": season.trial_id, "site": season.site_id, "trial_name": name}


def _news(season: Any, several: set[UUID]) -> dict[str, Any]:
    about = _about(season, several)
    return {
        **about, "kind": "reading", "id": season.id, "name": about["trial_name"], "state": "done", "done": 0, "of": 0,
        "date": clock.date_at(season.newest, season.site.time_zone),
    }  # fmt: skip


def _visit_line(state: VisitState, several: set[UUID]) -> dict[str, Any]:
    visit = state.visit
    return {
        **_about(visit.season, several), "kind": "visit", "id": visit.id, "name": visit.name, "state": state.state,
        "date": visit.due or visit.date, "done": state.progress.done, "of": state.progress.of,
    }  # fmt: skip


def _operation_line(state: OperationState, several: set[UUID]) -> dict[str, Any]:
    operation = state.operation
    return {
        **_about(operation.season, several), "kind": "operation", "id": operation.id, "name": operation.name,
        "date": operation.due, "state": state.state, "done": 0, "of": 0,
    }  # fmt: skip
