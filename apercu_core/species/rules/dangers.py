"""Dangers to stock that graze the cover, and seed that comes up later."""

from __future__ import annotations

from collections.abc import Iterator

from apercu_core.species.carried import Danger, dangers_in
from apercu_core.species.record import Species
from apercu_core.species.rules.finding import Finding, cost, note, unknown
from apercu_core.species.rules.winter import is_tender
from apercu_core.species.wish import Wish

GRAVE_COST, MANAGEABLE_COST = 30.0, 8.0
SEED_COST = 3.0
"""Points for shed seed and for hard seed, grazed or not; thumb."""
RIPE_SEED_DAYS = 60.0
"""Days from sowing before which no cover sheds ripe seed; thumb."""


def stock(species: Species, wish: Wish) -> Iterator[Finding]:
    text = species.text("stock_danger")
    if not text:
        if wish.grazed:
            yield unknown("Its dangers to stock aren’t known.")
        return
    dangers = dangers_in(text)
    for gravity, points in (("grave", GRAVE_COST), ("manageable", MANAGEABLE_COST)):
        met = [d for d in dangers if (d.gravity or "manageable") == gravity]
        if met:
            said = f"{'Grave danger' if gravity == 'grave' else 'Danger'} to stock: {'; '.join(map(_told, met))}."
            if wish.grazed:
                yield cost(points, said)
            elif gravity == "grave":
                yield note(said)


def _told(danger: Danger) -> str:
    return f"{danger.what} ({danger.when})" if danger.when else danger.what


def seed(species: Species, wish: Wish) -> Iterator[Finding]:
    if species.is_one_of("seed_risk", "high") and not _ends_early(species, wish):
        yield cost(SEED_COST, "It easily sheds ripe seed. Kill it before the seed is ripe.")
    if species.is_one_of("hard_seed", "yes"):
        yield cost(SEED_COST, "Its hard seed can come up for years.")


def _ends_early(species: Species, wish: Wish) -> bool:
    """Whether it is ended, or killed by the frosts of its first autumn, before any seed is ripe."""
    if wish.days is not None:
        return wish.days < RIPE_SEED_DAYS
    until = wish.frosts.until_first
    return until is not None and 0 <= until < RIPE_SEED_DAYS and (wish.winter == "dies" or is_tender(species))
