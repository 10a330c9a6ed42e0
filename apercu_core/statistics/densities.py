"""Counts on the board: densities compared in their own unit, for designs with one stratum.

Variance μ + αμ² with α by moments, which holds where plots of a treatment vary as patches do; for each mean the wider
of its standard error and quasi-Poisson's (dispersion not below 1). α is itself estimated from few and skewed counts, so
the degrees of freedom shrink as it grows: 1 / (1 / df + α / 12). Chosen by simulation among candidates: docs/counts.md.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from scipy import special

from apercu_core.arrays import Floats
from apercu_core.errors import Refused
from apercu_core.statistics.comparisons import Pairs, chosen_pairs
from apercu_core.statistics.diagnostics import Diagnostics, normal_quantiles
from apercu_core.statistics.distribution_families import Poisson
from apercu_core.statistics.distributions import f_upper
from apercu_core.statistics.generalised import LinkFit, LinkInference, separation_of, without_separated
from apercu_core.statistics.glm import GlmFit, fit_glm, fit_negative_binomial, moment_alpha
from apercu_core.statistics.inference import FTest
from apercu_core.statistics.letters import letters
from apercu_core.statistics.means import family_of
from apercu_core.statistics.model import LinearModel, build_model
from apercu_core.statistics.plots import Plots, Row, plots_of
from apercu_core.statistics.response_analysis import ResponseAnalysis, without_treatments
from apercu_core.statistics.response_scale import ResponseMeans, compare_in_response
from apercu_core.statistics.scales import SCALES
from apercu_core.statistics.specification import Against, Comparison, CountModel, Specification

ALPHA_DF = 12.0
"""Degrees of freedom that an α of 1 is known with at best, whatever the number of plots: chosen by simulation
(docs/counts.md).
"""


@dataclass(frozen=True, slots=True, kw_only=True)
class DensityAnalysis(ResponseAnalysis):
    """In the response's unit. `alpha`: of the variance μ + αμ²; `dispersion`: quasi-Poisson's; `none_found`:
    treatment → area searched, where nothing was counted in any plot.
    """

    alpha: float
    counts: CountModel

    @property
    def grand_mean(self) -> float:
        """Plants of all plots over all of their area."""
        exposure = self.plots.exposure
        return float(self.plots.response.sum() / (len(self.plots) if exposure is None else exposure.sum()))

    @property
    def assumed(self) -> str:
        return {"estimated": "", "poisson": "Poisson", "negative_binomial": "negative binomial"}[self.counts]

    def compared(self, comparison: Comparison, against: Against | None = None) -> Pairs:
        return _compare(self.means, comparison, self.df, against)


def analyse_densities(
    rows: Sequence[Row], spec: Specification, counts: CountModel = "estimated"
) -> DensityAnalysis:  # fmt: skip
    """Counts with their area, compared as densities. Raises `Refused` where too little was counted for an interval.

    `spec`: of one treatment factor, with the family quasi_poisson and the exposure that the counts were taken from;
    `counts`: how much they vary.
    """
    spec = replace(spec, block_effect="fixed", family="quasi_poisson")
    plots = plots_of(rows, spec)
    _require_counts_in_blocks(plots, spec)
    separation = separation_of(plots, spec)
    kept = without_separated(plots, spec, separation)
    model = build_model(kept, spec)
    offset = np.zeros(len(kept)) if kept.exposure is None else np.log(kept.exposure)
    poisson = fit_glm(model.x, kept.response, offset, Poisson())
    if poisson.residual_df < 1:
        raise Refused("no-replication", "Nothing is left to judge the counts by: each treatment needs more plots.")
    if counts == "estimated":
        alpha, chosen = moment_alpha(model.x, kept.response, offset)
        dispersion = max(1.0, poisson.dispersion)
        df = 1 / (1 / poisson.residual_df + alpha / ALPHA_DF)
        wide, other = chosen.unscaled * max(1.0, chosen.dispersion), poisson.unscaled * dispersion
    else:
        chosen = poisson if counts == "poisson" else fit_negative_binomial(model.x, kept.response, offset)
        alpha, dispersion, df = 1 / chosen.theta if chosen.theta else 0.0, 1.0, float("inf")
        wide = other = chosen.unscaled
    fit = LinkFit(model, chosen.beta, wide)
    means = _means(fit, LinkInference(wide, fit.beta, df), other)
    control = spec.comparison.control if spec.comparison.method == "dunnett" else None
    pairs = _compare(means, spec.comparison, df, control)
    overall = _likelihood_ratio(model, kept, offset, chosen) if counts == "negative_binomial" else _overall(
        model, kept, offset, poisson, dispersion, poisson.residual_df if counts == "estimated" else df
    )  # fmt: skip
    return DensityAnalysis(
        specification=spec, plots=kept, fit=fit, means=means, df=df, alpha=alpha, dispersion=dispersion,
        anova={"treatment": overall}, families=(means.in_response(),), pairs=(pairs,),
        letters=(letters(pairs),) if control is None else (), diagnostics=_diagnose(kept, chosen, alpha),
        none_found=_areas(plots, spec, separation.zero), counts=counts,
    )  # fmt: skip


def _require_counts_in_blocks(plots: Plots, spec: Specification) -> None:
    for name in (spec.block, spec.row, spec.column):
        if not name or name not in plots.factors:
            continue
        factor = plots.factors[name]
        for code, level in enumerate(factor.levels):
            if not plots.response[factor.codes == code].any():
                raise Refused(
                    "too-few-plots",
                    f"Nothing was counted in any plot of {name} {level}: so few were counted that no interval can be "
                    "given. Count larger areas.",
                )


def _areas(plots: Plots, spec: Specification, names: Sequence[str]) -> dict[str, float]:
    factor = plots.factors[spec.treatments[0]]
    area = np.ones(len(plots)) if plots.exposure is None else plots.exposure
    return {name: float(area[factor.codes == factor.levels.index(name)].sum()) for name in names}


def _means(fit: LinkFit, inference: LinkInference, quasi: Floats) -> ResponseMeans:
    """For each mean the wider of two standard errors; correlations from the first."""
    family = family_of(fit, inference, fit.model.treatments)
    own = np.sqrt(np.diagonal(family.covariance))
    other = np.sqrt(np.einsum("mp,pq,mq->m", family.functions, quasi, family.functions))
    correlation = family.covariance / np.outer(own, own)
    return ResponseMeans(family, family.mean, np.maximum(own, other), correlation, SCALES["log"])


def _compare(means: ResponseMeans, comparison: Comparison, df: float, against: Against | None) -> Pairs:
    a, b = chosen_pairs(means.in_response(), against)
    correlation = None
    if against is not None:  # as if means were independent, which the common blocks hardly change
        with_control = means.se[b] / np.hypot(means.se[a], means.se[b])
        correlation = np.outer(with_control, with_control)
        if not isinstance(against, str):  # comparisons with different controls share nothing
            correlation = np.where(b[:, None] == b, correlation, 0.0)
        np.fill_diagonal(correlation, 1)
    return compare_in_response(means, comparison, np.full(len(a), df), correlation, against=against)


def _overall(model: LinearModel, plots: Plots, offset: Floats, full: GlmFit, dispersion: float, df: float) -> FTest:
    """Quasi-Poisson's F test of all treatments; with infinite degrees of freedom Poisson's test of the deviance."""
    left, q = without_treatments(model)
    reduced = fit_glm(model.x[:, left], plots.response, offset, Poisson())
    f = (reduced.deviance - full.deviance) / q / dispersion
    return FTest(q, float(df), f, f_upper(f, q, df))


def _likelihood_ratio(model: LinearModel, plots: Plots, offset: Floats, full: GlmFit) -> FTest:
    """The likelihood ratio over its degrees of freedom, which is an F with infinitely many below."""
    left, q = without_treatments(model)
    reduced = fit_negative_binomial(model.x[:, left], plots.response, offset)
    f = 2 * (full.log_likelihood - reduced.log_likelihood) / q
    return FTest(q, float("inf"), f, f_upper(f, q, float("inf")))


def _diagnose(plots: Plots, fit: GlmFit, alpha: float) -> Diagnostics:
    """Residuals and fitted values as densities. A count stands out by its tail under the fitted distribution."""
    area = np.ones(len(plots)) if plots.exposure is None else plots.exposure
    pearson = fit.pearson_residuals
    tail = count_tail(plots.response, fit.mu, alpha)
    return Diagnostics(
        (plots.response - fit.mu) / area, fit.mu / area, normal_quantiles(pearson), pearson,
        np.minimum(1, len(plots) * tail), None, None,
    )  # fmt: skip


def count_tail(y: Floats, mu: Floats, alpha: float) -> Floats:
    """Two-sided tail of each count under variance μ + αμ², shape (n,)."""
    below: Floats
    if alpha <= 0:
        below = special.gammaincc(y + 1, mu)
        above = np.where(y > 0, special.gammainc(np.maximum(y, 1), mu), 1.0)
    else:
        size = 1 / alpha
        success = size / (size + mu)
        below = np.asarray(special.betainc(size, y + 1, success), float)
        above = np.where(y > 0, 1 - special.betainc(size, np.maximum(y, 1), success), 1.0)
    out: Floats = np.minimum(1, 2 * np.minimum(below, above))
    return out
