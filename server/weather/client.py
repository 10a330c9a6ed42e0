"""What a weather service is asked (docs/weather-service.md): with time-outs, a few more tries, and checked answers."""

from __future__ import annotations

import ipaddress
import json
import socket
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any
from urllib.parse import quote, urlencode, urlsplit

import urllib3
from django.conf import settings

from apercu_core.errors import Refused
from apercu_core.weather.days import WeatherDay, faults

CONNECT_SECONDS, READ_SECONDS = 3.0, 10.0
TRIES = 4
"""Tries of one request, each after twice the wait of the one before: 0, 1, 2 s."""
BACKOFF = 0.5
LONGEST_WAIT_SECONDS = 5
MOST_BYTES = 2_000_000
DAYS_AT_ONCE = 366
_STATUS_TO_TRY_AGAIN = (429, 500, 502, 503, 504)


class ServiceTrouble(Exception):
    """The service didn't answer, or not with what it should; the text says which, for people."""


@dataclass(frozen=True, slots=True)
class StationSaid:
    """A station as a service names it."""

    key: str
    name: str
    latitude: float
    longitude: float
    elevation_m: float | None
    first_day: date | None


def require_address(url: str) -> None:
    """Raises `Refused` for what can't be a service: another scheme, a user in it, or an address inside this network."""
    wrong = Refused("bad-value", "This isn’t the address of a service. Enter one such as https://weather.example.")
    try:
        parts = urlsplit(url)
    except ValueError:
        raise wrong from None
    if parts.scheme not in ("http", "https") or not parts.hostname or parts.username or parts.query or parts.fragment:
        raise wrong
    if settings.PRIVATE_SERVICES:
        return
    try:
        port = parts.port or (443 if parts.scheme == "https" else 80)
        found = {info[4][0] for info in socket.getaddrinfo(parts.hostname, port, proto=socket.IPPROTO_TCP)}
    except (OSError, ValueError):
        raise ServiceTrouble(f"There is no {parts.hostname}, or the name can’t be looked up now.") from None
    if any(not ipaddress.ip_address(address).is_global for address in found):
        raise Refused(
            "bad-value",
            f"{parts.hostname} lies inside this server’s own network, which isn’t asked. Whoever runs the server can "
            "allow it with APERCU_PRIVATE_SERVICES.",
        )


class Client:
    """Asks one service. Nothing is kept between requests but connections."""

    def __init__(self, url: str) -> None:
        self._url = url.rstrip("/")
        retries = urllib3.Retry(
            total=TRIES - 1, redirect=0, backoff_factor=BACKOFF, backoff_max=LONGEST_WAIT_SECONDS,
            status_forcelist=_STATUS_TO_TRY_AGAIN, respect_retry_after_header=False, raise_on_status=False,
        )  # fmt: skip
        self._pool = urllib3.PoolManager(
            timeout=urllib3.Timeout(connect=CONNECT_SECONDS, read=READ_SECONDS), retries=retries
        )

    def stations(self) -> list[StationSaid]:
        """All that the service has."""
        return [_station(one) for one in _list(self._get("/v1/stations"), "stations")]

    def days(self, station: str, first: date, last: date) -> Iterator[list[WeatherDay]]:
        """Records from `first` to `last`, in parts of a year at most."""
        at = first
        while at <= last:
            end = min(last, at + timedelta(days=DAYS_AT_ONCE - 1))
            query = {"from": at.isoformat(), "to": end.isoformat()}
            yield self._days(self._get(f"/v1/stations/{quote(station, safe='')}/days", query))
            at = end + timedelta(days=1)

    def forecast(self, station: str) -> tuple[date | None, list[WeatherDay]]:
        """When it was issued, and the days ahead."""
        answer = self._get(f"/v1/stations/{quote(station, safe='')}/forecast")
        return _date(answer.get("issued")), self._days(answer)

    def _days(self, answer: Mapping[str, Any]) -> list[WeatherDay]:
        """Days that can be so; values that can't are left out, as if the service didn't know them."""
        found = []
        for one in _list(answer, "days"):
            day = _date(one.get("day"))
            if day is None:
                raise ServiceTrouble("The weather service named a day that isn’t a date.")
            values = {ours: _number(one.get(theirs)) for ours, theirs in _FIELDS.items()}
            read = WeatherDay(day, **values)
            wrong = {place.where for place in faults(read)}
            found.append(WeatherDay(day, **{name: None if name in wrong else values[name] for name in values}))
        return found

    def _get(self, path: str, query: Mapping[str, str] | None = None) -> dict[str, Any]:
        require_address(self._url)
        address = self._url + path + (f"?{urlencode(query)}" if query else "")
        try:
            answer = self._pool.request("GET", address, preload_content=False, headers={"Accept": "application/json"})
            body = answer.read(MOST_BYTES + 1, decode_content=True)
            answer.release_conn()
        except urllib3.exceptions.MaxRetryError as error:
            raise ServiceTrouble(_why(error.reason)) from None
        except urllib3.exceptions.HTTPError as error:
            raise ServiceTrouble(_why(error)) from None
        if answer.status >= 500 or answer.status == 429:
            raise ServiceTrouble(f"The weather service answered {answer.status}, {TRIES} times in a row.")
        if answer.status != 200:
            raise ServiceTrouble(f"The weather service refused the request ({answer.status}).")
        if len(body) > MOST_BYTES:
            raise ServiceTrouble("The weather service answered far more than it was asked for.")
        try:
            said = json.loads(body)
        except (ValueError, RecursionError):
            said = None
        if not isinstance(said, dict):
            raise ServiceTrouble("The weather service answered something that can’t be read.")
        return said


_FIELDS = {"tmin_c": "tmin_c", "tmax_c": "tmax_c", "rain_mm": "rain_mm", "soil_c": "soil_10cm_c"}


def _why(error: object) -> str:
    timed_out = isinstance(error, urllib3.exceptions.TimeoutError)
    if timed_out and not isinstance(error, urllib3.exceptions.NewConnectionError):  # one of its kinds
        return f"The weather service didn’t answer in time, {TRIES} times in a row."
    return f"The weather service can’t be reached, after {TRIES} tries."


def _list(answer: Mapping[str, Any], name: str) -> list[Mapping[str, Any]]:
    found = answer.get(name)
    if not isinstance(found, list) or not all(isinstance(one, dict) for one in found):
        raise ServiceTrouble("The weather service answered something that can’t be read.")
    return found


def _number(value: Any) -> float | None:
    ordinary = isinstance(value, int | float) and not isinstance(value, bool) and abs(value) < 1e6
    return float(value) if ordinary else None


def _date(value: Any) -> date | None:
    try:
        return date.fromisoformat(value) if isinstance(value, str) else None
    except ValueError:
        return None


def _station(said: Mapping[str, Any]) -> StationSaid:
    key, name = said.get("id"), said.get("name")
    latitude, longitude = _number(said.get("latitude")), _number(said.get("longitude"))
    if not (isinstance(key, str) and isinstance(name, str) and key and name) or latitude is None or longitude is None:
        raise ServiceTrouble("The weather service named a station without id, name or place.")
    if not (abs(latitude) <= 90 and abs(longitude) <= 180):
        raise ServiceTrouble("The weather service named a station that doesn’t lie on Earth.")
    return StationSaid(
        key[:120], name[:120], latitude, longitude, _number(said.get("elevation_m")), _date(said.get("first_day"))
    )
