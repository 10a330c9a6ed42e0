"""Which species fit a purpose and a place: three lists, each with its reasons.

What fits is ranked. What can't be judged, since something that is asked isn't known of it, stands apart, without
points. What can't work is out.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass

from apercu_core.species.record import SERVICES, Species
from apercu_core.species.rules.dangers import seed, stock
from apercu_core.species.rules.finding import Finding
from apercu_core.species.rules.ground import ground
from apercu_core.species.rules.rotation import rotation
from apercu_core.species.rules.sowing import frosts, growth, soil, way
from apercu_core.species.rules.winter import winter
from apercu_core.species.wish import ONE_WINTER_DAYS, Wish

Rule = Callable[[Species, Wish], Iterator[Finding]]
RULES: tuple[Rule, ...] = (winter, frosts, soil, way, growth, ground, rotation, stock, seed)

ONE_WINTER_SHARE = 0.6
"""Of a biennial's or perennial's service that it gives in one winter, before a spring crop; thumb."""
_GROWN_OVER_YEARS = ("nitrogen_supply", "organic_matter", "loosening")
FIRST_SUMMER_DAYS = 150
"""Sown as many days before the first frost or later, a perennial gives little forage until the year after; thumb."""


@dataclass(frozen=True, slots=True)
class Reason:
    """A purpose that a species serves: the rating that counts, 0 to 5, and the weight that was asked for.

    `why`: why it isn't the rating of the record.
    """

    service: str
    rating: float
    weight: int
    why: str = ""


@dataclass(frozen=True, slots=True)
class SpeciesFit:
    """How a species fits: `score` 0 to 100, unless it is `out` or something asked is `unknown`.

    `costs`: what takes points; `notes`: what is worth knowing besides.
    """

    species: Species
    score: float | None
    out: tuple[str, ...] = ()
    unknown: tuple[str, ...] = ()
    why: tuple[Reason, ...] = ()
    costs: tuple[Finding, ...] = ()
    notes: tuple[str, ...] = ()
    partners: tuple[str, ...] = ()


def ranked(species: Iterable[Species], wish: Wish) -> list[SpeciesFit]:
    """What fits, best first; then what can't be judged, then what can't work, each by name."""
    fits = [fit(one, wish) for one in species]
    return sorted(fits, key=lambda f: (bool(f.out), bool(f.unknown), -(f.score or 0.0), f.species.name))


def fit(species: Species, wish: Wish) -> SpeciesFit:
    found = [finding for rule in RULES for finding in rule(species, wish)]
    reasons, unrated = _services(species, wish)
    out = tuple(f.text for f in found if f.kind == "out")
    unknown = (*(f.text for f in found if f.kind == "unknown"), *unrated)
    costs = sorted((f for f in found if f.kind == "cost"), key=lambda f: -f.points)
    partners = tuple(part.strip() for part in species.text("partners").split(",") if part.strip())
    return SpeciesFit(
        species, None if out or unknown else _score(reasons, costs), out, unknown, tuple(reasons), tuple(costs),
        tuple(f.text for f in found if f.kind == "note"), partners,
    )  # fmt: skip


def _score(reasons: Iterable[Reason], costs: Iterable[Finding]) -> float:
    """Ratings by their weights, of 100, less what takes points; where no purpose is weighed, all start from 100."""
    wanted = list(reasons)
    full = sum(5 * r.weight for r in wanted)
    served = 100 * sum(r.rating * r.weight for r in wanted) / full if full else 100.0
    return max(0.0, served - sum(f.points for f in costs))


def _services(species: Species, wish: Wish) -> tuple[list[Reason], list[str]]:
    """The purposes that are weighed, the strongest first, and those that the record doesn't rate."""
    reasons, unrated = [], []
    for service, weight in wish.weights.items():
        rating = species.rating(service)
        if weight and rating is None:
            unrated.append(f"{SERVICES[service]} isn’t rated.")
        elif weight and rating is not None:
            counted, why = _counted(species, wish, service, rating)
            reasons.append(Reason(service, counted, weight, why))
    return sorted(reasons, key=lambda r: (-r.rating * r.weight, r.service)), unrated


def _counted(species: Species, wish: Wish, service: str, rating: float) -> tuple[float, str]:
    """The rating as far as it can be had between sowing and the end."""
    over_years = species.is_one_of("life_cycle", "biennial", "perennial")
    if service in _GROWN_OVER_YEARS and over_years and rating and wish.grows_one_winter:
        return ONE_WINTER_SHARE * rating, f"{rating:.0f} in a stand of two years; here it has one winter"
    if service == "forage" and species.is_one_of("life_cycle", "perennial") and rating and _first_summer(wish):
        return ONE_WINTER_SHARE * rating, f"{rating:.0f} from its second year on"
    bloom = species.range("bloom")
    if service == "pollinators" and rating and wish.days is not None and bloom and wish.days < bloom[0]:
        return 0.0, f"ended before it flowers, {bloom[0]:g} days after sowing at the earliest"
    return rating, ""


def _first_summer(wish: Wish) -> bool:
    ahead = wish.frosts.until_next
    short = wish.days is None or wish.days <= ONE_WINTER_DAYS
    return ahead is not None and ahead <= FIRST_SUMMER_DAYS and short
