"""What of a plot is sown: strips between rows of trees or vines, or all of it."""

from __future__ import annotations

import math

from apercu_core.field.layout import Rectangle
from apercu_core.field.surroundings import Field


def sown_strips(field: Field, plot: Rectangle) -> tuple[Rectangle, ...] | None:
    """The strips of a plot that are sown, m from the trial's corner; None where no rows part the ground.

    Each strip lies in the middle of its alley; of the alleys one in `sown_every` is sown, counted from the first row.
    """
    if field.tree_rows is None or field.sown_width is None:
        return None
    rows, half = field.tree_rows, field.sown_width / 2
    first = math.floor((plot.x - half - rows.first) / rows.spacing - 0.5) - 1
    last = math.ceil((plot.x + plot.width + half - rows.first) / rows.spacing)
    strips = []
    for alley in range(first, last + 1):
        if alley % field.sown_every:
            continue
        middle = rows.first + (alley + 0.5) * rows.spacing
        left, right = max(plot.x, middle - half), min(plot.x + plot.width, middle + half)
        if right - left > 1e-9:
            strips.append(Rectangle(left, plot.y, right - left, plot.length))
    return tuple(strips)


def sown_fraction(field: Field, plot: Rectangle) -> float:
    """Of the plot's ground, 0 to 1."""
    strips = sown_strips(field, plot)
    return 1.0 if strips is None else sum(strip.width for strip in strips) / plot.width
