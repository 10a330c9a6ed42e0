"""The drill's way over the ground: along each plot, and between plots through alleys and round the outside.

No plot is driven over but the one that is sown: bare plots and what is sown already stay as they are.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise

from apercu_core.field.layout import Rectangle
from apercu_core.sowing.drill_order import Stop

OUTSIDE_M = 1.5
"""How far outside the plots the drill drives round them; as drawn."""
Point = tuple[float, float]


@dataclass(frozen=True, slots=True)
class Leg:
    """`plot`: which one is sown on this leg; empty for driving on. Points in metres from the trial's corner."""

    plot: str
    points: tuple[Point, ...]


def drive(plots: Mapping[str, Rectangle], stops: Sequence[Stop]) -> tuple[Leg, ...]:
    """The legs in order; `plots`: all of them, also those that aren't sown."""
    if not stops:
        return ()
    alleys = _alleys(list(plots.values()))
    left = min(one.x for one in plots.values()) - OUTSIDE_M
    right = max(one.x + one.width for one in plots.values()) + OUTSIDE_M
    legs: list[Leg] = []
    for i, stop in enumerate(stops):
        start, end = _ends(plots[stop.plot], stop.upwards)
        if i:
            legs.append(Leg("", _between(legs[-1].points[-1], start, alleys, left, right)))
        legs.append(Leg(stop.plot, (start, end)))
    return tuple(legs)


def _ends(plot: Rectangle, upwards: bool) -> tuple[Point, Point]:
    x = plot.x + plot.width / 2
    near, far = (x, plot.y), (x, plot.y + plot.length)
    return (near, far) if upwards else (far, near)


def _alleys(plots: Sequence[Rectangle]) -> list[float]:
    """Heights at which one can drive across: below and above all rows, and between them."""
    rows = sorted({(round(one.y, 6), round(one.y + one.length, 6)) for one in plots})
    merged: list[list[float]] = []
    for start, end in rows:
        if merged and start < merged[-1][1] - 1e-6:
            merged[-1][1] = max(merged[-1][1], end)
        else:
            merged.append([start, end])
    between = [(one[1] + two[0]) / 2 for one, two in pairwise(merged)]
    return [merged[0][0] - OUTSIDE_M, *between, merged[-1][1] + OUTSIDE_M]


def _between(start: Point, end: Point, alleys: Sequence[float], left: float, right: float) -> tuple[Point, ...]:
    leaves, enters = (min(alleys, key=lambda y: abs(y - point[1])) for point in (start, end))
    out = [start, (start[0], leaves)]
    if leaves != enters:
        side = min((left, right), key=lambda x: abs(x - start[0]) + abs(x - end[0]))
        out += [(side, leaves), (side, enters)]
    return (*out, (end[0], enters), end)
