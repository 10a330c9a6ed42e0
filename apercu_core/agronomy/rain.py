"""Rain after sowing, which decides stands that were broadcast."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from datetime import date, timedelta

from apercu_core.agronomy.given import amount, filled, not_negative, whole

WINDOWS = (5, 10)
"""Days after sowing over which rain is added up."""
LONGEST = 366


def rain_after_sowing(
    sown: date, rain_mm: Mapping[date, float | None], windows_days: Sequence[float] = WINDOWS
) -> tuple[float | None, ...]:
    """Rain of days 1 to n after sowing, mm, for each window of n days; None where a day in it is missing."""
    for day, rain in rain_mm.items():
        if rain is not None:
            not_negative(f"rain_mm.{day}", rain)
    sums: list[float | None] = []
    for i, days in enumerate(filled("windows_days", windows_days)):
        n = whole(f"windows_days.{i}", amount(f"windows_days.{i}", days, most=LONGEST), least=1)
        fallen = [rain_mm.get(sown + timedelta(days=k)) for k in range(1, n + 1)]
        sums.append(None if None in fallen else math.fsum(rain for rain in fallen if rain is not None))
    return tuple(sums)
