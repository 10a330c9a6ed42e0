"""A mix of species: its shares in three ways, what it is good for, and ladders of treatments made from it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from apercu_core.errors import Refused
from apercu_core.species.record import SERVICES, Species

SEPARATION_RATIO = 8.0
"""Seeds whose thousand-kernel weights differ by more sort themselves in the box; thumb."""
ENOUGH_GAIN = 2.0
"""A further species that adds less than as many points of 100 to the purposes isn't needed; thumb."""
Ways = Literal["of_full", "mass", "seeds"]
Stage = Literal["cn_young", "cn_flower", "cn_mature"]


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


@dataclass(frozen=True, slots=True)
class Mix:
    """`sum_of_full`: per cent of full rates together, which may pass 100. `services`: the best partner's rating."""

    components: tuple[Component, ...]
    total: float
    sum_of_full: float | None
    separation: str
    carbon_nitrogen: float | None
    carbon_nitrogen_note: str
    services: Mapping[str, float]
    brings: Mapping[str, tuple[str, ...]]
    notes: tuple[str, ...]
    enough: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Step:
    """A treatment of a ladder: rate of each species, kg/ha."""

    name: str
    rates: Mapping[str, float]


def full_rate(species: Species, *, broadcast: bool) -> float | None:
    """Middle of the record's full rate, kg/ha."""
    return species.middle("broadcast" if broadcast else "drilled")


def mixed(
    parts: Sequence[Part], way: Ways, total: float | None, weights: Mapping[str, int], stage: Stage = "cn_flower"
) -> Mix:
    """The mix that the parts make. Refused where shares or rates are below zero, or add up to nothing."""
    rates = _rates(parts, way, total)
    mass = sum(rates)
    seeds = [_seeds(rate, part.tkw) for rate, part in zip(rates, parts, strict=True)]
    all_seeds = sum(s for s in seeds if s is not None) if None not in seeds else None
    components = tuple(
        Component(
            part.species, rate, 100 * rate / part.full if part.full else None, 100 * rate / mass,
            100 * s / all_seeds if s is not None and all_seeds else None, s,
        )
        for part, rate, s in zip(parts, rates, seeds, strict=True)
    )  # fmt: skip
    fulls = [c.of_full for c in components]
    ratio, note = _carbon_nitrogen(components, stage)
    enough = _enough([c.species for c in components], weights)
    services = {s: max(c.species.number(s) or 0.0 for c in components) for s in SERVICES}
    return Mix(
        components, mass, sum(f for f in fulls if f is not None) if None not in fulls else None, _separation(parts),
        ratio, note, services, _brings(components), _notes(components), enough,
    )  # fmt: skip


def _rates(parts: Sequence[Part], way: Ways, total: float | None) -> list[float]:
    if not parts:
        raise Refused("bad-value", "A mix has at least one species. Add one.")
    for part in parts:
        if part.share < 0:
            raise Refused("bad-value", f"{part.species.name}: a share can't be below zero.")
        if part.full is not None and part.full <= 0:
            raise Refused("bad-value", f"{part.species.name}: its full rate must be above zero.")
        if part.tkw is not None and part.tkw <= 0:
            raise Refused("bad-value", f"{part.species.name}: its thousand-kernel weight must be above zero.")
    if sum(part.share for part in parts) <= 0:
        raise Refused("bad-value", "The shares add up to nothing. Give at least one species a share.")
    if way == "of_full":
        return [part.share / 100 * _needed(part, part.full, "full rate") for part in parts]
    if total is None or total <= 0:
        raise Refused("bad-value", "Say how many kg/ha the mix has together: shares alone make no rate.")
    weight = [p.share if way == "mass" else p.share * _needed(p, p.tkw, "thousand-kernel weight") for p in parts]
    return [total * w / sum(weight) for w in weight]


def _needed(part: Part, value: float | None, what: str) -> float:
    if value is None:
        raise Refused("bad-value", f"{part.species.name}: its {what} is unknown. Type it, or give shares another way.")
    return value


def _seeds(rate: float, tkw: float | None) -> float | None:
    """Seeds per m²: kg/ha × 100 / TKW."""
    return None if tkw is None else 100 * rate / tkw


def _separation(parts: Sequence[Part]) -> str:
    known = sorted((p.tkw, p.species.name) for p in parts if p.tkw)
    if len(known) > 1 and known[-1][0] / known[0][0] > SEPARATION_RATIO:
        (small, fine), (large, coarse) = known[0], known[-1]
        return (
            f"{coarse} seed is {large / small:.0f} times as heavy as {fine}'s: they sort themselves in the box and "
            "land at different distances from a spinner. Use separate boxes or passes, or stir at each fill."
        )
    return ""


