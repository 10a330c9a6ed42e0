"""Weather of a trial's site: stations, services, days, files."""

from __future__ import annotations

import json
from datetime import date
from typing import Any, cast
from uuid import UUID

from django.http import Http404
from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import serializers, status
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from apercu_core.errors import Refused
from apercu_core.tables.questions import answer_to
from apercu_core.weather.days import WeatherDay
from apercu_core.weather_files.read import WeatherFile, read_weather
from config import clock
from crew.models import Person
from crew.page_units import system_of
from crew.permissions import require
from jobs.api.views import JobOut
from trials.api.at_site import AT_SITE, season_of
from trials.models import Season
from weather import actions
from weather.api import shapes
from weather.api.shown import weather_json
from weather.fetching import ask_days, ask_stations
from weather.known import climate_at
from weather.models import Station, WeatherService

MOST_BYTES = 5_000_000


def _person(request: Request) -> Person:
    return cast(Person, request.user)


def _answer(request: Request, season: Season) -> Response:
    return Response(shapes.WeatherOut(weather_json(season, _person(request), system_of(request))).data)


def _read(shape: type[serializers.Serializer[Any]], request: Request) -> dict[str, Any]:
    given = shape(data=request.data, context={"request": request})
    given.is_valid(raise_exception=True)
    return cast(dict[str, Any], given.validated_data)


def _service(request: Request, season: Season, id: UUID) -> WeatherService:
    own = WeatherService.objects.visible_to(_person(request)).filter(workspace_id=season.site.workspace_id)
    found: WeatherService = get_object_or_404(own, id=id)
    return found


class WeatherView(APIView):
    @extend_schema(parameters=AT_SITE, responses=shapes.WeatherOut)
    def get(self, request: Request, id: UUID) -> Response:
        """The site's station, what is known and missing, and what the season had."""
        return _answer(request, season_of(request, id))


class StationView(APIView):
    @extend_schema(parameters=AT_SITE, request=shapes.StationIn, responses=shapes.WeatherOut)
    def put(self, request: Request, id: UUID) -> Response:
        """Choose the site's station: a service's, one that the workspace has, or one of one's own."""
        season, person, said = season_of(request, id), _person(request), _read(shapes.StationIn, request)
        if said["service"] is not None:
            service = _service(request, season, said["service"])
            station = actions.choose_station(by=person, site=season.site, service=service, key=said["key"])
            ask_days(by=person, station=station)
        elif said["id"] is None:
            raise Refused("bad-value", "Choose a station, or name one of your own.")
        elif (
            there := Station.objects.visible_to(person)
            .filter(id=said["id"], workspace_id=season.site.workspace_id)
            .first()
        ):
            actions.share_station(by=person, site=season.site, station=there)
        else:
            actions.own_station(by=person, site=season.site, id=said["id"], name=said["name"])
        return _answer(request, season)


class DayView(APIView):
    @extend_schema(parameters=AT_SITE, request=shapes.DayIn, responses=shapes.WeatherOut)
    def put(self, request: Request, id: UUID, day: str) -> Response:
        """Enter a day by hand; all values empty: take it back."""
        season, values = season_of(request, id), _read(shapes.DayIn, request)
        try:
            one = WeatherDay(date.fromisoformat(day), **values)
        except ValueError:
            raise Http404("That isn’t a date.") from None
        actions.enter_day(by=_person(request), site=season.site, one=one)
        return _answer(request, season)


class FileView(APIView):
    parser_classes = [MultiPartParser]

    @extend_schema(
        parameters=AT_SITE, request={"multipart/form-data": shapes.WeatherFileIn}, responses=shapes.WeatherFileOut
    )
    def post(self, request: Request, id: UUID) -> Response:
        """What a table of daily weather holds and what is to be settled; with `keep`, keep it once all is settled."""
        season, person, said = season_of(request, id), _person(request), _read(shapes.WeatherFileIn, request)
        require(person, "record", season)
        if said["file"].size > MOST_BYTES:
            raise Refused(
                "not-a-table",
                f"The file has {said['file'].size / 1e6:.0f} MB; the most is 5 MB. Send it in parts, year by year.",
            )
        station = actions.station_at(season.site)
        today = clock.today(season.site.time_zone)
        answers = _answers(said["answers"])
        file = read_weather(said["file"].read(), answers, climate_at(station, today))
        keep = said["keep"] and not file.open
        if keep:
            actions.keep_file(by=person, site=season.site, days=file.days)
        return Response(shapes.WeatherFileOut(_file_json(file, answers, kept=keep)).data)


def _answers(text: str) -> dict[str, str]:
    try:
        given = json.loads(text)
    except (ValueError, RecursionError):
        given = None
    if not isinstance(given, dict):
        raise Refused("bad-value", "The answers aren’t JSON. Open the page again.")
    return {str(key): str(value) for key, value in given.items()}


def _file_json(file: WeatherFile, answers: dict[str, str], *, kept: bool) -> dict[str, Any]:
    return {
        "kept": kept,
        "days": len(file.days),
        "first": file.days[0].day if file.days else None,
        "last": file.days[-1].day if file.days else None,
        "columns": [
            {"quantity": name, "heading": heading, "unit": file.units.get(heading, "")}
            for name, heading in file.columns.items()
        ],
        "questions": [
            {
                **{name: getattr(q, name) for name in ("id", "about", "column", "lines", "why", "choices", "cells")},
                "answer": answer_to(q, answers) or "",
            }
            for q in file.questions
        ],
        "settled": not file.open,
        "odd": file.odd[:200],
    }


class FetchView(APIView):
    @extend_schema(parameters=AT_SITE, request=None, responses={202: JobOut})
    def post(self, request: Request, id: UUID) -> Response:
        """Ask the station's service for what is new, as a job."""
        season = season_of(request, id)
        job = ask_days(by=_person(request), station=actions.station_at(season.site))
        return Response(JobOut(job).data, status=status.HTTP_202_ACCEPTED)


class ServiceView(APIView):
    @extend_schema(parameters=AT_SITE, request=shapes.WeatherServiceIn, responses=shapes.WeatherOut)
    def put(self, request: Request, id: UUID, service: UUID) -> Response:
        """Register a weather service, or change its name and address, and ask it for its stations. For owners."""
        season, said = season_of(request, id), _read(shapes.WeatherServiceIn, request)
        person = _person(request)
        kept = actions.register_service(by=person, workspace=season.trial.workspace, id=service, **said)
        ask_stations(by=person, service=kept)
        return _answer(request, season)

    @extend_schema(parameters=AT_SITE, responses=shapes.WeatherOut)
    def delete(self, request: Request, id: UUID, service: UUID) -> Response:
        """Don't ask it any more. Stations and records stay."""
        season = season_of(request, id)
        actions.remove_service(by=_person(request), service=_service(request, season, service))
        return _answer(request, season)


class ServiceStationsView(APIView):
    @extend_schema(parameters=AT_SITE, request=None, responses={202: JobOut})
    def post(self, request: Request, id: UUID, service: UUID) -> Response:
        """Ask a service for its stations, as a job."""
        season = season_of(request, id)
        job = ask_stations(by=_person(request), service=_service(request, season, service))
        return Response(JobOut(job).data, status=status.HTTP_202_ACCEPTED)
