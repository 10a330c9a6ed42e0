"""The kill window of one treatment: its plants, the three schools and the three ways to say when."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date, timedelta
from typing import Literal

import numpy as np

from apercu_core.arrays import Floats
from apercu_core.kill_window.biomass import Biomass, basis_said, biomass_on
from apercu_core.kill_window.methods import CRIMPED, FLOWER, Outcome, outcomes
from apercu_core.species.record import Species
from apercu_core.stages.forecast import NextStage, SeenStage, next_stages, when_reached
from apercu_core.stages.scales import Stage, scale_of
from apercu_core.timing.expected import Expected
from apercu_core.trial.cover import SeedSet
from apercu_core.triggers.expect import Stand
from apercu_core.weather.climate import Climate, normal_total, place_of
from apercu_core.weather.days import days_between
from apercu_core.weather.evaporation import water_of_cover
from apercu_core.weather.thermal_time import Warmth
from apercu_core.words import day_said, listed, number

School = Literal["early", "at_sowing", "after_sowing"]
SCHOOLS: tuple[School, ...] = ("early", "at_sowing", "after_sowing")
EARLY_DAYS = 28
"""Before the crop's sowing (thumb)."""
AFTER_DAYS = 5
"""After it, and before the crop comes up (thumb)."""
SEED_FROM = {"cereal": 83, "pulse": 81, "clover": 85, "brassica": 81, "broadleaf": 81, "maize": 85}
"""From this stage on seed can sprout (thumb)."""
RELEASES, TIES_UP = 20.0, 30.0
"""C:N below the first releases nitrogen soon, above the second ties it up (thumb)."""
GREEN_BRIDGE_DAYS = 14
"""Between the cover's death and the crop, so that what lives on the cover starves (thumb)."""


@dataclass(frozen=True, slots=True)
class Plant:
    """A plant of the treatment. `species`: its record, if the guide has one."""

    stand: Stand
    species: Species | None


@dataclass(frozen=True, slots=True)
class Given:
    """What a treatment's window is made of. `kill`, `crop`: when they are planned, or were done. `height`: one that was
    chosen, in cm, and when it is reached. `biomass`: the last mean, kg/ha, and its day; `sown`: the cover's sowing,
    done or planned.
    """

    today: date
    plants: tuple[Plant, ...]
    warmth: Warmth | None
    climate: Climate | None
    kill: Expected | None = None
    crop: Expected | None = None
    height: tuple[float, Expected] | None = None
    biomass: tuple[date, float] | None = None
    sown: date | None = None
    seed_set: SeedSet = ""
    latitude: float | None = None
    early_days: int = EARLY_DAYS


@dataclass(frozen=True, slots=True)
class PlantThen:
    """A plant on a day: the stage that it has reached by forecast, the earliest and latest that it may be at, its C:N
    class, and what each way would do where all of these agree.
    """

    name: str
    stage: Stage | None
    least: Stage | None
    most: Stage | None
    cn: str
    ways: tuple[Outcome, ...]


@dataclass(frozen=True, slots=True)
class Then:
    """The treatment on a day. `before_crop`: days to the crop's sowing, below zero after it."""

    day: date
    plants: tuple[PlantThen, ...]
    before_crop: int | None
    biomass: Biomass | None
    notes: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class PlantAhead:
    name: str
    seen: SeenStage | None
    stages: tuple[NextStage, ...]
    seed_from: Expected | None
    why_not: str = ""


@dataclass(frozen=True, slots=True)
class WayToSay:
    """When the cover is ready, said by stage, by height or by the calendar."""

    key: Literal["stage", "height", "calendar"]
    expected: Expected
    said: str


@dataclass(frozen=True, slots=True)
class KillWindow:
    plants: tuple[PlantAhead, ...]
    schools: Mapping[School, Then]
    ways: tuple[WayToSay, ...]
    planned: Then | None
    frost: tuple[str, ...]
    second_pass: tuple[str, ...]
    notes: tuple[str, ...] = field(default=())


