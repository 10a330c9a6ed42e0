"""Counts and k of n in designs with several strata of error: transformed rates of plots in the mixed model.

A generalised linear model of single plots would take plots of one whole plot for replicates of it. The square root
steadies the spread of counts (Bartlett, 1936, Supplement to the J. R. Stat. Soc. 3, 68–78) and takes zeros, as the
arcsine of its root does for shares; means and differences come back to densities and per cent.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from apercu_core.arrays import Floats
from apercu_core.statistics.analysis import Analysis, analyse
from apercu_core.statistics.comparisons import Pairs, chosen_pairs
from apercu_core.statistics.diagnostics import Diagnostics
from apercu_core.statistics.equivalence import EquivalenceTest
from apercu_core.statistics.inference import FTest
from apercu_core.statistics.letters import letters
from apercu_core.statistics.means import Family
from apercu_core.statistics.plots import Plots, Row
from apercu_core.statistics.response_scale import ResponseMeans, compare_in_response, equivalence_in_response
from apercu_core.statistics.scales import PERCENT_ARCSINE, SCALES, Scale
from apercu_core.statistics.specification import Against, Comparison, Equivalence, Specification


@dataclass(frozen=True, slots=True)
class RateAnalysis:
    """`on_root`: the analysis of the transformed rates; means and pairs are densities, or per cent."""

    on_root: Analysis
    means: ResponseMeans
    families: tuple[Family, ...]
    pairs: tuple[Pairs, ...]
    letters: tuple[tuple[str, ...], ...]

    @property
    def specification(self) -> Specification:
        return self.on_root.specification

    @property
    def plots(self) -> Plots:
        return self.on_root.plots

    @property
    def anova(self) -> dict[str, FTest]:
        return self.on_root.anova

    @property
    def diagnostics(self) -> Diagnostics:
        return self.on_root.diagnostics

    @property
    def grand_mean(self) -> float:
        return float(np.mean([self.means.scale.inverse(float(y)) for y in self.plots.response]))

    @property
    def cv_percent(self) -> float:
        """How much rates of plots vary, % of their mean (first order)."""
        if not self.grand_mean:
            return float("inf")
        slope = abs(self.means.scale.slope(float(self.plots.response.mean())))
        return 100 * slope * self.on_root.fit.residual_sd / self.grand_mean

    @property
    def none_found(self) -> dict[str, float]:
        return {}

    def compared(self, comparison: Comparison, against: Against | None = None) -> Pairs:
        return _compare(self.on_root, self.means, comparison, against)

    def equivalence_with(self, asked: Equivalence) -> tuple[EquivalenceTest, ...]:
        df, _ = _of_pairs(self.on_root, asked.control)
        return equivalence_in_response(self.means, df, asked)


def analyse_rates(rows: Sequence[Row], spec: Specification) -> RateAnalysis:
    """Densities (the response of `spec`) compared through their square roots. Raises `Refused` as `analyse` does."""
    return _analyse(rows, replace(spec, transform="sqrt"), SCALES["sqrt"])


def analyse_shares(rows: Sequence[Row], spec: Specification) -> RateAnalysis:
    """Shares from 0 to 1 (the response of `spec`) compared through the arcsine of their roots, in per cent."""
    return _analyse(rows, replace(spec, transform="arcsine_sqrt"), PERCENT_ARCSINE)


def _analyse(rows: Sequence[Row], spec: Specification, scale: Scale) -> RateAnalysis:
    on_root = analyse(rows, spec)
    family = on_root.families[0]
    se = family.se
    means = ResponseMeans(family, family.mean, se, family.covariance / np.outer(se, se), scale)
    control = spec.comparison.control if spec.comparison.method == "dunnett" else None
    pairs = _compare(on_root, means, spec.comparison, control)
    return RateAnalysis(on_root, means, (means.in_response(),), (pairs,), (letters(pairs),) if control is None else ())


def _compare(on_root: Analysis, means: ResponseMeans, comparison: Comparison, against: Against | None) -> Pairs:
    df, covariance = _of_pairs(on_root, against)
    return compare_in_response(means, comparison, df, covariance, against=against)


def _of_pairs(on_root: Analysis, against: Against | None) -> tuple[Floats, Floats]:
    """Degrees of freedom of each pair, and the covariances between them on the analysis scale."""
    family = on_root.families[0]
    a, b = chosen_pairs(family, against)
    functions = family.functions[a] - family.functions[b]
    covariance = functions @ on_root.inference.covariance @ functions.T
    return on_root.inference.df(functions), covariance
