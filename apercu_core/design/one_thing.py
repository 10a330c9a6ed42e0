"""One thing at a time: whether treatments that a question compares differ in more than what it asks about.

A treatment is described by its aspects: what is sown, at which rate, when, how it is killed, what else is done. Where
two treatments differ in several aspects and no others lie between them, a difference can't be laid to any one of them.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal

from apercu_core.design.cover import Component

Aspect = str
"""Key of `ASPECTS`, or the name of a factor of no such kind."""

COVER = "with-cover"
"""The aspect in which a treatment with a cover differs from one without: its sowing and killing come with it."""

OF_COVER: Mapping[Aspect, str] = {
    "species": "species or mix", "cultivar": "cultivar", "rate": "sowing rate", "sowing_method": "sowing method",
    "sowing_date": "sowing date", "kill_timing": "kill timing", "kill_method": "kill method",
    "cover_fertiliser": "fertiliser on the cover", "inoculation": "inoculation", "grazing": "grazing",
}  # fmt: skip
"""What only a treatment with a cover can have."""

ASPECTS: Mapping[Aspect, str] = {
    **OF_COVER, "crop_date": "cash crop date", "tillage": "tillage", "passes": "order of two passes",
    "crop_variety": "crop variety", "row_spacing": "row spacing", "herbicides": "herbicide programme",
    "extra_passes": "extra passes", "phase": "phase of a rotation",
}  # fmt: skip

SAME_SHARE = 0.15
"""Shares of the full rate that are nearer than this are one rate for two species (thumb)."""


@dataclass(frozen=True, slots=True)
class Described:
    """A treatment by its aspects. `by_factor`: those that are levels of a factor; the rest was said of it alone."""

    name: str
    aspects: Mapping[Aspect, str] = field(default_factory=dict)
    components: tuple[Component, ...] = ()
    by_factor: frozenset[Aspect] = frozenset()

    @property
    def covered(self) -> bool:
        return any(aspect in OF_COVER for aspect in self.aspects)


@dataclass(frozen=True, slots=True)
class Offer:
    """What would part two treatments.

    `add`: a treatment as `like` but with `aspect` as in `other`; `hold`: `other` gets the `aspect` of `like`; `share`:
    the components of `other` get `rates_kg_ha`, so that both are sown at one share of their full rates.
    """

    kind: Literal["add", "hold", "share"]
    aspect: Aspect
    like: str
    other: str
    said: str
    rates_kg_ha: tuple[float, ...] = ()


@dataclass(frozen=True, slots=True)
class Mixed:
    """Two compared treatments that differ in several aspects. `through`: one that lies between; empty if none does."""

    base: str
    treatment: str
    aspects: tuple[Aspect, ...]
    through: str
    offers: tuple[Offer, ...]


def described(
    name: str, *, levels: Mapping[str, str], kinds: Mapping[str, str], said: Mapping[Aspect, str],
    components: Sequence[Component] = (),
) -> Described:  # fmt: skip
    """A treatment from its factor levels (`kinds`: factor → aspect that it changes), its cover, and what was said."""
    kind_of = {factor: kinds.get(factor, "") for factor in levels}
    by_factor = {(kind_of[f] if kind_of[f] in ASPECTS else f): level for f, level in levels.items()}
    aspects = {aspect: text.strip() for aspect, text in said.items() if text.strip()} | by_factor
    if components and "species" not in aspects:
        aspects["species"] = " + ".join(sorted(one.name for one in components))
    return Described(name, aspects, tuple(components), frozenset(by_factor))


def name_of(aspect: Aspect) -> str:
    return "having a cover" if aspect == COVER else ASPECTS.get(aspect, aspect)


def differing(one: Described, other: Described) -> tuple[Aspect, ...]:
    """Aspects in which two treatments differ.

    What was said of one treatment alone counts as absent from the other. A level of a factor that the other doesn't
    have (a control outside the crossing) doesn't count.
    """
    out = []
    for aspect in dict.fromkeys((*ASPECTS, *one.aspects, *other.aspects)):
        if one.covered != other.covered and aspect in OF_COVER:
            continue
        a, b = one.aspects.get(aspect), other.aspects.get(aspect)
        outside = (a is None and aspect in other.by_factor) or (b is None and aspect in one.by_factor)
        if not outside and (a or "").casefold() != (b or "").casefold():
            out.append(aspect)
    if one.covered != other.covered:
        return (COVER, *out)
    if one.components and other.components:
        out += [aspect for aspect in _of_seed(one, other, "species" in out) if aspect not in out]
    return tuple(out)


def _of_seed(one: Described, other: Described, other_species: bool) -> Iterable[Aspect]:
    """Cultivar and rate, as far as both are stated. Two species are sown alike at like shares of their full rates."""
    if other_species:
        a, b = (sum(shares) if None not in shares else None for shares in map(_shares, (one, other)))  # type: ignore[arg-type]
        if a is not None and b is not None and abs(a - b) > SAME_SHARE:
            yield "rate"
        return
    pairs = list(zip(*(sorted(d.components, key=lambda c: c.name) for d in (one, other)), strict=False))
    if any(a.cultivar and b.cultivar and a.cultivar.casefold() != b.cultivar.casefold() for a, b in pairs):
        yield "cultivar"
    if any(a.rate_kg_ha is not None and b.rate_kg_ha is not None and a.rate_kg_ha != b.rate_kg_ha for a, b in pairs):
        yield "rate"


def _shares(one: Described) -> list[float | None]:
    return [component.share for component in one.components]


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


def mixed(treatments: Sequence[Described], pairs: Iterable[tuple[str, str]]) -> tuple[Mixed, ...]:
    """Those of the pairs that change more than one thing at once."""
    by_name = {one.name: one for one in treatments}
    out = []
    for base, name in pairs:
        a, b = by_name[base], by_name[name]
        apart = differing(a, b)
        if len(apart) > 1:
            through = _through(a, b, set(apart), treatments)
            out.append(Mixed(base, name, apart, through, () if through else _offers(a, b, apart)))
    return tuple(out)


def _through(a: Described, b: Described, apart: set[Aspect], treatments: Sequence[Described]) -> str:
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


def _offers(a: Described, b: Described, apart: Sequence[Aspect]) -> tuple[Offer, ...]:
    out: list[Offer] = []
    for aspect in apart:
        if aspect == COVER or aspect in a.by_factor | b.by_factor:
            continue
        if aspect == "rate" and "species" in apart:
            out += _same_share(a, b)  # one species' rate isn't another's: what is alike is the share of the full rate
            continue
        what, value, other = name_of(aspect), a.aspects.get(aspect, ""), b.aspects.get(aspect, "")
        told = f"the {what} of {b.name}" + (f" ({other})" if other else "")
        held = f"the {what} of {a.name}" + (f" ({value})" if value else "")
        out.append(Offer("add", aspect, a.name, b.name, f"Add a treatment: {a.name} with {told}"))
        out.append(Offer("hold", aspect, a.name, b.name, f"Give {b.name} {held}"))
    return tuple(out)


def _same_share(a: Described, b: Described) -> Iterable[Offer]:
    """Sow `b` at the share of the full rates that `a` is sown at, its partners in the proportions that they have."""
    own, other = ([share for share in _shares(d) if share] for d in (a, b))
    if len(own) == len(a.components) and len(other) == len(b.components):
        wanted = sum(own)
        rates = [(one.rate_kg_ha or 0.0) * wanted / sum(other) for one in b.components]
        said = f"Sow {b.name} at {100 * wanted:.0f} % of the full rate, as {a.name} is"
        yield Offer("share", "rate", a.name, b.name, said, tuple(float(f"{rate:.3g}") for rate in rates))
