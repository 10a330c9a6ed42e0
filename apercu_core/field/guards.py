"""How much of a plot's edge is left out of samples, by the height and the habit of what grows in it."""

from __future__ import annotations

from collections.abc import Iterable

from apercu_core.field.machines import GUARD_M
from apercu_core.species.record import Species

TALL_CM = 100.0
"""From this height on a cover leans into its neighbours, and half its height is left out; thumb."""
CREEPING_GUARD_M = 1.0
"""Beside covers that climb or creep; thumb."""
MOST_GUARD_M = 2.0


def guard_for(species: Iterable[Species]) -> float:
    """Metres at each side of a plot, for the tallest or most creeping of the species."""
    guards = [GUARD_M]
    for one in species:
        height = one.middle("height")
        if height is not None and height >= TALL_CM:
            guards.append(height / 200)
        if one.is_one_of("climbing", "yes"):
            guards.append(CREEPING_GUARD_M)
    return min(MOST_GUARD_M, max(guards))
