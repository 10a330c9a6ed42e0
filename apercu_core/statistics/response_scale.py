"""Differences in the response's own unit, from means that were estimated on another scale.

Each mean has an interval on its own scale; taken back, their ends give the interval of the difference (method of
variance estimates recovery): Zou and Donner (2008), Statistics in Medicine 27, 1693–1702; with correlated means Zou
(2007), Psychological Methods 12, 399–413. Its ends never ask for a density below zero, and a p value is the level at
which the interval touches the value that is tested, so that test and interval always agree.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Protocol

import numpy as np

from apercu_core.arrays import Floats
from apercu_core.statistics.comparisons import Pairs, adjust, chosen_pairs, critical_values
from apercu_core.statistics.distributions import t_quantile, t_two_sided, t_upper
from apercu_core.statistics.equivalence import EquivalenceTest
from apercu_core.statistics.means import Family
from apercu_core.statistics.root import increasing_root
from apercu_core.statistics.scales import Scale
from apercu_core.statistics.specification import Against, Comparison, Equivalence

_FARTHEST = 1e6


class NoneFound(Protocol):
    """The mean of a treatment in which nothing was found, or everything: its value, and how far it may be from it."""

    @property
    def value(self) -> float: ...
    def ends(self, c: float) -> tuple[float, float]:
        """The interval for a half-width of c standard errors, in the response's unit."""

    def with_plots(self, factor: float) -> NoneFound:
        """As if so many times as many plots had shown the same."""


@dataclass(frozen=True, slots=True)
class ResponseMeans:
    """Means on the analysis scale: `eta`, `se`: (m,); `correlation`: (m, m) of the estimates; and the way back.

    `none_found`: of a mean that the scale has no place for, since nothing (or, from `all_found` on, everything) was
    found: index → its interval's end for a half-width of c standard errors.
    """

    family: Family
    eta: Floats
    se: Floats
    correlation: Floats
    scale: Scale
    none_found: Mapping[int, NoneFound] = field(default_factory=dict)

    def mean(self, i: int) -> float:
        if i in self.none_found:
            return self.none_found[i].value
        return self.scale.inverse(float(self.eta[i]))

    def ends(self, i: int, c: float) -> tuple[float, float]:
        """The mean's interval with half-width c standard errors, in the response's unit."""
        if i in self.none_found:
            return self.none_found[i].ends(c)
        half = c * float(self.se[i])
        return self.scale.back(float(self.eta[i]) - half), self.scale.back(float(self.eta[i]) + half)

    def with_plots(self, factor: float) -> ResponseMeans:
        """As `factor` times as many plots would have them, if they stay what they are."""
        none = {i: one.with_plots(factor) for i, one in self.none_found.items()}
        return replace(self, se=self.se / np.sqrt(factor), none_found=none)

    def intervals(self, critical: Floats) -> tuple[Floats, Floats]:
        """Lower and upper ends of all means, shape (m,) each; `critical`: (m,)."""
        low, high = np.array([self.ends(i, float(c)) for i, c in enumerate(critical)]).reshape(-1, 2).T
        return low, high

    def difference(self, a: int, b: int, c: float, times: float = 1.0) -> tuple[float, float]:
        """Ends of the interval of a − b, or of a − `times` b (≥ 0)."""
        (low_a, high_a), (low_b, high_b) = self.ends(a, c), self.ends(b, c)
        mean_a, mean_b, r = self.mean(a), self.mean(b), float(self.correlation[a, b])
        down = _joined(mean_a - low_a, times * (high_b - mean_b), r)
        up = _joined(high_a - mean_a, times * (mean_b - low_b), r)
        return mean_a - times * mean_b - down, mean_a - times * mean_b + up

    def distance(self, a: int, b: int, at: float = 0.0) -> float:
        """How many standard errors wide the interval of a − b has to be to reach `at`; below zero if `at` is above."""
        estimate = self.mean(a) - self.mean(b)
        if estimate == at:
            return 0.0
        side = 0 if estimate > at else 1
        sign = 1.0 if estimate > at else -1.0

        def beyond(c: float) -> float:
            return sign * (at - self.difference(a, b, c)[side])

        if beyond(_FARTHEST) < 0:
            return sign * _FARTHEST
        return sign * increasing_root(beyond, 1.0)

    def se_of_difference(self, a: int, b: int) -> float:
        """By the delta method, to show beside the estimate."""
        slope_a, slope_b = (self.se_in_response(i) for i in (a, b))
        return float(np.sqrt(max(slope_a**2 + slope_b**2 - 2 * float(self.correlation[a, b]) * slope_a * slope_b, 0)))

    def se_in_response(self, i: int) -> float:
        """By the delta method; where nothing was found, how far one standard error reaches."""
        if i in self.none_found:
            low, high = self.none_found[i].ends(1.0)
            return high - low
        return abs(self.scale.slope(float(self.eta[i]))) * float(self.se[i])

    def in_response(self) -> Family:
        """The family with means and standard errors in the response's unit."""
        each = range(len(self.eta))
        there = [i in self.none_found or bool(np.isfinite(self.eta[i])) for i in each]
        mean = np.array([self.mean(i) if there[i] else np.nan for i in each])
        se = np.array([self.se_in_response(i) if there[i] else np.nan for i in each])
        return replace(self.family, mean=mean, se=se)


