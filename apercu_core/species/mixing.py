"""A mix of species: its shares in three ways, what it is good for, and ladders of treatments made from it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from apercu_core.errors import Refused
from apercu_core.species.mix_notes import notes_on, separation_of
from apercu_core.species.mix_parts import Component, Part
from apercu_core.species.record import SERVICES, Species

ENOUGH_GAIN = 2.0
"""A further species that adds less than as many points of 100 to the purposes isn't needed; thumb."""
WHOLE_SERVICE_SHARE = 0.4
"""Share of its full rate from which a partner gives its whole service; thumb."""
Ways = Literal["of_full", "mass", "seeds"]
Stage = Literal["cn_young", "cn_flower", "cn_mature"]


@dataclass(frozen=True, slots=True)
class Mix:
    """`sum_of_full`: per cent of full rates together, which may pass 100. `services`: the best partner's rating, less
    where it has less than 40 % of its full rate. `separation`: what seed size and shape do in the box.
    """

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
    services = {service: max(_served(c, service) for c in components) for service in SERVICES}
    return Mix(
        components, mass, sum(f for f in fulls if f is not None) if None not in fulls else None,
        separation_of([(part.species, part.tkw) for part in parts]), ratio, note, services, _brings(components),
        notes_on(components), _enough(components, weights),
    )  # fmt: skip


def _served(component: Component, service: str) -> float:
    """The rating of a partner as far as its share gives it; by its share of the mass where its full rate is unknown."""
    share = component.of_full if component.of_full is not None else component.of_mass
    return (component.species.rating(service) or 0.0) * min(1.0, share / 100 / WHOLE_SERVICE_SHARE)


def _rates(parts: Sequence[Part], way: Ways, total: float | None) -> list[float]:
    if not parts:
        raise Refused("bad-value", "A mix has at least one species. Add one.")
    for part in parts:
        if part.share < 0:
            raise Refused("bad-value", f"{part.species.name}: a share can’t be below zero.")
        if part.full is not None and part.full <= 0:
            raise Refused("bad-value", f"{part.species.name}: its full rate must be above zero.")
        if part.tkw is not None and part.tkw <= 0:
            raise Refused("bad-value", f"{part.species.name}: its thousand-kernel weight must be above zero.")
    if sum(part.share for part in parts) <= 0:
        raise Refused("bad-value", "The shares add up to 0. Give at least one species a share.")
    if way == "of_full":
        return [part.share / 100 * _needed(part, part.full, "full rate") for part in parts]
    if total is None or total <= 0:
        raise Refused("bad-value", "Enter the rate of the whole mix. Shares alone don’t give a rate.")
    weight = [p.share if way == "mass" else p.share * _needed(p, p.tkw, "thousand-kernel weight") for p in parts]
    return [total * w / sum(weight) for w in weight]


def _needed(part: Part, value: float | None, what: str) -> float:
    if value is None:
        raise Refused("bad-value", f"{part.species.name}: its {what} is unknown. Type it, or give shares another way.")
    return value


def _seeds(rate: float, tkw: float | None) -> float | None:
    """Seeds per m²: kg/ha × 100 / TKW."""
    return None if tkw is None else 100 * rate / tkw


def _carbon_nitrogen(components: Sequence[Component], stage: Stage) -> tuple[float | None, str]:
    """C:N of the whole, if biomass stands as the shares of full rate do: carbon over nitrogen summed, not averaged."""
    known = [(c.of_full, c.species.middle(stage)) for c in components if c.rate > 0]
    missing = [c.species.name for c in components if c.rate > 0 and c.species.middle(stage) is None]
    if missing:
        return None, f"Not known for {', '.join(missing)} at this stage."
    if any(share is None for share, _ in known):
        return None, "It needs the full rate of each species."
    carbon = sum(share for share, _ in known if share is not None)
    nitrogen = sum(share / ratio for share, ratio in known if share is not None and ratio)
    return (
        carbon / nitrogen,
        (
            "This assumes that the biomass has the same shares as the full rates. It rarely has, so weigh samples of "
            "each species."
        ),
    )


def _brings(components: Sequence[Component]) -> dict[str, tuple[str, ...]]:
    """Species → the services in which it gives more than every other partner."""
    found = {}
    for one in components:
        others = [c for c in components if c is not one]
        found[one.species.key] = tuple(
            service
            for service in SERVICES
            if _served(one, service) > max((_served(other, service) for other in others), default=0)
        )
    return found


def _enough(components: Sequence[Component], weights: Mapping[str, int]) -> tuple[str, ...]:
    """The fewest of the species after which a further one adds hardly anything to the purposes, best first."""
    wanted = {s: w for s, w in weights.items() if w}
    full = sum(5 * w for w in wanted.values())
    chosen: list[Component] = []
    reached, left = 0.0, list(components)
    while left and full:
        points = [(_points([*chosen, one], wanted, full), -i) for i, one in enumerate(left)]
        best, at = max(points)
        if best - reached < ENOUGH_GAIN:
            break
        reached = best
        chosen.append(left.pop(-at))
    return tuple(c.species.key for c in chosen)


def _points(components: Sequence[Component], wanted: Mapping[str, int], full: int) -> float:
    return 100 * sum(w * max(_served(c, service) for c in components) for service, w in wanted.items()) / full


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
        raise Refused("bad-value", f"A series has 3 to 11 steps, not {steps}.")
    if first.species.key == second.species.key:
        raise Refused("bad-value", "A series needs two different species.")
    return _needed(first, first.full, "full rate"), _needed(second, second.full, "full rate")


def _step(first: Part, second: Part, a: float, b: float, shares: str) -> Step:
    rates = {first.species.key: a, second.species.key: b}
    if not a or not b:
        only, rate = (first, a) if a else (second, b)
        return Step(f"{only.species.name} {rate:.0f} kg/ha", rates)
    return Step(f"{first.species.name} and {second.species.name} {shares}", rates)
