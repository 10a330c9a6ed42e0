"""Critical values of the comparison methods in balanced trials, for planning and for asking how much more is needed."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from apercu_core.statistics.distributions import t_quantile
from apercu_core.statistics.multivariate_t import largest_quantile
from apercu_core.statistics.specification import Method
from apercu_core.statistics.studentized_range import range_quantile


@lru_cache(maxsize=4096)
def critical_value(method: Method, treatments: int, df: float, alpha: float, *, against_control: bool) -> float:
    """The multiplier of a standard error in the two-sided simultaneous 1 − alpha interval.

    `treatments` ≥ 2 with equal replication. Holm has no interval of its own and takes Bonferroni's.
    """
    pairs = treatments - 1 if against_control else treatments * (treatments - 1) // 2
    if method == "lsd" or treatments == 2:
        return float(t_quantile(alpha / 2, df))
    if method in ("bonferroni", "holm"):
        return float(t_quantile(alpha / 2 / pairs, df))
    if method == "sidak":
        return float(t_quantile(-np.expm1(np.log1p(-alpha) / pairs) / 2, df))
    if method == "tukey":
        return range_quantile(alpha, treatments, df) / float(np.sqrt(2))
    return largest_quantile(alpha, np.full((pairs, pairs), 0.5) + 0.5 * np.eye(pairs), df)
