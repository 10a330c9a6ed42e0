"""Wet, salty and shaded ground. A rating of our own never rules a species out; it takes points."""

from __future__ import annotations

from collections.abc import Iterator

from apercu_core.species.record import Species
from apercu_core.species.rules.finding import Finding, cost, out, unknown
from apercu_core.species.wish import Wish

GOOD_RATING = 3.0
POINTS_A_STEP = 8.0
"""For each step of the rating below a good one; thumb."""
MODERATE_SALT_COST = 25.0


def ground(species: Species, wish: Wish) -> Iterator[Finding]:
    for asked, service, words in ((wish.wet, "wet", "on wet ground"), (wish.shaded, "shade", "in shade")):
        rating = species.rating(service)
        if asked and rating is None:
            yield unknown(f"How it grows {words} isn’t known.")
        elif asked and rating is not None and rating < GOOD_RATING:
            how = "fairly" if rating == 2 else "poorly"
            points = POINTS_A_STEP * (GOOD_RATING - rating)
            yield cost(points, f"It grows {how} {words}: rated {rating:.0f} of 5.")
    if wish.saline:
        yield from _salt(species.text("salt"))


def _salt(bears: str) -> Iterator[Finding]:
    if not bears:
        yield unknown("It isn’t known how it grows on saline soil.")
    elif bears == "no":
        yield out("It is sensitive to salt.")
    elif bears == "moderate":
        yield cost(MODERATE_SALT_COST, "It tolerates salt only moderately.")
