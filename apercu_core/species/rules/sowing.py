"""Whether date, soil and way of sowing suit a species."""

from __future__ import annotations

from collections.abc import Iterator

from apercu_core.species.record import Species
from apercu_core.species.rules.finding import Finding, between, cost, degrees, note, out, unknown
from apercu_core.species.rules.winter import is_tender
from apercu_core.species.wish import Wish

TOO_SHORT = 14.0
"""Days short of the time that a species needs at which it isn't worth its seed; fewer cost a point each. Thumb."""
WARM_SOIL, WARM_DAYS = 18.0, 60.0
"""What a warm-season species needs where its own record doesn't say more; thumb."""
COOL_SOIL = 25.0
"""°C of the soil from which a cool-season species fails; thumb."""
WINTER_TYPE_DAYS, WINTER_TYPE_COST = 80.0, 25.0
"""A winter type that is sown earlier before the first frost costs as many points; thumb."""
SLOW_COST = 5.0
DEEP_SEED_CM, DEEP_SEED_COST = 2.5, 8.0


def frosts(species: Species, wish: Wish) -> Iterator[Finding]:
    """The first frost of autumn and the last of spring; sowing on frozen ground doesn't ask for the first."""
    season, tender = species.text("season"), is_tender(species)
    until, since = wish.frosts.until_first, wish.frosts.since_last
    if until is not None and not wish.only_frost_seeded:
        yield from _before_first(species, until, tender)
    if season == "winter" and (until is None or until >= 0):
        ahead = wish.frosts.until_next
        if ahead is not None and ahead > WINTER_TYPE_DAYS:
            yield cost(
                WINTER_TYPE_COST, f"It is a winter type, sown {ahead} days before the first frost: too early, it runs "
                "to disease or heads poorly.",
            )  # fmt: skip
    if since is not None and since < 0 and species.range("kill") is None:
        yield unknown("It isn’t known whether the last frosts of spring kill it.")
    elif since is not None and since < 0 and tender:
        yield out(f"Sown {-since} days before the last frost, and frost kills it.")
    elif since is not None and (needed := species.range("sow_after_frost")) is not None:
        yield from _short(needed[0] - since, f"Sown {_apart(since, 'last')}", f"at least {needed[0]:g} days after it")
    if until is None and since is not None and species.is_one_of("cold_need", "yes"):
        yield note("Sown in spring, it stays leafy, because it needs cold to head or flower.")


def _before_first(species: Species, until: int, tender: bool) -> Iterator[Finding]:
    needed, latest = species.range("sow_before_frost"), species.range("sow_latest")
    if needed is None and not tender:
        yield unknown("It isn’t known how long before the first frost it has to be sown.")
        return
    least = needed[0] if needed else WARM_DAYS
    sown = f"Sown {_apart(-until, 'first')}"
    if latest is not None and until < latest[0]:
        yield out(f"{sown}; the latest is {_apart(-int(latest[0]), '')}.")
    else:
        wanted = f"at least {least:g} days before it" if least >= 0 else f"no later than {-least:g} days after it"
        yield from _short(least - until, sown, wanted, out_at=TOO_SHORT if latest is None else float("inf"))


def _apart(days: int, frost: str) -> str:
    """Days from a frost to sowing, in words."""
    named = f" the {frost} frost" if frost else " it"
    if not days:
        return f"on the day of{named}"
    return f"{abs(days)} days {'after' if days > 0 else 'before'}{named}"


def _short(days: float, sown: str, wanted: str, out_at: float = TOO_SHORT) -> Iterator[Finding]:
    """A point for each day short of what is needed; too many, and the species is out."""
    if days >= out_at:
        yield out(f"{sown}; it needs {wanted}.")
    elif days > 0:
        yield cost(days, f"{sown}; better {wanted}.")


def soil(species: Species, wish: Wish) -> Iterator[Finding]:
    """Sowing on frozen ground doesn't ask for warmth: the seed lies until spring."""
    if wish.soil is None or wish.only_frost_seeded:
        return
    here, season = wish.soil, species.text("season")
    least = species.range("germination_min")
    recommended = species.range("soil_recommended")
    warm = recommended[0] if recommended else WARM_SOIL
    if least is None or not season:
        yield unknown("It isn’t known at which soil temperatures it grows.")
    elif here < least[0]:
        yield out(f"It germinates from {between(least)} on; the soil has {degrees(here)}.")
    elif season == "warm" and here < warm:
        yield out(f"It needs a soil of {degrees(warm)}; here it has {degrees(here)}.")
    elif season != "warm" and here >= COOL_SOIL:
        yield out(f"It is a cool-season plant and fails in a soil of {degrees(here)}.")
    elif here < least[1]:
        yield cost(SLOW_COST, f"It comes up slowly in a soil of {degrees(here)}.")


def way(species: Species, wish: Wish) -> Iterator[Finding]:
    if not wish.ways:
        return
    frozen = species.text("frost_seeded")
    if wish.only_frost_seeded:
        if not frozen:
            yield unknown("It isn’t known whether it can be sown on frozen ground.")
        elif frozen == "no":
            yield out("It isn’t sown on frozen ground.")
        return
    possible = [one for one in ("drilled", "broadcast") if one in wish.ways and species.range(one)]
    if not possible and not ("frost_seeded" in wish.ways and frozen == "yes"):
        yield unknown(f"No rate is known for it {' or '.join(wish.ways).replace('_', '-')}.")
    depth = species.range("depth")
    if "drilled" not in wish.ways and depth is not None and depth[0] >= DEEP_SEED_CM:
        yield cost(DEEP_SEED_COST, f"Its seed needs {depth[0]:g} cm of soil above it; broadcast seed lies on top.")


def growth(species: Species, wish: Wish) -> Iterator[Finding]:
    """Whether it closes the ground before it is ended, where that is said."""
    if wish.days is None:
        return
    warm = species.text("season") == "warm"
    needed, days = species.range("cover_days"), wish.days
    frost = species.range("sow_before_frost")
    if warm:
        least = min(WARM_DAYS, frost[0]) if frost else WARM_DAYS
        yield from _short(least - days, f"It stands {days:g} days", f"at least {least:g} in warm weather")
    elif needed is not None:
        yield from _short(needed[0] - days, f"It stands {days:g} days", f"{needed[0]:g} to cover the ground")
    elif days < WARM_DAYS:
        yield unknown("It isn’t known how long it takes to cover the ground.")
