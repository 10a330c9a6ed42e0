"""A treatment by its aspects: what is sown, at which rate, when, how it is ended, what else is done."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from apercu_core.trial.cover import Component

Aspect = str
"""Key of `ASPECTS`, or the name of a factor of no such kind."""

COMES_WITH_COVER: Mapping[Aspect, str] = {
    "species": "species or mix", "cultivar": "cultivar", "rate": "sowing rate", "sowing_method": "sowing method",
    "sowing_date": "sowing date", "kill_timing": "kill timing", "kill_method": "kill method",
    "inoculation": "inoculation", "seed_treatment": "seed treatment",
}  # fmt: skip
"""What only a treatment with a cover can have: it is part of having one."""

TOUCHES_THE_GROUND: Mapping[Aspect, str] = {"cover_fertiliser": "fertiliser on the cover", "grazing": "grazing"}
"""What is done to a cover and would change the soil without it too."""

ASPECTS: Mapping[Aspect, str] = {
    **COMES_WITH_COVER, **TOUCHES_THE_GROUND, "crop_date": "cash crop date", "tillage": "tillage",
    "passes": "order of two passes", "machine_pass": "pass of a machine", "crop_variety": "crop variety",
    "row_spacing": "row spacing", "crop_nitrogen": "nitrogen to the crop", "starter": "starter fertiliser",
    "planting": "soil disturbance at planting", "irrigation": "irrigation", "herbicides": "herbicide programme",
    "herbicide_residues": "residues of earlier herbicides", "residue": "residue removed or left",
    "harvest_date": "harvest date", "history": "history of the plots", "operator": "person or crew",
    "extra_passes": "further passes", "phase": "phase of a rotation",
}  # fmt: skip

_MAKES_A_COVER = ("species", "cultivar", "rate", "sowing_method", "sowing_date", "inoculation", "seed_treatment")
_NOTHING = ("", "no", "none", "no cover", "without", "without cover", "bare", "fallow", "uncovered", "nothing", "0")
_DATES = ("sowing_date", "kill_timing", "crop_date", "harvest_date")
_MONTHS = ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec")


@dataclass(frozen=True, slots=True)
class TreatmentDescription:
    """A treatment by its aspects. `by_factor`: those that are levels of a factor; the rest was said of it alone."""

    name: str
    aspects: Mapping[Aspect, str] = field(default_factory=dict)
    components: tuple[Component, ...] = ()
    by_factor: frozenset[Aspect] = frozenset()

    @property
    def covered(self) -> bool:
        """Whether anything is sown as a cover; that weeds are killed makes no cover of a bare plot."""
        sown = any(not is_nothing(self.aspects.get(aspect)) for aspect in _MAKES_A_COVER)
        return sown or any(aspect in self.by_factor for aspect in ("kill_timing", "kill_method"))

    def has(self, aspect: Aspect) -> bool:
        return not is_nothing(self.aspects.get(aspect))


def describe_treatment(
    name: str, *, levels: Mapping[str, str], kinds: Mapping[str, str], said: Mapping[Aspect, str],
    components: Sequence[Component] = (),
) -> TreatmentDescription:  # fmt: skip
    """A treatment from its factor levels (`kinds`: factor → aspect that it changes), its cover, and what was said."""
    kind_of = {factor: kinds.get(factor, "") for factor in levels}
    by_factor = {(kind_of[f] if kind_of[f] in ASPECTS else f): level for f, level in levels.items()}
    aspects = {aspect: text.strip() for aspect, text in said.items() if text.strip()} | by_factor
    if components and "species" not in aspects:
        aspects["species"] = " + ".join(sorted(one.name for one in components))
    return TreatmentDescription(name, aspects, tuple(components), frozenset(by_factor))


def is_nothing(text: str | None) -> bool:
    """Whether it says that there is none, or says nothing."""
    return " ".join((text or "").casefold().split()) in _NOTHING


def alike(aspect: Aspect, a: str | None, b: str | None) -> bool:
    """Whether two values of an aspect are one: spelling of capitals and blanks apart, dates by their day."""
    one, other = (" ".join((text or "").casefold().split()) for text in (a, b))
    if one == other:
        return True
    days = [_day(text) for text in (one, other)] if aspect in _DATES else [None, None]
    return days[0] is not None and days[0] == days[1]


def _day(text: str) -> tuple[int, int] | None:
    """Month and day of a date with the month in letters, or of an ISO date; None for other words."""
    iso = re.fullmatch(r"(?:\d{4}-)?(\d{1,2})-(\d{1,2})", text)
    if iso:
        return int(iso[1]), int(iso[2])
    words = re.fullmatch(
        r"(?:(\d{1,2})(?:st|nd|rd|th|\.)?\s+)?([a-z]{3,9})\.?(?:\s+(\d{1,2})(?:st|nd|rd|th)?)?(?:,?\s+\d{4})?", text
    )
    if not words or not (words[1] or words[3]) or words[2][:3] not in _MONTHS:
        return None
    return _MONTHS.index(words[2][:3]) + 1, int(words[1] or words[3])
