"""Rates of seed: in mass, in seeds, as pure live seed, and for a stand that is wanted."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from apercu_core.agronomy.given import not_negative, positive, refuse, share, share_above_zero

Basis = Literal["bulk_kg_ha", "pls_kg_ha", "seeds_m2", "plants_m2"]


def seeds_of(mass_kg_ha: float, tkw_g: float) -> float:
    """Seeds per m² of a mass in kg/ha."""
    return mass_kg_ha * 100 / tkw_g


def mass_of(seeds_m2: float, tkw_g: float) -> float:
    """The mass of so many seeds per m², kg/ha."""
    return seeds_m2 * tkw_g / 100


def live_share(purity: float, germination: float, hard_seed: float = 0.0) -> float:
    """Pure live seed, share of the mass; `hard_seed`: as far as it is counted."""
    return purity * (germination + hard_seed)


@dataclass(frozen=True, slots=True)
class SeedLot:
    """What stands on the bag, and what of it comes up. Shares 0 to 1.

    `tkw_g`: g per 1,000 pure seeds; `hard_seed` is alive and doesn't germinate at once; laws differ on counting it as
    live (`count_hard_seed`); `emergence`: of live seed, in the field.
    """

    tkw_g: float
    purity: float
    germination: float
    emergence: float
    hard_seed: float = 0.0
    count_hard_seed: bool = False

    def __post_init__(self) -> None:
        positive("tkw_g", self.tkw_g)
        share_above_zero("purity", self.purity)
        share_above_zero("germination", self.germination)
        share_above_zero("emergence", self.emergence)
        share("hard_seed", self.hard_seed)
        if self.germination + self.hard_seed > 1 + 1e-12:
            total = self.germination + self.hard_seed
            raise refuse(
                "hard_seed",
                f"germination and hard seed together are {total:g}, more than all seed. Check both on the label: "
                "some labels already count hard seed as germinated.",
            )

    @property
    def live(self) -> float:
        """Pure live seed, share of the mass in the bag."""
        return live_share(self.purity, self.germination, self.hard_seed if self.count_hard_seed else 0.0)


@dataclass(frozen=True, slots=True)
class SeedRate:
    """One rate, said in each way. `bulk_kg_ha`: as it comes from the bag; `seeds_m2`: pure seeds."""

    pls: float
    bulk_kg_ha: float
    pls_kg_ha: float
    seeds_m2: float
    viable_seeds_m2: float
    plants_m2: float


def seed_rate(lot: SeedLot, basis: Basis, value: float) -> SeedRate:
    """`value`: the rate as `basis` says it: kg/ha of bulk or live seed, or pure seeds or plants per m²."""
    not_negative(basis, value)
    match basis:
        case "bulk_kg_ha":
            bulk = value
        case "pls_kg_ha":
            bulk = value / lot.live
        case "seeds_m2":
            bulk = mass_of(value, lot.tkw_g) / lot.purity
        case "plants_m2":
            bulk = mass_of(value / lot.emergence, lot.tkw_g) / lot.live
    pure, viable = (seeds_of(bulk * share, lot.tkw_g) for share in (lot.purity, lot.live))
    return SeedRate(lot.live, bulk, bulk * lot.live, pure, viable, viable * lot.emergence)
