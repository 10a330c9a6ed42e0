"""How much water a green stand takes from the soil, by temperatures alone."""

from __future__ import annotations

import math
from collections.abc import Iterable
from datetime import date

from apercu_core.weather.climate import Climate
from apercu_core.weather.days import WeatherDay

SOLAR_CONSTANT = 0.0820
"""MJ m⁻² min⁻¹."""
LATENT_HEAT = 2.45
"""MJ kg⁻¹, so that MJ m⁻² become mm."""
COVER_OVER_BARE = 0.6
"""Of reference evaporation: how much more a closed green cover takes than bare ground, on average (thumb)."""


def radiation_above(day: date, latitude: float) -> float:
    """Daily sunlight above the atmosphere, MJ m⁻² (Allen et al. 1998, FAO Irrigation and Drainage Paper 56, eq. 21)."""
    j = day.timetuple().tm_yday
    distance = 1 + 0.033 * math.cos(2 * math.pi * j / 365)
    declination = 0.409 * math.sin(2 * math.pi * j / 365 - 1.39)
    phi = math.radians(latitude)
    sunset = math.acos(max(-1.0, min(1.0, -math.tan(phi) * math.tan(declination))))
    return (
        24 * 60 / math.pi * SOLAR_CONSTANT * distance
        * (sunset * math.sin(phi) * math.sin(declination) + math.cos(phi) * math.cos(declination) * math.sin(sunset))
    )  # fmt: skip


def reference_evaporation(one: WeatherDay, latitude: float) -> float | None:
    """mm of a day, None without temperatures (Hargreaves and Samani 1985, Applied Engineering in Agriculture 1: 96)."""
    if one.tmin_c is None or one.tmax_c is None:
        return None
    mean, swing = (one.tmin_c + one.tmax_c) / 2, max(0.0, one.tmax_c - one.tmin_c)
    mm = 0.0023 * (mean + 17.8) * math.sqrt(swing) * radiation_above(one.day, latitude) / LATENT_HEAT
    return max(0.0, mm)


def water_of_cover(days: Iterable[date], climate: Climate, latitude: float) -> float | None:
    """mm that a closed green cover takes more than bare ground, by normals; None where these aren't known."""
    total = 0.0
    for day in days:
        normal = WeatherDay(day, climate.normal("tmin_c", day), climate.normal("tmax_c", day))
        mm = reference_evaporation(normal, latitude)
        if mm is None:
            return None
        total += mm
    return COVER_OVER_BARE * total
