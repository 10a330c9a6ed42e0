"""Dangers to stock that graze the cover, and seed that comes up later."""

from __future__ import annotations

from collections.abc import Iterator

from apercu_core.species.carried import Danger, dangers_in
from apercu_core.species.record import Species
from apercu_core.species.rules.finding import Finding, cost, note, unknown
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
            yield unknown("Its dangers to stock aren't known.")
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
    standing = [days for days in (wish.days, wish.frosts.until_first) if days is not None and days >= 0]
    kill = species.range("kill")
    ends_early = bool(standing) and min(standing) < RIPE_SEED_DAYS and (wish.days is not None or _dies(kill, wish))
    if species.is_one_of("seed_risk", "high") and not ends_early:
        yield cost(SEED_COST, "It easily sheds ripe seed: end it before.")
    if species.is_one_of("hard_seed", "yes"):
        yield cost(SEED_COST, "Its hard seed can come up for years.")


def _dies(kill: tuple[float, float] | None, wish: Wish) -> bool:
    """Whether frost ends it in the autumn of sowing."""
    return wish.winter == "dies" or (kill is not None and kill[0] >= -2)
