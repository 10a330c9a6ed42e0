"""Constraints on a randomisation: what a plan has to keep to."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from typing import Literal

from apercu_core.design.randomisation import PlannedPlot

Plots = tuple[PlannedPlot, ...]
ConstraintKind = Literal["not-behind-itself", "not-at-the-edge", "apart", "spread"]
WITHIN_A_ROW: tuple[ConstraintKind, ...] = ("not-at-the-edge", "apart")
"""What each row keeps to by itself, whatever stands in the others."""


@dataclass(frozen=True, slots=True)
class Constraint:
    """What a plan has to keep to.

    not-behind-itself: no treatment stands in the same column of two rows that follow each other. not-at-the-edge: none
    of `treatments` stands first or last in its row. apart: no two of `treatments` stand side by side. spread: no
    treatment stands in the same position of more than `most` blocks.
    """

    kind: ConstraintKind
    treatments: tuple[str, ...] = ()
    most: int = 1

    def __str__(self) -> str:
        names = " and ".join(self.treatments)
        return {
            "not-behind-itself": "no treatment behind itself in the next block",
            "not-at-the-edge": f"{names} not at the edge",
            "apart": f"{names} not side by side",
            "spread": f"no treatment more than {self.most} times in one position",
        }[self.kind]

    def holds(self, plots: Plots) -> bool:
        return {
            "not-behind-itself": _not_behind_itself,
            "not-at-the-edge": _not_at_the_edge,
            "apart": _apart,
            "spread": _spread,
        }[self.kind](plots, self)


def _not_behind_itself(plots: Plots, _: Constraint) -> bool:
    at = {(p.site, p.row, p.column): p.treatment for p in plots}
    return not any(at.get((site, row + 1, column)) == t for (site, row, column), t in at.items())


def _not_at_the_edge(plots: Plots, constraint: Constraint) -> bool:
    last: dict[tuple[str, int], int] = {}
    for p in plots:
        last[p.site, p.row] = max(p.column, last.get((p.site, p.row), 0))
    return not any(p.treatment in constraint.treatments and p.column in (1, last[p.site, p.row]) for p in plots)


def _apart(plots: Plots, constraint: Constraint) -> bool:
    named = {(p.site, p.row, p.column) for p in plots if p.treatment in constraint.treatments}
    return not any((site, row, column + 1) in named for site, row, column in named)


def _spread(plots: Plots, constraint: Constraint) -> bool:
    return max(Counter((p.site, p.treatment, p.position) for p in plots).values()) <= constraint.most
