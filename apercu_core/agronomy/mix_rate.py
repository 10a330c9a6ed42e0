"""What a mix holds: each component by mass, by number of seeds, and as a share of its full rate."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from apercu_core.agronomy.given import filled, not_negative, positive, refuse, share
from apercu_core.agronomy.seed_rate import mass_of, seeds_of

Basis = Literal["share_of_full", "mass", "seeds"]
SEPARATES_FROM = 8.0
"""Seeds whose masses differ by more than this sink between each other; thumb."""


@dataclass(frozen=True, slots=True)
class MixPart:
    """`share` by the basis of the mix; `full_kg_ha`: its rate when sown alone; `tkw_g`: g per 1,000 seeds."""

    name: str
    share: float
    full_kg_ha: float
    tkw_g: float
    fluffy: bool = False


@dataclass(frozen=True, slots=True)
class PartRate:
    name: str
    kg_ha: float
    share_of_full: float
    mass_share: float
    seed_share: float


@dataclass(frozen=True, slots=True)
class MixRate:
    """`total_of_full` may pass 1. `tkw_ratio`: of the heaviest to the lightest seed that is sown."""

    components: tuple[PartRate, ...]
    total_kg_ha: float
    total_seeds_m2: float
    total_of_full: float
    tkw_ratio: float
    separates: bool


def mix_rate(basis: Basis, parts: Sequence[MixPart], total: float | None = None) -> MixRate:
    """`total`: kg/ha for shares by mass, seeds per m² for shares by number; shares of full rates need none."""
    filled("components", parts)
    for i, part in enumerate(parts):
        at = f"components.{i}"
        (not_negative if basis == "share_of_full" else share)(f"{at}.share", part.share)
        positive(f"{at}.full_kg_ha", part.full_kg_ha)
        positive(f"{at}.tkw_g", part.tkw_g)
    shares = math.fsum(part.share for part in parts)
    if shares <= 0:
        raise refuse("components", "all shares are 0. Give at least one component a share above 0.")
    kg = _masses(basis, parts, shares, total)
    seeds = [seeds_of(mass, part.tkw_g) for mass, part in zip(kg, parts, strict=True)]
    all_kg, all_seeds = math.fsum(kg), math.fsum(seeds)
    found = tuple(
        PartRate(part.name, mass, mass / part.full_kg_ha, mass / all_kg, count / all_seeds)
        for part, mass, count in zip(parts, kg, seeds, strict=True)
    )
    sown = [part for part, mass in zip(parts, kg, strict=True) if mass > 0]
    ratio = max(part.tkw_g for part in sown) / min(part.tkw_g for part in sown)
    unlike = len({part.fluffy for part in sown}) > 1
    of_full = math.fsum(part.share_of_full for part in found)
    return MixRate(found, all_kg, all_seeds, of_full, ratio, ratio > SEPARATES_FROM or unlike)


def _masses(basis: Basis, parts: Sequence[MixPart], shares: float, total: float | None) -> list[float]:
    if basis == "share_of_full":
        return [part.share * part.full_kg_ha for part in parts]
    name = "total_kg_ha" if basis == "mass" else "total_seeds_m2"
    if total is None:
        raise refuse(name, "it is missing. Shares alone don’t give a rate: enter the rate of the whole mix.")
    positive(name, total)
    if abs(shares - 1) > 1e-6:
        raise refuse("components", f"the shares add up to {shares:g}. Change them so that they add up to 1.")
    if basis == "mass":
        return [part.share * total for part in parts]
    return [mass_of(part.share * total, part.tkw_g) for part in parts]
