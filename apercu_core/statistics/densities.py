"""Counts on the board: densities compared in their own unit, for designs with one stratum.

Variance μ + αμ² with α by moments, which holds where plots of a treatment vary as patches do; for each mean the wider
of its standard error and quasi-Poisson's (dispersion not below 1). α is itself estimated from few and skewed counts, so
the degrees of freedom shrink as it grows: 1 / (1 / df + α / 12). Chosen by simulation among candidates: docs/counts.md.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
from scipy import special

from apercu_core.arrays import Floats
from apercu_core.errors import Refused
from apercu_core.statistics.comparisons import Pairs, chosen_pairs
from apercu_core.statistics.count_test import CountTest, count_test
from apercu_core.statistics.diagnostics import Diagnostics, normal_quantiles
from apercu_core.statistics.distribution_families import Poisson
from apercu_core.statistics.distributions import f_upper, log_t_upper
from apercu_core.statistics.equivalence import EquivalenceTest
from apercu_core.statistics.generalised import LinkFit, LinkInference, separation_of
from apercu_core.statistics.glm import GlmFit, fit_glm, fit_negative_binomial, moment_alpha
from apercu_core.statistics.inference import FTest
from apercu_core.statistics.letters import letters
from apercu_core.statistics.means import family_of
from apercu_core.statistics.model import LinearModel, build_model, sum_to_zero
from apercu_core.statistics.plots import Plots, Row, plots_of
from apercu_core.statistics.response_analysis import ResponseAnalysis, without_treatments
from apercu_core.statistics.response_scale import (
    ResponseMeans,
    compare_in_response,
    compare_with_test,
    equivalence_in_response,
)
from apercu_core.statistics.scales import SCALES
from apercu_core.statistics.specification import (
    ONE_STRATUM,
    Against,
    Comparison,
    CountModel,
    Equivalence,
    Specification,
)

ALPHA_DF = 12.0
"""Degrees of freedom that an α of 1 is known with at best, whatever the number of plots: chosen by simulation
(docs/counts.md).
"""


@dataclass(frozen=True, slots=True)
class NothingCounted:
    """A treatment of `plots` plots, each of about `area`, in none of which anything was counted.

    Its upper end u makes that as likely as the tail of c standard errors: (1 + α·area·u)^(−plots/α), or for α = 0
    exp(−plots·area·u), which gives the 3.00 / area of one-sided 95 %.
    """

    plots: float
    area: float
    alpha: float
    df: float
    value: float = 0.0

    def ends(self, c: float) -> tuple[float, float]:
        far = -log_t_upper(c, self.df) / self.plots
        return 0.0, float((np.expm1(self.alpha * far) / self.alpha if self.alpha > 1e-6 else far) / self.area)

    def with_plots(self, factor: float) -> NothingCounted:
        return replace(self, plots=self.plots * factor)


@dataclass(frozen=True, slots=True, kw_only=True)
class DensityAnalysis(ResponseAnalysis):
    """In the response's unit. `alpha`: of the variance μ + αμ²; `dispersion`: quasi-Poisson's; `none_found`:
    treatment → area searched, where nothing was counted in any plot. `test`: whether there are differences, None where
    counts were said to follow a distribution. `interval_df`: of each pair's interval, by labels, where the design has
    several strata.
    """

    alpha: float
    counts: CountModel
    test: CountTest | None
    empty_blocks: tuple[str, ...]
    pair_df: Mapping[tuple[str, str], float]

    @property
    def grand_mean(self) -> float:
        """Plants of all plots over all of their area."""
        exposure = self.plots.exposure
        return float(self.plots.response.sum() / (len(self.plots) if exposure is None else exposure.sum()))

    @property
    def assumed(self) -> str:
        return {"estimated": "", "poisson": "Poisson", "negative_binomial": "negative binomial"}[self.counts]

    def compared(self, comparison: Comparison, against: Against | None = None) -> Pairs:
        return _compare(self.means, comparison, self.df, against, self.test, self.pair_df)

    def equivalence_with(self, asked: Equivalence) -> tuple[EquivalenceTest, ...]:
        others, _ = chosen_pairs(self.means.in_response(), asked.control)
        labels = self.means.family.labels
        df = [self.pair_df.get((labels[i], asked.control), self.df) for i in others.tolist()]
        return equivalence_in_response(self.means, np.array(df), asked)

    def anova_by_stratum(self, term: str) -> dict[str, FTest]:
        return self.test.on_scale.anova_by_stratum(term) if self.test else {}


def analyse_densities(
    rows: Sequence[Row], spec: Specification, counts: CountModel = "estimated"
) -> DensityAnalysis:  # fmt: skip
    """Counts with their area, compared as densities. Raises `Refused` where too little was counted for an interval.

    `spec`: of one treatment factor, with the family quasi_poisson and the exposure that the counts were taken from;
    `counts`: how much they vary. In designs with several strata the test is the mixed model's, and plots of a
    treatment, which lie in different blocks, give its size; their means are then means over these blocks.
    """
    strata = spec.design not in ONE_STRATUM
    spec = replace(spec, family="quasi_poisson", block_effect=spec.block_effect if strata else "fixed")
    sizes = _one_stratum(spec) if strata else spec
    everything = plots_of(rows, spec)
    if not everything.response.any():
        raise Refused("no-variation", "Nothing was counted in any plot, so there is nothing to compare.")
    plots, empty = _without_empty_blocks(everything, sizes)
    separation = separation_of(plots, sizes)
    kept = _with_some(plots, sizes, separation.zero)
    model = build_model(kept, _for_fit(kept, sizes), least_levels=1)
    offset = np.zeros(len(kept)) if kept.exposure is None else np.log(kept.exposure)
    poisson = fit_glm(model.x, kept.response, offset, Poisson())
    if poisson.residual_df < 1:
        raise Refused("no-replication", "Nothing is left to judge the counts by: each treatment needs more plots.")
    test, pair_df = None, {}
    if counts == "estimated":
        alpha, chosen = moment_alpha(model.x, kept.response, offset)
        dispersion = max(1.0, poisson.dispersion)
        df = 1 / (1 / poisson.residual_df + alpha / ALPHA_DF)
        wide, other = chosen.unscaled * max(1.0, chosen.dispersion), poisson.unscaled * dispersion
        test = count_test(everything, spec)  # a block without any count says that its plots are alike
        if strata:  # totals of treatments are kept by these weights, so that means are those of the plots
            wide = _sandwich(poisson, alpha) * max(1.0, chosen.dispersion)
            chosen = replace(chosen, beta=poisson.beta, mu=poisson.mu)
            pair_df = _df_of_pairs(test, alpha)
    else:
        chosen = poisson if counts == "poisson" else fit_negative_binomial(model.x, kept.response, offset)
        alpha, dispersion, df = 1 / chosen.theta if chosen.theta else 0.0, 1.0, float("inf")
        wide = other = chosen.unscaled
    fit = LinkFit(model, chosen.beta, wide)
    means = _means(fit, LinkInference(wide, fit.beta, df), other, over_blocks=strata)
    if test is not None:
        means = _with_their_own_spread(means, kept, chosen.mu, test)
    means = _with_none_found(means, everything, sizes, alpha, df)
    control = spec.comparison.control if spec.comparison.method == "dunnett" else None
    pairs = _compare(means, spec.comparison, df, control, test, pair_df)
    if test is not None:
        overall = test.on_scale.anova[spec.treatments[0]]
    elif counts == "negative_binomial":
        overall = _likelihood_ratio(model, kept, offset, chosen)
    else:
        overall = _overall(model, kept, offset, poisson, dispersion, df)
    return DensityAnalysis(
        specification=spec, plots=kept, fit=fit, means=means, df=df, alpha=alpha, dispersion=dispersion,
        anova={"treatment": overall}, families=(means.in_response(),), pairs=(pairs,),
        letters=(letters(pairs),) if control is None else (), diagnostics=_diagnose(kept, chosen, alpha),
        none_found=_areas(everything, sizes), counts=counts, test=test, empty_blocks=empty, pair_df=pair_df,
    )  # fmt: skip


def _one_stratum(spec: Specification) -> Specification:
    """Plots of a treatment, which lie in different blocks each, by blocks alone."""
    return replace(
        spec, design="rcbd", block_effect="fixed", whole_plot=None, row_strip=None, column_strip=None,
        incomplete_block=None, whole_plot_factor=None, row_factor=None, column_factor=None,
    )  # fmt: skip


def _without_empty_blocks(plots: Plots, spec: Specification) -> tuple[Plots, tuple[str, ...]]:
    """Blocks, rows or columns without any count say nothing of ratios. Raises `Refused` where one alone is left."""
    empty: list[str] = []
    keep = np.ones(len(plots), dtype=bool)
    for name in (spec.block, spec.row, spec.column):
        if not name or name not in plots.factors:
            continue
        factor = plots.factors[name]
        none = [code for code in range(len(factor)) if not plots.response[factor.codes == code].any()]
        if len(factor) - len(none) < 2:
            raise Refused(
                "too-few-plots",
                f"Something was counted in only one {name}: so few were counted that no interval can be given. Count "
                "larger areas.",
            )
        empty += [f"{name} {factor.levels[code]}" for code in none]
        keep &= ~np.isin(factor.codes, none)
    return (plots.where(keep) if empty else plots), tuple(empty)


def _with_some(plots: Plots, spec: Specification, none: Sequence[str]) -> Plots:
    """The plots of the treatments in which something was counted."""
    factor = plots.factors[spec.treatments[0]]
    return plots.where(np.array([factor.levels[code] not in none for code in factor.codes])) if none else plots


def _for_fit(kept: Plots, spec: Specification) -> Specification:
    """A single treatment with counts has its blocks in its error: they couldn't be told from it."""
    alone = len(kept.factors[spec.treatments[0]]) == 1
    return replace(spec, design="crd", block=None, row=None, column=None) if alone else spec