def kill_window(given: Given) -> KillWindow:
    """Nothing is said of what can't be forecast but why."""
    plants = tuple(_ahead(given, one) for one in given.plants)
    schools: dict[School, Then] = {}
    if given.crop is not None and given.crop.day is not None:
        sown = given.crop.day
        days = (sown - timedelta(days=given.early_days), sown, sown + timedelta(days=AFTER_DAYS))
        schools = {key: _then(given, plants, day) for key, day in zip(SCHOOLS, days, strict=True)}
    planned = None if given.kill is None or given.kill.day is None else _then(given, plants, given.kill.day)
    notes = []
    if given.crop is None:
        notes.append("No planting of a crop is planned, so nothing is said of the days before it.")
    forecast = any(one is not None and one.biomass for one in (*schools.values(), planned))
    notes.append(basis_said(given.biomass, given.sown, forecast))
    return KillWindow(
        plants, schools, _ways(given), planned, _frost(given),
        _second_pass(planned), tuple(notes),
    )  # fmt: skip


def _ahead(given: Given, plant: Plant) -> PlantAhead:
    stand = plant.stand
    if stand.scale is None:
        return PlantAhead(stand.name, None, (), None, f"Apercu knows no stages of {stand.name}.")
    if stand.seen is None:
        return PlantAhead(stand.name, None, (), None, f"No sowing and no stage of {stand.name} is recorded.")
    stages = next_stages(stand.scale, stand.seen, given.warmth, stand.needs, most=20)
    ripe = SEED_FROM.get(stand.scale.key)
    seed = None if ripe is None else when_reached(stand.scale, stand.seen, ripe, given.warmth, stand.needs)
    stop = next((one.expected.why[0] for one in stages if one.expected.day is None and one.expected.why), "")
    return PlantAhead(stand.name, stand.seen, tuple(one for one in stages if one.expected.day), seed, stop)


def _then(given: Given, ahead: tuple[PlantAhead, ...], day: date) -> Then:
    plants = tuple(_plant_then(one, its, day) for one, its in zip(given.plants, ahead, strict=True))
    before = None if given.crop is None or given.crop.day is None else (given.crop.day - day).days
    frozen = _frozen_by(given, day)
    notes = [*frozen, *_seed_notes(given, ahead, day), *_bridge_notes(given, before), *_water_notes(given, day)]
    biomass = None if frozen else biomass_on(min(day, _ripe_by(ahead)), given.biomass, given.sown, given.warmth)
    return Then(day, plants, before, biomass, tuple(notes))


def _ripe_by(ahead: tuple[PlantAhead, ...]) -> date:
    """When the last of its plants has ripened and gains no more; far ahead where that isn't known of all."""
    ripe = [None if one.seed_from is None else one.seed_from.late or one.seed_from.day for one in ahead]
    known = [day for day in ripe if day is not None]
    return max(known) if known and len(known) == len(ripe) else date.max


def _frozen_by(given: Given, day: date) -> list[str]:
    """Says so where frost had killed every plant of the cover by then in at least half of the earlier years."""
    start = _growing_from(given)
    if given.climate is None or start is None or not given.plants or day <= start:
        return []
    dead = [_years_killed(given.climate, plant, start, day) for plant in given.plants]
    if any(one is None or 2 * one[0] < one[1] for one in dead):
        return []
    return [
        "Frost had killed the whole cover by then in at least half of the earlier years, so none is forecast alive."
    ]


def _growing_from(given: Given) -> date | None:
    """The first day ahead on which frost can still meet the cover: nothing is said of a frost that it outlived."""
    return None if given.sown is None else max(given.sown, given.today)


def _years_killed(climate: Climate, plant: Plant, start: date, end: date) -> tuple[int, int] | None:
    """In how many of how many earlier years it froze to what kills even the hardened plant."""
    kill = plant.species.range("kill") if plant.species else None
    if kill is None:
        return None
    return int((_coldest(climate, start, end) <= kill[0]).sum()), len(climate.years)


def _coldest(climate: Climate, start: date, end: date) -> Floats:
    """The lowest temperature between two days in each earlier year, °C, shape (years,)."""
    places = [place_of(day) for day in days_between(start, min(end, start + timedelta(days=364)))]
    return np.asarray(climate.values["tmin_c"][:, places].min(axis=1))


