"""Which species fit a purpose and a place: what can't work is out with its reason, the rest is ranked and says why."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field
from datetime import date
from typing import Literal

from apercu_core.errors import Refused
from apercu_core.species.record import SERVICES, Species

LEAST_GROWTH_DAYS = 30
"""Thumb: a species that the first frost kills needs as many days before it to be worth its seed."""
CLASH_COST = 10.0
"""Points of 100 that a clash in the rotation, or a danger, costs in the ranking; thumb."""

CROPS: Mapping[str, tuple[str, tuple[str, ...]]] = {
    "cereals": ("Poaceae", ("cereals",)), "maize": ("Poaceae", ("maize", "many crops")),
    "brassicas": ("Brassicaceae", ("brassicas", "rape")), "peas and beans": ("Fabaceae", ("peas", "legumes")),
    "soybean": ("Fabaceae", ("soybean", "legumes")), "potato": ("Solanaceae", ("many crops",)),
    "sugar beet": ("Amaranthaceae", ("many crops",)), "sunflower": ("Asteraceae", ("sunflower",)),
    "flax": ("Linaceae", ()), "small-seeded vegetables": ("", ("many crops",)), "other": ("", ()),
}  # fmt: skip
"""Crop before or after → its family, and the words in a record's hosts that mean it."""
_SMALL_SEEDED = ("small-seeded vegetables", "sugar beet", "flax")


@dataclass(frozen=True, slots=True)
class Wish:
    """What is wanted of a cover, and where. None and "" mean: not said, and nothing is judged by it.

    `weights`: service → 0 to 3. `days_before_frost`, `days_after_frost`: of the sowing date from the usual first frost
    of autumn and last frost of spring; `coldest`: usual extreme minimum, °C; `soil`: temperature at sowing, °C;
    `winter`: whether the cover is to be killed by it; `before`, `after`: of CROPS.
    """

    weights: Mapping[str, int]
    days_before_frost: float | None = None
    days_after_frost: float | None = None
    soil: float | None = None
    coldest: float | None = None
    winter: Literal["dies", "lives", ""] = ""
    wet: bool = False
    saline: bool = False
    shaded: bool = False
    grazed: bool = False
    before: str = ""
    after: str = ""

    def __post_init__(self) -> None:
        for service, weight in self.weights.items():
            if service not in SERVICES:
                raise Refused("bad-value", f"{service!r} is no purpose. The purposes are: {', '.join(SERVICES)}.")
            if not 0 <= weight <= 3:
                raise Refused("bad-value", f"{SERVICES[service]}: a weight is 0, 1, 2 or 3, not {weight}.")
        for crop in (self.before, self.after):
            if crop and crop not in CROPS:
                raise Refused("bad-value", f"{crop!r} is not in the list of crops: {', '.join(CROPS)}.")


@dataclass(frozen=True, slots=True)
class Reason:
    """A purpose that a species serves: its rating 0 to 5 and the weight that was asked for."""

    service: str
    rating: float
    weight: int


@dataclass(frozen=True, slots=True)
class Fit:
    """How a species fits: `score` 0 to 100, or `out` with why it can't work. `unknown`: what couldn't be judged."""

    species: Species
    score: float
    out: tuple[str, ...] = ()
    why: tuple[Reason, ...] = ()
    clashes: tuple[str, ...] = ()
    dangers: tuple[str, ...] = ()
    unknown: tuple[str, ...] = ()
    partners: tuple[str, ...] = ()


@dataclass(slots=True)
class _Judged:
    out: list[str] = field(default_factory=list)
    clashes: list[str] = field(default_factory=list)
    dangers: list[str] = field(default_factory=list)
    unknown: list[str] = field(default_factory=list)


def days_until(sown: date, day: str) -> int:
    """From sowing to the nearest such day of a year, "MM-DD"; below zero where that has gone by.

    Refused where it is no day.
    """
    try:
        month, of_month = (int(part) for part in day.split("-"))
        nearest = min((date(year, month, of_month) for year in range(sown.year - 1, sown.year + 2)),
                      key=lambda frost: abs((frost - sown).days))  # fmt: skip
    except ValueError:
        raise Refused(
            "bad-value", f"{day!r} is no day of the year. Write it as month and day, such as 10-05."
        ) from None
    return (nearest - sown).days


def ranked(species: Iterable[Species], wish: Wish) -> list[Fit]:
    """Best first; those that can't work come last, by name."""
    fits = [fit(one, wish) for one in species]
    return sorted(fits, key=lambda f: (bool(f.out), -f.score if not f.out else 0, f.species.name))


