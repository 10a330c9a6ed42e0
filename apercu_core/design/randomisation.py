"""Treatments to plots by chance, reproducible for ever from a seed.

The shuffle is our own, over raw 64-bit words of numpy's PCG64: the words of that generator are fixed by its
definition (O'Neill, 2014, HMC-CS-2014-0905), whereas the permutations a library makes of them may change.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TypeVar

import numpy as np

from apercu_core.errors import Refused

ALGORITHM = "fisher-yates-pcg64-1"
T = TypeVar("T")


class Draw:
    """Uniform integers and shuffles from a seed, 0 ≤ seed < 2⁶³."""

    def __init__(self, seed: int) -> None:
        if not 0 <= seed < 2**63:
            raise Refused("bad-value", f"The seed is {seed}; it must be a whole number from 0 to 2⁶³ − 1.")
        self._words = np.random.PCG64(seed)

    def below(self, n: int) -> int:
        """Uniform on 0 … n − 1; words past the last whole multiple of n are thrown back."""
        limit = (2**64 // n) * n
        while True:
            word = int(self._words.random_raw())
            if word < limit:
                return word % n

    def shuffled(self, items: Sequence[T]) -> list[T]:
        """Fisher and Yates, from the back (Knuth, *TAOCP* 2, algorithm 3.4.2 P)."""
        out = list(items)
        for i in range(len(out) - 1, 0, -1):
            j = self.below(i + 1)
            out[i], out[j] = out[j], out[i]
        return out


@dataclass(frozen=True, slots=True)
class PlannedPlot:
    """`block` and `position` count from 1; `position` runs along the block."""

    number: int
    block: int
    position: int
    treatment: str


@dataclass(frozen=True, slots=True)
class Plan:
    """Plots in order of number, with what is needed to draw them again."""

    plots: tuple[PlannedPlot, ...]
    seed: int
    algorithm: str = ALGORITHM


def randomised_complete_block(treatments: Sequence[str], blocks: int, seed: int, *, serpentine: bool = False) -> Plan:
    """Every treatment once in every block, shuffled anew in each.

    Plots are numbered block × 100 + position (× 1000 from 100 treatments); `serpentine` numbers every second block
    backwards, as one walks.
    """
    _require_plan(treatments, blocks)
    draw = Draw(seed)
    return Plan(_numbered([draw.shuffled(treatments) for _ in range(blocks)], serpentine), seed)


def completely_randomised(
    treatments: Sequence[str], replicates: int, seed: int, *, per_row: int | None = None, serpentine: bool = False
) -> Plan:
    """Each treatment in `replicates` plots anywhere in the field; `per_row` plots stand side by side."""
    _require_plan(treatments, replicates)
    shuffled = Draw(seed).shuffled([t for t in treatments for _ in range(replicates)])
    width = per_row or len(treatments)
    if width < 1:
        raise Refused("bad-value", f"{width} plots in a row: it must be 1 or more.")
    rows = [shuffled[i : i + width] for i in range(0, len(shuffled), width)]
    return Plan(_numbered(rows, serpentine), seed)


def _numbered(rows: Sequence[Sequence[str]], serpentine: bool) -> tuple[PlannedPlot, ...]:
    step = 100 if max(map(len, rows)) < 100 else 1000
    plots = []
    for block, row in enumerate(rows, start=1):
        for place, treatment in enumerate(row, start=1):
            number = len(row) + 1 - place if serpentine and block % 2 == 0 else place
            plots.append(PlannedPlot(block * step + number, block, place, treatment))
    return tuple(sorted(plots, key=lambda plot: plot.number))


def _require_plan(treatments: Sequence[str], blocks: int) -> None:
    if len(treatments) < 2:
        raise Refused("bad-design", f"{len(treatments)} treatment: at least two are needed to compare.")
    if len(set(treatments)) < len(treatments):
        twice = next(t for t in treatments if list(treatments).count(t) > 1)
        raise Refused("bad-design", f"Treatment {twice!r} is listed twice.")
    if blocks < 2:
        raise Refused("no-replication", f"{blocks} block: at least two are needed to tell treatment from ground.")