def _plant_then(plant: Plant, ahead: PlantAhead, day: date) -> PlantThen:
    stage, least, most = stages_on(plant.stand, ahead, day)
    name = plant.stand.name
    if stage is None or least is None or most is None:
        return PlantThen(name, stage, least, most, "", ())
    ways = () if plant.species is None else _ways_between(plant.species, least, most)
    classes = dict.fromkeys(filter(None, (_cn(plant.species, one.code) for one in (least, stage, most))))
    cn = next(iter(classes), "") if len(classes) <= 1 else f"{'; or '.join(classes)}, by the stage that it is at"
    return PlantThen(name, stage, least, most, cn, ways)


def _ways_between(species: Species, least: Stage, most: Stage) -> tuple[Outcome, ...]:
    """What each way does, if it does the same from the least to the most that the stage may be."""
    found = []
    codes = [one.code for one in scale_of(species).stages if least.code <= one.code <= most.code] or [least.code]
    each = [outcomes(species, code) for code in codes]
    for same in zip(*each, strict=True):
        if len({one.effect for one in same}) == 1:
            found.append(same[0])
            continue
        why = f"By forecast it may be at any stage from {least.code} to {most.code} then. {same[0].why}"
        found.append(Outcome(same[0].way, "unknown", why))
    return tuple(found)


def stages_on(stand: Stand, ahead: PlantAhead, day: date) -> tuple[Stage | None, Stage | None, Stage | None]:
    """The last stage that is expected by a day; the least that is certain; the most that is possible by its range."""
    if stand.scale is None or stand.seen is None or day < stand.seen.day:
        return None, None, None
    usual = least = most = stand.scale.stage(stand.seen.code)
    for one in ahead.stages:
        expected = one.expected
        if expected.day is not None and expected.day <= day:
            usual = one.stage
        if expected.late is not None and expected.late <= day:
            least = one.stage
        if expected.early is not None and expected.early <= day:
            most = one.stage
    return usual, least, most


def _cn(species: Species | None, code: int | None) -> str:
    """What its residue does with nitrogen at the stage, by the record's range; empty where it isn't known."""
    if species is None or code is None:
        return ""
    name = "cn_young" if code < 31 else "cn_flower" if code < 75 else "cn_mature"
    ends = species.range(name)
    if ends is None:
        return ""
    low, high = ends
    means = "lies between the classes"
    if high < RELEASES:
        means = "releases nitrogen soon"
    elif low > TIES_UP:
        means = "ties nitrogen up"
    elif low >= RELEASES and high <= TIES_UP:
        means = "releases it slowly"
    ratio = number(low) if low == high else f"{number(low)} to {number(high)}"
    return f"C:N {ratio}: {means}"


def _seed_notes(given: Given, ahead: tuple[PlantAhead, ...], day: date) -> list[str]:
    notes = []
    for plant in ahead:
        seed = plant.seed_from
        if seed is None or seed.day is None:
            continue
        name, earliest = plant.name, seed.early or seed.day
        if given.seed_set == "wanted":
            if day < seed.day:
                notes.append(
                    f"{name} has no ripe seed by then, and seed is wanted: it ripens about {day_said(seed.day)}."
                )
        elif day >= earliest:
            wish = " It is to be prevented." if given.seed_set == "prevent" else ""
            notes.append(f"{name} may shed seed that sprouts: from {day_said(earliest)} on it can be ripe.{wish}")
    return notes


def _bridge_notes(given: Given, before: int | None) -> list[str]:
    if before is None:
        return []
    if before < 0:
        return [f"The cover lives for {-before} days beside the sown crop: it shades it and takes its water."]
    notes = []
    if before < GREEN_BRIDGE_DAYS:
        notes.append(
            f"{before} days without green plants before the crop; {GREEN_BRIDGE_DAYS} are usual so that pests and "
            "diseases don’t cross over (rule of thumb)."
        )
    for plant in given.plants:
        wait = plant.species.range("inhibition_wait") if plant.species else None
        crops = plant.species.text("inhibits") if plant.species else ""
        if wait and before < wait[1] and crops:
            notes.append(
                f"{plant.stand.name}: its residue slows {crops}. Leave {number(wait[0])} to {number(wait[1])} days."
            )
    return notes


