"""A site's weather in the reader's units and words."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

from apercu_core.amounts import amounts_in, shown_temperature, temperature_unit
from apercu_core.field.geodesy import distance_km
from apercu_core.units import System, shown_in
from apercu_core.weather.days import WeatherDay, known_of, missing_days
from apercu_core.weather.said import said_of
from apercu_core.weather.summary import Bar, summary_of, weekly
from apercu_core.words import number
from config import clock
from crew.models import Person
from crew.permissions import can
from trials.models import Season, Site
from weather.known import SiteWeather, site_weather
from weather.models import Station, WeatherService

LISTED = 60
"""Days that the page lists."""
BEFORE = timedelta(days=14)
"""The season's weather begins so long before its first day."""


def first_of(season: Season, today: date) -> date:
    return (season.starts or today - timedelta(days=90)) - BEFORE


def weather_json(season: Season, person: Person, system: System) -> dict[str, Any]:
    site = season.site
    known = weather_of(season)
    services = list(WeatherService.objects.filter(workspace_id=site.workspace_id).order_by("name", "id"))
    own = Station.objects.filter(workspace_id=site.workspace_id, service=None).order_by("name", "id")
    shape: dict[str, Any] = {
        "today": _today(season),
        "temperature_unit": temperature_unit(system),
        "rain_unit": shown_in("mm", system)[0],
        "may_register": can(person, "manage", site),
        "station": known and _station(known.station, site, system),
        "stations": [_station(one, site, system) for one in own[:200] if not known or one.pk != known.station.pk],
        "services": [_service(one, site, system) for one in services],
        "normals_from": len(known.climate.years) if known and known.climate else 0,
        "forecast_issued": known.station.forecast_issued if known else None,
        "missing": [], "missing_days": 0, "summary": None, "days": [], "more": False,
    }  # fmt: skip
    if known is None:
        return shape
    first, yesterday = first_of(season, known.today), known.today - timedelta(days=1)
    complete = known_of(known.days.values(), "tmin_c", "tmax_c", "rain_mm")
    last = min(yesterday, season.ends or yesterday)
    runs = missing_days(complete, first, last)
    shape["missing"] = [{"first": run.first, "last": run.last, "days": run.days} for run in runs[-20:]]
    shape["missing_days"] = sum(run.days for run in runs)
    if last >= first:
        summary = summary_of(known.days, known.climate, first, last)
        shape["summary"] = {
            "first": first, "last": last, "sentences": [amounts_in(one, system) for one in said_of(summary)],
        }  # fmt: skip
    ahead = sorted(known.ahead, reverse=True)
    newest = max([yesterday, *(day for day in known.days if day <= known.today)])
    listed = [newest - timedelta(days=i) for i in range(LISTED)]
    past = [day for day in listed if day >= first]
    shape["days"] = [_day(known, day, system) for day in (*(d for d in ahead if d > newest), *past)]
    shape["more"] = len(past) == LISTED and past[-1] > first
    return shape


def strip_json(season: Season, known: SiteWeather | None, system: System) -> dict[str, Any] | None:
    """The weeks of the season's strip; None where nothing is known."""
    if known is None or not known.days:
        return None
    first = season.starts or min(known.days)
    bars = weekly(known.days, first, min(known.today - timedelta(days=1), season.ends or known.today))
    scaled = _scaled(bars, system)
    means = [one["mean"] for one in scaled if one["mean"] is not None]
    return {
        "bars": scaled, "rain_unit": shown_in("mm", system)[0], "temperature_unit": temperature_unit(system),
        "most_rain": max((one["rain"] or 0.0 for one in scaled), default=0.0),
        "coldest": min(means, default=None), "warmest": max(means, default=None),
    }  # fmt: skip


def _scaled(bars: tuple[Bar, ...], system: System) -> list[dict[str, Any]]:
    most = max((bar.rain_mm or 0.0 for bar in bars), default=0.0)
    means = [bar.mean_c for bar in bars if bar.mean_c is not None]
    low, span = min(means, default=0.0), max(means, default=0.0) - min(means, default=0.0)
    return [
        {
            "first": bar.first, "days": bar.days, "known": bar.known,
            "rain": None if bar.rain_mm is None else rain_shown(bar.rain_mm, system),
            "share": None if bar.rain_mm is None else (bar.rain_mm / most if most else 0.0),
            "mean": None if bar.mean_c is None else shown_temperature(round(bar.mean_c, 1), system),
            "warmth": None if bar.mean_c is None else ((bar.mean_c - low) / span if span else 0.5),
        }
        for bar in bars
    ]  # fmt: skip


def weather_of(season: Season) -> SiteWeather | None:
    """The site's weather from two weeks before the season on."""
    return site_weather(season.site, first_of(season, _today(season)))


def _today(season: Season) -> date:
    return clock.today(season.site.time_zone)


def rain_shown(mm: float, system: System) -> float:
    return round(mm * shown_in("mm", system)[1], 1 if system == "metric" else 2)


def _day(known: SiteWeather, day: date, system: System) -> dict[str, Any]:
    one = known.days.get(day) or known.ahead.get(day) or WeatherDay(day)
    source = known.sources.get(day) or ("forecast" if day in known.ahead else None)

    def warm(value: float | None) -> float | None:
        return None if value is None else round(shown_temperature(value, system), 1)

    return {
        "day": day, "tmin": warm(one.tmin_c), "tmax": warm(one.tmax_c), "soil": warm(one.soil_c),
        "rain": None if one.rain_mm is None else rain_shown(one.rain_mm, system), "source": source,
    }  # fmt: skip


def _kilometres(site: Site, latitude: float | None, longitude: float | None) -> float | None:
    if None in (site.latitude, site.longitude, latitude, longitude):
        return None
    return distance_km(site.latitude, site.longitude, latitude, longitude)  # type: ignore[arg-type]


def _distance(kilometres: float | None, system: System) -> str:
    if kilometres is None:
        return ""
    value, unit = (kilometres, "km") if system == "metric" else (kilometres / 1.609344, "mi")
    return f"{number(value, 0 if value >= 10 else 1)} {unit}"


def _station(one: Station, site: Site, system: System) -> dict[str, Any]:
    away = _distance(_kilometres(site, one.latitude, one.longitude), system)
    return {
        "id": one.pk, "name": one.name, "service": one.service.name if one.service else "",
        "distance": away, "answered_at": one.answered_at, "tried_at": one.tried_at,
        "trouble": one.trouble,
    }  # fmt: skip


def _service(one: WeatherService, site: Site, system: System) -> dict[str, Any]:
    found = [
        (_kilometres(site, said["latitude"], said["longitude"]), said["name"], said["key"]) for said in one.stations
    ]
    found.sort(key=lambda said: (said[0] is None, said[0] or 0.0, said[1]))
    return {
        "id": one.pk, "name": one.name, "url": one.url, "trouble": one.trouble, "answered_at": one.answered_at,
        "stations": [{"key": key, "name": name, "distance": _distance(km, system)} for km, name, key in found[:50]],
    }  # fmt: skip
