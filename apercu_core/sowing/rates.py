"""A rate as a person says it, and the same rate in each other way."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

from apercu_core.agronomy.conversions import converted
from apercu_core.agronomy.given import not_negative
from apercu_core.agronomy.seed_rate import live_share, mass_of, seeds_of
from apercu_core.sowing.lots import Fact, Lot

NEEDED: Mapping[str, tuple[Fact, ...]] = {
    "bulk": (), "live": ("purity", "germination"), "seeds": ("purity", "tkw_g"),
    "stand": ("purity", "germination", "emergence", "tkw_g"),
}  # fmt: skip
"""What has to be known of the lot to turn a rate of this kind into what comes from the bag."""


@dataclass(frozen=True, slots=True)
class Way:
    """`of`: seed as it comes from the bag, pure live seed, pure seeds by number, or plants that are wanted."""

    said: str
    unit: str
    of: str


WAYS: Mapping[str, Way] = {
    "kg_ha": Way("kg/ha", "kg/ha", "bulk"),
    "g_m2": Way("g/m²", "g/m2", "bulk"),
    "lb_ac": Way("lb/ac", "lb/ac", "bulk"),
    "bu_ac": Way("bu/ac", "bu/ac", "bulk"),
    "live_kg_ha": Way("kg/ha of pure live seed", "kg/ha", "live"),
    "live_lb_ac": Way("lb/ac of pure live seed", "lb/ac", "live"),
    "seeds_m2": Way("seeds/m²", "seeds/m2", "seeds"),
    "seeds_ft2": Way("seeds/ft²", "seeds/ft2", "seeds"),
    "seeds_ac": Way("seeds/ac", "seeds/ac", "seeds"),
    "plants_m2": Way("plants/m² wanted", "seeds/m2", "stand"),
    "plants_ft2": Way("plants/ft² wanted", "seeds/ft2", "stand"),
}


@dataclass(frozen=True, slots=True)
class Rate:
    """`way`: key of `WAYS`; `value` None where nobody has said a rate."""

    value: float | None
    way: str = "kg_ha"


@dataclass(frozen=True, slots=True)
class RateFound:
    """A rate in each way; None where what it needs isn't known. `missing`: facts to ask for, `assumed`: facts used
    that no label says. `bulk_kg_ha`: as it comes from the bag, with its coat.
    """

    bulk_kg_ha: float | None
    live_kg_ha: float | None
    seeds_m2: float | None
    live_seeds_m2: float | None
    plants_m2: float | None
    missing: tuple[str, ...]
    assumed: tuple[str, ...]

    def seeds_per_metre(self, row_spacing_m: float | None) -> float | None:
        return None if self.seeds_m2 is None or row_spacing_m is None else self.seeds_m2 * row_spacing_m


def rate_found(lot: Lot, rate: Rate) -> RateFound:
    """The rate in each way, as far as the lot is known. Refused where the rate isn't possible."""
    if rate.value is None:
        return RateFound(None, None, None, None, None, ("rate",), ())
    way = WAYS[rate.way]
    not_negative("rate", rate.value)
    missing: list[str] = [*lot.missing(NEEDED[way.of])]
    if rate.way == "bu_ac" and lot.bushel_lb is None:
        missing.append("bushel_lb")
    bulk = None if missing else _bulk(lot, rate, way)
    live = _times(bulk, _live(lot))
    pure = _times(bulk, lot.bare, lot.purity)
    live_seeds = None if live is None or lot.tkw_g is None else seeds_of(live, lot.tkw_g)
    return RateFound(
        bulk, live, None if pure is None or lot.tkw_g is None else seeds_of(pure, lot.tkw_g), live_seeds,
        _times(live_seeds, lot.emergence), tuple(missing), tuple(lot.assumed),
    )  # fmt: skip


def _times(start: float | None, *factors: float | None) -> float | None:
    """The product; None where anything of it isn't known."""
    known = [one for one in (start, *factors) if one is not None]
    return math.prod(known) if len(known) == 1 + len(factors) else None


def _live(lot: Lot) -> float | None:
    """Pure live seed, share of what comes from the bag."""
    if lot.purity is None or lot.germination is None:
        return None
    hard = lot.hard_seed if lot.count_hard_seed else 0.0
    return lot.bare * live_share(lot.purity, lot.germination, hard)


def _bulk(lot: Lot, rate: Rate, way: Way) -> float:
    assert rate.value is not None
    if way.of in ("bulk", "live"):
        mass = converted(rate.value, way.unit, "kg/ha", bushel_lb=lot.bushel_lb)
        live = _live(lot)
        return mass if way.of == "bulk" else mass / (live or 1.0)
    number = converted(rate.value, way.unit, "seeds/m2")
    assert lot.tkw_g is not None
    assert lot.purity is not None
    if way.of == "seeds":
        return mass_of(number, lot.tkw_g) / (lot.bare * lot.purity)
    assert lot.emergence is not None
    return mass_of(number / lot.emergence, lot.tkw_g) / (_live(lot) or 1.0)