def _joined(x: float, y: float, r: float) -> float:
    if not (np.isfinite(x) and np.isfinite(y)):
        return float("inf")
    return float(np.sqrt(max(x * x + y * y - 2 * r * x * y, 0.0)))


OPEN_AT_ZERO = float(np.nextafter(0, 1))
"""An end of an interval at zero that zero doesn't belong to: a test has found that there is a difference."""


def compare_with_test(
    means: ResponseMeans, comparison: Comparison, df: Floats, covariance: Floats | None, test: Pairs, *,
    against: Against | None = None,
) -> Pairs:  # fmt: skip
    """Pairs whose size is that of the means and whose p value is that of a test on another scale.

    `df`, `covariance` as `compare_in_response`. The interval ends at zero, open, where the test finds a difference
    in the direction of the estimate, and reaches zero where it doesn't. Where test and estimate point to different
    sides, nothing is found.
    """
    family = means.in_response()
    a, b = chosen_pairs(family, against)
    each = list(zip(a.tolist(), b.tolist(), strict=True))
    of_test = {
        (test.family.labels[i], test.family.labels[j]): k
        for k, (i, j) in enumerate(zip(test.a.tolist(), test.b.tolist(), strict=True))
    }
    at = np.array([of_test[family.labels[i], family.labels[j]] for i, j in each], dtype=np.int64)
    estimate = np.array([means.mean(i) - means.mean(j) for i, j in each])
    se = np.array([means.se_of_difference(i, j) for i, j in each])
    same_side = np.sign(test.estimate[at]) == np.sign(estimate)
    p, raw = (np.where(same_side, found[at], 1.0) for found in (test.p, test.p_raw))
    contrasts = np.eye(len(each)) if covariance is None else covariance
    critical = critical_values(comparison, df, contrasts, len(family.estimable))
    ends = [
        means.difference(i, j, float(c)) if np.isfinite(c) else (np.nan, np.nan)
        for (i, j), c in zip(each, critical, strict=True)
    ]
    lower, upper = np.array(ends).reshape(-1, 2).T
    found, up = p < comparison.alpha, estimate > 0
    lower = np.where(up, np.where(found, np.maximum(lower, OPEN_AT_ZERO), np.minimum(lower, 0.0)), lower)
    upper = np.where(up, upper, np.where(found, np.minimum(upper, -OPEN_AT_ZERO), np.maximum(upper, 0.0)))
    t = np.where(same_side, test.t[at], 0.0)
    return Pairs(family, comparison.method, comparison.alpha, a, b, estimate, se, df, t, p, raw, critical, lower, upper)


def compare_in_response(
    means: ResponseMeans, comparison: Comparison, df: Floats, contrast_covariance: Floats | None, *,
    against: Against | None = None,
) -> Pairs:  # fmt: skip
    """Pairs of means in the response's unit. `df`: of each pair; `contrast_covariance`: of the pairs on the
    analysis scale, up to a common factor, None where the method doesn't need it.
    """
    family = means.in_response()
    a, b = chosen_pairs(family, against)
    each = list(zip(a.tolist(), b.tolist(), strict=True))
    estimate = np.array([means.mean(i) - means.mean(j) for i, j in each])
    se = np.array([means.se_of_difference(i, j) for i, j in each])
    t = np.array([means.distance(i, j) for i, j in each])
    raw = t_two_sided(t, df)
    covariance = np.eye(len(t)) if contrast_covariance is None else contrast_covariance
    p, critical = adjust(comparison, t, df, raw, covariance, len(family.estimable))
    ends = [
        means.difference(i, j, float(c)) if np.isfinite(c) else (np.nan, np.nan)
        for (i, j), c in zip(each, critical, strict=True)
    ]
    lower, upper = np.array(ends).reshape(-1, 2).T
    return Pairs(family, comparison.method, comparison.alpha, a, b, estimate, se, df, t, p, raw, critical, lower, upper)


def equivalence_in_response(means: ResponseMeans, df: Floats, asked: Equivalence) -> tuple[EquivalenceTest, ...]:
    """Planned tests against a margin in the response's unit. `df`: of each comparison with the control."""
    labels = means.family.labels
    others, control = chosen_pairs(means.in_response(), asked.control)
    tests = []
    for i, j, own in zip(others.tolist(), control.tolist(), df.tolist(), strict=True):
        p_lower = float(t_upper(means.distance(i, j, -asked.margin), own))
        p_upper = float(t_upper(-means.distance(i, j, asked.margin), own))
        lower, upper = means.difference(i, j, float(t_quantile(asked.alpha, own)))
        worse = p_lower if asked.higher_is_better else p_upper
        tests.append(
            EquivalenceTest(
                labels[i], means.mean(i) - means.mean(j), means.se_of_difference(i, j), own, p_lower, p_upper, worse,
                lower, upper, equivalent=max(p_lower, p_upper) < asked.alpha, non_inferior=worse < asked.alpha,
            )
        )  # fmt: skip
    return tuple(tests)
