"""Clashes with the crops before and after: pests by pair and strength, kin, seed that can't be cleaned out, residue."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from apercu_core.species.carried import Pest, parts_of, pests_in
from apercu_core.species.crops import Crop, crop_named
from apercu_core.species.record import Species
from apercu_core.species.rules.finding import Finding, cost
from apercu_core.species.wish import Wish

STRONG_COST, WEAK_COST = 10.0, 3.0
"""Points for a pest that the cover carries strongly to the crop, and for a weak one, kin or residue; thumb."""
_SMALL_GRAINS = ("Secale", "Triticum", "× Triticosecale", "Hordeum", "Avena")
_KIN = {"Brassicaceae": "brassicas", "Fabaceae": "legumes"}


def rotation(species: Species, wish: Wish) -> Iterator[Finding]:
    carried = pests_in(species.text("hosts"))
    for crop in wish.crops_before:
        yield from _clash(species, crop, [pest for pest in carried if pest.stays_in_soil], f"It follows {crop.name}")
    for crop in wish.crops_after:
        yield from _clash(species, crop, carried, f"It comes before {crop.name}")
        yield from _residue(species, crop)


def _clash(species: Species, crop: Crop, carried: Sequence[Pest], words: str) -> Iterator[Finding]:
    met = [pest for pest in carried if pest.meets(crop)]
    for strength, points in (("strong", STRONG_COST), ("weak", WEAK_COST)):
        named = [_told(pest) for pest in met if pest.strength == strength]
        if named:
            how = "carries" if strength == "strong" else "weakly carries"
            yield cost(points, f"{words} and {how} {'; '.join(named)}.")
    if not met and (kin := _kin(species, crop)):
        yield cost(WEAK_COST, f"{words}: both are {kin}.")


def _told(pest: Pest) -> str:
    return f"{pest.organism} ({pest.note})" if pest.note else pest.organism


def _kin(species: Species, crop: Crop) -> str:
    """What both are, inside cereals, brassicas or legumes; maize is no kin of the small grains here."""
    family = species.text("family")
    if species.text("botanical").startswith(_SMALL_GRAINS) and "cereals" in crop.named:
        return "cereals"
    return _KIN.get(family, "") if crop.family == family else ""


def _residue(species: Species, crop: Crop) -> Iterator[Finding]:
    if _names(species.text("uncleaned"), crop):
        yield cost(WEAK_COST, f"Its shed seed can’t be cleaned out of {crop.name}.")
    if _names(species.text("inhibits"), crop):
        wait = species.range("inhibition_wait")
        days = f"; wait {wait[0]:g} to {wait[1]:g} days after the kill" if wait else ""
        yield cost(WEAK_COST, f"Its residue slows {crop.name}{days}.")
    if crop.name == "maize" and species.text("family") == "Poaceae":
        yield cost(
            WEAK_COST, "Grass residue can hold nitrogen back from maize: kill it young, or plan starter nitrogen."
        )


def _names(text: str, crop: Crop) -> bool:
    """Whether a list of crops or groups, parted by semicolons, holds the crop."""
    for part in parts_of(text):
        listed = crop_named(part)
        if part in crop.named or (listed is not None and listed.name == crop.name):
            return True
    return False
