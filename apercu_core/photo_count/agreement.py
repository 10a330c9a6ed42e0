"""How far two people agree who marked the same plants on one photograph."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.spatial import cKDTree

from apercu_core.arrays import Floats
from apercu_core.words import number

NEAR = 0.03
"""Of the frame's shorter side: marks that lie closer can be of one plant."""


@dataclass(frozen=True, slots=True)
class Agreement:
    """`both`: marks that have a partner; `first_only`, `second_only`: those without one."""

    both: int
    first_only: int
    second_only: int

    @property
    def share(self) -> float:
        """Marks with a partner among all marks of both, 0 to 1; 1 where neither marked anything (Dice 1945)."""
        marked = 2 * self.both + self.first_only + self.second_only
        return 2 * self.both / marked if marked else 1.0

    @property
    def said(self) -> str:
        apart = self.first_only + self.second_only
        if not apart:
            return f"Both counts mark the same {self.both}."
        return (
            f"{number(100 * self.share)} % of the marks agree: {self.both} are marked in both counts, "
            f"{self.first_only} in the first only, {self.second_only} in the second only."
        )


def agreement(first: Floats, second: Floats, width: float = 1.0, length: float = 1.0) -> Agreement:
    """Marks as shares of a frame of that width and length, shapes (n, 2) and (m, 2). Each has at most one partner, the
    nearest pairs first.
    """
    if not len(first) or not len(second):
        return Agreement(0, len(first), len(second))
    scale = np.array([width, length]) / min(width, length)
    a, b = np.asarray(first) * scale, np.asarray(second) * scale
    near = cKDTree(a).sparse_distance_matrix(cKDTree(b), NEAR, output_type="coo_matrix")
    order = np.lexsort((near.col, near.row, near.data))
    with_a, with_b = np.zeros(len(a), dtype=bool), np.zeros(len(b), dtype=bool)
    for i, j in zip(near.row[order], near.col[order], strict=True):
        if not with_a[i] and not with_b[j]:
            with_a[i] = with_b[j] = True
    both = int(with_a.sum())
    return Agreement(both, len(a) - both, len(b) - both)
