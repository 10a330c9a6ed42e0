"""Growing degree days: warmth above a base temperature, added up."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from apercu_core.agronomy.given import amount, filled, not_negative, refuse


@dataclass(frozen=True, slots=True)
class DegreeDays:
    """`total`: over the days that are known; `reached_on_day`: 1 is the first, None if the target wasn't reached or a
    day before it is missing.
    """

    total: float
    missing_days: int
    reached_on_day: int | None


def of_day(tmin_c: float, tmax_c: float, base_c: float, cap_c: float | None = None) -> float:
    """Degree days of one day, °C·d: the mean of both temperatures, each held between base and cap, above the base."""

    def held(temperature: float) -> float:
        above = max(temperature, base_c)
        return above if cap_c is None else min(above, cap_c)

    return (held(tmax_c) + held(tmin_c)) / 2 - base_c


def degree_days(
    tmin_c: Sequence[float | None], tmax_c: Sequence[float | None], base_c: float, cap_c: float | None = None,
    target: float | None = None,
) -> DegreeDays:  # fmt: skip
    """A day of which one temperature is missing adds nothing and is counted as missing."""
    filled("tmin_c", tmin_c)
    if len(tmin_c) != len(tmax_c):
        raise refuse("tmax_c", f"it has {len(tmax_c)} days, and tmin_c has {len(tmin_c)}. Give both for each day.")
    amount("base_c", base_c)
    if cap_c is not None and amount("cap_c", cap_c) < base_c:
        raise refuse("cap_c", f"the cap of {cap_c:g} °C lies below the base of {base_c:g} °C.")
    if target is not None:
        not_negative("target", target)
    known: list[float] = []
    missing = 0
    reached = None
    for i, (low, high) in enumerate(zip(tmin_c, tmax_c, strict=True)):
        if low is None or high is None:
            missing += 1
            continue
        if amount(f"tmax_c.{i}", high) < amount(f"tmin_c.{i}", low):
            raise refuse(f"tmax_c.{i}", f"day {i + 1} has a maximum of {high:g} °C below its minimum of {low:g} °C.")
        known.append(of_day(low, high, base_c, cap_c))
        if target is not None and reached is None and not missing and math.fsum(known) >= target - 1e-9:
            reached = i + 1
    return DegreeDays(math.fsum(known), missing, reached)
