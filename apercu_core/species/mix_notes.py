"""What partners of a mix do to each other: in the box, in the soil, in the stand, in winter and when it is ended."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from apercu_core.species.carried import parts_of
from apercu_core.species.mix_parts import Component
from apercu_core.species.record import Species
from apercu_core.species.rules.finding import degrees
from apercu_core.words import listed

SEPARATION_RATIO = 8.0
"""Seeds whose thousand-kernel weights differ by more sort themselves in the box; thumb."""
CROWDS_FROM = {5: 30.0, 4: 40.0}
"""Competitiveness → per cent of its full rate above which a species is likely to crowd out its partners; thumb."""
TOO_MUCH_SEED = 130.0
"""Per cent of full rates together; thumb."""
BALANCING_SHARE = 20.0
"""Per cent of full rate that a legume and a nitrogen catcher each need to balance a mix; thumb."""


def separation_of(seeds: Sequence[tuple[Species, float | None]]) -> str:
    """Whether seeds sort themselves, by weight (g per thousand) and by shape; says so where a weight is unknown."""
    said = [_by_weight(seeds)] if len(seeds) > 1 else []
    chaffy = [species.name for species, _ in seeds if species.is_one_of("seed_shape", "chaffy")]
    if chaffy and len(seeds) > len(chaffy):
        flow = "it bridges in the box and flows unevenly. Stir it, or use a box for such seed."
        said.append(f"Seed of {_listed(chaffy)} is chaffy: {flow}")
    return " ".join(part for part in said if part)


def _by_weight(seeds: Sequence[tuple[Species, float | None]]) -> str:
    unknown = [species.name for species, tkw in seeds if not tkw]
    known = sorted((tkw, species.name) for species, tkw in seeds if tkw)
    if len(known) > 1 and known[-1][0] / known[0][0] > SEPARATION_RATIO:
        (small, fine), (large, coarse) = known[0], known[-1]
        return (
            f"{coarse} seed is {large / small:.0f} times as heavy as {fine}’s: they separate in the box and "
            "land at different distances from a spinner. Use separate boxes or passes, or stir at each fill."
        )
    if unknown:
        return (
            "It can’t be judged whether the seeds separate in the box: the seed weight of "
            f"{_listed(unknown)} is unknown."
        )
    return ""


def notes_on(components: Sequence[Component]) -> tuple[str, ...]:
    """Sentences; none where nothing is to be said."""
    standing = [c for c in components if c.rate > 0]
    if len(standing) < 2:
        return tuple(inoculant_notes(standing))
    rules = (_amount, depth_notes, _support, _balance, _crowding, _winter, _ending, inoculant_notes)
    return tuple(sentence for rule in rules for sentence in rule(standing))


def _amount(standing: Sequence[Component]) -> Iterator[str]:
    shares = [c.of_full for c in standing]
    together = sum(share for share in shares if share is not None)
    if together > TOO_MUCH_SEED:
        yield (
            f"The shares of full rates add up to {together:.0f} %. That is expensive, and the plants crowd each "
            "other. A cereal at 30 to 50 % with a "
            "legume at 70 to 100 % is usual."
        )


def depth_notes(standing: Sequence[Component]) -> Iterator[str]:
    """Partners whose ranges of depth have nothing in common."""
    known = [(ends, c.species.name) for c in standing if (ends := c.species.range("depth"))]
    shallow = min(known, key=lambda one: one[0][1], default=None)
    deep = max(known, key=lambda one: one[0][0], default=None)
    if shallow and deep and shallow[0][1] < deep[0][0]:
        yield (
            f"{deep[1]} is sown at {deep[0][0]:g} to {deep[0][1]:g} cm, {shallow[1]} at {shallow[0][0]:g} to "
            f"{shallow[0][1]:g} cm: use two boxes at two depths, or two passes."
        )


def _support(standing: Sequence[Component]) -> Iterator[str]:
    climbers = [c.species.name for c in standing if c.species.is_one_of("climbing", "yes")]
    carriers = [c.species.name for c in standing if c.species.is_one_of("supports", "yes")]
    if climbers and carriers:
        yield f"{_listed(carriers)} can carry {_listed(climbers)}."
    elif climbers:
        need = "needs" if len(climbers) == 1 else "need"
        yield f"{_listed(climbers)} {need} support, and no species of this mix gives it."


def _balance(standing: Sequence[Component]) -> Iterator[str]:
    fixing = [c for c in standing if c.species.is_one_of("nitrogen", "fixes")]
    capturing = [c for c in standing if c.species.is_one_of("nitrogen", "captures")]
    if not fixing or not capturing:
        return
    if all(any((c.of_full or 0) >= BALANCING_SHARE for c in group) for group in (fixing, capturing)):
        yield (
            f"The mix adapts to the soil: with much nitrogen {_names(capturing)} takes over and holds it, with "
            f"little {_names(fixing)} does and fixes it."
        )
    yield "The legume’s share of the stand falls with soil nitrogen and with late sowing."


def _crowding(standing: Sequence[Component]) -> Iterator[str]:
    for c in standing:
        limit = CROWDS_FROM.get(int(c.species.rating("competitiveness") or 0))
        if limit is not None and c.of_full is not None and c.of_full > limit:
            yield (
                f"{c.species.name} at {c.of_full:.0f} % of its full rate is likely to crowd out the others. "
                "Reduce it to "
                f"{limit:.0f} %."
            )


def _winter(standing: Sequence[Component]) -> Iterator[str]:
    """Partners whose hardy type dies before another's tender type does."""
    known = [(ends, c) for c in standing if (ends := c.species.range("kill"))]
    for (hardy, _), one in known:
        living = [other for (_, tender), other in known if other is not one and tender < hardy]
        if living:
            live = "live" if len(living) > 1 else "lives"
            yield f"{one.species.name} dies in frost of {degrees(hardy)}, {_names(living)} {live} on."


def _ending(standing: Sequence[Component]) -> Iterator[str]:
    stages = {c.species.name: stage for c in standing if (stage := c.species.text("kill_stage"))}
    if len(set(stages.values())) > 1:
        told = "; ".join(f"{name}, {stage}" for name, stage in stages.items())
        yield f"They are ended at different stages: {told}."
    for how, field in (("mowing", "regrowth_mown"), ("crimping", "regrowth_crimped")):
        again = [c for c in standing if c.species.is_one_of(field, "yes")]
        if again and len(again) < len(standing):
            yield f"{_names(again)} {'grow' if len(again) > 1 else 'grows'} again after {how}. Plan another pass."


def inoculant_notes(standing: Sequence[Component]) -> Iterator[str]:
    legumes = [c.species for c in standing if c.species.is_one_of("nitrogen", "fixes")]
    groups = sorted({group for legume in legumes for group in parts_of(legume.text("inoculant"))})
    if groups:
        each = " Each legume needs its own." if len(groups) > 1 else ""
        yield f"Inoculant groups: {'; '.join(groups)}.{each}"
        yield "The inoculant must name the species: strains differ inside a group."


def _names(components: Sequence[Component]) -> str:
    return _listed([c.species.name for c in components])


def _listed(names: Sequence[str]) -> str:
    return listed(names, most=len(names))
