"""The demo's numbers held against the catalogue and what was sown: what no field could give isn't loaded."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import timedelta
from statistics import mean

from apercu_core.measures.catalogue import CATALOGUE
from apercu_core.measures.entries import evaluate
from apercu_core.measures.ranges import ranges_of
from apercu_core.measures.sheets import SHEETS
from apercu_core.trial.cover import Component
from apercu_core.units import parse_quantity
from demo import growing, harrow_fen
from demo.harrow_fen import DemoMeasure

MOST_OF_SEED, LEAST_OF_SEED = 0.8, 0.3
"""Share of the live seeds sown that stands as plants: above and below it no field would (thumb)."""
COUNTED = timedelta(days=18), timedelta(days=35)
"""After sowing; later the plants can't be told apart."""


def implausible() -> list[str]:
    """Everything that a practitioner would not believe, in sentences; empty where all is well."""
    return [*_values(), *_spreads(), *_stands(), *_dates()]


def _values() -> Iterable[str]:
    for measure in harrow_fen.MEASURES:
        ranges = ranges_of(measure.catalogue, measure.sheet, measure.settings, measure.name, measure.unit)
        low, high = ranges.plausible or (0.0, float("inf"))
        for label, typed in harrow_fen.entries(measure).items():
            for fields in typed if isinstance(typed, list) else ():
                value = value_of(measure, fields)
                if not low <= value <= high:
                    yield f"{measure.name} of plot {label} is {value:g} {measure.unit}."


def value_of(measure: DemoMeasure, fields: dict[str, str]) -> float:
    """What the sheet makes of an entry, in the measure's unit."""
    found = evaluate(SHEETS[measure.sheet], fields, measure.settings, unit=measure.unit).value
    assert found is not None, f"{measure.name} of {fields} lies beyond what was measured"
    return found


def _spreads() -> Iterable[str]:
    for measure in harrow_fen.MEASURES:
        low, high = CATALOGUE[measure.catalogue].spread
        if not low <= measure.cv_percent <= high:
            yield f"Plots vary by {measure.cv_percent:g} % in {measure.name}; {low:g} to {high:g} % is usual."


def _stands() -> Iterable[str]:
    for name, components in growing.COVERS.items():
        seeds = [_live_seeds(one) for one in components]
        share = growing.STAND[name] / sum(seeds)
        if not LEAST_OF_SEED <= share <= MOST_OF_SEED:
            yield f"{name} stands at {growing.STAND[name]:g} plants/m² of {sum(seeds):.0f} live seeds."
    counted = growing.counts([(name, name) for name in growing.STAND])
    for name, frames in counted.items():
        if abs(4 * mean(frames) - growing.STAND[name]) > growing.STAND[name]:
            yield f"Frames of {name} were counted far from its stand."


def _live_seeds(component: dict[str, object]) -> float:
    fields = {k: v for k, v in component.items() if k != "rate"}
    seeds = Component(**fields, rate_kg_ha=parse_quantity(str(component["rate"]), "kg/ha")).live_seeds  # type: ignore[arg-type]
    if seeds is None:
        raise ValueError(f"The demo doesn’t say germination and seed weight of {component['name']}.")
    return seeds


def _dates() -> Iterable[str]:
    visits = {name: due for name, due, _ in growing.VISITS}
    sown = next(one["done"] for one in growing.OPERATIONS if one["kind"] == "sow")
    if not COUNTED[0] <= visits["Stand count"] - sown <= COUNTED[1]:
        yield f"The stand is counted {(visits['Stand count'] - sown).days} days after sowing."
    month, day = (int(part) for part in growing.SITE["first_frost"].split("-"))
    if visits["Biomass cut"] >= visits["Biomass cut"].replace(month=month, day=day):
        yield "The covers are cut after the first frost."
    sprayed = next(one["about"] for one in growing.OPERATIONS if one["kind"] == "spray")
    if visits["Weed count"] >= sprayed:
        yield "Weeds are counted after they were sprayed."
