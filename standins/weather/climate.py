"""An invented climate: each day's weather follows from the seed, the station and the date alone."""

from __future__ import annotations

import hashlib
import math
from dataclasses import dataclass
from datetime import date

EPOCH = date(1990, 1, 1)


@dataclass(frozen=True, slots=True)
class Station:
    """`warmer`, `wetter`: how the place differs from the district, °C and as a factor."""

    id: str
    name: str
    latitude: float
    longitude: float
    elevation_m: float
    warmer: float = 0.0
    wetter: float = 1.0


STATIONS = (
    Station("tarrow-sluice", "Tarrow Sluice", 52.7461, 0.0712, 3.0),
    Station("harrow-mill", "Harrow Mill", 52.7288, 0.1243, 5.0, warmer=0.2),
    Station("gedwell-rise", "Gedwell Rise", 52.6604, 0.2391, 31.0, warmer=-0.6, wetter=1.12),
)


@dataclass(frozen=True, slots=True)
class Day:
    """°C, mm, °C at 10 cm."""

    day: date
    tmin_c: float
    tmax_c: float
    rain_mm: float
    soil_10cm_c: float


def _chance(*parts: object) -> float:
    """From 0 to 1, the same for the same parts for ever."""
    digest = hashlib.blake2b("|".join(map(str, parts)).encode(), digest_size=8).digest()
    return int.from_bytes(digest, "big") / 2**64


def _drift(seed: int, name: str, n: float, scale: float) -> float:
    """A smooth walk from −1 to 1 that turns about every `scale` days."""
    at = n / scale
    left, share = math.floor(at), at - math.floor(at)
    ease = share * share * (3 - 2 * share)
    a, b = (2 * _chance(seed, name, scale, left + i) - 1 for i in (0, 1))
    return a + (b - a) * ease


def _season(day: date, coldest: int) -> float:
    """−1 at the coldest day of the year, 1 half a year later."""
    return -math.cos(2 * math.pi * (day.timetuple().tm_yday - coldest) / 365.25)


def _departure(seed: int, n: float) -> float:
    """How far the air is from usual, °C: spells of days, weeks and seasons, the same over the district."""
    return 3.2 * _drift(seed, "air", n, 4) + 2.4 * _drift(seed, "air", n, 11) + 1.3 * _drift(seed, "air", n, 70)


def day_of(seed: int, station: Station, day: date) -> Day:
    n = (day - EPOCH).days
    mean = 10.2 + 7.6 * _season(day, 20) + _departure(seed, n) + station.warmer
    wetness = 0.5 + 0.32 * _drift(seed, "wet", n, 5) + 0.18 * _drift(seed, "wet", n, 17)
    wet = _chance(seed, station.id, "wet", n) < wetness
    rain = -3.3 * math.log(1 - 0.995 * _chance(seed, station.id, "rain", n)) * station.wetter if wet else 0.0
    swing = (3.6 + 1.4 * _season(day, 5)) * (0.8 if wet else 1.75) + 0.6 * (_chance(seed, station.id, "swing", n) - 0.5)
    soil = 10.8 + 6.2 * _season(day, 32) + sum(_departure(seed, n - i) for i in range(8)) / 8 * 0.55 + station.warmer
    own = 0.5 * (_chance(seed, station.id, "own", n) - 0.5)
    return Day(
        day, round(mean - swing + own, 1), round(mean + swing + own, 1), round(max(0.2, rain), 1) if wet else 0.0,
        round(soil, 1),
    )  # fmt: skip
