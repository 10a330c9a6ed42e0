"""Bag labels: one for each plot's seed, in the order in which the plots are sown."""

from __future__ import annotations

from typing import Any

from apercu_core.units import System, shown_in
from apercu_core.words import number
from config.problems import Conflict
from crew.models import Person
from crew.permissions import require
from reports.labels import Sheet, label_at, labels_pdf
from sowing.seed import SeasonSeed, bag_grams, lot_key
from trials.models import Season


def bag_labels(*, by: Person, season: Season, sheet: Sheet, address: str) -> bytes:
    """Number in sowing order, plot, code, each component with its mass, and a QR code that checks the bag."""
    there = there_with_bags(by, season)
    order = {t.id: i for i, t in enumerate(there.treatments)}
    site = f"site={season.site_id}&" if season.trial.seasons.count() > 1 else ""
    check = f"{address}/trials/{season.trial_id}/sow?{site}bag="
    units = {u.label: u for u in there.units}
    labels = []
    for n, stop in enumerate(there.stops):
        unit = units[stop.plot]
        lines = seed_lines(there, str(unit.treatment_id), stop.plot, "us" if by.units == "us" else "metric")
        if stop.clean:
            lines.insert(0, "Clean the drill first.")
        labels.append(label_at(unit, n, order, sheet, check + stop.plot) | {"lines": lines, "turn": n + 1})
    return labels_pdf(labels, season, sheet, "Bag labels")


def there_with_bags(by: Person, season: Season) -> SeasonSeed:
    """Raises `Conflict` where nothing is sown from bags."""
    require(by, "see", season)
    there = SeasonSeed(season)
    if not there.stops:
        raise Conflict("There are no bags. Describe what is sown in Ask, and randomise the plots in Plan.")
    return there


def seed_lines(there: SeasonSeed, treatment: str, plot: str, system: System) -> list[str]:
    """Each component of a plot's bag with its mass."""
    unit, factor = shown_in("g", system)
    names = [there.said[lot_key(one)].name for one in there.components[treatment]]
    amounts: list[Any] = list(bag_grams(there.sheet, plot))
    return [
        f"{name} {number(float(f'{grams * factor:.4g}'))} {unit}" if grams is not None else f"{name}: rate missing"
        for name, grams in zip(names, amounts, strict=True)
    ]
