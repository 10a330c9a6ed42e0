"""A new factor crossed onto plots that are there: each is parted along its length, and chance draws inside it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from apercu_core.design.draw import Draw
from apercu_core.errors import Refused
from apercu_core.field.layout import Rectangle

SHORTEST_M = 1.0
"""A part that is shorter has no middle to sample in (thumb)."""


@dataclass(frozen=True, slots=True)
class OldPlot:
    """A plot of the earlier trial, with what it held."""

    label: str
    block: str
    treatment: str
    place: Rectangle


@dataclass(frozen=True, slots=True)
class Part:
    """A part of an old plot: `of` its label, `position` in it from the near end, from 1."""

    label: str
    of: str
    block: str
    earlier: str
    level: str
    place: Rectangle
    position: int


def cross_onto(plots: Sequence[OldPlot], levels: Sequence[str], seed: int) -> tuple[Part, ...]:
    """Every level once in every old plot, in an order that is drawn for each: the old plots become whole plots.

    Parts lie one behind another along the plot. Raises `Refused` where the new factor has too few or equal levels, or a
    plot is too short to be parted.
    """
    if len(levels) < 2:
        raise Refused("bad-design", "A new factor needs at least two levels. One of them may be “as before”.")
    if len({level.casefold() for level in levels}) < len(levels):
        raise Refused("bad-design", "Two levels of the new factor are the same. Give each its own name.")
    draw, out = Draw(seed), []
    for plot in plots:
        length = plot.place.length / len(levels)
        if length < SHORTEST_M:
            raise Refused(
                "bad-design",
                f"Plot {plot.label} is {plot.place.length:g} m long. Each of {len(levels)} parts would be "
                f"{length:.2f} m. Use fewer levels.",
            )
        for i, level in enumerate(draw.shuffled(list(levels))):
            box = Rectangle(plot.place.x, plot.place.y + i * length, plot.place.width, length)
            out.append(Part(f"{plot.label}{_letter(i)}", plot.label, plot.block, plot.treatment, level, box, i + 1))
    return tuple(out)


def _letter(i: int) -> str:
    return chr(ord("a") + i) if i < 26 else f"-{i + 1}"