def _carbon_nitrogen(components: Sequence[Component], stage: Stage) -> tuple[float | None, str]:
    """C:N of the whole, if biomass stands as the shares of full rate do: carbon over nitrogen summed, not averaged."""
    known = [(c.of_full, c.species.number(stage)) for c in components if c.rate > 0]
    missing = [c.species.name for c in components if c.rate > 0 and c.species.number(stage) is None]
    if missing:
        return None, f"Not known for {', '.join(missing)} at this stage."
    if any(share is None for share, _ in known):
        return None, "It needs the full rate of each species."
    carbon = sum(share for share, _ in known if share is not None)
    nitrogen = sum(share / ratio for share, ratio in known if share is not None and ratio)
    return (
        carbon / nitrogen,
        "If biomass stands as the shares of full rate do; it rarely does, so weigh and look again.",
    )


def _brings(components: Sequence[Component]) -> dict[str, tuple[str, ...]]:
    """Species → the services in which it is rated above every other partner."""
    found = {}
    for one in components:
        others = [c.species for c in components if c is not one]
        found[one.species.key] = tuple(
            service
            for service in SERVICES
            if (one.species.number(service) or 0) > max((o.number(service) or 0 for o in others), default=0)
        )
    return found


def _notes(components: Sequence[Component]) -> tuple[str, ...]:
    """What partners do to each other."""
    notes = []
    standing = [c.species for c in components if c.rate > 0]
    climbers = [s.name for s in standing if s.text("climbing") == "yes"]
    carriers = [s.name for s in standing if s.text("supports") == "yes"]
    if climbers and carriers:
        notes.append(f"{_and(carriers)} can carry {_and(climbers)}.")
    elif climbers and len(standing) > 1:
        notes.append(f"{_and(climbers)} wants support, and nothing here stands up to give it.")
    fixing = [s.name for s in standing if s.text("nitrogen") == "fixes"]
    capturing = [s.name for s in standing if s.text("nitrogen") == "captures"]
    if fixing and capturing:
        notes.append(
            f"It balances itself with the soil: with much nitrogen {_and(capturing)} takes over and holds it, with "
            f"little {_and(fixing)} does and fixes it."
        )
    for c in components:
        strong = (c.species.number("weeds") or 0) >= 4
        if strong and c.of_full and c.of_full > 60 and len(standing) > 1:
            notes.append(f"{c.species.name} at {c.of_full:.0f} % of its full rate is likely to crowd out the rest.")
    groups = sorted({s.text("inoculant") for s in standing if s.text("nitrogen") == "fixes" and s.text("inoculant")})
    if groups:
        notes.append(f"Inoculant: {_and(groups)}{'; each legume needs its own.' if len(groups) > 1 else '.'}")
    return tuple(notes)


def _and(names: Sequence[str]) -> str:
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"


def _enough(species: Sequence[Species], weights: Mapping[str, int]) -> tuple[str, ...]:
    """The fewest of the species after which a further one adds hardly anything to the purposes, best first."""
    wanted = {s: w for s, w in weights.items() if w}
    full = sum(5 * w for w in wanted.values())
    chosen: list[Species] = []
    reached, left = 0.0, list(species)
    while left and full:
        points = [(_points([*chosen, one], wanted, full), -i) for i, one in enumerate(left)]
        best, at = max(points)
        if best - reached < ENOUGH_GAIN:
            break
        reached = best
        chosen.append(left.pop(-at))
    return tuple(s.key for s in chosen)


def _points(species: Sequence[Species], wanted: Mapping[str, int], full: int) -> float:
    return 100 * sum(w * max(s.number(service) or 0.0 for s in species) for service, w in wanted.items()) / full


def replacement_series(first: Part, second: Part, steps: int = 5) -> list[Step]:
    """From all of the one to all of the other, shares of full rate adding up to 100 in each of 3 to 11 steps."""
    a, b = _series_rates(first, second, steps)
    shares = [i / (steps - 1) for i in range(steps)]
    return [_step(first, second, a * (1 - s), b * s, f"{100 * (1 - s):.0f}:{100 * s:.0f}") for s in shares]


def additive_series(first: Part, second: Part, steps: int = 5) -> list[Step]:
    """The first at its full rate in every step, the second from nothing to its full rate on top."""
    a, b = _series_rates(first, second, steps)
    shares = [i / (steps - 1) for i in range(steps)]
    return [_step(first, second, a, b * s, f"100 + {100 * s:.0f}") for s in shares]


def _series_rates(first: Part, second: Part, steps: int) -> tuple[float, float]:
    if not 3 <= steps <= 11:
        raise Refused("bad-value", f"A ladder has 3 to 11 steps, not {steps}.")
    if first.species.key == second.species.key:
        raise Refused("bad-value", "A ladder is between two different species.")
    return _needed(first, first.full, "full rate"), _needed(second, second.full, "full rate")


def _step(first: Part, second: Part, a: float, b: float, shares: str) -> Step:
    rates = {first.species.key: a, second.species.key: b}
    if not a or not b:
        only, rate = (first, a) if a else (second, b)
        return Step(f"{only.species.name} {rate:.0f} kg/ha", rates)
    return Step(f"{first.species.name} and {second.species.name} {shares}", rates)
