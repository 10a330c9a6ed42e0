"""When the next stages come, by degree days since the last one that somebody saw."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from itertools import pairwise

from apercu_core.stages.scales import SCALES, Stage, StageScale
from apercu_core.stages.tables import PACES
from apercu_core.timing.expected import Expected, on, unknown
from apercu_core.weather.thermal_time import Scale, Warmth
from apercu_core.words import day_said, number

COLD_DAYS, COLD_C = 45, 10.0
"""Days with a mean of at most so many °C that a plant with a need for cold takes before its stem lengthens (thumb)."""
STEM, BUDS = 30, 51
"""Stages from which on a plant has had the cold, and the light, that it waits for."""
LIGHT_HOURS, SPRING_HOURS = 10.0, 11.0
"""Shorter days hold back buds; and the stems of plants that live through winter, until days of spring (thumb)."""


@dataclass(frozen=True, slots=True)
class Pace:
    """`steps`: stage, next stage, degree days between them at least and at most; °C·d above `base_c`."""

    base_c: float
    steps: tuple[tuple[int, int, float, float], ...]


@dataclass(frozen=True, slots=True)
class SeenStage:
    """A stage that somebody saw on a day; 0: sown on that day, or `planned` to be."""

    code: int
    day: date
    planned: bool = False


@dataclass(frozen=True, slots=True)
class NextStage:
    stage: Stage
    expected: Expected


def _read(text: str) -> dict[str, Pace]:
    found = {}
    for line in text.strip().split("\n"):
        key, base, steps = (part.strip() for part in line.split("|"))
        parts = [step.split() for step in steps.split(";")]
        found[key] = Pace(float(base), tuple((int(a), int(b), float(low), float(high)) for a, b, low, high in parts))
    return found


PACE = _read(PACES)


@dataclass(frozen=True, slots=True)
class Needs:
    """What a plant waits for beside warmth. `cold`: cold days before its stem lengthens. `winter`: it lives through
    winter, and its stem waits for the days of spring. `latitude`: of the site in degrees; None: unknown.
    """

    cold: bool = False
    latitude: float | None = None
    winter: bool = False


NOTHING_MORE = Needs()


def distance(scale: StageScale, code: int, target: int) -> tuple[float, float] | None:
    """Degree days from one stage to a later one, at least and at most; None beyond what is known.

    Stages between two steps lie where their codes do.
    """
    pace = PACE[scale.key]
    first, last = pace.steps[0][0], pace.steps[-1][1]
    if not first <= code <= target <= last:
        return None
    low = high = 0.0
    for a, b, least, most in pace.steps:
        share = max(0, min(target, b) - max(code, a)) / (b - a)
        low, high = low + share * least, high + share * most
    return low, high


@dataclass(frozen=True, slots=True)
class _At:
    """Where the forecast stands: a stage, and when it is expected. `late` None: nobody can say how late."""

    code: int
    usual: date
    early: date
    late: date | None
    why: tuple[str, ...] = ()


def when_reached(
    scale: StageScale, seen: SeenStage, target: int, warmth: Warmth | None, needs: Needs = NOTHING_MORE
) -> Expected:
    """The day on which a stage comes, with its range: that of the plant's pace and that of the years together."""
    if target <= seen.code:
        return on(seen.day)
    if warmth is None:
        return unknown("The site has no weather station, so nothing is forecast by warmth. Choose one in Weather.")
    at = _At(seen.code, seen.day, seen.day, seen.day)
    for gate, wait in ((STEM, _cold), (STEM, _spring), (BUDS, _light)):
        if seen.code < gate <= target:
            found = _by_warmth(scale, seen, at, gate, warmth) if at.code < gate else at
            waited = found if isinstance(found, Expected) else wait(found, seen, warmth, needs)
            if isinstance(waited, Expected):
                return waited
            at = waited
    found = _by_warmth(scale, seen, at, target, warmth)
    if isinstance(found, Expected):
        return found
    low, high = distance(scale, seen.code, target) or (0.0, 0.0)
    how = Scale(PACE[scale.key].base_c)
    so_far, filled = warmth.so_far(seen.day, how)
    whence = "planned" if seen.planned else "sown" if seen.code == 0 else "seen"
    by_normals = f", of which {filled} days by normals" if filled else ""
    why = [
        (
            f"Stage {seen.code} {'is' if seen.planned else 'was'} {whence} on {day_said(seen.day)}. It takes "
            f"{number(low)} to {number(high)} °C d above {number(how.base_c)} °C to stage {target}, from experience: "
            "check locally."
        ),
        f"{number(so_far, 0)} °C d by {day_said(warmth.until)}{by_normals}.",
    ]
    if found.late is None or found.late > warmth.until:
        why.append(f"Days ahead as in {warmth.years} earlier years.")
    return Expected(found.usual, found.early, found.late, why=(*why, *at.why))


