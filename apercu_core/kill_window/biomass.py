"""What a cover is likely to weigh on a day ahead: from its last cut, or without one from the warmth since sowing."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

from apercu_core.weather.thermal_time import Scale, Warmth
from apercu_core.words import day_said, number

GROWTH_PER_DEGREE = (6.0, 12.0)
"""kg/ha of dry matter that a closed stand gains for each °C d above 4 °C (thumb)."""
GROWTH_SCALE = Scale(4.0)
CLOSES_AFTER = (500.0, 200.0)
"""°C d above 4 °C from sowing until a stand is closed and gains as much: at most and at least (thumb)."""


@dataclass(frozen=True, slots=True)
class Biomass:
    """Dry matter in kg/ha, at least and at most; `measured`: it goes on from a cut, not from the sowing alone."""

    low: float
    high: float
    measured: bool


def biomass_on(day: date, cut: tuple[date, float] | None, sown: date | None, warmth: Warmth | None) -> Biomass | None:
    """`cut`: the day of the last one and its mean, kg/ha. None where neither is known, or the day lies before both."""
    if warmth is None:
        return None
    least, most = GROWTH_PER_DEGREE
    if cut is not None and day >= cut[0]:
        since, mean = cut
        warm = warmth.sum_at(since + timedelta(days=1), day, GROWTH_SCALE)
        return None if warm is None else Biomass(mean + least * warm, mean + most * warm, measured=True)
    if cut is not None or sown is None or day <= sown:
        return None
    warm = warmth.sum_at(sown + timedelta(days=1), day, GROWTH_SCALE)
    if warm is None:
        return None
    late, early = CLOSES_AFTER
    return Biomass(least * max(0.0, warm - late), most * max(0.0, warm - early), measured=False)


def basis_said(cut: tuple[date, float] | None, sown: date | None, forecast: bool) -> str:
    """What the biomass of the days ahead is made of, as a sentence."""
    least, most = (number(100 * one) for one in GROWTH_PER_DEGREE)
    growth = f"{least} to {most} kg/ha of dry matter for every 100 °C d above {number(GROWTH_SCALE.base_c)} °C"
    if cut is not None:
        return f"Biomass goes on from the cut of {day_said(cut[0])}, with {growth} (rule of thumb)."
    advice = "Cut a few frames at a visit: then it goes on from what was weighed."
    if sown is None or not forecast:
        return f"No biomass was measured and none can be forecast. {advice}"
    late, early = (number(one) for one in CLOSES_AFTER)
    return (
        f"No biomass was measured. What is shown is a wide guess from the warmth since the sowing of {day_said(sown)}: "
        f"a stand that closes after {early} to {late} °C d and then gains {growth} (rule of thumb). A stand that is "
        f"thin or short of nitrogen or water has less. {advice}"
    )
