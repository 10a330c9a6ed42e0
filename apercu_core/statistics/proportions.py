"""k of n on the board: a quasi-binomial model with one stratum of error, compared in per cent.

Quasi-binomial with a dispersion of at least 1, t and F on its residual degrees of freedom (McCullagh and Nelder, 1989,
*Generalized Linear Models*, section 4.5). Differences are of percentages, from the logit intervals of the two means
(`response_scale`), so no interval asks for less than 0 or more than 100 %.
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
from apercu_core.statistics.distribution_families import Binomial
from apercu_core.statistics.distributions import f_upper
from apercu_core.statistics.generalised import LinkFit, LinkInference, separation_of, without_separated
from apercu_core.statistics.glm import GlmFit, fit_glm
from apercu_core.statistics.inference import FTest
from apercu_core.statistics.letters import letters
from apercu_core.statistics.means import family_of
from apercu_core.statistics.model import build_model
from apercu_core.statistics.plots import Plots, Row, plots_of
from apercu_core.statistics.response_analysis import ResponseAnalysis, without_treatments
from apercu_core.statistics.response_scale import ResponseMeans, compare_in_response
from apercu_core.statistics.scales import PERCENT_LOGIT
from apercu_core.statistics.specification import Against, Comparison, Specification


@dataclass(frozen=True, slots=True, kw_only=True)
class ProportionAnalysis(ResponseAnalysis):
    """In per cent. `none_found`: treatment → how many were examined, where none or all of them were found;
    `all_found`: those of them of which all were.
    """

    all_found: frozenset[str]
    estimated: bool

    @property
    def grand_mean(self) -> float:
        """Per cent of all that were examined."""
        assert self.plots.trials is not None
        return float(100 * self.plots.response.sum() / self.plots.trials.sum())

    @property
    def assumed(self) -> str:
        return "" if self.estimated else "binomial"

    def value_without_interval(self, treatment: str) -> float:
        return 100.0 if treatment in self.all_found else 0.0

    def compared(self, comparison: Comparison, against: Against | None = None) -> Pairs:
        return _compare(self.means, comparison, self.df, against)


def analyse_proportions(
    rows: Sequence[Row], spec: Specification, *, estimated: bool = True
) -> ProportionAnalysis:  # fmt: skip
    """k (the response of `spec`) of n (its `trials`), compared as percentages. Raises `Refused` as `analyse` does.

    `estimated`: how much plots vary is; else they are taken to vary as a binomial does.
    """
    spec = replace(spec, block_effect="fixed", family="quasi_binomial")
    plots = plots_of(rows, spec)
    separation = separation_of(plots, spec)
    kept = without_separated(plots, spec, separation)
    model = build_model(kept, spec)
    full = _fit(model.x, kept)
    if full.residual_df < 1:
        raise Refused("no-replication", "Nothing is left to judge the plots by: each treatment needs more of them.")
    dispersion, df = (max(1.0, full.dispersion), float(full.residual_df)) if estimated else (1.0, float("inf"))
    fit = LinkFit(model, full.beta, full.unscaled * dispersion)
    family = family_of(fit, LinkInference(fit.phi, fit.beta, df), model.treatments)
    se = np.sqrt(np.diagonal(family.covariance))
    means = ResponseMeans(family, family.mean, se, family.covariance / np.outer(se, se), PERCENT_LOGIT)
    control = spec.comparison.control if spec.comparison.method == "dunnett" else None
    pairs = _compare(means, spec.comparison, df, control)
    left, q = without_treatments(model)
    f = (_fit(model.x[:, left], kept).deviance - full.deviance) / q / dispersion
    return ProportionAnalysis(
        specification=spec, plots=kept, fit=fit, means=means, df=df, dispersion=dispersion,
        anova={"treatment": FTest(q, df, f, f_upper(f, q, df))}, families=(means.in_response(),), pairs=(pairs,),
        letters=(letters(pairs),) if control is None else (), diagnostics=_diagnose(kept, full, dispersion),
        none_found=_examined(plots, spec, (*separation.zero, *separation.full)),
        all_found=frozenset(separation.full), estimated=estimated,
    )  # fmt: skip


def _fit(x: Floats, plots: Plots) -> GlmFit:
    assert plots.trials is not None
    return fit_glm(x, plots.response / plots.trials, np.zeros(len(plots)), Binomial(plots.trials))


def _compare(means: ResponseMeans, comparison: Comparison, df: float, against: Against | None) -> Pairs:
    a, b = chosen_pairs(means.in_response(), against)
    covariance = None
    if against is not None:
        of_means = means.correlation * np.outer(means.se, means.se)
        contrasts = np.zeros((len(a), len(means.eta)))
        contrasts[np.arange(len(a)), a], contrasts[np.arange(len(a)), b] = 1.0, -1.0
        covariance = contrasts @ of_means @ contrasts.T
    return compare_in_response(means, comparison, np.full(len(a), df), covariance, against=against)


def _examined(plots: Plots, spec: Specification, names: Sequence[str]) -> dict[str, float]:
    factor = plots.factors[spec.treatments[0]]
    assert plots.trials is not None
    return {name: float(plots.trials[factor.codes == factor.levels.index(name)].sum()) for name in names}


def _diagnose(plots: Plots, fit: GlmFit, dispersion: float) -> Diagnostics:
    """Residuals and fitted values in per cent. A plot stands out by the normal tail of its residual."""
    assert plots.trials is not None
    n, pearson = plots.trials, fit.pearson_residuals
    observed = 100 * plots.response / n
    tail = 2 * special.ndtr(-np.abs(pearson) / np.sqrt(dispersion))
    return Diagnostics(
        observed - 100 * fit.mu, 100 * fit.mu, normal_quantiles(pearson), pearson / np.sqrt(dispersion),
        np.minimum(1, len(plots) * tail), None, None,
    )  # fmt: skip