def fit(species: Species, wish: Wish) -> Fit:
    judged = _Judged()
    for judge in _JUDGES:
        judge(species, wish, judged)
    wanted = {service: weight for service, weight in wish.weights.items() if weight}
    rated = {service: species.number(service) for service in wanted}
    judged.unknown += [f"{SERVICES[s]}: not rated" for s, rating in rated.items() if rating is None]
    reasons = [Reason(s, rated[s] or 0.0, w) for s, w in wanted.items()]
    full = sum(5 * w for w in wanted.values())
    served = 100 * sum(r.rating * r.weight for r in reasons) / full if full else 0.0
    score = max(0.0, served - CLASH_COST * (len(judged.clashes) + (len(judged.dangers) if wish.grazed else 0)))
    reasons.sort(key=lambda r: (-r.rating * r.weight, r.service))
    partners = tuple(part.strip() for part in species.text("partners").split(",") if part.strip())
    return Fit(
        species, score, tuple(judged.out), tuple(reasons), tuple(judged.clashes), tuple(judged.dangers),
        tuple(judged.unknown), partners,
    )  # fmt: skip


def _sowing(species: Species, wish: Wish, judged: _Judged) -> None:
    left, kill = wish.days_before_frost, species.number("kill")
    for days, key, frost in (
        (left, "sow_before_frost", "before the first frost"),
        (wish.days_after_frost, "sow_after_frost", "after the last frost"),
    ):
        needed = species.number(key)
        if days is not None and needed is not None and days < needed:
            judged.out.append(f"Sown {days:.0f} days {frost}; it needs at least {needed:.0f}.")
    if left is not None and kill is not None and kill >= 0 and 0 <= left < LEAST_GROWTH_DAYS:
        judged.out.append(f"The first frost kills it, {left:.0f} days after sowing: too short to be worth its seed.")
    if left is not None and left < 0 and kill is not None and kill >= 0:
        judged.out.append("It is sown after the first frost, and frost kills it.")
    least = species.number("germination_min")
    if wish.soil is not None:
        if least is None:
            judged.unknown.append("Germination temperature: whether the soil is warm enough")
        elif wish.soil < least:
            judged.out.append(f"Germinates from {least:.0f} °C; the soil has {wish.soil:.0f} °C.")


def _winter(species: Species, wish: Wish, judged: _Judged) -> None:
    if not wish.winter or wish.coldest is None:
        return
    kill = species.number("kill")
    if kill is None:
        judged.unknown.append("Winter hardiness: whether the winter kills it")
    elif wish.winter == "lives" and wish.coldest < kill:
        judged.out.append(f"Survives down to {_degrees(kill)}; winters here go to {_degrees(wish.coldest)}.")
    elif wish.winter == "dies" and wish.coldest >= kill:
        judged.out.append(
            f"Winter won't kill it: it survives {_degrees(kill)}, and here it gets {_degrees(wish.coldest)}."
        )


def _degrees(value: float) -> str:
    return f"{value:.0f} °C".replace("-", "−")


def _ground(species: Species, wish: Wish, judged: _Judged) -> None:
    for asked, service, words in ((wish.wet, "wet", "wet ground"), (wish.shaded, "shade", "shade")):
        rating = species.number(service)
        if asked and rating is None:
            judged.unknown.append(f"Whether it bears {words}")
        elif asked and rating is not None and rating <= 1:
            judged.out.append(f"Rated {rating:.0f} of 5 on {words}.")
    if wish.saline:
        bears = species.text("salt")
        if not bears:
            judged.unknown.append("Whether it bears salt")
        elif bears == "no":
            judged.out.append("It doesn't bear salt.")


def _rotation(species: Species, wish: Wish, judged: _Judged) -> None:
    family, hosts = species.text("family"), species.text("hosts")
    for crop, words in ((wish.before, "It follows"), (wish.after, "It comes before")):
        if not crop:
            continue
        crop_family, named = CROPS[crop]
        carried = any(word in hosts for word in named)
        if carried or (crop_family and crop_family == family):
            what = f": {hosts}" if carried else ": the same family"
            judged.clashes.append(f"{words} {crop}{what}.")
    uncleaned = species.text("uncleaned")
    if wish.after == "cereals" and uncleaned:
        judged.clashes.append(f"Shed seed can't be cleaned out of {uncleaned}.")
    inhibits = species.text("inhibits")
    if inhibits and (wish.after in _SMALL_SEEDED or (wish.after and wish.after in inhibits)):
        wait = species.range("inhibition_wait")
        days = f"; wait {wait[0]:.0f} to {wait[1]:.0f} days" if wait else ""
        judged.clashes.append(f"Its residue checks {inhibits}{days}.")


def _stock(species: Species, wish: Wish, judged: _Judged) -> None:
    danger = species.text("stock_danger")
    if danger:
        judged.dangers.append(f"Stock: {danger}.")
    elif wish.grazed:
        judged.unknown.append("Dangers to stock: ask before it is grazed")
    if species.text("seed_risk") == "high":
        judged.dangers.append("High risk of shed seed: end it before seed is ripe.")
    if species.text("hard_seed") == "yes":
        judged.dangers.append("Hard seed can come up for years.")


_JUDGES: tuple[Callable[[Species, Wish, _Judged], None], ...] = (_sowing, _winter, _ground, _rotation, _stock)
