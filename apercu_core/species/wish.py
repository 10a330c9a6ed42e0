"""What is wanted of a cover, where and when it is sown, and what stands before and after it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Literal

from apercu_core.errors import Refused
from apercu_core.species.crops import CROPS, Crop, crop_named
from apercu_core.species.record import SERVICES

Way = Literal["drilled", "broadcast", "frost_seeded"]
WAYS: tuple[Way, ...] = ("drilled", "broadcast", "frost_seeded")
AUTUMN_DAYS = 120
"""Sown as many days before the first frost or later, a cover grows in autumn; thumb."""
ONE_WINTER_DAYS = 300
"""A cover that is ended within as many days has had one winter at most; thumb."""
_HALF_A_WINTER = 90
"""Days from the first frost to mid-winter, or from there to the last, where only one of them is known; thumb."""


@dataclass(frozen=True, slots=True)
class Frosts:
    """Sowing beside the frosts. `until_first`: days until the first frost of autumn, below zero after it; None in
    spring, where only the last frost counts. `since_last`: days since the last frost of spring, below zero before it.
    `until_next`: days until the next first frost, whatever the season.
    """

    until_first: int | None = None
    since_last: int | None = None
    until_next: int | None = None


def frosts_around(sown: date, first: str, last: str) -> Frosts:
    """Where sowing lies between the usual frosts, "MM-DD" or "" where one isn't known.

    The first frost is the next one for what is sown in the frost-free season. After it, until mid-winter, it is the
    one that has gone by; from then on it is spring. Raises `Refused` where a day is none.
    """
    if not first:
        return Frosts(since_last=_since_last(sown, last) if last else None)
    before, after = _around(sown, first)
    next_first = (after - sown).days
    if not last:
        autumn = (sown - before).days < _HALF_A_WINTER
        return Frosts(-(sown - before).days if autumn else next_first, until_next=next_first)
    _, thaw = _around(before, last)
    if sown >= thaw:
        return Frosts(next_first, (sown - thaw).days, next_first)
    if sown < before + (thaw - before) / 2:
        return Frosts(-(sown - before).days, (sown - _around(before, last)[0]).days, next_first)
    return Frosts(None, -(thaw - sown).days, next_first)


def _since_last(sown: date, last: str) -> int:
    before, after = _around(sown, last)
    soon = (after - sown).days
    return -soon if soon <= _HALF_A_WINTER else (sown - before).days


def _around(sown: date, day: str) -> tuple[date, date]:
    """The last such day up to sowing, and the next after it."""
    days = [_day(year, day) for year in range(sown.year - 1, sown.year + 2)]
    return max(d for d in days if d <= sown), min(d for d in days if d > sown)


def _day(year: int, day: str) -> date:
    try:
        month, of_month = (int(part) for part in day.split("-"))
        if (month, of_month) == (2, 29):
            return date(year, 3, 1) - timedelta(days=1)
        return date(year, month, of_month)
    except ValueError:
        raise Refused("bad-value", f"{day!r} isn’t a day of the year. Write month and day, such as 10-05.") from None


@dataclass(frozen=True, slots=True)
class Wish:
    """What is wanted of a cover. None, "" and an empty tuple mean: not said, and nothing is judged by it.

    `weights`: service → 0 to 3. `frosts`: of the sowing date. `mild_winter`, `harsh_winter`: lowest temperature of the
    mildest and of the harshest winter in ten years, °C: for a cover that frost is to kill the mild one counts, for one
    that is to live the harsh one. `soil`: temperature at sowing, °C. `days`: from sowing to the end of the cover.
    `ways`: in which it can be sown. `before`, `after`: crops, by any of their names.
    """

    weights: Mapping[str, int]
    frosts: Frosts = Frosts()
    soil: float | None = None
    mild_winter: float | None = None
    harsh_winter: float | None = None
    winter: Literal["dies", "lives", ""] = ""
    ways: tuple[str, ...] = ()
    days: float | None = None
    wet: bool = False
    saline: bool = False
    shaded: bool = False
    grazed: bool = False
    before: tuple[str, ...] = ()
    after: tuple[str, ...] = ()

    def __post_init__(self) -> None:
        for service, weight in self.weights.items():
            if service not in SERVICES:
                raise Refused("bad-value", f"{service!r} isn’t a purpose. The purposes are: {', '.join(SERVICES)}.")
            if isinstance(weight, bool) or weight not in (0, 1, 2, 3):
                raise Refused("bad-value", f"{SERVICES[service]}: a weight is 0, 1, 2 or 3, not {weight}.")
        for way in self.ways:
            if way not in WAYS:
                raise Refused("bad-value", f"{way!r} isn’t a sowing method. The methods are: {', '.join(WAYS)}.")
        if self.mild_winter is not None and self.harsh_winter is not None and self.harsh_winter > self.mild_winter:
            raise Refused("bad-value", "The harsh winter is warmer than the mild one. Exchange the two temperatures.")
        if self.days is not None and self.days <= 0:
            raise Refused("bad-value", f"The cover stands {self.days:g} days; give at least 1.")
        for crop in (*self.before, *self.after):
            if crop_named(crop) is None:
                raise Refused("bad-value", f"{crop!r} is not in the list of crops: {', '.join(CROPS)}.")

    @property
    def crops_before(self) -> list[Crop]:
        return [crop for text in self.before if (crop := crop_named(text))]

    @property
    def crops_after(self) -> list[Crop]:
        return [crop for text in self.after if (crop := crop_named(text))]

    @property
    def only_frost_seeded(self) -> bool:
        return bool(self.ways) and set(self.ways) == {"frost_seeded"}

    @property
    def grows_one_winter(self) -> bool:
        """Sown in autumn and ended within the year, as before a spring crop."""
        if self.only_frost_seeded or (self.days is not None and self.days > ONE_WINTER_DAYS):
            return False
        if self.frosts.until_first is not None:
            return self.frosts.until_first <= AUTUMN_DAYS
        return self.frosts.since_last is None and self.winter == "lives"
