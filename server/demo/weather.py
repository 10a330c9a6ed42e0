"""The demo's weather: a registered service with an invented climate, and a station for each site."""

from __future__ import annotations

import uuid
from datetime import timedelta

from django.conf import settings

from crew.models import Person, Workspace
from trials.models import Site
from weather.actions import choose_station, register_service
from weather.fetching import fetch, find_stations
from weather.models import WeatherService

STATIONS = {"Long Piece": "tarrow-sluice", "Mill Ground": "tarrow-sluice", "Far Twelve": "harrow-mill"}


def load_weather(by: Person, workspace: Workspace, id: uuid.UUID, shift: timedelta) -> None:
    """Ask once now, so that nothing is empty at the first look. Without a service the demo has no weather."""
    if not settings.DEMO_WEATHER:
        return
    url = f"{settings.DEMO_WEATHER}/shifted/{shift.days}"  # the climate moves with all dates of the demo
    register_service(by=by, workspace=workspace, id=id, name="Fenwatch (simulated)", url=url)
    find_stations(by, {"service": str(id)}, lambda done, of: None)
    service = WeatherService.objects.get(pk=id)
    if service.trouble:
        return
    fetched = set()
    for site in Site.objects.filter(workspace=workspace, name__in=STATIONS):
        station = choose_station(by=by, site=site, service=service, key=STATIONS[site.name])
        if station.pk not in fetched:
            fetch(station)
            fetched.add(station.pk)
