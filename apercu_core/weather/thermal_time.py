"""When a sum of degree days is reached: by what was recorded, then as in each of the earlier years."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from apercu_core.arrays import Floats
from apercu_core.weather.climate import YEAR, Climate, place_of
from apercu_core.weather.days import WeatherDay
from apercu_core.words import number

LONGEST = 550
"""Days ahead that are looked at."""
EARLY, LATE = 10.0, 90.0
"""Percentiles of the earlier years that make the range of a forecast."""


@dataclass(frozen=True, slots=True)
class Scale:
    """How degree days are counted: °C, `cap_c` where growth no longer speeds up."""

    base_c: float
    cap_c: float | None = None


@dataclass(frozen=True, slots=True)
class Reached:
    """`day`: by normals; `early`, `late`: of most earlier years; all the same within the days that count.

    `so_far`: degree days up to the last of these; `filled`: how many of them have no record, so that normals stand for
    them; `known`: whether it is past, and by records alone.
    """

    day: date | None
    early: date | None
    late: date | None
    so_far: float
    filled: int
    known: bool = False


@dataclass(frozen=True, slots=True)
class _Recorded:
    """Running sums from a day to the last one that counts; how many days have no record, and which is the first."""

    sums: Floats
    filled: int
    first_missing: int

    @property
    def total(self) -> float:
        return float(self.sums[-1]) if len(self.sums) else 0.0


class Warmth:
    """Degree days at a station: recorded and forecast days, and the earlier years beyond them.

    `until`: the last day whose record counts, or forecast; `recorded`: the last one that is past. Days that are missing
    before take their normals and are counted; without normals nothing is told beyond the first of them.
    """

    def __init__(
        self, days: Mapping[date, WeatherDay], climate: Climate | None, until: date, recorded: date | None = None
    ) -> None:
        self._days, self._climate, self.until = days, climate, until
        self._past = until if recorded is None else recorded
        self._of_years: dict[Scale, Floats] = {}
        self._sums: dict[tuple[Scale, date], _Recorded] = {}
        self._further: dict[tuple[Scale, date], tuple[Floats, Floats]] = {}

    @property
    def years(self) -> int:
        return 0 if self._climate is None else len(self._climate.years)

    def so_far(self, start: date, scale: Scale) -> tuple[float, int]:
        """Degree days from `start` to the last day that counts, and how many of them had no record."""
        there = self._recorded(start, scale)
        return there.total, there.filled

    def sum_at(self, start: date, day: date, scale: Scale) -> float | None:
        """Degree days from `start` to `day`, both counted; beyond the records by normals. None where unknown."""
        there = self._recorded(start, scale)
        past = min(day, self.until) - start
        if self._climate is None and (day > self.until or past.days >= there.first_missing):
            return None
        total = float(there.sums[past.days]) if past.days >= 0 else 0.0
        beyond = max(start, self.until + timedelta(days=1))
        if day < beyond:
            return total
        ahead = self._ahead(beyond, (day - beyond).days + 1, scale)
        return total + float(ahead.mean(axis=0).sum())

    def reached(self, start: date, target: float, scale: Scale) -> Reached:
        """When `target` degree days from `start` on are reached; no day where neither records nor years tell."""
        there = self._recorded(start, scale)
        so_far, filled = there.total, there.filled
        if len(there.sums) and so_far >= target - 1e-9:
            at = int(np.argmax(there.sums >= target - 1e-9))
            by_records = at < there.first_missing
            if by_records or self._climate is not None:
                day = start + timedelta(days=at)
                return Reached(day, day, day, so_far, filled, known=by_records and day <= self._past)
        if self._climate is None:
            return Reached(None, None, None, so_far, filled)
        first = max(start, self.until + timedelta(days=1))
        each, usual = self._sums_ahead(first, scale)
        need = target - so_far
        if usual[-1] < need:
            return Reached(None, None, None, so_far, filled)
        middle = int(np.searchsorted(usual, need))
        spread = np.where(each[:, -1] >= need, np.argmax(each >= need, axis=1), LONGEST).astype(float)
        in_order = np.sort(spread)
        early, late = _percentile(in_order, EARLY), _percentile(in_order, LATE)
        return Reached(
            first + timedelta(days=middle), first + timedelta(days=int(np.floor(early))),
            None if late >= LONGEST else first + timedelta(days=int(np.ceil(late))), so_far, filled,
        )  # fmt: skip

    def why_not(self, found: Reached) -> str:
        """Why a sum has no day."""
        so_far = f"{number(found.so_far, 0)} °C d so far"
        if self._climate is not None:
            return f"{so_far}; by normals the rest isn’t reached within a year and a half."
        missing = f", with {found.filled} days missing" if found.filled else ""
        return f"{so_far}{missing}. There are no normals: they need three earlier years at the weather station."

    def cold_days(self, start: date, days: int, below_c: float) -> date | None:
        """The day by which so many days from `start` on had a mean of at most `below_c`; None where none tells."""
        left, at = days, start
        for _ in range(LONGEST):
            mean = self._mean(at)
            if mean is None:
                return None
            left -= mean <= below_c
            if left <= 0:
                return at
            at += timedelta(days=1)
        return None

    def _mean(self, day: date) -> float | None:
        """Recorded or forecast; else normal."""
        one = self._days.get(day)
        if one is not None and day <= self.until and one.mean_c is not None:
            return one.mean_c
        if self._climate is None:
            return None
        low, high = self._climate.normal("tmin_c", day), self._climate.normal("tmax_c", day)
        return None if low is None or high is None else (low + high) / 2

    def _recorded(self, start: date, scale: Scale) -> _Recorded:
        if (scale, start) not in self._sums:
            days = max(0, (self.until - start).days + 1)
            values, known = np.zeros(days), np.zeros(days, dtype=bool)
            there = [(i, one) for i in range(days) if (one := self._days.get(start + timedelta(days=i))) is not None]
            both = [
                (i, one.tmin_c, one.tmax_c) for i, one in there if one.tmin_c is not None and one.tmax_c is not None
            ]
            if both:
                at = np.array([i for i, _, _ in both])
                low, high = (_held(np.array([row[k] for row in both], dtype=float), scale) for k in (1, 2))
                values[at], known[at] = (low + high) / 2 - scale.base_c, True
            missing = np.flatnonzero(~known)
            if len(missing) and self._climate is not None:
                usual = self._each(scale).mean(axis=0)
                values[missing] = usual[[place_of(start + timedelta(days=int(i))) for i in missing]]
            first_missing = int(missing[0]) if len(missing) else days
            self._sums[scale, start] = _Recorded(np.cumsum(values), len(missing), first_missing)
        return self._sums[scale, start]

    def _sums_ahead(self, first: date, scale: Scale) -> tuple[Floats, Floats]:
        """Running sums from `first` on: of each earlier year, and by normals."""
        if (scale, first) not in self._further:
            ahead = self._ahead(first, LONGEST, scale)
            self._further[scale, first] = np.cumsum(ahead, axis=1), np.cumsum(ahead.mean(axis=0))
        return self._further[scale, first]

    def _each(self, scale: Scale) -> Floats:
        """Degree days of each day of the earlier years: years × 366."""
        if scale not in self._of_years:
            assert self._climate is not None
            low, high = (_held(self._climate.values[q], scale) for q in ("tmin_c", "tmax_c"))
            self._of_years[scale] = (low + high) / 2 - scale.base_c
        return self._of_years[scale]

    def _ahead(self, first: date, days: int, scale: Scale) -> Floats:
        """Years × days from `first` on, each year followed by itself; the ring's 29 February is left out."""
        start = int(np.searchsorted(_RING, place_of(first)))
        return self._each(scale)[:, _RING[(start + np.arange(days)) % len(_RING)]]


def _percentile(in_order: Floats, percent: float) -> float:
    """Linear between neighbours, as numpy's own, which takes twenty times as long for so few."""
    at = (len(in_order) - 1) * percent / 100
    low = int(at)
    high = min(low + 1, len(in_order) - 1)
    return float(in_order[low] + (at - low) * (in_order[high] - in_order[low]))


_RING = np.array([i for i in range(YEAR) if i != place_of(date(2000, 2, 29))])


def _held(temperatures: Floats, scale: Scale) -> Floats:
    """Between base and cap."""
    above = np.maximum(temperatures, scale.base_c)
    return above if scale.cap_c is None else np.minimum(above, scale.cap_c)