def _by_warmth(scale: StageScale, seen: SeenStage, at: _At, target: int, warmth: Warmth) -> _At | Expected:
    """The next point; where it can't be told, an expectation without a day that says why."""
    if at.code == target:
        return at
    between = distance(scale, at.code, target)
    if between is None:
        return unknown(f"Apercu knows no degree days from stage {seen.code} to {target}. Enter stages as you see them.")
    how = Scale(PACE[scale.key].base_c)
    middle = warmth.reached(at.usual, sum(between) / 2, how)
    if middle.day is None:
        return unknown(warmth.why_not(middle))
    early = warmth.reached(at.early, between[0], how).early
    late = None if at.late is None else warmth.reached(at.late, between[1], how).late
    return _At(target, middle.day, early or middle.day, late, at.why)


def _cold(at: _At, seen: SeenStage, warmth: Warmth, needs: Needs) -> _At | Expected:
    """The stem of some plants waits for cold days since they were sown or seen."""
    if not needs.cold:
        return at
    cold = warmth.cold_days(seen.day, COLD_DAYS, COLD_C)
    if cold is None:
        return unknown(
            f"The plant needs cold first: about {COLD_DAYS} days with a mean of at most {number(COLD_C)} °C, which "
            "neither records nor normals give. Enter the stage when the stem lengthens."
        )
    why = f"The stem lengthens after about {COLD_DAYS} cold days, on {day_said(cold)} at the earliest (rule of thumb)."
    late = None if at.late is None else max(at.late, cold)
    return _At(at.code, max(at.usual, cold), max(at.early, cold), late, (*at.why, why))


def _spring(at: _At, seen: SeenStage, warmth: Warmth, needs: Needs) -> _At | Expected:
    """The stem of a plant that lives through winter waits for days that are long enough and getting longer."""
    if not needs.winter:
        return at
    if needs.latitude is None:
        return unknown(
            "The plant lives through winter, and its stem waits for the days of spring. Enter the latitude of the site "
            "in Ask, or the stage when the stem lengthens."
        )
    why = f"The stem waits for days of spring with {number(SPRING_HOURS)} hours of light (rule of thumb)."
    return _waited(at, spring_day, needs.latitude, why)


def _waited(at: _At, free: Callable[[date, float], date], latitude: float, why: str) -> _At:
    """Each of its days moved to the first that is free; the reason is told where any moves."""
    usual, early = free(at.usual, latitude), free(at.early, latitude)
    late = None if at.late is None else free(at.late, latitude)
    if (usual, early, late) == (at.usual, at.early, at.late):
        return at
    return _At(at.code, usual, early, late, (*at.why, why))


def spring_day(day: date, latitude: float) -> date:
    """The day itself in spring, or the first of the next spring: days of `SPRING_HOURS` that grow longer."""
    for _ in range(366):
        hours = daylight_hours(day, latitude)
        if hours >= SPRING_HOURS and daylight_hours(day + timedelta(days=1), latitude) >= hours:
            return day
        day += timedelta(days=1)
    return day


def _light(at: _At, seen: SeenStage, warmth: Warmth, needs: Needs) -> _At | Expected:
    """Buds that would come in the dark of winter wait for its end."""
    if needs.latitude is None:
        return at
    why = f"Buds wait while days have less than {number(LIGHT_HOURS)} hours of light (rule of thumb)."
    return _waited(at, first_light, needs.latitude, why)


def first_light(day: date, latitude: float) -> date:
    """The day itself, or the first after it that has enough light."""
    while daylight_hours(day, latitude) < LIGHT_HOURS and abs(latitude) < 66:
        day += timedelta(days=1)
    return day


def daylight_hours(day: date, latitude: float) -> float:
    """From sunrise to sunset, without twilight, by the sun's declination (Cooper 1969, Solar Energy 12: 333–346)."""
    declination = math.radians(23.45) * math.sin(2 * math.pi * (284 + day.timetuple().tm_yday) / 365)
    cosine = -math.tan(math.radians(latitude)) * math.tan(declination)
    return 24 / math.pi * math.acos(max(-1.0, min(1.0, cosine)))


def next_stages(
    scale: StageScale, seen: SeenStage, warmth: Warmth | None, needs: Needs = NOTHING_MORE, most: int = 4
) -> tuple[NextStage, ...]:
    """The next steps of the plant's pace that can be told, in order; with the first that can't, so that it says why."""
    steps = [code for code in _milestones(scale) if code > seen.code]
    found: list[NextStage] = []
    for code in steps[:most]:
        expected = when_reached(scale, seen, code, warmth, needs)
        stage = scale.stage(code)
        if stage is not None:
            found.append(NextStage(stage, expected))
        if expected.day is None:
            break
    return tuple(found)


def _milestones(scale: StageScale) -> Sequence[int]:
    return sorted({code for a, b, _, _ in PACE[scale.key].steps for code in (a, b)})


for _key, _pace in PACE.items():
    assert all(one[1] == other[0] for one, other in pairwise(_pace.steps)), _key
    assert all(SCALES[_key].stage(code) for code in _milestones(SCALES[_key])), _key
