"""The service: three addresses that answer JSON, and faults on request."""

from __future__ import annotations

import json
import time
from contextlib import suppress
from dataclasses import asdict, dataclass, replace
from datetime import date, timedelta
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any
from urllib.parse import parse_qs, urlsplit

from standins.weather.climate import STATIONS, Station, day_of

MOST_DAYS = 400
FORECAST_DAYS = 7
FIRST_DAY = date(2008, 1, 1)


@dataclass
class Behaviour:
    """`today`: where records end, the day before it; None: the real one. `slow`: seconds before each answer; `failing`:
    answer each request with 503. `shift`: days by which the climate lies later than the calendar, for sample data whose
    dates were moved; an address may ask for it, as in `/shifted/71/v1/stations`.
    """

    seed: int = 7
    today: date | None = None
    shift: int = 0
    slow: float = 0.0
    failing: bool = False

    def now(self) -> date:
        return self.today or date.today()


class WeatherServer(ThreadingHTTPServer):
    daemon_threads = True

    def __init__(self, address: tuple[str, int], behaviour: Behaviour) -> None:
        super().__init__(address, _Handler)
        self.behaviour = behaviour

    @property
    def url(self) -> str:
        host, port = self.server_address[:2]
        return f"http://{host!s}:{port}"


class _Refusal(Exception):
    def __init__(self, status: int, detail: str) -> None:
        super().__init__(detail)
        self.status, self.detail = status, detail


class _Handler(BaseHTTPRequestHandler):
    server: WeatherServer
    protocol_version = "HTTP/1.1"

    def do_GET(self) -> None:
        behaviour = self.server.behaviour
        if behaviour.slow:
            time.sleep(behaviour.slow)
        if behaviour.failing:
            self._send(503, {"detail": "The service is being looked after."}, retry_after=1)
            return
        try:
            self._send(200, _answer(self.path, behaviour))
        except _Refusal as refusal:
            self._send(refusal.status, {"detail": refusal.detail})

    def _send(self, status: int, body: Any, retry_after: int | None = None) -> None:
        data = json.dumps(body).encode()
        self.send_response(status)
        self.send_header("Content-Type", "application/json")
        self.send_header("Content-Length", str(len(data)))
        if retry_after is not None:
            self.send_header("Retry-After", str(retry_after))
        with suppress(BrokenPipeError, ConnectionResetError):  # who asked didn't wait
            self.end_headers()
            self.wfile.write(data)

    def log_message(self, format: str, *args: Any) -> None:
        """Nothing: the application that asks keeps its own log."""


def _answer(path: str, behaviour: Behaviour) -> dict[str, Any]:
    url = urlsplit(path)
    query = {key: values[-1] for key, values in parse_qs(url.query).items()}
    parts = url.path.strip("/").split("/")
    if parts[:1] == ["shifted"] and len(parts) > 2 and parts[1].lstrip("-").isdigit():
        behaviour, parts = replace(behaviour, shift=int(parts[1])), parts[2:]
    match parts:
        case ["v1", "stations"]:
            return {"stations": [_said(one) for one in STATIONS]}
        case ["v1", "stations", id, "days"]:
            return _days(_station(id), query, behaviour)
        case ["v1", "stations", id, "forecast"]:
            return _forecast(_station(id), behaviour)
    raise _Refusal(404, "There is no such address.")


def _station(id: str) -> Station:
    for one in STATIONS:
        if one.id == id:
            return one
    raise _Refusal(404, "There is no such station.")


def _said(station: Station) -> dict[str, Any]:
    kept = ("id", "name", "latitude", "longitude", "elevation_m")
    return {name: getattr(station, name) for name in kept} | {"first_day": FIRST_DAY.isoformat()}


def _days(station: Station, query: dict[str, str], behaviour: Behaviour) -> dict[str, Any]:
    try:
        first, last = (date.fromisoformat(query[name]) for name in ("from", "to"))
    except (KeyError, ValueError):
        raise _Refusal(400, "Give from and to as dates, as in 2026-03-05.") from None
    if (last - first).days >= MOST_DAYS:
        raise _Refusal(400, f"At most {MOST_DAYS} days are answered at once.")
    first, last = max(first, FIRST_DAY), min(last, behaviour.now() - timedelta(days=1))
    days = [first + timedelta(days=i) for i in range((last - first).days + 1)]
    return {"station": station.id, "days": [_day(behaviour, station, day) for day in days]}


def _forecast(station: Station, behaviour: Behaviour) -> dict[str, Any]:
    today = behaviour.now()
    days = [_day(behaviour, station, today + timedelta(days=i)) for i in range(FORECAST_DAYS)]
    return {"station": station.id, "issued": today.isoformat(), "days": days}


def _day(behaviour: Behaviour, station: Station, day: date) -> dict[str, Any]:
    simulated = day_of(behaviour.seed, station, day - timedelta(days=behaviour.shift))
    return asdict(simulated) | {"day": day.isoformat()}
