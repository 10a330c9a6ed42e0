"""What earlier years at a station were like: normals of each day, and the years themselves, one by one."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date

import numpy as np

from apercu_core.arrays import Floats
from apercu_core.weather.days import QUANTITIES, Quantity, WeatherDay

YEAR = 366
"""Places of a year; 29 February has its own, which most years fill with the mean of its neighbours."""
WHOLE_YEAR = 330
"""Days with both temperatures that make a year count."""
LEAST_YEARS = 3
"""Below this nothing is called normal."""
WINDOW = 7
"""Days to both sides over which the normal of a day is smoothed."""
_LEAP = date(2000, 1, 1).toordinal()


def place_of(day: date) -> int:
    """0 to 365: where a day lies in a year that has 29 February."""
    return date(2000, day.month, day.day).toordinal() - _LEAP


@dataclass(frozen=True, slots=True)
class Climate:
    """`years`: those that count; `values`: quantity → years × 366, without missing values but where no year knows one
    (NaN); `normals`: quantity → 366, the mean over the years of the days within `WINDOW`.
    """

    years: tuple[int, ...]
    values: dict[Quantity, Floats]
    normals: dict[Quantity, Floats]

    def normal(self, quantity: Quantity, day: date) -> float | None:
        value = float(self.normals[quantity][place_of(day)])
        return None if np.isnan(value) else value


def climate_of(days: Iterable[WeatherDay], before: date) -> Climate | None:
    """From the whole calendar years before `before`'s; None where fewer than `LEAST_YEARS` count.

    A missing day of a year that counts takes the other years' mean, so that each year can be followed to its end.
    """
    by_year: dict[int, list[WeatherDay]] = {}
    for one in days:
        if one.day.year < before.year:
            by_year.setdefault(one.day.year, []).append(one)
    whole = sorted(year for year, own in by_year.items() if sum(one.mean_c is not None for one in own) >= WHOLE_YEAR)
    if len(whole) < LEAST_YEARS:
        return None
    raw = {name: np.full((len(whole), YEAR), np.nan) for name in QUANTITIES}
    for i, year in enumerate(whole):
        for one in by_year[year]:
            at = place_of(one.day)
            for name in QUANTITIES:
                value = getattr(one, name)
                if value is not None:
                    raw[name][i, at] = value
    normals = {name: _smoothed(table) for name, table in raw.items()}
    filled = {name: np.where(np.isnan(table), normals[name], table) for name, table in raw.items()}
    return Climate(tuple(whole), filled, normals)


def _smoothed(table: Floats) -> Floats:
    """The mean of all years within the window around each day; NaN where nothing is known there."""
    known = ~np.isnan(table)
    total, count = np.where(known, table, 0.0).sum(axis=0), known.sum(axis=0)
    return _around(total) / np.where(_around(count) > 0, _around(count), np.nan)


def _around(values: Floats) -> Floats:
    """The sum over the window, the year closed to a ring."""
    ring = np.concatenate([values[-WINDOW:], values, values[:WINDOW]]).astype(float)
    summed = np.concatenate([[0.0], np.cumsum(ring)])
    around: Floats = summed[2 * WINDOW + 1 :] - summed[: -2 * WINDOW - 1]
    return around


def normal_total(climate: Climate, days: Sequence[date]) -> float | None:
    """Normal rain of these days, mm; None where it isn't known."""
    total = float(climate.normals["rain_mm"][[place_of(day) for day in days]].sum()) if days else 0.0
    return None if np.isnan(total) else total
