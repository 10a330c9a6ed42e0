"""When a height or a biomass is reached, by how fast it grew between the last measurements."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, timedelta
from itertools import pairwise

from apercu_core.timing.expected import Expected, on, unknown
from apercu_core.triggers.trigger import UNITS, Trigger
from apercu_core.weather.thermal_time import Scale, Warmth
from apercu_core.words import day_said, number

BASE = Scale(4.0)
"""Growth is taken to follow warmth above 4 °C (thumb); without weather it follows days."""


def reached_by_growth(
    trigger: Trigger, measured: Sequence[tuple[date, float]], warmth: Warmth | None, today: date
) -> Expected:
    """`measured`: means of a treatment, oldest first. Two of them give a day, three a range too."""
    what, unit = trigger.kind, UNITS[trigger.kind]
    for day, value in measured:
        if value >= trigger.value:
            return on(day)
    if len(measured) < 2:
        seen = f"It was {number(measured[0][1])} {unit} on {day_said(measured[0][0])}. " if measured else ""
        return unknown(f"{seen}A forecast of {what} needs it measured at two visits.")
    (_, _), (day, value) = measured[-2:]
    rates = [_rate(a, b, warmth) for a, b in pairwise(measured)][-3:]
    last = rates[-1]
    if last is None:
        return unknown(f"Days without a record lie between the last two visits, so no day is forecast for {what}.")
    if last <= 0:
        return unknown(f"It hasn’t grown between the last two visits, so no day is forecast for {what}.")
    usual = _day_at(day, (trigger.value - value) / last, warmth)
    if usual is None:
        return unknown("There are no normals to look ahead with: they need three earlier years at the weather station.")
    usual = max(usual, today)
    by = "degree days" if warmth is not None else "days"
    ahead = f"Ahead it is taken to grow with {by} as between the last two visits."
    why = [f"{number(value)} {unit} on {day_said(day)}. {ahead}"]
    growing = [rate for rate in rates if rate is not None and rate > 0]
    if len(growing) < 2:
        return Expected(usual, usual, None, why=(*why, "Two measurements give no range: measure once more."))
    early, late = (_day_at(day, (trigger.value - value) / rate, warmth) for rate in (max(growing), min(growing)))
    why.append("The range is that of the fastest and slowest growth between visits.")
    return Expected(usual, early and max(early, today), late and max(late, today), why=tuple(why))


def _rate(a: tuple[date, float], b: tuple[date, float], warmth: Warmth | None) -> float | None:
    """Growth per degree day, or per day without weather; 0 without warmth between, None where days are missing."""
    between = (b[0] - a[0]).days if warmth is None else warmth.sum_at(a[0] + timedelta(days=1), b[0], BASE)
    if between is None:
        return None
    return (b[1] - a[1]) / between if between else 0.0


def _day_at(day: date, further: float, warmth: Warmth | None) -> date | None:
    if warmth is None:
        return day + timedelta(days=round(further))
    return warmth.reached(day + timedelta(days=1), further, BASE).day
