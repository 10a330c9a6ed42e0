"""Asking weather services: as a job when a person wants it, and by itself a few times a day."""

from __future__ import annotations

import uuid
from collections.abc import Mapping
from dataclasses import asdict
from datetime import date, timedelta
from typing import Any

from django.db import transaction

from apercu_core.errors import Refused
from apercu_core.weather.days import QUANTITIES
from config import clock
from crew.models import Person
from jobs.models import Job
from jobs.running import KINDS, JobKind, Report, ask_for
from weather.actions import newest_of, put_days, weather_changed
from weather.client import DAYS_AT_ONCE, Client, ServiceTrouble
from weather.models import Source, Station, WeatherService

YEARS_BACK = 10
"""Earlier years that are fetched for normals."""
AGAIN_FROM = timedelta(days=3)
"""Days before the newest record that are asked for again, since services mend their last ones."""
MOST_STATIONS, MOST_AHEAD = 500, 16
FRESH_FOR, AGAIN_AFTER = timedelta(hours=6), timedelta(hours=1)
"""A station that answered is asked again after the first; one that didn't, after the second."""


def ask_stations(*, by: Person, service: WeatherService) -> Job:
    """Queue: ask a service for its stations."""
    return ask_for("weather_stations", by=by, workspace=service.workspace, asked={"service": str(service.pk)})


def ask_days(*, by: Person, station: Station) -> Job:
    """Queue: fetch what is new at a station."""
    if station.service is None:
        raise Refused("bad-value", "This station comes from no service. Enter its days by hand, or import a file.")
    return ask_for("weather_days", by=by, workspace=station.workspace, asked={"station": str(station.pk)})


def find_stations(by: Person, asked: Mapping[str, Any], report: Report) -> dict[str, Any]:
    """What goes wrong is kept with the service, where the page shows it; a refusal would undo that."""
    service = _found(WeatherService, asked["service"])
    service.tried_at = clock.now()
    try:
        service.stations = [
            {**asdict(one), "first_day": one.first_day and one.first_day.isoformat()}
            for one in Client(service.url).stations()[:MOST_STATIONS]
        ]
        service.answered_at, service.trouble = service.tried_at, ""
    except (ServiceTrouble, Refused) as trouble:
        service.trouble = str(trouble)[:300]
    service.save()
    report(1, 1)
    return {"stations": len(service.stations), "trouble": service.trouble}


def fetch_days(by: Person, asked: Mapping[str, Any], report: Report) -> dict[str, Any]:
    station = _found(Station, asked["station"])
    kept = fetch(station, report)
    return {"days": kept, "trouble": station.trouble}


def fetch(station: Station, report: Report = lambda done, of: None) -> int:
    """New records and the forecast, kept part by part; returns how many days. What goes wrong stays with the station.

    Days are asked for up to today; what a service doesn't have yet it doesn't answer.
    """
    assert station.service is not None
    client, today = Client(station.service.url), clock.now().date()
    newest = newest_of(station, Source.SERVICE)
    first = date(today.year - YEARS_BACK, 1, 1) if newest is None else newest - AGAIN_FROM
    kept, steps = 0, (today - first).days // DAYS_AT_ONCE + 2
    station.tried_at = clock.now()
    try:
        for i, part in enumerate(client.days(station.key, first, today)):
            with transaction.atomic():
                kept += put_days(station, [one for one in part if first <= one.day <= today], Source.SERVICE, None)
            report(min(i + 1, steps - 1), steps)
        station.forecast_issued, ahead = client.forecast(station.key)
        station.forecast = [
            {"day": one.day.isoformat(), **{name: getattr(one, name) for name in QUANTITIES}}
            for one in ahead[:MOST_AHEAD]
        ]
        station.answered_at, station.trouble = station.tried_at, ""
    except (ServiceTrouble, Refused) as trouble:
        station.trouble = str(trouble)[:300]
    with transaction.atomic():
        station.save(update_fields=["forecast", "forecast_issued", "tried_at", "answered_at", "trouble"])
        weather_changed.send(sender=Station, station=station)
    report(steps, steps)
    return kept


def due_stations() -> list[Station]:
    """Stations that a site uses and whose service should be asked again."""
    now, found = clock.now(), []
    for station in (
        Station.objects.exclude(service=None).filter(sites__isnull=False).distinct().select_related("service")
    ):
        wait = AGAIN_AFTER if station.trouble else FRESH_FOR
        if station.tried_at is None or now - station.tried_at >= wait:
            found.append(station)
    return found


def _found(model: Any, id: str) -> Any:
    row = model.objects.filter(pk=uuid.UUID(id)).select_related().first()
    if row is None:
        raise Refused("bad-value", "The service or station isn’t there any more.")
    return row


KINDS["weather_stations"] = JobKind(find_stations, "record", reads_what_changes=True)
KINDS["weather_days"] = JobKind(fetch_days, "record", reads_what_changes=True)
