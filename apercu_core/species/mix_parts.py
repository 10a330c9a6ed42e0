"""A mix's components: as typed, and as they come out."""

from __future__ import annotations

from dataclasses import dataclass

from apercu_core.species.record import Species


@dataclass(frozen=True, slots=True)
class Part:
    """A component as typed. `share`: of its full rate, of the mix's mass, or of its seeds; only proportions count for
    the last two, with `total` kg/ha for the mix. `full`: full rate, kg/ha; `tkw`: g per thousand, of the lot at hand.
    """

    species: Species
    share: float
    full: float | None
    tkw: float | None


@dataclass(frozen=True, slots=True)
class Component:
    """`rate`: kg/ha of pure live seed; shares in per cent; `seeds`: per m². None where a figure for it is unknown."""

    species: Species
    rate: float
    of_full: float | None
    of_mass: float
    of_seeds: float | None
    seeds: float | None
