"""Critical values of the comparison methods in balanced trials, for planning and for asking how much more is needed."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import lru_cache

import numpy as np

from apercu_core.arrays import Floats
from apercu_core.statistics.distributions import t_quantile
from apercu_core.statistics.known_scale import KnownScale
from apercu_core.statistics.nested_normal import Group, inside_probability
from apercu_core.statistics.specification import Method
from apercu_core.statistics.studentized_range import range_quantile


@lru_cache(maxsize=4096)
def critical_value(
    method: Method, treatments: int, df: float, alpha: float, *, against_control: bool, controls: int = 1
) -> float:
    """The multiplier of a standard error in the two-sided simultaneous 1 − alpha interval.

    `treatments` ≥ 2 with equal replication; `controls`: among them, each for as many of the others. Holm has no
    interval of its own and takes Bonferroni's.
    """
    pairs = treatments - controls if against_control else treatments * (treatments - 1) // 2
    if treatments > 2 and method == "tukey":
        return _range_by_df(treatments, alpha)(df) / float(np.sqrt(2))
    if treatments > 2 and method == "dunnett":
        return _by_df(pairs, controls, alpha)(df)
    return float(t_quantile(_each(method, treatments, pairs, alpha) / 2, df))


def critical_t(method: Method, treatments: int, df: Floats, alpha: float, *, against_control: bool) -> Floats:
    """`critical_value` of the methods that are quantiles of t, for any number of degrees of freedom at once."""
    pairs = treatments - 1 if against_control else treatments * (treatments - 1) // 2
    return t_quantile(_each(method, treatments, pairs, alpha) / 2, df)


def _each(method: Method, treatments: int, pairs: int, alpha: float) -> float:
    """The level of a single comparison."""
    if method == "lsd" or treatments == 2:
        return alpha
    return float(-np.expm1(np.log1p(-alpha) / pairs)) if method == "sidak" else alpha / pairs


class _QuantileByDf:
    """A quantile for any degrees of freedom, from those at `NODES` Chebyshev points of 1/df; below `FEWEST` itself.

    As a function of 1/df it is smooth down to 0, so that a polynomial through these points is as good as the quantile
    itself (Berrut and Trefethen, 2004, SIAM Review 46, 501–517).
    """

    NODES, FEWEST = 20, 2.0

    def __init__(self, quantile: Callable[[float], float]) -> None:
        self._quantile = quantile
        k = np.arange(self.NODES)
        self._at = (1 - np.cos(np.pi * k / (self.NODES - 1))) / (2 * self.FEWEST)
        self._at[0] = 1e-7
        self._weights = (-1.0) ** k
        self._weights[[0, -1]] *= 0.5
        self._values = np.array([quantile(float(1 / one)) for one in self._at])

    def __call__(self, df: float) -> float:
        if df < self.FEWEST:
            return self._quantile(df)
        apart = max(1 / df, self._at[0]) - self._at
        if (near := np.abs(apart) < 1e-15).any():
            return float(self._values[near][0])
        shares = self._weights / apart
        return float(shares @ self._values / shares.sum())


@lru_cache(maxsize=64)
def _range_by_df(treatments: int, alpha: float) -> _QuantileByDf:
    return _QuantileByDf(lambda df: range_quantile(alpha, treatments, df))


@lru_cache(maxsize=64)
def _by_df(pairs: int, controls: int, alpha: float) -> _QuantileByDf:
    known = _against_controls(pairs, controls)
    return _QuantileByDf(lambda df: known.quantile(alpha, df))


@lru_cache(maxsize=64)
def _against_controls(pairs: int, controls: int) -> KnownScale:
    """Comparisons that share a control have correlation a half, others none; what doesn't depend on df is kept."""
    sizes = [len(range(first, pairs, controls)) for first in range(controls)]
    groups = tuple(Group(many, 0.0, math.sqrt(0.5)) for many in sizes)
    return KnownScale(lambda at: inside_probability(at, groups))
