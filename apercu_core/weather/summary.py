"""What a period had: rain, warmth, hot days, dry spells, frosts, and how far that is from normal."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta

from apercu_core.weather.climate import Climate, normal_total
from apercu_core.weather.days import WeatherDay, days_between

HOT_C = 30.0
"""A maximum from here on is a hot day (rule of thumb)."""
DRY_MM = 1.0
"""Less rain than this leaves a day dry (rule of thumb)."""


@dataclass(frozen=True, slots=True)
class Spell:
    """Days in a row, both ends counted."""

    first: date
    last: date

    @property
    def days(self) -> int:
        return (self.last - self.first).days + 1


@dataclass(frozen=True, slots=True)
class Summary:
    """Of the days that are known: `rain_days` and `warm_days` say how many those are of `days`.

    `rain_normal_mm`, `mean_normal_c`: of the same known days. `driest`: the longest spell of dry days; a day without a
    record ends it. `frosts`: days with a minimum at or below 0 °C.
    """

    first: date
    last: date
    days: int
    rain_days: int
    rain_mm: float | None
    rain_normal_mm: float | None
    warm_days: int
    mean_c: float | None
    mean_normal_c: float | None
    hot: int
    driest: Spell | None
    frosts: int
    first_frost: date | None
    last_frost: date | None


def summary_of(known: Mapping[date, WeatherDay], climate: Climate | None, first: date, last: date) -> Summary:
    """From `first` to `last`, both counted. Raises `ValueError` where they are in the wrong order."""
    if last < first:
        raise ValueError("a period ends before it begins")
    days = days_between(first, last)
    there = [known[day] for day in days if day in known]
    wet = [one for one in there if one.rain_mm is not None]
    warm = [one for one in there if one.mean_c is not None]
    frosts = [one.day for one in there if one.tmin_c is not None and one.tmin_c <= 0]
    return Summary(
        first, last, len(days),
        len(wet), math.fsum(one.rain_mm or 0.0 for one in wet) if wet else None,
        normal_total(climate, [one.day for one in wet]) if climate and wet else None,
        len(warm), math.fsum(one.mean_c or 0.0 for one in warm) / len(warm) if warm else None,
        _normal_mean(climate, warm),
        sum(one.tmax_c is not None and one.tmax_c >= HOT_C for one in there), _driest(known, days),
        len(frosts), frosts[0] if frosts else None, frosts[-1] if frosts else None,
    )  # fmt: skip


def _normal_mean(climate: Climate | None, days: list[WeatherDay]) -> float | None:
    if climate is None or not days:
        return None
    usual = [climate.normal(name, one.day) for one in days for name in ("tmin_c", "tmax_c")]
    known = [value for value in usual if value is not None]
    return math.fsum(known) / len(known) if len(known) == len(usual) else None


def _driest(known: Mapping[date, WeatherDay], days: list[date]) -> Spell | None:
    longest: Spell | None = None
    begun: date | None = None
    for day in days:
        one = known.get(day)
        if one is None or one.rain_mm is None or one.rain_mm >= DRY_MM:
            begun = None
            continue
        begun = begun or day
        spell = Spell(begun, day)
        if longest is None or spell.days > longest.days:
            longest = spell
    return longest


@dataclass(frozen=True, slots=True)
class Bar:
    """One week of the season's strip: rain of its known days, mm, and its mean temperature, °C.

    `known`: of its `days`, how many have rain; where some are missing, the bar is less than what fell.
    """

    first: date
    days: int
    known: int
    rain_mm: float | None
    mean_c: float | None


def weekly(known: Mapping[date, WeatherDay], first: date, last: date) -> tuple[Bar, ...]:
    """Weeks from `first` on; the last may be shorter."""
    bars = []
    at = first
    while at <= last:
        days = days_between(at, min(last, at + timedelta(days=6)))
        there = [known[day] for day in days if day in known]
        rain = [one.rain_mm for one in there if one.rain_mm is not None]
        means = [one.mean_c for one in there if one.mean_c is not None]
        bars.append(
            Bar(at, len(days), len(rain), math.fsum(rain) if rain else None, sum(means) / len(means) if means else None)
        )
        at = days[-1] + timedelta(days=1)
    return tuple(bars)
