"""Changes of services, stations and records; each asks for permission."""

from __future__ import annotations

import uuid
from collections.abc import Iterable, Sequence
from datetime import date

from django.db import transaction
from django.dispatch import Signal

from apercu_core.errors import Place, Refused
from apercu_core.weather.days import QUANTITIES, WeatherDay, require_possible
from config import clock
from config.client_ids import made_before
from config.turns import take_turns
from crew.models import Person, Workspace
from crew.permissions import require
from trials.models import Site
from weather.client import ServiceTrouble, require_address
from weather.models import DayRecord, SiteStation, Source, Station, WeatherService

weather_changed = Signal()
"""Sent within the transaction with `station`: what is forecast from its records has to be worked out again."""


def register_service(*, by: Person, workspace: Workspace, id: uuid.UUID, name: str, url: str) -> WeatherService:
    """Let Apercu ask this service. Only an owner may, since requests leave the server."""
    require(by, "manage", workspace)
    if not name.strip():
        raise Refused("bad-value", "Name the service.", [Place("name", "Name the service.")])
    try:
        require_address(url.strip())
    except Refused as refusal:
        raise Refused("bad-value", refusal.message, [Place("url", refusal.message)]) from None
    except ServiceTrouble:
        pass  # a name that can't be looked up now is tried, and said, when the service is asked
    with transaction.atomic():
        take_turns(id)
        service = made_before(WeatherService, id, workspace_id=workspace.pk)
        service = service or WeatherService(id=id, workspace=workspace)
        service.name, service.url, service.by = name.strip(), url.strip().rstrip("/"), by
        service.save()
    return service


def remove_service(*, by: Person, service: WeatherService) -> None:
    """Don't ask it any more; stations and records stay."""
    require(by, "manage", service.workspace)
    service.delete()


def choose_station(*, by: Person, site: Site, service: WeatherService, key: str) -> Station:
    """Take a service's station for the site. Another site with the same one shares its records."""
    require(by, "record", site)
    said = next((one for one in service.stations if one["key"] == key), None)
    if said is None or service.workspace_id != site.workspace_id:
        raise Refused("bad-value", "The service has no such station. Check for stations, then choose one of them.")
    with transaction.atomic():
        take_turns(site.pk)
        station, _ = Station.objects.get_or_create(
            service=service, key=key,
            defaults={
                "workspace_id": site.workspace_id, "name": said["name"], "latitude": said["latitude"],
                "longitude": said["longitude"], "elevation_m": said["elevation_m"],
            },
        )  # fmt: skip
        _take(site, station)
    return station


def own_station(*, by: Person, site: Site, id: uuid.UUID, name: str) -> Station:
    """A station that people fill: a gauge at the field, or the file of a logger."""
    require(by, "record", site)
    if not name.strip():
        raise Refused("bad-value", "Name the station.", [Place("name", "Name the station.")])
    with transaction.atomic():
        take_turns(site.pk)
        station = made_before(Station, id, workspace_id=site.workspace_id)
        station = station or Station(id=id, workspace_id=site.workspace_id)
        station.name = name.strip()
        station.save()
        _take(site, station)
    return station


def share_station(*, by: Person, site: Site, station: Station) -> None:
    """Take a station that the workspace has already."""
    require(by, "record", site)
    with transaction.atomic():
        take_turns(site.pk)
        _take(site, station)


def _take(site: Site, station: Station) -> None:
    SiteStation.objects.update_or_create(site=site, defaults={"station": station})
    weather_changed.send(sender=Station, station=station)


def station_at(site: Site) -> Station:
    found = Station.objects.filter(sites__site=site).first()
    if found is None:
        raise Refused("bad-value", "The site has no weather station yet. Choose one, or add your own.")
    return found


def enter_day(*, by: Person, site: Site, one: WeatherDay) -> None:
    """A day by hand, which counts before other sources; empty values are left to these. All empty: nothing by hand."""
    require(by, "record", site)
    require_possible(one)
    if one.day > clock.today(site.time_zone):
        raise Refused(
            "bad-value",
            f"{one.day.isoformat()} lies ahead. Enter a day up to today.",
            [Place("day", "This day lies ahead. Enter one up to today.")],
        )
    with transaction.atomic():
        station = station_at(site)
        if all(getattr(one, name) is None for name in QUANTITIES):
            DayRecord.objects.filter(station=station, day=one.day, source=Source.HAND).delete()
        else:
            put_days(station, [one], Source.HAND, by)
        weather_changed.send(sender=Station, station=station)


def keep_file(*, by: Person, site: Site, days: Sequence[WeatherDay]) -> int:
    """Days of a file that was read; days of an earlier file are replaced. Returns how many were kept."""
    require(by, "record", site)
    today = clock.today(site.time_zone)
    if ahead := [one.day for one in days if one.day > today]:
        raise Refused(
            "bad-value", f"{ahead[0].isoformat()} lies ahead, and the file calls it recorded. Check the dates."
        )
    with transaction.atomic():
        station = station_at(site)
        kept = put_days(station, days, Source.FILE, by)
        weather_changed.send(sender=Station, station=station)
    return kept


def put_days(station: Station, days: Iterable[WeatherDay], source: Source, by: Person | None) -> int:
    """Within a transaction. A day without any value isn't kept."""
    now = clock.now()
    said = [(one.day, {name: getattr(one, name) for name in QUANTITIES}) for one in days]
    rows = [
        DayRecord(station=station, day=day, source=source, by=by, at=now, **values)
        for day, values in said
        if any(value is not None for value in values.values())
    ]
    DayRecord.objects.bulk_create(
        rows, batch_size=2000, update_conflicts=True, unique_fields=["station", "day", "source"],
        update_fields=[*QUANTITIES, "by", "at"],
    )  # fmt: skip
    return len(rows)


def newest_of(station: Station, source: Source) -> date | None:
    found: date | None = (
        DayRecord.objects.filter(station=station, source=source).order_by("-day").values_list("day", flat=True).first()
    )
    return found
