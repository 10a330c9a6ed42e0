"""A control for each level of the other factors: which treatment each is compared with."""

from __future__ import annotations

from collections.abc import Mapping

from apercu_core.errors import Refused
from apercu_core.words import listed

Levels = Mapping[str, Mapping[str, str]]
"""Treatment → factor → level; empty for a treatment outside the crossing."""


def controls_at_same_levels(treatments: Levels, factor: str, level: str) -> dict[str, str]:
    """Treatment → the one that has `level` of `factor` and the same levels of all other factors.

    Treatments without such a counterpart are left out: those outside the crossing, and those whose counterpart was
    removed. Raises `Refused` where no treatment has the level.
    """
    at = {_others(levels, factor): name for name, levels in treatments.items() if levels.get(factor) == level}
    if not at:
        raise Refused("bad-specification", f"No treatment has the level {level!r} of {factor!r} to compare with.")
    return {
        name: at[_others(levels, factor)]
        for name, levels in treatments.items()
        if levels.get(factor) not in (None, level) and _others(levels, factor) in at
    }


def said_of_controls(treatments: Levels, factor: str, level: str) -> str:
    """`bare at the same nitrogen`."""
    others = dict.fromkeys(name for levels in treatments.values() for name in levels if name != factor)
    return f"{level} at the same {listed(list(others))}" if others else level


def _others(levels: Mapping[str, str], factor: str) -> tuple[tuple[str, str], ...]:
    return tuple(sorted((name, level) for name, level in levels.items() if name != factor))
