"""One day of weather, what it can be, and which days of a period are missing."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass, fields
from datetime import date, timedelta
from typing import Literal

from apercu_core.errors import Place, Refused

Quantity = Literal["tmin_c", "tmax_c", "rain_mm", "soil_c"]
NAMES: Mapping[Quantity, str] = {
    "tmin_c": "Minimum temperature", "tmax_c": "Maximum temperature", "rain_mm": "Rain",
    "soil_c": "Soil temperature at 10 cm",
}  # fmt: skip
POSSIBLE: Mapping[Quantity, tuple[float, float]] = {
    "tmin_c": (-60, 45), "tmax_c": (-55, 58), "rain_mm": (0, 500), "soil_c": (-30, 55),
}  # fmt: skip
"""°C and mm in a day; what lies outside was never measured in farmed land."""


@dataclass(frozen=True, slots=True)
class WeatherDay:
    """`tmin_c`, `tmax_c`: air, °C; `rain_mm`: with melted snow; `soil_c`: mean at 10 cm, °C. None: not known."""

    day: date
    tmin_c: float | None = None
    tmax_c: float | None = None
    rain_mm: float | None = None
    soil_c: float | None = None

    @property
    def mean_c(self) -> float | None:
        return None if self.tmin_c is None or self.tmax_c is None else (self.tmin_c + self.tmax_c) / 2


QUANTITIES: tuple[Quantity, ...] = tuple(f.name for f in fields(WeatherDay) if f.name != "day")  # type: ignore[misc]


@dataclass(frozen=True, slots=True)
class Missing:
    """Days in a row on which a quantity isn't known."""

    first: date
    last: date

    @property
    def days(self) -> int:
        return (self.last - self.first).days + 1


def faults(one: WeatherDay) -> list[Place]:
    """What can't be so, each with the quantity that it stands at."""
    found = []
    for name in QUANTITIES:
        value = getattr(one, name)
        low, high = POSSIBLE[name]
        if value is not None and not low <= value <= high:
            unit = "mm" if name == "rain_mm" else "°C"
            what = f"{NAMES[name]} {value:g} {unit} isn’t possible: from {low:g} to {high:g} {unit} is."
            found.append(Place(name, what))
    if one.tmin_c is not None and one.tmax_c is not None and one.tmin_c > one.tmax_c:
        what = f"The minimum of {one.tmin_c:g} °C lies above the maximum of {one.tmax_c:g} °C. Check both."
        found.append(Place("tmin_c", what))
    return found


def require_possible(one: WeatherDay) -> None:
    """Raises `Refused` with each thing that can't be so."""
    if found := faults(one):
        raise Refused("bad-value", f"{one.day.isoformat()}: {found[0].what}", found)


def days_between(first: date, last: date) -> list[date]:
    """Both included; empty where `last` lies before `first`."""
    return [first + timedelta(days=i) for i in range((last - first).days + 1)]


def missing_days(known: Collection[date], first: date, last: date) -> tuple[Missing, ...]:
    """The runs of days from `first` to `last` that aren't among the known ones."""
    runs: list[Missing] = []
    for day in days_between(first, last):
        if day in known:
            continue
        if runs and runs[-1].last == day - timedelta(days=1):
            runs[-1] = Missing(runs[-1].first, day)
        else:
            runs.append(Missing(day, day))
    return tuple(runs)


def known_of(days: Iterable[WeatherDay], *quantities: Quantity) -> set[date]:
    """Days on which all of these are known."""
    return {one.day for one in days if all(getattr(one, name) is not None for name in quantities)}
