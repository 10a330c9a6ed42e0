"""The cover of a treatment: what is sown, from which seed, at which rate, and whether it may set seed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

SeedSet = Literal["", "prevent", "wanted"]


@dataclass(frozen=True, slots=True)
class Component:
    """One species or cultivar of a cover.

    `species`: key of its record in the guide, if it has one. `rate_kg_ha`: of seed as it comes from the bag;
    `full_kg_ha`: the species' full rate by the way it is sown, where the guide has one;
    `lot`: what stands on the bag, with `purity_percent`, `germination_percent` and `tkw_g` (g per 1,000) of its label.
    """

    name: str
    cultivar: str = ""
    rate_kg_ha: float | None = None
    full_kg_ha: float | None = None
    lot: str = ""
    purity_percent: float | None = None
    germination_percent: float | None = None
    tkw_g: float | None = None
    species: str = ""

    @property
    def share(self) -> float | None:
        """Of the full rate."""
        return self.rate_kg_ha / self.full_kg_ha if self.rate_kg_ha is not None and self.full_kg_ha else None

    @property
    def live_seeds(self) -> float | None:
        """Per m², where germination and seed weight of the lot are stated; purity counts if it is."""
        if self.rate_kg_ha is None or self.germination_percent is None or not self.tkw_g:
            return None
        pure = 1.0 if self.purity_percent is None else self.purity_percent / 100
        return 100 * self.rate_kg_ha * pure * self.germination_percent / 100 / self.tkw_g


@dataclass(frozen=True, slots=True)
class Cover:
    """`seed_set`: to be prevented, or wanted; empty where nobody has said."""

    components: tuple[Component, ...] = ()
    seed_set: SeedSet = ""


def cautions_about(cover: Cover) -> tuple[str, ...]:
    """What isn't known of a cover, and what that risks; empty for a treatment without cover."""
    if not cover.components:
        return ()
    out = []
    if unnamed := [c.name for c in cover.components if not c.cultivar.strip()]:
        out.append(
            f"Cultivar not stated: {_and(unnamed)}. Lots sold by the name of the species differ in earliness, winter "
            "hardiness and growth, so what is found holds for this lot only, and nobody can repeat it."
        )
    if unrated := [c.name for c in cover.components if c.rate_kg_ha is None]:
        out.append(f"Rate not stated: {_and(unrated)}. Without it a thin stand can’t be told from a thin sowing.")
    untested = [c.name for c in cover.components if c.germination_percent is None or c.purity_percent is None]
    if untested:
        out.append(f"Germination or purity of the lot not stated: {_and(untested)}. Bulk rate isn’t live seed.")
    if not cover.seed_set:
        out.append("Nobody has said whether seed set is to be prevented or wanted.")
    return tuple(out)


def _and(names: Sequence[str]) -> str:
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"
