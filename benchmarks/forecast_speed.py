"""How long it takes to forecast 200 operations of 20 trials anew.

Each trial has a chain of ten: three triggers of stage, degree days and soil temperature, and seven that hang on them.
The weather of 15 years is made up; each trial has records and a scale of its own, so that nothing is shared.
"""

from __future__ import annotations

import math
import sys
import time
from datetime import date, timedelta
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parents[1]))

from apercu_core.stages.forecast import Needs, SeenStage
from apercu_core.stages.scales import SCALES
from apercu_core.timing.chain import Planned, expectations
from apercu_core.triggers.expect import Known, Stand, expect
from apercu_core.triggers.soil import SoilWarmth
from apercu_core.triggers.trigger import Trigger
from apercu_core.weather.climate import climate_of
from apercu_core.weather.days import WeatherDay
from apercu_core.weather.thermal_time import Warmth

TODAY, TRIALS, RUNS = date(2026, 4, 1), 20, 7
LIMIT_MS = 100


def weather(trial: int) -> list[WeatherDay]:
    first = date(2011, 1, 1)
    days = []
    for i in range((TODAY - first).days):
        day = first + timedelta(days=i)
        mean = 10 - 8 * math.cos(2 * math.pi * (day.timetuple().tm_yday - 20) / 365) + 2 * math.sin(i * 0.7 + trial)
        days.append(WeatherDay(day, mean - 4, mean + 4, 2.0, mean))
    return days


def season(trial: int) -> tuple[Known, list[Planned]]:
    days = weather(trial)
    climate = climate_of(days, TODAY)
    records = {one.day: one for one in days if one.day >= date(2025, 8, 1)}
    stands = (
        Stand("t", "rye", "Rye", SCALES["cereal"], SeenStage(30, date(2026, 3, 20)), Needs(latitude=52.7)),
        Stand("t", "vetch", "Vetch", SCALES["pulse"], SeenStage(31, date(2026, 3, 20)), Needs(latitude=52.7)),
    )
    warmth, soil = Warmth(records, climate, TODAY - timedelta(days=1)), SoilWarmth(records, climate, date(2026, 3, 1))
    known = Known(TODAY, warmth, soil, stands)
    triggers = {
        "kill": Trigger("stage", 61, plant="rye"), "second": Trigger("stage", 65, plant="vetch"),
        "spray": Trigger("degree_days", 450 + trial, base_c=3.0), "drill": Trigger("soil_temperature", 9.0, days=3),
    }  # fmt: skip
    plans = [Planned("sow", "Sow", done=date(2025, 9, 1))]
    for key, trigger in triggers.items():
        after = "drill" if key == "spray" else None

        def rule(start, trigger=trigger):  # type: ignore[no-untyped-def]
            return expect(trigger, known, ["t"], start)

        plans.append(Planned(key, key, after=after, rule=rule))
    before = "kill"
    for n in range(5):
        plans.append(Planned(f"next {n}", f"next {n}", after=before, days=3))
        before = f"next {n}"
    return known, plans


def main() -> None:
    made = [season(trial) for trial in range(TRIALS)]
    best = math.inf
    for _ in range(RUNS):
        # Nothing that an earlier run worked out is kept: each forecast starts from the records again.
        fresh = [(Warmth(k.warmth._days, k.warmth._climate, k.warmth.until), k, p) for k, p in made if k.warmth]
        for warmth, known, _plans in fresh:
            object.__setattr__(known, "warmth", warmth)
        start = time.perf_counter()
        found = [expectations(plans) for _, _, plans in fresh]
        best = min(best, time.perf_counter() - start)
    operations = sum(len(one) for one in found)
    undated = sum(expected.day is None for one in found for expected in one.values())
    said = f"{operations} operations of {TRIALS} trials, {undated} without a date"
    print(f"{said}: {1000 * best:.0f} ms (limit {LIMIT_MS})")


if __name__ == "__main__":
    main()
