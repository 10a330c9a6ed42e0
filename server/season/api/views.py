"""The season of a trial, and what is due over all of them."""

from __future__ import annotations

from collections import Counter
from typing import Any, cast
from uuid import UUID

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from apercu_core.cautions import caution_for
from config import clock
from config.etags import saved_unless_changed
from crew.models import Person
from season.actions import keep_operation
from season.agenda import Agenda, OperationState, agenda_of, is_news, with_agenda, with_news
from season.api import serializers as shapes
from trials.api.at_site import AT_SITE, season_of
from trials.models import Season


def _mark(state: OperationState) -> dict[str, Any]:
    kind = state.operation.kind
    return {"operation": state.operation, "state": state.state, "caution": caution_for(kind)}


def season_json(asked: Season) -> Any:
    season = with_agenda(Season.objects).get(pk=asked.pk)
    agenda = agenda_of([season])[season.id]
    marks = [_mark(o) for o in agenda.operations]
    return shapes.SeasonOut({"today": agenda.today, "visits": agenda.visits, "operations": marks}).data


class SeasonView(APIView):
    @extend_schema(parameters=AT_SITE, responses=shapes.SeasonOut)
    def get(self, request: Request, id: UUID) -> Response:
        """Visits and operations of the trial, each with its state today."""
        return Response(season_json(season_of(request, id)))


class OperationView(APIView):
    @extend_schema(parameters=AT_SITE, request=shapes.OperationIn, responses=shapes.SeasonOut)
    def put(self, request: Request, id: UUID, operation: UUID) -> Response:
        """Plan an operation under the id that the client made, change it, or say when it was done."""
        person = cast(Person, request.user)
        season = season_of(request, id)
        given = shapes.OperationIn(data=request.data)
        given.is_valid(raise_exception=True)
        data = given.validated_data

        def shown() -> Any:
            there = season.operations.filter(id=operation).first()
            return there and shapes.said_of(there)

        saved_unless_changed(
            request, Season.objects.filter(id=season.id), shown,
            lambda: keep_operation(by=person, season=season, id=operation, **data), lambda: season_json(season),
            made=operation,
        )  # fmt: skip
        return Response(season_json(season))


class TodayView(APIView):
    @extend_schema(responses=shapes.TodayOut)
    def get(self, request: Request) -> Response:
        """What is due, half done and soon, over all trials that the signed-in person sees."""
        own = Season.objects.visible_to(cast(Person, request.user))
        seasons = list(with_news(with_agenda(own)).order_by("trial__created_at", "id"))
        agendas = agenda_of(seasons)
        at_sites = Counter(season.trial_id for season in seasons)
        lines = [
            line
            for season in seasons
            for line in _lines(season, agendas[season.id], several=at_sites[season.trial_id] > 1)
        ]
        lines.sort(key=lambda line: (line["date"] is None, line["date"], line["trial_name"], line["name"]))
        groups = {"due": ("overdue", "due"), "begun": ("begun", "contested"), "soon": ("soon",)}
        shape: dict[str, Any] = {
            name: [line for line in lines if line["state"] in states] for name, states in groups.items()
        }
        shape["new"] = [
            _news(season, several=at_sites[season.trial_id] > 1)
            for season in seasons
            if is_news(season, agendas[season.id])
        ]
        return Response(shapes.TodayOut(shape).data)


def _name(season: Season, several: bool) -> str:
    return f"{season.trial.name}, {season.site.name}" if several else season.trial.name


def _news(season: Any, *, several: bool) -> dict[str, Any]:
    name = _name(season, several)
    return {
        "trial": season.trial_id, "site": season.site_id, "trial_name": name, "kind": "reading",
        "id": season.id, "name": name, "date": clock.date_at(season.newest, season.site.time_zone),
        "state": "done", "done": 0, "of": 0,
    }  # fmt: skip


def _lines(season: Season, agenda: Agenda, *, several: bool) -> list[dict[str, Any]]:
    trial = {"trial": season.trial_id, "site": season.site_id, "trial_name": _name(season, several)}
    visits = [
        {**trial, "kind": "visit", "id": v.visit.id, "name": v.visit.name, "date": v.visit.due or v.visit.date,
         "state": v.state, "done": v.progress.done, "of": v.progress.of}
        for v in agenda.visits
    ]  # fmt: skip
    operations = [
        {**trial, "kind": "operation", "id": o.operation.id, "name": o.operation.name, "date": o.operation.due,
         "state": o.state, "done": 0, "of": 0}
        for o in agenda.operations
    ]  # fmt: skip
    return visits + operations