def _areas(plots: Plots, spec: Specification) -> dict[str, float]:
    """Of the treatments in which nothing was counted: the area that was searched."""
    factor = plots.factors[spec.treatments[0]]
    area = np.ones(len(plots)) if plots.exposure is None else plots.exposure
    total, counted = np.bincount(factor.codes, area), np.bincount(factor.codes, plots.response)
    return {level: float(total[code]) for code, level in enumerate(factor.levels) if not counted[code]}


def _sandwich(poisson: GlmFit, alpha: float) -> Floats:
    """Covariance of Poisson's estimates where the variance is μ + αμ²: White (1982), Econometrica 50, 1–25."""
    middle = poisson.x.T @ ((poisson.mu + alpha * poisson.mu**2)[:, None] * poisson.x)
    return np.asarray(poisson.unscaled @ middle @ poisson.unscaled, float)


def _df_of_pairs(test: CountTest, alpha: float) -> dict[tuple[str, str], float]:
    """Of each pair's stratum, less what is unknown of α."""
    pairs = test.on_scale.compared(Comparison("lsd", None))
    labels = pairs.family.labels
    each = zip(pairs.a.tolist(), pairs.b.tolist(), pairs.df.tolist(), strict=True)
    one_way = {(labels[a], labels[b]): 1 / (1 / df + alpha / ALPHA_DF) for a, b, df in each}
    return one_way | {(b, a): df for (a, b), df in one_way.items()}


