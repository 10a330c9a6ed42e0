"""Whether what was counted lies above a threshold for action, below it, or can't be told yet."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from scipy.special import stdtrit

from apercu_core.agronomy.given import amount, filled, not_negative

Decision = Literal["above", "below", "cannot_tell"]
MOST_MORE = 10_000
CONFIDENCE = 0.95
"""Of each one-sided limit."""
ROUNDING = 1e-12


@dataclass(frozen=True, slots=True)
class AgainstThreshold:
    """`lower`, `upper`: one-sided 95 % limits of the mean; `more`: how many further values would tell, with the same
    mean and spread; None where it can be told, and where not even 10,000 more would.
    """

    mean: float
    lower: float
    upper: float
    decision: Decision
    more: int | None


def against_threshold(values: Sequence[float], threshold: float) -> AgainstThreshold:
    for i, one in enumerate(filled("values", values, 2)):
        amount(f"values.{i}", one)
    amount("threshold", threshold)
    n = len(values)
    mean = math.fsum(values) / n
    sd = math.sqrt(math.fsum((one - mean) ** 2 for one in values) / (n - 1))
    half = _half_width(sd, n)
    decision = _decision(mean, half, threshold)
    more = _more(mean, sd, n, threshold) if decision == "cannot_tell" else None
    return AgainstThreshold(mean, mean - half, mean + half, decision, more)


def _half_width(sd: float, n: int) -> float:
    return float(stdtrit(n - 1, CONFIDENCE)) * sd / math.sqrt(n)


def _decision(mean: float, half: float, threshold: float) -> Decision:
    near = ROUNDING * max(abs(mean), abs(threshold))
    if mean - half >= threshold - near:
        return "above"
    return "below" if mean + half < threshold - near else "cannot_tell"


def _more(mean: float, sd: float, n: int, threshold: float) -> int | None:
    """The half-width falls with every further value, so the least number is found by halving."""

    def tells(k: int) -> bool:
        return _decision(mean, _half_width(sd, n + k), threshold) != "cannot_tell"

    if not tells(MOST_MORE):
        return None
    low, high = 0, MOST_MORE  # can't tell, can tell
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (low, middle) if tells(middle) else (middle, high)
    return high


@dataclass(frozen=True, slots=True)
class Transects:
    """Plants of one transect aren't independent: the transects' means are what is judged."""

    transect_means: tuple[float, ...]
    judged: AgainstThreshold


def insect_transects(per_plant: Sequence[Sequence[float]], threshold: float) -> Transects:
    """`per_plant`: insects on each plant, a list for each transect."""
    means = []
    for i, transect in enumerate(filled("per_plant", per_plant, 2)):
        counts = [not_negative(f"per_plant.{i}.{k}", one) for k, one in enumerate(filled(f"per_plant.{i}", transect))]
        means.append(math.fsum(counts) / len(counts))
    return Transects(tuple(means), against_threshold(means, not_negative("threshold", threshold)))
