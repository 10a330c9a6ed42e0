"""Differences in the response's own unit, from means that were estimated on another scale.

Each mean has an interval on its own scale; taken back, their ends give the interval of the difference (method of
variance estimates recovery): Zou and Donner (2008), Statistics in Medicine 27, 1693–1702; with correlated means Zou
(2007), Psychological Methods 12, 399–413. Its ends never ask for a density below zero, and a p value is the level at
which the interval touches the value that is tested, so that test and interval always agree.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from apercu_core.arrays import Floats
from apercu_core.statistics.comparisons import Pairs, adjust, chosen_pairs
from apercu_core.statistics.distributions import t_quantile, t_two_sided, t_upper
from apercu_core.statistics.equivalence import EquivalenceTest
from apercu_core.statistics.means import Family
from apercu_core.statistics.root import increasing_root
from apercu_core.statistics.scales import Scale
from apercu_core.statistics.specification import Against, Comparison, Equivalence

_FARTHEST = 1e6


@dataclass(frozen=True, slots=True)
class ResponseMeans:
    """Means on the analysis scale: `eta`, `se`: (m,); `correlation`: (m, m) of the estimates; and the way back."""

    family: Family
    eta: Floats
    se: Floats
    correlation: Floats
    scale: Scale

    def mean(self, i: int) -> float:
        return self.scale.inverse(float(self.eta[i]))

    def ends(self, i: int, c: float) -> tuple[float, float]:
        """The mean's interval with half-width c standard errors, in the response's unit."""
        half = c * float(self.se[i])
        return self.scale.back(float(self.eta[i]) - half), self.scale.back(float(self.eta[i]) + half)

    def intervals(self, critical: Floats) -> tuple[Floats, Floats]:
        """Lower and upper ends of all means, shape (m,) each; `critical`: (m,)."""
        low, high = np.array([self.ends(i, float(c)) for i, c in enumerate(critical)]).reshape(-1, 2).T
        return low, high

    def difference(self, a: int, b: int, c: float) -> tuple[float, float]:
        """Ends of the interval of a − b."""
        (low_a, high_a), (low_b, high_b) = self.ends(a, c), self.ends(b, c)
        mean_a, mean_b, r = self.mean(a), self.mean(b), float(self.correlation[a, b])
        down, up = _joined(mean_a - low_a, high_b - mean_b, r), _joined(high_a - mean_a, mean_b - low_b, r)
        return mean_a - mean_b - down, mean_a - mean_b + up

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
        slope_a, slope_b = (abs(self.scale.slope(float(self.eta[i]))) * float(self.se[i]) for i in (a, b))
        return float(np.sqrt(max(slope_a**2 + slope_b**2 - 2 * float(self.correlation[a, b]) * slope_a * slope_b, 0)))

    def in_response(self) -> Family:
        """The family with means and delta-method standard errors in the response's unit."""
        mean = np.array([self.mean(i) if np.isfinite(self.eta[i]) else np.nan for i in range(len(self.eta))])
        slope = np.array([abs(self.scale.slope(float(e))) if np.isfinite(e) else np.nan for e in self.eta])
        return replace(self.family, mean=mean, se=slope * self.se)


def _joined(x: float, y: float, r: float) -> float:
    if not (np.isfinite(x) and np.isfinite(y)):
        return float("inf")
    return float(np.sqrt(max(x * x + y * y - 2 * r * x * y, 0.0)))


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
