"""What a period's weather was, in sentences; nothing is said of what isn't known."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date

from apercu_core.weather.days import WeatherDay
from apercu_core.weather.summary import DRY_MM, HOT_C, Summary
from apercu_core.words import day_said, number


def said_of(found: Summary) -> list[str]:
    """Each thing that a summary knows, in metric units."""
    said = []
    if found.rain_mm is not None:
        text = f"{number(found.rain_mm, 0)} mm of rain on {_days(found.rain_days)} with a record"
        if found.rain_normal_mm:
            share = round(100 * found.rain_mm / found.rain_normal_mm)
            text += f", {share} % of the {number(found.rain_normal_mm, 0)} mm that are normal for these days"
        said.append(f"{text}.")
    if found.mean_c is not None:
        text = f"A mean of {number(found.mean_c, 1)} °C"
        if found.mean_normal_c is not None:
            off = found.mean_c - found.mean_normal_c
            warmer = "warmer" if off > 0 else "colder"
            text += f", normal is {number(found.mean_normal_c, 1)} °C" if abs(off) >= 0.05 else ", which is normal"
            text += f": the season was {warmer} than usual" if abs(off) >= 0.5 else ""
        said.append(f"{text}.")
    if found.driest is not None and found.driest.days > 1:
        spell = found.driest
        said.append(
            f"The longest spell with less than {number(DRY_MM)} mm a day had {spell.days} days, from "
            f"{day_said(spell.first)} to {day_said(spell.last)}."
        )
    if found.hot:
        said.append(f"{_days(found.hot)} with {number(HOT_C)} °C or more.")
    if found.first_frost and found.last_frost:
        said.append(
            f"{_days(found.frosts)} with frost, the first on {day_said(found.first_frost)} and the last on "
            f"{day_said(found.last_frost)}."
            if found.frosts > 1 else f"One day with frost, on {day_said(found.first_frost)}."
        )  # fmt: skip
    return said


def _days(n: int) -> str:
    return f"{n} day" if n == 1 else f"{n} days"


def ahead_said(days: Sequence[WeatherDay], issued: date | None) -> list[str]:
    """What a forecast says of the days ahead, oldest first; empty where there is none."""
    if not days:
        return []
    rain = [one.rain_mm for one in days if one.rain_mm is not None]
    lows = [one.tmin_c for one in days if one.tmin_c is not None]
    highs = [one.tmax_c for one in days if one.tmax_c is not None]
    said = []
    if rain:
        wet = sum(mm >= DRY_MM for mm in rain)
        said.append(
            f"{number(sum(rain), 0)} mm of rain are forecast for the next {_days(len(rain))}, {wet} of them wet."
        )
    if lows and highs:
        said.append(f"Temperatures from {number(min(lows), 0)} to {number(max(highs), 0)} °C.")
    if frosts := [one.day for one in days if one.tmin_c is not None and one.tmin_c <= 0]:
        said.append(f"Frost is forecast, first on {day_said(frosts[0])}.")
    if issued is not None:
        said.append(f"The forecast is of {day_said(issued)}.")
    return said
