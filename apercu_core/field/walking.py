"""The order in which a person walks the plots."""

from __future__ import annotations

from collections.abc import Sequence

from apercu_core.field.layout import Rectangle


def serpentine(plots: Sequence[Rectangle]) -> list[int]:
    """Indices of the plots in walking order: along the nearest row, back along the next.

    Rows are plots whose middles lie within half a plot's length of each other; the walk starts at the lower left.
    """
    if not plots:
        return []
    middles = [(plot.y + plot.length / 2, plot.x + plot.width / 2) for plot in plots]
    reach = min(plot.length for plot in plots) / 2
    by_y = sorted(range(len(plots)), key=lambda i: middles[i])
    rows: list[list[int]] = [[by_y[0]]]
    for i in by_y[1:]:
        if middles[i][0] - middles[rows[-1][0]][0] <= reach:
            rows[-1].append(i)
        else:
            rows.append([i])
    out = []
    for number, row in enumerate(rows):
        across = sorted(row, key=lambda i: middles[i][1])
        out += across if number % 2 == 0 else across[::-1]
    return out
