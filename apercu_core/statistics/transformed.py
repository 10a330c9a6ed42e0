"""Values that are analysed on a transformed scale: k of n in designs with several strata, and logarithms.

A generalised linear model of single plots would take plots of one whole plot for replicates of it. The arcsine of the
square root steadies the spread of shares and takes 0 and 1; means and differences come back to per cent. Logarithms
serve values that vary in proportion to their means. A difference comes back through the intervals of its two means
(`response_scale`), or, where a margin is a share of the control, as the ratio to it.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from apercu_core.arrays import Floats
from apercu_core.statistics.analysis import Analysis, analyse
from apercu_core.statistics.comparisons import Pairs, chosen_pairs
from apercu_core.statistics.diagnostics import Diagnostics
from apercu_core.statistics.equivalence import EquivalenceTest, equivalence_tests
from apercu_core.statistics.fitted import NoneSetApart, percent_of
from apercu_core.statistics.inference import FTest, Inference
from apercu_core.statistics.letters import letters
from apercu_core.statistics.means import Family
from apercu_core.statistics.model import LinearModel
from apercu_core.statistics.plots import Plots, Row
from apercu_core.statistics.response_scale import ResponseMeans, compare_in_response, equivalence_in_response
from apercu_core.statistics.scales import PERCENT_ARCSINE, SCALES, Scale
from apercu_core.statistics.specification import Against, Comparison, Equivalence, Specification


@dataclass(frozen=True, slots=True)
class TransformedAnalysis(NoneSetApart):
    """`on_scale`: the analysis of the transformed values; means and pairs are in the measure's unit again.

    `ratios_to`: on a log scale the controls that others are compared with as ratios, shown as differences from the
    control's geometric mean, which is taken as fixed; empty where means are compared by their differences.
    """

    on_scale: Analysis
    means: ResponseMeans
    families: tuple[Family, ...]
    pairs: tuple[Pairs, ...]
    letters: tuple[tuple[str, ...], ...]
    ratios_to: frozenset[str] = frozenset()

    @property
    def specification(self) -> Specification:
        return self.on_scale.specification

    @property
    def plots(self) -> Plots:
        return self.on_scale.plots

    @property
    def model(self) -> LinearModel:
        return self.on_scale.model

    @property
    def scale(self) -> Scale:
        return self.means.scale

    @property
    def coefficients(self) -> Floats:
        return self.on_scale.coefficients

    @property
    def inference(self) -> Inference:
        return self.on_scale.inference

    @property
    def residual_sd(self) -> float:
        """To the first order about the mean of all plots."""
        return abs(self.scale.slope(float(self.plots.response.mean()))) * self.on_scale.residual_sd

    @property
    def diagnostics(self) -> Diagnostics:
        """On the scale of the analysis. That spread grows with the mean is what the scale is for."""
        return replace(self.on_scale.diagnostics, spread_p=None)

    @property
    def converged(self) -> bool:
        return self.on_scale.converged

    @property
    def anova(self) -> dict[str, FTest]:
        return self.on_scale.anova

    @property
    def grand_mean(self) -> float:
        return float(np.mean([self.scale.inverse(float(y)) for y in self.plots.response]))

    @property
    def cv_percent(self) -> float:
        return percent_of(self.residual_sd, self.grand_mean)

    @property
    def variance_components(self) -> dict[str, float]:
        """None: on a transformed scale they have no unit that a reader knows."""
        return {}

    def anova_by_stratum(self, term: str) -> dict[str, FTest]:
        return self.on_scale.anova_by_stratum(term)

    def interval_with(self, pair: int, plots: float, critical: float) -> tuple[float, float]:
        pairs = self.pairs[0]
        if not self.ratios_to:
            return self.means.with_plots(plots).difference(int(pairs.a[pair]), int(pairs.b[pair]), critical)
        comparison = self.specification.comparison
        logs = self.on_scale.compared(comparison, comparison.control if comparison.method == "dunnett" else None)
        half = critical * logs.se / np.sqrt(plots)
        back = _ratios(
            replace(logs, lower=logs.estimate - half, upper=logs.estimate + half), self.means, self.ratios_to
        )
        return float(back.lower[pair]), float(back.upper[pair])

    def mean_intervals(self, critical: Floats) -> tuple[Floats, Floats]:
        return self.means.intervals(critical)

    def compared(self, comparison: Comparison, against: Against | None = None) -> Pairs:
        return _compare(self.on_scale, self.means, self.ratios_to, comparison, against)

    def equivalence_with(self, asked: Equivalence) -> tuple[EquivalenceTest, ...]:
        if self.ratios_to:
            return _ratio_tests(self, asked)
        df, _ = _of_pairs(self.on_scale, asked.control)
        return equivalence_in_response(self.means, df, asked)


def analyse_shares(rows: Sequence[Row], spec: Specification) -> TransformedAnalysis:
    """Shares from 0 to 1 (the response of `spec`) compared through the arcsine of their roots, in per cent."""
    return _analyse(rows, replace(spec, transform="arcsine_sqrt"), PERCENT_ARCSINE)


def analyse_logs(
    rows: Sequence[Row], spec: Specification, *, ratios_to: frozenset[str] = frozenset()
) -> TransformedAnalysis:
    """Values above 0 compared through their logarithms; `ratios_to` as in `TransformedAnalysis`."""
    return _analyse(rows, replace(spec, transform="log"), SCALES["log"], ratios_to)


def _analyse(
    rows: Sequence[Row], spec: Specification, scale: Scale, ratios_to: frozenset[str] = frozenset()
) -> TransformedAnalysis:
    on_scale = analyse(rows, spec)
    family = on_scale.families[0]
    se = family.se
    means = ResponseMeans(family, family.mean, se, family.covariance / np.outer(se, se), scale)
    control = spec.comparison.control if spec.comparison.method == "dunnett" else None
    pairs = _compare(on_scale, means, ratios_to, spec.comparison, control)
    shown = (letters(pairs),) if control is None else ()
    return TransformedAnalysis(on_scale, means, (means.in_response(),), (pairs,), shown, ratios_to)


def _compare(
    on_scale: Analysis, means: ResponseMeans, ratios_to: frozenset[str], comparison: Comparison, against: Against | None
) -> Pairs:
    if ratios_to:
        return _ratios(on_scale.compared(comparison, against), means, ratios_to)
    df, covariance = _of_pairs(on_scale, against)
    return compare_in_response(means, comparison, df, covariance, against=against)


def _ratios(logs: Pairs, means: ResponseMeans, controls: frozenset[str]) -> Pairs:
    """Differences of logs as differences from the control's mean: m (e^d − 1), in which ends and margins keep their
    order. Where neither is a control, from the second one's.
    """
    is_control = np.array([label in controls for label in logs.family.labels])
    turned = is_control[logs.a] & ~is_control[logs.b]
    sign = np.where(turned, -1.0, 1.0)
    family = means.in_response()
    base = family.mean[np.where(turned, logs.a, logs.b)]

    def back(log: Floats) -> Floats:
        return sign * base * np.expm1(sign * log)

    return replace(
        logs, family=family, estimate=back(logs.estimate), lower=back(logs.lower), upper=back(logs.upper),
        se=base * np.exp(sign * logs.estimate) * logs.se,
    )  # fmt: skip


def _ratio_tests(analysis: TransformedAnalysis, asked: Equivalence) -> tuple[EquivalenceTest, ...]:
    """Planned tests whose margin, a share of the control's mean, is asymmetric on the log scale."""
    logs = analysis.on_scale.families[0]
    family = analysis.families[0]
    base = float(family.mean[family.labels.index(asked.control)])
    share = asked.margin / base
    limits = (float(np.log1p(-share)) if share < 1 else -np.inf, float(np.log1p(share)))
    tests = equivalence_tests(logs, analysis.inference, asked, limits=limits)
    return tuple(
        replace(
            test, estimate=base * float(np.expm1(test.estimate)), se=base * float(np.exp(test.estimate)) * test.se,
            lower=base * float(np.expm1(test.lower)), upper=base * float(np.expm1(test.upper)),
        )
        for test in tests
    )  # fmt: skip


def _of_pairs(on_scale: Analysis, against: Against | None) -> tuple[Floats, Floats]:
    """Degrees of freedom of each pair, and the covariances between them on the analysis scale."""
    family = on_scale.families[0]
    a, b = chosen_pairs(family, against)
    functions = family.functions[a] - family.functions[b]
    covariance = functions @ on_scale.inference.covariance @ functions.T
    return on_scale.inference.df(functions), covariance
