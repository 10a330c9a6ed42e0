"""When the soil is warm, or cold, enough for some days in a row."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from apercu_core.arrays import Floats
from apercu_core.timing.expected import Expected, on, unknown
from apercu_core.triggers.trigger import Trigger
from apercu_core.weather.climate import Climate, place_of
from apercu_core.weather.days import WeatherDay
from apercu_core.weather.thermal_time import EARLY, LATE
from apercu_core.words import day_said, number

LONGEST = 400


@dataclass(frozen=True, slots=True)
class SoilWarmth:
    """Recorded days, and the earlier years. `since`: from when on a run of days counts, unless an operation says."""

    days: Mapping[date, WeatherDay]
    climate: Climate | None
    since: date


def soil_reaches(trigger: Trigger, soil: SoilWarmth | None, today: date, start: Expected | None = None) -> Expected:
    """The last day of the first run that is long enough; `start`: of the operation from which days count."""
    if soil is None:
        return unknown("The site has no weather station, so its soil temperature isn’t known. Choose one in Weather.")
    if start is not None and start.day is None:
        return unknown("The operation from which days are counted has no date yet.")
    since = soil.since if start is None or start.day is None else start.day
    run, newest = 0, None
    for i in range(max(0, (today - since).days)):
        day = since + timedelta(days=i)
        one = soil.days.get(day)
        if one is None or one.soil_c is None:
            run = 0
            continue
        newest = (day, one.soil_c)
        run = run + 1 if _met(trigger, one.soil_c) else 0
        if run >= trigger.days:
            return on(day)
    known = "" if newest is None else f"{number(newest[1])} °C on {day_said(newest[0])}. "
    if soil.climate is None or np.isnan(soil.climate.normals["soil_c"]).any():
        return unknown(f"{known}The station has no three years of soil temperatures to look ahead with.")
    ahead = max(today, since)
    found = [_first(trigger, year, ahead) for year in soil.climate.values["soil_c"]]
    met = [days for days in found if days is not None]
    if len(met) <= len(found) / 2:
        return unknown(f"{known}In most earlier years the soil doesn’t get there within a year from now.")
    early, middle, late = np.percentile(met, [EARLY, 50, LATE])
    why = f"{known}Ahead as in {len(found)} earlier years."
    if len(met) < len(found):
        why += f" In {len(found) - len(met)} of them it never got there."
    return Expected(
        ahead + timedelta(days=round(middle)), ahead + timedelta(days=int(early)),
        None if len(met) < len(found) else ahead + timedelta(days=int(np.ceil(late))), why=(why,),
    )  # fmt: skip


def _met(trigger: Trigger, value: float) -> bool:
    return value <= trigger.value if trigger.colder else value >= trigger.value


def _first(trigger: Trigger, year: Floats, ahead: date) -> int | None:
    """Days from `ahead` to the end of the first run in a year like this one, followed by itself."""
    days = year[(place_of(ahead) + np.arange(LONGEST)) % len(year)]
    met = days <= trigger.value if trigger.colder else days >= trigger.value
    runs = np.convolve(met.astype(int), np.ones(trigger.days, dtype=int))[trigger.days - 1 : LONGEST]
    whole = np.flatnonzero(runs == trigger.days)
    return int(whole[0]) + trigger.days - 1 if len(whole) else None