def _water_notes(given: Given, day: date) -> list[str]:
    """What it costs in water to let the cover live until then, rather than end it early."""
    if given.crop is None or given.crop.day is None or given.climate is None or given.latitude is None:
        return []
    early = given.crop.day - timedelta(days=given.early_days)
    if day <= early:
        return []
    span = days_between(early, day - timedelta(days=1))
    water, rain = water_of_cover(span, given.climate, given.latitude), normal_total(given.climate, span)
    if water is None or rain is None:
        return []
    note = (
        f"From {day_said(early)} until then the cover takes about {number(water, 0)} mm more water than bare ground; "
        f"{number(rain, 0)} mm of rain are normal (rule of thumb)."
    )
    return [note]


def _ways(given: Given) -> tuple[WayToSay, ...]:
    found = []
    ready = [one for one in (_ready(given, plant) for plant in given.plants) if one is not None]
    if ready:
        latest = max(ready, key=lambda one: one[1].day or date.max)
        said = f"{latest[0]}. The stage is the steadiest sign: it is the default."
        crop = given.crop.day if given.crop else None
        if crop and latest[1].day and latest[1].day > crop:
            said += f" That is after the crop is planted on {day_said(crop)}."
        found.append(WayToSay("stage", latest[1], said))
    if given.height is not None:
        target, expected = given.height
        found.append(
            WayToSay("height", expected, f"{number(target)} cm. Height depends on sowing, nitrogen and light.")
        )
    if given.crop is not None and given.crop.day is not None:
        day = given.crop.later(-given.early_days)
        found.append(
            WayToSay(
                "calendar",
                day,
                f"{given.early_days} days before the crop. The calendar doesn’t know whether the spring is late.",
            )
        )
    return tuple(found)


def _ready(given: Given, plant: Plant) -> tuple[str, Expected] | None:
    """When the plant is ready to be ended mechanically: its crimping stage, else flowering."""
    stand = plant.stand
    if stand.scale is None or stand.seen is None or stand.scale.stage(FLOWER) is None:
        return None
    window = CRIMPED.get(plant.species.key) if plant.species else None
    code = window.first if window else FLOWER
    return f"{stand.name} at stage {code}", when_reached(stand.scale, stand.seen, code, given.warmth, stand.needs)


def _frost(given: Given) -> tuple[str, ...]:
    """Whether frost may end the cover between its sowing and the crop, by the earlier years."""
    climate, crop = given.climate, given.crop
    if climate is None:
        return ()
    end = crop.day if crop is not None and crop.day is not None else given.today + timedelta(days=180)
    said = []
    for plant in given.plants:
        kill = plant.species.range("kill") if plant.species else None
        sown = plant.stand.seen.day if plant.stand.seen is not None else given.today
        first = max(given.today, sown)
        if kill is None or end <= first:
            continue
        coldest = _coldest(climate, first, end)
        hardy, tender = int((coldest <= kill[0]).sum()), int((coldest <= kill[1]).sum())
        dies = (
            f"from {day_said(first)} to {day_said(end)} it froze to {number(kill[1])} °C or below in {tender} of "
            f"{len(climate.years)} earlier years, where tender plants die, and in {hardy} to {number(kill[0])} °C, "
            "where hardened ones do."
        )
        said.append(f"{plant.stand.name}: {dies}")
    return tuple(said)


def _second_pass(planned: Then | None) -> tuple[str, ...]:
    """Ways that end one plant of a mix and not another."""
    if planned is None or len(planned.plants) < 2:
        return ()
    notes = []
    ways = {way.way for plant in planned.plants for way in plant.ways}
    for key in ("mow", "crimp"):
        if key not in ways:
            continue
        effects = {p.name: next((w.effect for w in p.ways if w.way == key), "unknown") for p in planned.plants}
        left = [name for name, effect in effects.items() if effect in ("fails", "partly")]
        if left and any(effect == "kills" for effect in effects.values()):
            verb = "Mowing" if key == "mow" else "Crimping"
            notes.append(f"{verb} on {day_said(planned.day)} leaves {listed(left)} alive: plan a second pass.")
    return tuple(notes)