def _means(fit: LinkFit, inference: LinkInference, quasi: Floats, *, over_blocks: bool) -> ResponseMeans:
    """For each mean the wider of two standard errors; correlations from the first. `over_blocks`: the mean of the
    blocks' densities, which isn't that of a middle block.
    """
    family = family_of(fit, inference, fit.model.treatments)
    own = np.sqrt(np.diagonal(family.covariance))
    other = np.sqrt(np.einsum("mp,pq,mq->m", family.functions, quasi, family.functions))
    correlation = family.covariance / np.outer(own, own)
    eta = family.mean + (_block_share(fit) if over_blocks else 0.0)
    return ResponseMeans(replace(family, mean=eta), eta, np.maximum(own, other), correlation, SCALES["log"])


def _with_their_own_spread(means: ResponseMeans, plots: Plots, expected: Floats, test: CountTest) -> ResponseMeans:
    """A treatment that varies more than the model says of all of them has the error of its own plots."""
    factor = plots.factors[means.family.factors[0]]
    se = means.se.copy()
    for i, label in enumerate(means.family.labels):
        if label in test.uneven:
            own = factor.codes == factor.levels.index(label)
            n, total = int(own.sum()), float(expected[own].sum())
            spread = float(((plots.response[own] - expected[own]) ** 2).sum()) * n / (n - 1)
            se[i] = max(se[i], np.sqrt(spread) / total)
    return replace(means, se=se)


