"""Signs that a column isn't in the unit that it is taken for; a person is asked, nothing is turned by itself."""

from __future__ import annotations

import statistics
from collections.abc import Sequence
from dataclasses import dataclass, replace

from apercu_core.weather.climate import Climate
from apercu_core.weather.days import WeatherDay

LEAST_DAYS = 5
"""Days with both temperatures before anything is suspected of the normal distance."""
HOT_MEDIAN_C = 38.0
HOTTEST_C = 50.0
WIDE_RANGE_C = 18.0
"""Usual means of maximum minus minimum lie between 5 and 15 °C; 1.8 times that looks like Fahrenheit."""
FAR_FROM_NORMAL_C = 12.0
WET_DAYS = 5
LIGHT_RAIN_MM = 0.9
"""A mean of wet days below this looks like inches."""


@dataclass(frozen=True, slots=True)
class Suspicion:
    """`about`: temperature or rain; `why`: what in the values says so."""

    about: str
    why: str


def suspect_fahrenheit(days: Sequence[WeatherDay], climate: Climate | None = None) -> Suspicion | None:
    """Whether temperatures that are taken for °C look like °F."""
    highs = [one.tmax_c for one in days if one.tmax_c is not None]
    both = [(one.tmin_c, one.tmax_c) for one in days if one.tmin_c is not None and one.tmax_c is not None]
    if highs and max(highs) > HOTTEST_C:
        return Suspicion("temperature", f"The highest maximum is {max(highs):g}, which as °C would be a record.")
    if highs and statistics.median(highs) > HOT_MEDIAN_C:
        return Suspicion("temperature", f"Half of the maxima lie above {statistics.median(highs):g}.")
    if len(both) < LEAST_DAYS:
        return None
    if climate is not None and (why := _far_from_normal(days, climate)):
        return Suspicion("temperature", why)
    swing = statistics.mean(high - low for low, high in both)
    if swing > WIDE_RANGE_C:
        return Suspicion("temperature", f"Days differ by {swing:.0f} between minimum and maximum, in the mean.")
    return None


def _far_from_normal(days: Sequence[WeatherDay], climate: Climate) -> str:
    """Says so where the values lie far from the station's normals and would lie near them if they were °F."""
    as_read, as_turned = [], []
    for one in days:
        usual = [climate.normal("tmin_c", one.day), climate.normal("tmax_c", one.day)]
        if one.mean_c is None or usual[0] is None or usual[1] is None:
            continue
        normal = (usual[0] + usual[1]) / 2
        as_read.append(one.mean_c - normal)
        as_turned.append((one.mean_c - 32) / 1.8 - normal)
    if len(as_read) < LEAST_DAYS:
        return ""
    off, turned = statistics.mean(as_read), statistics.mean(as_turned)
    if off > FAR_FROM_NORMAL_C and abs(turned) < FAR_FROM_NORMAL_C / 2:
        return f"As °C the days would be {off:.0f} °C warmer than usual here; as °F they would be usual."
    return ""


def suspect_inches(days: Sequence[WeatherDay]) -> Suspicion | None:
    """Whether rain that is taken for mm looks like inches."""
    wet = [one.rain_mm for one in days if one.rain_mm]
    if len(wet) >= WET_DAYS and statistics.mean(wet) < LIGHT_RAIN_MM:
        return Suspicion("rain", f"{len(wet)} wet days have {statistics.mean(wet):.2g} in the mean.")
    return None


def from_fahrenheit(one: WeatherDay) -> WeatherDay:
    def turned(value: float | None) -> float | None:
        return None if value is None else round((value - 32) / 1.8, 2)

    return replace(one, tmin_c=turned(one.tmin_c), tmax_c=turned(one.tmax_c), soil_c=turned(one.soil_c))


def from_inches(one: WeatherDay) -> WeatherDay:
    return one if one.rain_mm is None else replace(one, rain_mm=round(one.rain_mm * 25.4, 2))
