"""The decimal mark of a column, settled by cells that can be read in one way only."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from apercu_core.numbers import Mark, read_number, with_mark


@dataclass(frozen=True, slots=True)
class Evidence:
    """What the cells of a column prove. `comma`, `point`: cells that can only be read with that decimal mark;
    `doubtful`: cells such as `1,025` that could be either; all as indices of the cells.
    """

    comma: tuple[int, ...]
    point: tuple[int, ...]
    doubtful: tuple[int, ...]

    @property
    def mark(self) -> Mark | None:
        """The mark that is proved, and nothing speaks against; None where a person has to say."""
        if self.comma and self.point:
            return None
        if self.comma:
            return ","
        return "." if self.point or not self.doubtful else None


def weigh(cells: Sequence[str]) -> Evidence:
    """Look at each cell by itself. `0,125` proves a comma, since no thousands begin with a zero."""
    comma, point, doubtful = [], [], []
    for i, cell in enumerate(cells):
        if not re.search("[.,]", cell) or read_number(cell) is None:
            continue
        as_comma, as_point = with_mark(cell, ","), with_mark(cell, ".")
        if as_point is None:
            comma.append(i)
        elif as_comma is None:
            point.append(i)
        elif as_comma != as_point:
            doubtful.append(i)
    return Evidence(tuple(comma), tuple(point), tuple(doubtful))
