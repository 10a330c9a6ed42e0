"""Pairs of means: differences, adjusted p values and simultaneous intervals of one family."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import combinations

import numpy as np

from apercu_core.arrays import Bools, Floats, Ints
from apercu_core.statistics.distributions import t_quantile, t_two_sided
from apercu_core.statistics.inference import Inference
from apercu_core.statistics.means import Family
from apercu_core.statistics.multivariate_t import LargestT
from apercu_core.statistics.rank_tests import holm
from apercu_core.statistics.specification import Against, Comparison, Method
from apercu_core.statistics.studentized_range import range_quantile, range_upper


@dataclass(frozen=True, slots=True)
class Pairs:
    """Differences a − b of a family, one element for each pair.

    `a`, `b`: indices into the family's levels; `p`: adjusted, `p_raw`: not; `critical`: multiplier of the standard
    error in the interval; NaN, with `lower` and `upper`, where the method has no interval (Holm).
    """

    family: Family
    method: Method
    alpha: float
    a: Ints
    b: Ints
    estimate: Floats
    se: Floats
    df: Floats
    t: Floats
    p: Floats
    p_raw: Floats
    critical: Floats
    lower: Floats
    upper: Floats

    def __len__(self) -> int:
        return len(self.a)


def compare(family: Family, inference: Inference, comparison: Comparison, *, against: Against | None = None) -> Pairs:
    """All pairs, or each level against one, or against its own. Dunnett needs `against`.

    Means without an answer take part in no pair. A family that doesn't hold `against` has no pairs.
    """
    a, b = chosen_pairs(family, against)
    functions = family.functions[a] - family.functions[b]
    covariance = functions @ inference.covariance @ functions.T
    estimate = family.mean[a] - family.mean[b]
    se = np.sqrt(np.diagonal(covariance))
    df = inference.df(functions)
    t = estimate / se
    raw = t_two_sided(t, df)
    p, critical = adjust(comparison, t, df, raw, covariance, len(family.estimable))
    return Pairs(family, comparison.method, comparison.alpha, a, b, estimate, se, df, t, p, raw, critical,
                 estimate - critical * se, estimate + critical * se)  # fmt: skip


def chosen_pairs(family: Family, against: Against | None) -> tuple[Ints, Ints]:
    """Indices a and b of all pairs a − b, or of each level against one, or against its own."""
    return _all_pairs(family) if against is None else _against(family, against)


def _all_pairs(family: Family) -> tuple[Ints, Ints]:
    pairs = np.array(list(combinations(family.estimable, 2)), dtype=np.int64).reshape(-1, 2)
    return pairs[:, 0], pairs[:, 1]


def _against(family: Family, control: Against) -> tuple[Ints, Ints]:
    if not isinstance(control, str):
        at_own = {label: i for i, label in enumerate(family.labels) if i in family.estimable}
        both = [(at_own[a], at_own[b]) for a, b in control.items() if a in at_own and b in at_own]
        pairs = np.array(both, dtype=np.int64).reshape(-1, 2)
        return pairs[:, 0], pairs[:, 1]
    at = family.labels.index(control) if control in family.labels else -1
    others = family.estimable[family.estimable != at]
    if at not in family.estimable:
        others = others[:0]
    return others, np.full(len(others), at)


def adjust(
    comparison: Comparison, t: Floats, df: Floats, raw: Floats, covariance: Floats, means: int
) -> tuple[Floats, Floats]:
    """Adjusted p and critical values for the method in force. `covariance`: of the pairs, up to a common factor."""
    p = adjusted_p(comparison, t, df, raw, covariance, means)
    return p, critical_values(comparison, df, covariance, means)


def adjusted_p(
    comparison: Comparison, t: Floats, df: Floats, raw: Floats, covariance: Floats, means: int
) -> Floats:  # fmt: skip
    """As `adjust`. `raw`: two-sided p of each pair by itself; `means`: how many are compared."""
    m = len(t)
    if comparison.method == "lsd" or m <= 1:
        return raw
    if comparison.method == "bonferroni":
        return np.minimum(1, m * raw)
    if comparison.method == "sidak":
        return np.asarray(-np.expm1(m * np.log1p(-np.minimum(raw, 1 - 1e-16))), float)
    if comparison.method == "holm":
        return holm(raw)
    p = np.empty(m)
    for value, at in _by_df(df):
        if comparison.method == "tukey":
            p[at] = range_upper(np.sqrt(2) * np.abs(t[at]), means, value)
        else:
            largest = LargestT(covariance, value)
            p[at] = [largest.upper(x) for x in t[at]]
    return p


def critical_values(comparison: Comparison, df: Floats, covariance: Floats, means: int) -> Floats:
    """Multipliers of each pair's standard error in its interval; NaN where the method has no interval (Holm)."""
    m, alpha = len(df), comparison.alpha
    if comparison.method == "lsd" or m <= 1:
        return t_quantile(alpha / 2, df)
    if comparison.method == "bonferroni":
        return t_quantile(alpha / (2 * m), df)
    if comparison.method == "sidak":
        return t_quantile(-np.expm1(np.log1p(-alpha) / m) / 2, df)
    if comparison.method == "holm":
        return np.full(m, np.nan)
    critical = np.empty(m)
    for value, at in _by_df(df):
        tukey = comparison.method == "tukey"
        critical[at] = (
            range_quantile(alpha, means, value) / np.sqrt(2) if tukey else LargestT(covariance, value).quantile(alpha)
        )
    return critical


def _by_df(df: Floats) -> list[tuple[float, Bools]]:
    """Groups of pairs whose df agree to nine digits, so that each distribution is worked out once."""
    rounded = np.array([float(f"{x:.9g}") for x in df])
    return [(float(value), rounded == value) for value in np.unique(rounded)]


def least_significant_difference(pairs: Pairs) -> float | None:
    """The LSD, where one figure holds for all pairs of the family; else None."""
    if not len(pairs):
        return None
    same = np.allclose(pairs.se, pairs.se[0], rtol=1e-6) and np.allclose(pairs.df, pairs.df[0], rtol=1e-6)
    return float(t_quantile(pairs.alpha / 2, pairs.df[0]) * pairs.se[0]) if same else None
