"""Intervals of single means, as the full reading shows them."""

from __future__ import annotations

import numpy as np

from apercu_core.arrays import Floats
from apercu_core.reading.found import AnyAnalysis
from apercu_core.statistics.analysis import Analysis
from apercu_core.statistics.distributions import t_quantile


def mean_intervals(a: AnyAnalysis) -> tuple[Floats, Floats]:
    """Lower and upper ends of plain 1 − α intervals, in the measure's unit, one for each level of the first family."""
    family, alpha = a.families[0], a.specification.comparison.alpha
    critical = t_quantile(alpha / 2, family.df)
    if isinstance(a, Analysis):
        return family.mean - critical * family.se, family.mean + critical * family.se
    ends = [a.means.ends(i, float(critical[i])) for i in range(len(family.levels))]
    low, high = np.array(ends).T
    return low, high
