"""Intervals of single means, as the full reading shows them."""

from __future__ import annotations

from apercu_core.arrays import Floats
from apercu_core.statistics.distributions import t_quantile
from apercu_core.statistics.fitted import FittedAnalysis


def mean_intervals(a: FittedAnalysis) -> tuple[Floats, Floats]:
    """Lower and upper ends of plain 1 − α intervals, in the measure's unit, one for each level of the first family."""
    return a.mean_intervals(t_quantile(a.specification.comparison.alpha / 2, a.families[0].df))
