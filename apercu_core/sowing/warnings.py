"""What to look out for when a cover is sown, each with its reason, from the species records and the lots."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from apercu_core.sowing.lots import Lot
from apercu_core.sowing.rates import RateFound
from apercu_core.species.mix_notes import depth_notes, inoculant_notes, separation_of
from apercu_core.species.mix_parts import Component
from apercu_core.species.record import Species
from apercu_core.words import listed

SLOW_FROM = 60.0
"""Days to ground cover from which weeds come first; thumb."""
LARGE_SEED_G = 15.0
"""Thousand-kernel weight from which seed on the surface stays dry; thumb."""
SHARED_WORDS = ("fertilis", "fertiliz", "slurry", "manure", "spray", "cultivat", "lime", "urea")
"""Parts of words that say that a machine does something else in the same pass."""


@dataclass(frozen=True, slots=True)
class SownPart:
    """`species`: None for one that the guide doesn't have."""

    species: Species | None
    lot: Lot
    found: RateFound


def sowing_warnings(parts: Sequence[SownPart], method: str, shared_pass: str = "") -> tuple[str, ...]:
    """Sentences for one treatment. `method`: of sowing, as described; `shared_pass`: what else the pass does."""
    if not parts:
        return ()
    rules = (_separation, _depth, _chaffy_alone, _inoculants, _coat, _slow)
    said = [sentence for rule in rules for sentence in rule(parts)]
    said += _on_the_surface(parts, method.casefold())
    said += _shared(f"{method} {shared_pass}".casefold(), parts)
    return tuple(said)


def _components(parts: Sequence[SownPart]) -> list[Component]:
    """Those whose species is known, as the notes on mixes take them."""
    return [
        Component(part.species, part.found.bulk_kg_ha or 0.0, None, 0.0, None, part.found.seeds_m2)
        for part in parts
        if part.species
    ]


def _separation(parts: Sequence[SownPart]) -> Iterator[str]:
    said = separation_of([(part.species, part.lot.tkw_g) for part in parts if part.species])
    if said and len(parts) > 1:
        yield said


def _depth(parts: Sequence[SownPart]) -> Iterator[str]:
    yield from depth_notes(_components(parts))


def _chaffy_alone(parts: Sequence[SownPart]) -> Iterator[str]:
    chaffy = [part.species.name for part in parts if part.species and part.species.is_one_of("seed_shape", "chaffy")]
    if chaffy and len(chaffy) == len(parts):
        yield (
            f"Seed of {_names(chaffy)} is chaffy: it bridges in the box and flows unevenly. Stir it, or use a box for "
            "such seed, and catch it more than three times."
        )


def _inoculants(parts: Sequence[SownPart]) -> Iterator[str]:
    yield from inoculant_notes(_components(parts))


def _coat(parts: Sequence[SownPart]) -> Iterator[str]:
    for part in parts:
        if part.species and part.species.is_one_of("coated", "yes") and part.lot.coat == 0:
            yield (
                f"{part.species.name} is often sold with coated seed. Look at the bag: a coat of a third of the mass "
                "means a third less seed. Enter the coat with the lot."
            )


def _slow(parts: Sequence[SownPart]) -> Iterator[str]:
    days = [span for part in parts if part.species and (span := part.species.range("cover_days"))]
    if days and len(days) == len(parts) and min(low for low, _ in days) >= SLOW_FROM:
        yield (
            f"Nothing here covers the ground within {SLOW_FROM:g} days, so weeds come first. A nurse crop at a low "
            "rate closes the ground earlier; it then belongs to the treatment in every plot."
        )


def _on_the_surface(parts: Sequence[SownPart], method: str) -> Iterator[str]:
    if "frost" in method:
        unfit = [p.species.name for p in parts if p.species and not p.species.is_one_of("frost_seeded", "yes")]
        if unfit:
            yield (
                f"{_names(unfit)} isn’t known to establish on frozen ground. Drill it once the soil carries, or leave "
                "it out of the frost seeding."
            )
    elif "broadcast" in method:
        large = [p.lot.name for p in parts if p.lot.tkw_g is not None and p.lot.tkw_g >= LARGE_SEED_G]
        if large:
            yield f"Seed of {_names(large)} is large and stays dry on the surface. Cover it with soil, or drill it."
        yield "The rain of the first ten days decides a broadcast stand. Note it, or take it from the weather station."


def _shared(method: str, parts: Sequence[SownPart]) -> Iterator[str]:
    if not any(word in method for word in SHARED_WORDS):
        return
    yield (
        "Seed is sown in one pass with another job: calibrate the machine while it does both, and keep the seed in "
        "fertiliser or slurry for hours, not days. Plots without cover get the same pass without seed, or the pass is "
        "part of the treatment."
    )
    if any(p.species and p.species.is_one_of("nitrogen", "fixes") for p in parts):
        yield "Fertiliser salt and slurry kill inoculant on the seed. Inoculate just before sowing, or apply it apart."


def _names(names: Sequence[str]) -> str:
    return listed(names, most=len(names))
