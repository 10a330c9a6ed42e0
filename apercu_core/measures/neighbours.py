"""Whether a value is like those beside it: the other plots of its treatment, else the plot's own last one.

A slip of the decimal point lies within most ranges of a measure and far from its neighbours. It is asked about, never
refused: a plot may really differ.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

FEWEST_OTHERS = 2
"""Plots of the treatment from which on they say what is usual; below that the plot's own past does."""
TIMES = 3.0
"""Above the largest or below the smallest of the others by this factor a value is asked about; thumb."""
TIMES_PAST = 7.0
"""The same of the plot's own last value: covers grow, so that only a slip of ten is told from growth; thumb."""
FEWEST_COUNTED = 30
"""Things that a sample must have before a count is asked about: few things vary many times by chance; thumb."""


@dataclass(frozen=True, slots=True)
class Expected:
    """Values outside `low` to `high` are asked about. `seen`: the smallest and largest that stand beside, which is
    either the other plots of the treatment (`beside`) or this plot's last value (`past`).
    """

    which: Literal["beside", "past"]
    low: float
    high: float
    seen: tuple[float, float]


def tells(values: str, parts: str, unit: str, possible: tuple[float, float] | None) -> bool:
    """Whether ratios of a measure's values mean something: not those of scores, shares, temperatures and what can lie
    below zero, nor of what is told by parts. `values`, `parts`: of its sheet; `possible`: its range.
    """
    ratio = values in ("", "count") and not parts and "°" not in unit
    return ratio and (possible is None or possible[0] >= 0)


def expected_from(others: Sequence[float], past: float | None, counted: float | None = None) -> Expected | None:
    """`others`: values of the other plots of the treatment, `past`: the plot's last one. `counted`: the value that one
    thing in a sample makes, for counts; None for what is measured. None where nothing can be said.
    """
    times, which, seen = TIMES, "beside", [value for value in others if math.isfinite(value)]
    if len(seen) < FEWEST_OTHERS:
        times, which, seen = TIMES_PAST, "past", [past] if past is not None and math.isfinite(past) else []
    if not seen or min(seen) <= 0:
        return None  # zero times anything says nothing
    low, high = min(seen) / times, max(seen) * times
    if counted is not None:
        fewest = FEWEST_COUNTED * counted
        low, high = low if min(seen) >= fewest else -math.inf, max(high, fewest)
        low = max(low, 0.0)
    return Expected("beside" if which == "beside" else "past", low, high, (min(seen), max(seen)))
