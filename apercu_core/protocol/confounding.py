"""One thing at a time: whether treatments that a question compares differ in more than what it asks about.

Where two treatments differ in several aspects and no others lie between them, a difference can't be laid to any one of
them. What belongs to having a cover, or to a species, isn't a second difference.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations
from typing import Literal

from apercu_core.protocol.seed_apart import ADDED, LIVE_SEED, NAMES, same_species, seed_apart, shares_of
from apercu_core.trial.descriptions import (
    ASPECTS,
    COMES_WITH_COVER,
    TOUCHES_THE_GROUND,
    Aspect,
    TreatmentDescription,
    alike,
    is_nothing,
)

COVER = "with-cover"
"""The aspect in which a treatment with a cover differs from one without: its sowing and killing come with it."""

_TILLAGE = re.compile(r"\b(plough|plow|till(?!er)|cultivat|harrow|disc|disk|rotovat|incorporat|dug|dig)", re.IGNORECASE)
"""Ways of killing a cover that are tillage."""
_OF_A_LEGUME = ("inoculation", "seed_treatment")


@dataclass(frozen=True, slots=True)
class Offer:
    """What would part two treatments.

    `add`: a treatment as `like` but with `aspect` as in `other`; `hold`: `other` gets the `aspect` of `like`; `share`:
    the components of `other` get `rates_kg_ha`, so that both are sown at one share of their full rates. `value`: what
    the aspect becomes, "" for none.
    """

    kind: Literal["add", "hold", "share"]
    aspect: Aspect
    like: str
    other: str
    said: str
    value: str = ""
    rates_kg_ha: tuple[float, ...] = ()


@dataclass(frozen=True, slots=True)
class Mixed:
    """Two compared treatments that differ in several aspects. `through`: one that lies between; empty if none does.

    `remark`: what no offer can mend, if anything.
    """

    base: str
    treatment: str
    aspects: tuple[Aspect, ...]
    through: str
    offers: tuple[Offer, ...]
    remark: str = ""


def name_of(aspect: Aspect) -> str:
    return "having a cover" if aspect == COVER else NAMES.get(aspect) or ASPECTS.get(aspect, aspect)


def differing(one: TreatmentDescription, other: TreatmentDescription) -> tuple[Aspect, ...]:
    """Aspects in which two treatments differ.

    What was said of one treatment alone counts as absent from the other. A level of a factor that the other doesn't
    have (a control outside the crossing) doesn't count. With a cover on one side only, what comes with it doesn't
    count either, but what touches the ground does, and a cover that is tilled in is tillage.
    """
    only_one = one.covered != other.covered
    listed = bool(one.components and other.components)
    out = []
    for aspect in dict.fromkeys((*ASPECTS, *one.aspects, *other.aspects)):
        if (only_one and aspect in COMES_WITH_COVER) or (listed and aspect == "species"):
            continue
        a, b = _value(one, aspect, only_one), _value(other, aspect, only_one)
        if only_one and aspect in TOUCHES_THE_GROUND and is_nothing(a) and is_nothing(b):
            continue
        outside = (a is None and aspect in other.by_factor) or (b is None and aspect in one.by_factor)
        if not outside and not alike(aspect, a, b):
            out.append(aspect)
    if only_one:
        return (COVER, *out)
    if not listed:
        return tuple(out)
    apart = not same_species(one.components, other.components)
    if apart:
        out = [aspect for aspect in out if aspect not in _OF_A_LEGUME]
    same_method = alike("sowing_method", one.aspects.get("sowing_method"), other.aspects.get("sowing_method"))
    seed = seed_apart(one.components, other.components, same_method=same_method)
    said = {aspect for aspect in out if aspect in one.by_factor | other.by_factor}
    first = [aspect for aspect in seed if aspect in ("species", ADDED)]
    return (*first, *out, *(aspect for aspect in seed if aspect not in (*first, *said, *out)))


def _value(one: TreatmentDescription, aspect: Aspect, beside_bare: bool) -> str | None:
    """What is said of the aspect; a kill that is tillage is the tillage, beside a plot without cover."""
    said = one.aspects.get(aspect)
    kill = one.aspects.get("kill_method", "")
    if aspect == "tillage" and beside_bare and one.covered and said is None and _TILLAGE.search(kill):
        return kill
    return said


def compared(
    treatments: Sequence[str], controls: Sequence[str], own: Mapping[str, str] | None = None
) -> list[tuple[str, str]]:
    """Pairs that a question compares: each treatment with each control, or all with all where there is none.

    `own`: treatment → the control at its own levels of other factors; then these are all pairs.
    """
    if own:
        return [(own[one], one) for one in treatments if one in own]
    if controls:
        return [(control, one) for control in controls for one in treatments if one not in controls]
    return [(a, b) for i, a in enumerate(treatments) for b in treatments[i + 1 :]]


def mixed(treatments: Sequence[TreatmentDescription], pairs: Iterable[tuple[str, str]]) -> tuple[Mixed, ...]:
    """Those of the pairs that change more than one thing at once; a sowing date belongs to its species."""
    by_name = {one.name: one for one in treatments}
    out = []
    for base, name in pairs:
        a, b = by_name[base], by_name[name]
        apart = differing(a, b)
        if len([aspect for aspect in apart if not _belongs(aspect, apart)]) > 1:
            through = _through(a, b, set(apart), treatments)
            offers = () if through else _offers(a, b, apart)
            out.append(Mixed(base, name, apart, through, offers, "" if through else _remark(apart)))
    return tuple(out)


def _belongs(aspect: Aspect, apart: Sequence[Aspect]) -> bool:
    return aspect == "sowing_date" and ("species" in apart or ADDED in apart)


def worth_knowing(treatments: Sequence[TreatmentDescription]) -> tuple[str, ...]:
    """What comparisons hold besides, though it isn't a second difference: each said once.

    Covers count whether a control is named or not, since they are compared with each other all the same.
    """
    bare = [one for one in treatments if not one.covered]
    covers = [one for one in treatments if one.covered]
    out: list[str] = []
    apart = (differing(a, b) for a, b in combinations(covers, 2))
    if any("sowing_date" in aspects and _belongs("sowing_date", aspects) for aspects in apart):
        out.append(
            "Species are sown on different dates. A date belongs to its species' window, so a difference between them "
            "is one of species and date together."
        )
    kills = {one.aspects.get("kill_timing", "").casefold() for one in covers} - {""}
    if bare and len(kills) > 1 and not any("kill_timing" in one.aspects for one in bare):
        out.append(
            f"Weeds of {' and '.join(one.name for one in bare)} are killed at one date, covers at several. Add a bare "
            "control at each kill date, or say that a late kill beside bare holds the weed kill too."
        )
    passes = ("tillage", "machine_pass", "planting")
    unsaid = [one.name for one in bare if not any(aspect in one.aspects for aspect in passes)]
    drilled = any("drill" in one.aspects.get("sowing_method", "").casefold() for one in covers)
    if unsaid and drilled:
        out.append(
            f"Does {' and '.join(unsaid)} get the same pass of the drill as the covers? Say so under pass of a machine."
        )
    return tuple(out)


def _through(
    a: TreatmentDescription, b: TreatmentDescription, apart: set[Aspect], treatments: Sequence[TreatmentDescription]
) -> str:
    """The last treatment on a way from `a` to `b` that changes one thing at each step; empty where there is no way."""
    between = [c for c in treatments if set(differing(a, c)) | set(differing(c, b)) <= apart]
    came = {a.name: ""}
    waiting = [a]
    for here in waiting:
        for step in between:
            if step.name not in came and len(differing(here, step)) == 1:
                if step.name == b.name:
                    return here.name
                came[step.name] = here.name
                waiting.append(step)
    return ""


def _remark(apart: Sequence[Aspect]) -> str:
    if {"kill_timing", "crop_date"} <= set(apart):
        return (
            "Hold the cash crop date, or hold the time between kill and cash crop: both can’t be held while the kill "
            "date changes."
        )
    return ""


def _offers(a: TreatmentDescription, b: TreatmentDescription, apart: Sequence[Aspect]) -> tuple[Offer, ...]:
    out: list[Offer] = []
    for aspect in apart:
        if aspect in (COVER, LIVE_SEED, ADDED) or aspect in a.by_factor | b.by_factor:
            continue
        if aspect == "rate" and "species" in apart:
            out += _same_share(a, b)  # one species' rate isn't another's: what is alike is the share of the full rate
            continue
        bare = COVER in apart
        what, value, other = name_of(aspect), _value(a, aspect, bare) or "", _value(b, aspect, bare) or ""
        if other or not bare:
            told = f"the {what} of {b.name}" + (f" ({other})" if other else "")
            out.append(Offer("add", aspect, a.name, b.name, f"Add a treatment: {a.name} with {told}", other))
        if value or not bare:
            held = f"the {what} of {a.name}" + (f" ({value})" if value else "")
            out.append(Offer("hold", aspect, a.name, b.name, f"Give {b.name} {held}", value))
        if bare and other and not value:
            out.append(Offer("hold", aspect, b.name, a.name, f"Give {a.name} the {what} of {b.name} ({other})", other))
    return tuple(out)


def _same_share(a: TreatmentDescription, b: TreatmentDescription) -> Iterable[Offer]:
    """Sow `b` at the share of the full rates that `a` is sown at, its partners in the proportions that they have."""
    own, other = ([share for share in shares_of(d.components) if share] for d in (a, b))
    if len(own) == len(a.components) and len(other) == len(b.components):
        wanted = sum(own)
        rates = [(one.rate_kg_ha or 0.0) * wanted / sum(other) for one in b.components]
        said = f"Sow {b.name} at {100 * wanted:.0f} % of the full rate, as {a.name} is"
        yield Offer("share", "rate", a.name, b.name, said, "", tuple(float(f"{rate:.3g}") for rate in rates))
