"""How two covers differ in what is sown: species, cultivar, rate and live seed."""

from __future__ import annotations

from collections.abc import Sequence

from apercu_core.trial.cover import Component

ADDED, LIVE_SEED = "added", "live-seed"
"""The aspects that only a comparison of two covers has: species added to the other's, and live seed of two lots."""
NAMES = {ADDED: "added species", LIVE_SEED: "live seed sown"}

SAME_RATE = 0.05
"""Rates of one species that are nearer than this share of the larger are one rate (thumb)."""
SAME_SHARE = 0.15
"""Shares of the full rate that are nearer than this are one rate for two species (thumb): full rates are the middle of
a range.
"""


def seed_apart(one: Sequence[Component], other: Sequence[Component], *, same_method: bool) -> list[str]:
    """Aspects in which the seed differs, as far as both are stated. `same_method`: of sowing."""
    a, b = ({_identity(c): c for c in components} for components in (one, other))
    common = [(a[key], b[key]) for key in a if key in b]
    if set(a) == set(b):
        return _of_same_species(common, same_method)
    within = set(a) < set(b) or set(b) < set(a)
    if within and all(c.rate_kg_ha is not None for pair in common for c in pair) and _rates_alike(common, same_method):
        return [ADDED]
    shares = [sum(s for s in of if s is not None) if None not in of else None for of in map(shares_of, (one, other))]
    apart = shares[0] is not None and shares[1] is not None and abs(shares[0] - shares[1]) > SAME_SHARE
    return ["species", "rate"] if apart else ["species"]


def same_species(one: Sequence[Component], other: Sequence[Component]) -> bool:
    return {_identity(c) for c in one} == {_identity(c) for c in other}


def shares_of(components: Sequence[Component]) -> list[float | None]:
    """Of the full rate, each."""
    return [component.share for component in components]


def _identity(component: Component) -> str:
    """The guide's record before the spelling of the name."""
    return component.species or " ".join(component.name.casefold().replace("-", " ").split()).replace(" ", "-")


def _of_same_species(pairs: Sequence[tuple[Component, Component]], same_method: bool) -> list[str]:
    out = []
    if any(a.cultivar and b.cultivar and a.cultivar.casefold() != b.cultivar.casefold() for a, b in pairs):
        out.append("cultivar")
    if not _rates_alike(pairs, same_method):
        out.append("rate")
    elif any(_live_seed_differs(a, b) for a, b in pairs):
        out.append(LIVE_SEED)
    return out


def _rates_alike(pairs: Sequence[tuple[Component, Component]], same_method: bool) -> bool:
    for a, b in pairs:
        if a.rate_kg_ha is None or b.rate_kg_ha is None:
            continue
        seeds = a.live_seeds, b.live_seeds
        if None not in seeds and _near(*seeds):  # type: ignore[arg-type]
            continue
        if not same_method and a.share is not None and b.share is not None:  # each method has its own full rate
            if abs(a.share - b.share) > SAME_SHARE:
                return False
        elif not _near(a.rate_kg_ha, b.rate_kg_ha):
            return False
    return True


def _live_seed_differs(a: Component, b: Component) -> bool:
    return a.live_seeds is not None and b.live_seeds is not None and not _near(a.live_seeds, b.live_seeds)


def _near(a: float, b: float) -> bool:
    return abs(a - b) <= SAME_RATE * max(a, b)
