"""Plots on the ground: rectangles in metres from one corner of the trial."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Protocol

from apercu_core.errors import Refused


@dataclass(frozen=True, slots=True)
class PlotSize:
    """Metres. `gap`: between plots of a block; `alley`: between blocks."""

    width: float
    length: float
    gap: float = 0.0
    alley: float = 0.0

    def __post_init__(self) -> None:
        for name in ("width", "length", "gap", "alley"):
            value = getattr(self, name)
            least = 0.0 if name in ("gap", "alley") else 1e-3
            if not (math.isfinite(value) and value >= least):
                raise Refused(
                    "bad-value",
                    f"The plot {name} is {value:g} m; it must be {'0 or more' if least == 0 else 'above 0'}.",
                )


@dataclass(frozen=True, slots=True)
class Rectangle:
    """`x`, `y`: lower left corner, m from the trial's origin; `y` grows away from the first block."""

    x: float
    y: float
    width: float
    length: float


def place_in_rows(positions: Iterable[tuple[int, int]], size: PlotSize) -> list[Rectangle]:
    """A rectangle for each (block, position), both counted from 1: blocks one behind another, plots side by side."""
    across, along = size.width + size.gap, size.length + size.alley
    return [
        Rectangle((position - 1) * across, (block - 1) * along, size.width, size.length)
        for block, position in positions
    ]


class InGrid(Protocol):
    """A plot that a plan has put into a row and a column of a block, each counted from 1."""

    @property
    def block(self) -> int: ...
    @property
    def row(self) -> int: ...
    @property
    def column(self) -> int: ...


def place(plots: Sequence[InGrid], size: PlotSize, design: str, *, side_by_side: bool = False) -> list[Rectangle]:
    """A rectangle for each plot of a plan, beside it.

    Columns lie side by side with the gap between them. Rows lie one behind another, with the alley between blocks;
    where rows are no part of a block (completely randomised, Latin square) it lies between all rows. Paired strips
    stand side by side, with the alley between pairs. `side_by_side`: so do blocks, of designs that have any.
    """
    out = []
    first_rows = {block: min(p.row for p in plots if p.block == block) for block in {p.block for p in plots}}
    across = max((p.column for p in plots), default=1) * (size.width + size.gap) - size.gap
    for p in plots:
        x, y = (p.column - 1) * (size.width + size.gap), (p.row - 1) * size.length
        if side_by_side and design not in ("crd", "latin_square", "paired_strips"):
            x += (p.block - 1) * (across + size.alley)
            y = (p.row - first_rows[p.block]) * size.length
        elif design == "paired_strips":
            x += (p.block - 1) * size.alley
        else:
            y += (p.block - 1) * size.alley
        out.append(Rectangle(x, y, size.width, size.length))
    return out


def extent(rectangles: Iterable[Rectangle]) -> tuple[float, float]:
    """Width and length of the ground that the plots take, m."""
    placed = list(rectangles)
    if not placed:
        raise Refused("too-few-plots", "There are no plots to lay out.")
    return max(r.x + r.width for r in placed), max(r.y + r.length for r in placed)
