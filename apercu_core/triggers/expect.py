"""When a trigger is met, by what has been seen and measured, and by the weather ahead."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date

from apercu_core.stages.forecast import NOTHING_MORE, Needs, SeenStage, when_reached
from apercu_core.stages.scales import StageScale
from apercu_core.timing.expected import Expected, last_of, on, unknown
from apercu_core.triggers.growth import reached_by_growth
from apercu_core.triggers.soil import SoilWarmth, soil_reaches
from apercu_core.triggers.trigger import Trigger
from apercu_core.weather.thermal_time import Scale, Warmth
from apercu_core.words import day_said, number


@dataclass(frozen=True, slots=True)
class Stand:
    """A plant of one treatment. `seen`: the last stage, or its sowing as stage 0; None: neither is known."""

    treatment: str
    plant: str
    name: str
    scale: StageScale | None
    seen: SeenStage | None
    needs: Needs = NOTHING_MORE


@dataclass(frozen=True, slots=True)
class Known:
    """What forecasts are made of. `heights`, `biomass`: treatment → means of a day, oldest first, cm and kg/ha."""

    today: date
    warmth: Warmth | None = None
    soil: SoilWarmth | None = None
    stands: tuple[Stand, ...] = ()
    heights: Mapping[str, Sequence[tuple[date, float]]] = field(default_factory=dict)
    biomass: Mapping[str, Sequence[tuple[date, float]]] = field(default_factory=dict)


def expect(trigger: Trigger, known: Known, treatments: Sequence[str], start: Expected | None) -> Expected:
    """`treatments`: those of the operation; it waits for the last of them. `start`: when what it hangs on is expected,
    which is the operation from which warmth counts, or the sowing that is still to come.
    """
    match trigger.kind:
        case "stage":
            return _stage(trigger, known, treatments, start)
        case "degree_days":
            return _degree_days(trigger, known, start)
        case "soil_temperature":
            return soil_reaches(trigger, known.soil, known.today, start)
        case "height" | "biomass":
            measured = known.heights if trigger.kind == "height" else known.biomass
            parts = [reached_by_growth(trigger, measured.get(one, ()), known.warmth, known.today) for one in treatments]
            return last_of(parts) if parts else unknown("The operation is for no treatment.")


def _stage(trigger: Trigger, known: Known, treatments: Sequence[str], start: Expected | None) -> Expected:
    stands = [one for one in known.stands if one.plant == trigger.plant and one.treatment in treatments]
    if not stands:
        return unknown("None of its treatments has this plant.")
    parts = []
    for stand in stands:
        if stand.scale is None:
            return unknown(f"Apercu knows no stages of {stand.name}.")
        if stand.seen is not None and not stand.seen.planned:
            parts.append(when_reached(stand.scale, stand.seen, int(trigger.value), known.warmth, stand.needs))
        elif start is not None and start.day is not None:
            parts.append(_from_sowing(stand, int(trigger.value), known, start, start.day))
        else:
            return unknown(f"No sowing and no stage of {stand.name} is recorded yet.")
    return last_of(parts)


def _from_sowing(stand: Stand, target: int, known: Known, start: Expected, day: date) -> Expected:
    """Of a plant that is still to be sown, with the sowing's own range."""

    def sown(on: date) -> Expected:
        assert stand.scale is not None
        return when_reached(stand.scale, SeenStage(0, on, planned=True), target, known.warmth, stand.needs)

    usual = sown(day)
    late = None if start.late is None else sown(start.late).late
    return Expected(usual.day, sown(start.early or day).early, late, why=usual.why)


def _degree_days(trigger: Trigger, known: Known, start: Expected | None) -> Expected:
    if start is None or start.day is None:
        return unknown("The operation from which degree days are counted has no date yet.")
    if known.warmth is None:
        return unknown("The site has no weather station, so degree days aren’t known. Choose one in Weather.")
    how = Scale(trigger.base_c or 0.0, trigger.cap_c)
    middle = known.warmth.reached(start.day, trigger.value, how)
    if middle.day is None:
        return unknown(known.warmth.why_not(middle))
    if middle.known:
        return on(middle.day)
    early = known.warmth.reached(start.early or start.day, trigger.value, how).early
    late = None if start.late is None else known.warmth.reached(start.late, trigger.value, how).late
    normals = f", of which {middle.filled} days by normals" if middle.filled else ""
    why = (
        f"{number(middle.so_far, 0)} of {number(trigger.value)} °C d above {number(how.base_c)} °C by "
        f"{day_said(known.warmth.until)}{normals}."
    )
    if late is None or late > known.warmth.until:
        why += f" Days ahead as in {known.warmth.years} earlier years."
    return Expected(middle.day, early, late, why=(why,))
