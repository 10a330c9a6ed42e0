"""Zones inside a plot: crop row and alley, tilled strip and mulch, wheel track and between.

A zone has a share of the plot's ground, sowing of its own, and measures that are taken in it; the plot stays the
experimental unit, and its value is the mean of its zones weighted by their shares.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from apercu_core.errors import Refused

Sown = Literal["as-plot", "other", "nothing"]
DRAWN = ("wheel track", "tree row", "between")
"""Zones whose shares follow from the lines on the map, plot by plot."""
NEARLY = 0.005
"""How far shares may be from adding up to 1: they are typed in whole per cent."""


@dataclass(frozen=True, slots=True)
class Zone:
    """`share`: of each plot's ground, 0 to 1; None for one that is drawn. `sowing`: what is sown there, if other."""

    name: str
    share: float | None = None
    sown: Sown = "as-plot"
    sowing: str = ""


def require_zones(zones: Sequence[Zone]) -> None:
    """Raises `Refused` where zones can't make up a plot."""
    names = [zone.name.strip() for zone in zones]
    if not all(names):
        raise Refused("bad-specification", "A zone has no name. Name it, or take it away.")
    for name in names:
        if names.count(name) > 1:
            raise Refused("bad-specification", f"Two zones are called {name!r}. Give each its own name.")
    if len(zones) == 1:
        raise Refused("bad-specification", f"{names[0]} is the only zone, so it is the whole plot. Add another.")
    for zone in zones:
        if zone.sown == "other" and not zone.sowing.strip():
            raise Refused("bad-specification", f"Say what is sown in {zone.name}.")
    drawn = [zone for zone in zones if zone.share is None]
    if drawn and len(drawn) < len(zones):
        raise Refused(
            "bad-specification",
            f"{drawn[0].name} has its share from the map, but others were entered. Use all shares from the "
            "map, or enter all.",
        )
    for zone in drawn:
        if zone.name not in DRAWN:
            raise Refused("bad-specification", f"{zone.name} isn’t on the map. Enter its share.")
    if drawn and "between" not in names:
        raise Refused("bad-specification", "A plot that no line crosses is all between the lines: take that zone too.")
    shares = [zone.share for zone in zones if zone.share is not None]
    if any(not math.isfinite(share) or share <= 0 for share in shares):
        raise Refused("bad-value", "Every zone has to have a share above 0 % of the plot.")
    if shares and abs(sum(shares) - 1) > NEARLY:
        raise Refused("bad-value", f"The zones add up to {100 * sum(shares):.0f} % of a plot; it has to be 100 %.")


def shares_of(zones: Sequence[Zone], drawn: Mapping[str, float]) -> dict[str, float]:
    """Zone → share of one plot; `drawn`: what the map makes of that plot. A zone that isn't there is left out."""
    if any(zone.share is None for zone in zones):
        drawn = drawn or {"between": 1.0}  # no line runs through this plot
        return {zone.name: drawn[zone.name] for zone in zones if drawn.get(zone.name, 0.0) > 0}
    return {zone.name: zone.share for zone in zones if zone.share is not None}


def sown_share(zones: Sequence[Zone], shares: Mapping[str, float]) -> float:
    """Of a plot's ground that is sown as its treatment says, 0 to 1: seed per gross area is this times the rate."""
    return sum(shares.get(zone.name, 0.0) for zone in zones if zone.sown == "as-plot")


def weighted_mean(values: Mapping[str, Sequence[float | None]], shares: Mapping[str, float]) -> float | None:
    """A plot's value: the mean of its zones' means, weighted by `shares` (zone → share, of those that are measured).

    None where a zone has no value: the rest isn't the plot.
    """
    means = {}
    for zone in shares:
        present = [value for value in values.get(zone, ()) if value is not None]
        if not present:
            return None
        means[zone] = sum(present) / len(present)
    total = sum(shares.values())
    return sum(share * means[zone] for zone, share in shares.items()) / total if total > 0 else None
