"""Pests that a cover carries to a crop, dangers to stock, and lists of crops: read from the text of a record.

A pest reads "clubroot -> brassicas (strong, by cultivar)", a danger "bloat (manageable, on young stands)"; several are
parted by semicolons. Words that don't have this form are shown and nothing is judged by them.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Literal

from apercu_core.species.crops import Crop

Strength = Literal["strong", "weak"]
Gravity = Literal["grave", "manageable"]
NO_DANGER = "none known"

_APART = re.compile(r";\s*(?![^()]*\))")
_PEST = re.compile(
    r"^(?P<organism>.+?)\s*->\s*(?P<crops>[^()]+?)\s*\((?P<strength>strong|weak)(?:,\s*(?P<note>.+))?\)$"
)
_DANGER = re.compile(r"^(?P<what>.+?)\s*\((?P<gravity>grave|manageable)(?:,\s*(?P<when>.+))?\)$")
_BETWEEN_CROPS_ONLY = ("green bridge", "volunteers", "seedling disease", "ergot", "allergen", "herbicide-resistant")
"""What passes from a living cover to the next crop and doesn't wait in the soil for it."""


@dataclass(frozen=True, slots=True)
class Pest:
    """`crops`: names of crops or of their groups."""

    organism: str
    crops: tuple[str, ...]
    strength: Strength
    note: str = ""

    @property
    def stays_in_soil(self) -> bool:
        """Whether the crop before the cover can have left it there."""
        return not any(word in self.organism for word in _BETWEEN_CROPS_ONLY)

    def meets(self, crop: Crop) -> bool:
        return not crop.named.isdisjoint(self.crops)


@dataclass(frozen=True, slots=True)
class Danger:
    """`gravity`: "" where the record doesn't say how grave it is; `when`: in which growth or weather."""

    what: str
    gravity: Gravity | Literal[""]
    when: str = ""


def parts_of(text: str) -> list[str]:
    """What stands between semicolons, but for those inside brackets."""
    return [part.strip() for part in _APART.split(text) if part.strip()]


def pests_in(text: str) -> tuple[Pest, ...]:
    """The pests that are told by organism, crops and strength; other words are passed over."""
    found = []
    for part in parts_of(text):
        match = _PEST.match(part)
        if match:
            crops = tuple(crop.strip() for crop in match["crops"].split(","))
            found.append(Pest(match["organism"], crops, match["strength"], match["note"] or ""))  # type: ignore[arg-type]
    return tuple(found)


def dangers_in(text: str) -> tuple[Danger, ...]:
    """All dangers; one without brackets has no gravity."""
    found = []
    for part in parts_of(text):
        if part.lower() == NO_DANGER:
            continue
        match = _DANGER.match(part)
        found.append(Danger(match["what"], match["gravity"], match["when"] or "") if match else Danger(part, ""))  # type: ignore[arg-type]
    return tuple(found)
