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
from apercu_core.statistics.fitted import percent_of
from apercu_core.statistics.inference import FTest, Inference
from apercu_core.statistics.letters import letters
from apercu_core.statistics.means import Family
from apercu_core.statistics.model import LinearModel
from apercu_core.statistics.plots import Plots, Row
from apercu_core.statistics.response_scale import ResponseMeans, compare_in_response, equivalence_in_response
from apercu_core.statistics.scales import PERCENT_ARCSINE, SCALES, Scale
from apercu_core.statistics.specification import Against, Comparison, Equivalence, Specification


@dataclass(frozen=True, slots=True)
class TransformedAnalysis:
    """`on_scale`: the analysis of the transformed values; means and pairs are in the measure's unit again."""

    on_scale: Analysis
    means: ResponseMeans
    families: tuple[Family, ...]
    pairs: tuple[Pairs, ...]
    letters: tuple[tuple[str, ...], ...]

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
    def none_found(self) -> dict[str, float]:
        return {}

    @property
    def assumed(self) -> str:
        return ""

    @property
    def variance_components(self) -> dict[str, float]:
        """None: on a transformed scale they have no unit that a reader knows."""
        return {}

    def anova_by_stratum(self, term: str) -> dict[str, FTest]:
        return self.on_scale.anova_by_stratum(term)

    def mean_intervals(self, critical: Floats) -> tuple[Floats, Floats]:
        return self.means.intervals(critical)

    def compared(self, comparison: Comparison, against: Against | None = None) -> Pairs:
        return _compare(self.on_scale, self.means, comparison, against)

    def equivalence_with(self, asked: Equivalence) -> tuple[EquivalenceTest, ...]:
        df, _ = _of_pairs(self.on_scale, asked.control)
        return equivalence_in_response(self.means, df, asked)


def analyse_rates(rows: Sequence[Row], spec: Specification) -> TransformedAnalysis:
    """Densities (the response of `spec`) compared through their square roots. Raises `Refused` as `analyse` does."""
    return _analyse(rows, replace(spec, transform="sqrt"), SCALES["sqrt"])


def analyse_shares(rows: Sequence[Row], spec: Specification) -> TransformedAnalysis:
    """Shares from 0 to 1 (the response of `spec`) compared through the arcsine of their roots, in per cent."""
    return _analyse(rows, replace(spec, transform="arcsine_sqrt"), PERCENT_ARCSINE)


def _analyse(rows: Sequence[Row], spec: Specification, scale: Scale) -> TransformedAnalysis:
    on_scale = analyse(rows, spec)
    family = on_scale.families[0]
    se = family.se
    means = ResponseMeans(family, family.mean, se, family.covariance / np.outer(se, se), scale)
    control = spec.comparison.control if spec.comparison.method == "dunnett" else None
    pairs = _compare(on_scale, means, spec.comparison, control)
    return TransformedAnalysis(
        on_scale, means, (means.in_response(),), (pairs,), (letters(pairs),) if control is None else ()
    )


def _compare(on_scale: Analysis, means: ResponseMeans, comparison: Comparison, against: Against | None) -> Pairs:
    df, covariance = _of_pairs(on_scale, against)
    return compare_in_response(means, comparison, df, covariance, against=against)


def _of_pairs(on_scale: Analysis, against: Against | None) -> tuple[Floats, Floats]:
    """Degrees of freedom of each pair, and the covariances between them on the analysis scale."""
    family = on_scale.families[0]
    a, b = chosen_pairs(family, against)
    functions = family.functions[a] - family.functions[b]
    covariance = functions @ on_scale.inference.covariance @ functions.T
    return on_scale.inference.df(functions), covariance
