"""What was seen, where nothing may be tested: means of plots, and how far plots of a treatment lie apart."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from apercu_core.trial.facts import PlotFacts, TrialFacts
from apercu_core.words import decimals_for

Samples = Mapping[str, Sequence[float | None]]


@dataclass(frozen=True, slots=True)
class Description:
    """Of one treatment: how many plots have a value, their mean, and the lowest and highest of them."""

    treatment: str
    plots: int
    mean: float
    low: float
    high: float


def describe(plots: Sequence[PlotFacts], samples: Samples) -> tuple[Description, ...]:
    """In the order in which plots name the treatments; those without a value are left out."""
    found: dict[str, list[float]] = {}
    for plot in plots:
        present = [value for value in samples.get(plot.label, ()) if value is not None]
        if present:
            found.setdefault(plot.treatment, []).append(sum(present) / len(present))
    order = dict.fromkeys(plot.treatment for plot in plots)
    return tuple(
        Description(name, len(values), sum(values) / len(values), min(values), max(values))
        for name in order
        if (values := found.get(name))
    )


def decimals_of(described: Sequence[Description]) -> int:
    """As many as a quarter of what plots of one treatment differ by deserves, else a twentieth of the means."""
    apart = max((one.high - one.low for one in described), default=0.0)
    size = max((abs(one.mean) for one in described), default=0.0)
    return max(0, decimals_for(apart / 4 or size / 20 or math.nan))


def only_described(trial: TrialFacts) -> str:
    """Why a trial can be described but never tested; empty where it can be tested."""
    if trial.allocation == "systematic":
        return "Treatments were placed in a fixed order, not randomised. The difference is described, not tested."
    placed = [plot.treatment for plot in trial.plots]
    if len(placed) > 1 and len(set(placed)) == len(placed):
        return "Each treatment has only one plot. The difference is described, not tested."
    return ""
