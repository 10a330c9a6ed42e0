"""A site's weather as the core takes it: days that are known, the days ahead, and the earlier years."""

from __future__ import annotations

import threading
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any

from django.db.models import Count, Max

from apercu_core.weather.climate import Climate, climate_of
from apercu_core.weather.days import QUANTITIES, WeatherDay
from apercu_core.weather.thermal_time import Warmth
from config import clock
from trials.models import Site
from weather.models import DayRecord, Source, Station

CLIMATE_YEARS = 30
"""Earlier years that normals are made of, at most."""
_RANK = {Source.HAND: 0, Source.FILE: 1, Source.SERVICE: 2}


@dataclass(frozen=True, slots=True)
class SiteWeather:
    """`days`: what was recorded; `ahead`: what the service forecasts from today on; `until`: the last day that counts,
    which is the last of the forecast, else yesterday.
    """

    station: Station
    days: dict[date, WeatherDay]
    ahead: dict[date, WeatherDay]
    climate: Climate | None
    sources: dict[date, str]
    today: date

    @property
    def until(self) -> date:
        return max([self.today - timedelta(days=1), *self.ahead])

    def warmth(self) -> Warmth:
        return Warmth({**self.ahead, **self.days}, self.climate, self.until, self.today - timedelta(days=1))


def site_weather(site: Site, first: date) -> SiteWeather | None:
    """Weather from `first` on; None where the site has no station."""
    station = Station.objects.filter(sites__site=site).first()
    if station is None:
        return None
    today = clock.today(site.time_zone)
    rows = DayRecord.objects.filter(station=station, day__gte=first, day__lt=today + timedelta(days=1))
    days, sources = merged(rows.values())
    ahead = {one.day: one for one in forecast_of(station) if one.day >= today and one.day not in days}
    return SiteWeather(station, days, ahead, climate_at(station, today), sources, today)


def merged(rows: Iterable[Any]) -> tuple[dict[date, WeatherDay], dict[date, str]]:
    """Days of all sources, value by value from the best; and day → the best source that it has."""
    values: dict[date, dict[str, float | None]] = {}
    sources: dict[date, str] = {}
    for row in sorted(rows, key=lambda row: _RANK[row["source"]]):
        own = values.setdefault(row["day"], dict.fromkeys(QUANTITIES))
        sources.setdefault(row["day"], row["source"])
        for name in QUANTITIES:
            if own[name] is None:
                own[name] = row[name]
    days = {}
    for day, own in values.items():
        low, high = own["tmin_c"], own["tmax_c"]
        if low is not None and high is not None and low > high:  # of two sources that don't fit each other
            own = {**own, "tmin_c": None, "tmax_c": None}
        days[day] = WeatherDay(day, **own)
    return days, sources


def forecast_of(station: Station) -> list[WeatherDay]:
    return [WeatherDay(date.fromisoformat(one["day"]), *(one[q] for q in QUANTITIES)) for one in station.forecast]


def climate_of_site(site: Site) -> Climate | None:
    """The earlier years at the site's station, if it has one."""
    station = Station.objects.filter(sites__site=site).first()
    return None if station is None else climate_at(station, clock.today(site.time_zone))


def climate_at(station: Station, today: date) -> Climate | None:
    """Earlier years of a station, kept in memory until one of its older records changes."""
    before = date(today.year, 1, 1)
    first = date(today.year - CLIMATE_YEARS, 1, 1)
    own = DayRecord.objects.filter(station=station, day__gte=first, day__lt=before)
    version = own.aggregate(n=Count("id"), at=Max("at"))
    if not version["n"]:
        return None
    key = f"{station.pk}:{before}:{version['n']}:{version['at'].timestamp()}"
    found = _KEPT.get(key)
    if found is None:
        days, _ = merged(own.values())
        found = (climate_of(days.values(), today),)
        with _LOCK:
            if len(_KEPT) >= MOST_KEPT:
                _KEPT.pop(next(iter(_KEPT)))
            _KEPT[key] = found
    return found[0]


MOST_KEPT = 60
_KEPT: dict[str, tuple[Climate | None]] = {}
_LOCK = threading.Lock()
