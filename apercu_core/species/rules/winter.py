"""Whether the winter kills a cover that is to die, and spares one that is to live."""

from __future__ import annotations

from collections.abc import Iterator

from apercu_core.species.record import Species
from apercu_core.species.rules.finding import Finding, between, cost, degrees, out, unknown
from apercu_core.species.wish import Wish

MAY_DIE_COST, MAY_LIVE_COST = 15.0, 30.0
"""Points for a winter that may kill what is to live, and for one that may spare what is to die; thumb. The second is
dearer: what surely dies stands before what may need a second pass, however well that serves.
"""
TENDER = -2.0
"""°C: what is killed from here on is killed by the first frost."""
BEYOND_HARDY = 2.0
"""°C below the hardy type's kill temperature at which everything is surely dead; thumb."""


def is_tender(species: Species) -> bool:
    """Whether the first frost kills even its hardy types; False also where that isn't known."""
    kill = species.range("kill")
    return kill is not None and kill[0] >= TENDER


def winter(species: Species, wish: Wish) -> Iterator[Finding]:
    """For *dies* the mildest winter counts, for *lives* the harshest; between hardy and tender type it is open."""
    counts, other = {
        "dies": (wish.mild_winter, wish.harsh_winter), "lives": (wish.harsh_winter, wish.mild_winter), "": (None, None),
    }[wish.winter]  # fmt: skip
    coldest = other if counts is None else counts
    if coldest is None:
        return
    kill = species.range("kill")
    if kill is None:
        yield unknown("Its winter hardiness isn’t known.")
        return
    found = (_lives if wish.winter == "lives" else _dies)(kill, coldest)
    # Only the other winter is known: what can't be in that one can't be in this; nothing else follows from it.
    yield from found if counts is not None else (one for one in found if one.kind == "out")


def _lives(kill: tuple[float, float], coldest: float) -> Iterator[Finding]:
    hardy, tender = kill
    if coldest < hardy:
        yield out(f"Frost of {degrees(hardy)} kills even its hardy types; winters here reach {degrees(coldest)}.")
    elif coldest < tender:
        yield cost(
            MAY_DIE_COST, f"It may die: it is killed from {between(kill)} by type, and harsh winters here reach "
            f"{degrees(coldest)}.",
        )  # fmt: skip


def _dies(kill: tuple[float, float], coldest: float) -> Iterator[Finding]:
    hardy, tender = kill
    if coldest > tender:
        yield out(f"Winter may not kill it: it survives {degrees(tender)}, and winters here only reach "
                  f"{degrees(coldest)}.")  # fmt: skip
    elif coldest > hardy - BEYOND_HARDY:
        yield cost(
            MAY_LIVE_COST, f"It may live: it is killed from {between(kill)} by type, and mild winters here only reach "
            f"{degrees(coldest)}. Plan a second pass.",
        )  # fmt: skip