def _block_share(fit: LinkFit) -> float:
    """Log of the mean over blocks of what a block has beside the middle one."""
    term = next((one for one in fit.model.terms if one.name not in fit.model.treatments), None)
    if term is None or len(fit.model.kept) < fit.model.coded.shape[1]:
        return 0.0
    effects = sum_to_zero(len(fit.model.factors[term.name])) @ fit.beta[term.columns]
    return float(np.log(np.exp(effects).mean()))


def _with_none_found(means: ResponseMeans, plots: Plots, spec: Specification, alpha: float, df: float) -> ResponseMeans:
    """The means of all treatments, those among them in which nothing was counted."""
    factor = plots.factors[spec.treatments[0]]
    known = {label: i for i, label in enumerate(means.family.labels)}
    if len(known) == len(factor):
        return means
    at = [known.get(level, -1) for level in factor.levels]
    there = np.array([i >= 0 for i in at])
    total, number = _areas(plots, spec), np.bincount(factor.codes)
    none = {
        i: NothingCounted(float(number[i]), total[level] / number[i], alpha, df)
        for i, level in enumerate(factor.levels) if level in total
    }  # fmt: skip

    def spread(values: Floats, empty: float) -> Floats:
        out = np.full((len(at), *values.shape[1:]), empty)
        out[there] = values[[i for i in at if i >= 0]]
        return out

    correlation = np.eye(len(at))
    correlation[np.ix_(there, there)] = means.correlation[np.ix_(at, at)][np.ix_(there, there)]
    covariance = np.zeros((len(at), len(at)))
    covariance[np.ix_(there, there)] = means.family.covariance[np.ix_(at, at)][np.ix_(there, there)]
    family = replace(
        means.family, levels=tuple((level,) for level in factor.levels), functions=spread(means.family.functions, 0.0),
        mean=spread(means.family.mean, -np.inf), se=spread(means.family.se, np.nan),
        df=spread(means.family.df, df), covariance=covariance,
    )  # fmt: skip
    return ResponseMeans(family, spread(means.eta, -np.inf), spread(means.se, 0.0), correlation, means.scale, none)


def _compare(
    means: ResponseMeans, comparison: Comparison, df: float, against: Against | None, test: CountTest | None,
    pair_df: Mapping[tuple[str, str], float],
) -> Pairs:  # fmt: skip
    family = means.in_response()
    a, b = chosen_pairs(family, against)
    correlation = None
    if against is not None:  # as if means were independent, which the common blocks hardly change
        own = np.array([means.se_in_response(i) / max(means.mean(i), 1e-300) for i in range(len(means.eta))])
        own = np.minimum(own, 1e6)
        with_control = own[b] / np.hypot(own[a], own[b])
        correlation = np.outer(with_control, with_control)
        if not isinstance(against, str):  # comparisons with different controls share nothing
            correlation = np.where(b[:, None] == b, correlation, 0.0)
        np.fill_diagonal(correlation, 1)
    labels = family.labels
    each = np.array([pair_df.get((labels[i], labels[j]), df) for i, j in zip(a.tolist(), b.tolist(), strict=True)])
    if test is None:
        return compare_in_response(means, comparison, each, correlation, against=against)
    return compare_with_test(
        means, comparison, each, correlation, test.compared(comparison, against), against=against
    )  # fmt: skip


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
    if f < -1e-8:  # a fuller model can't be less likely: one of the two wasn't fitted to its end
        raise Refused(
            "no-variation",
            "The negative binomial model doesn’t settle on these counts. Look for a count that is far from the others, "
            "or choose variation estimated from the plots.",
        )
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
