"""The whole analysis of counts or of k of n in designs with one stratum: the recipe, and its result as a value."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from apercu_core.arrays import Floats
from apercu_core.errors import Refused
from apercu_core.statistics.anova import Estimate, contrast, slopes
from apercu_core.statistics.comparisons import Pairs, compare
from apercu_core.statistics.distribution_families import Binomial, Distribution, Poisson
from apercu_core.statistics.distributions import chi_square_upper, f_upper
from apercu_core.statistics.glm import GlmFit, fit_glm, fit_negative_binomial
from apercu_core.statistics.inference import FTest
from apercu_core.statistics.letters import letters
from apercu_core.statistics.means import Family, families_of, family_of
from apercu_core.statistics.model import LinearModel, build_model
from apercu_core.statistics.plots import Plots, Row, plots_of
from apercu_core.statistics.rank_tests import RankTest, complete_blocks, friedman, kruskal_wallis
from apercu_core.statistics.scales import SCALES, Scale
from apercu_core.statistics.specification import Against, Specification


@dataclass(frozen=True, slots=True)
class LinkFit:
    """A fitted GLM as means and contrasts need it: `beta` and its covariance `phi` on the link scale."""

    model: LinearModel
    beta: Floats
    phi: Floats


class LinkInference:
    """z tests where the distribution fixes the variance; t and F on the residual df where it is estimated."""

    def __init__(self, covariance: Floats, beta: Floats, df: float) -> None:
        self.covariance, self._beta, self._df = covariance, beta, df

    def df(self, functions: Floats) -> Floats:
        return np.full(len(functions), self._df)

    def f_test(self, functions: Floats) -> FTest:
        estimate = functions @ self._beta
        q = len(functions)
        f = float(estimate @ np.linalg.solve(functions @ self.covariance @ functions.T, estimate)) / q
        return FTest(q, self._df, f, f_upper(f, q, self._df))


@dataclass(frozen=True, slots=True)
class TermTest:
    """A likelihood-ratio test of a term: χ² where the variance is known, F where it is estimated (`df_den`)."""

    df_num: int
    df_den: float | None
    statistic: float
    p: float


@dataclass(frozen=True, slots=True)
class Separation:
    """Treatments without any event, or with nothing but events: their log rate or logit has no end."""

    zero: tuple[str, ...]
    full: tuple[str, ...]
    ranks: RankTest | None

    def __bool__(self) -> bool:
        return bool(self.zero or self.full)


@dataclass(frozen=True, slots=True)
class GeneralisedAnalysis:
    """As `Analysis`, on the link scale. Separated treatments are left out of `families`; `separation` names them."""

    specification: Specification
    plots: Plots
    glm: GlmFit
    fit: LinkFit
    inference: LinkInference
    anova: dict[str, TermTest]
    families: tuple[Family, ...]
    pairs: tuple[Pairs, ...]
    letters: tuple[tuple[str, ...], ...]
    contrasts: tuple[Estimate, ...]
    covariates: tuple[Estimate, ...]
    separation: Separation

    @property
    def scale(self) -> Scale:
        return SCALES["logit" if self.specification.of_trials else "log"]

    @property
    def pairs_scale(self) -> Literal["ratio", "odds_ratio"]:
        return "odds_ratio" if self.specification.of_trials else "ratio"


def analyse_counts(rows: Sequence[Row], spec: Specification) -> GeneralisedAnalysis:
    """Analyse counts or k of n as the specification says. Raises `Refused` when no honest answer exists."""
    spec = replace(spec, block_effect="fixed")
    plots = plots_of(rows, spec)
    separation = separation_of(plots, spec)
    if separation and (len(spec.treatments) > 1 or spec.covariates):
        names = (*separation.zero, *separation.full)
        raise Refused(
            "no-variation",
            f"{names[0]} has no events at all, or nothing but events, so its effects have no end in this model. "
            "Compare the combinations as one list of treatments.",
        )
    kept = without_separated(plots, spec, separation)
    model = build_model(kept, spec)
    glm = fitted(model.x, kept, spec)
    dispersion = glm.dispersion if spec.family.startswith("quasi") else 1.0
    df = float(glm.residual_df) if spec.family.startswith("quasi") else float("inf")
    fit = LinkFit(model, glm.beta, glm.unscaled * dispersion)
    inference = LinkInference(fit.phi, fit.beta, df)
    families = families_of(fit, inference)
    with_letters = spec.comparison.method != "dunnett"
    control = None if with_letters else spec.comparison.control
    _require_control(control, families, separation)
    pairs = tuple(compare(f, inference, spec.comparison, against=control) for f in families)
    cells = family_of(fit, inference, model.treatments)
    alpha = spec.comparison.alpha
    return GeneralisedAnalysis(
        spec, plots, glm, fit, inference,
        _separated_anova(plots, spec, glm) if separation else _anova(model, kept, spec, glm),
        families, pairs, tuple(letters(p) for p in pairs) if with_letters else (),
        tuple(contrast(c, cells, fit, inference, alpha) for c in spec.contrasts), slopes(fit, inference, alpha),
        separation,
    )  # fmt: skip


def fitted(x: Floats, plots: Plots, spec: Specification) -> GlmFit:
    """The fit of the specification's family with the columns `x`."""
    offset = np.zeros(len(plots)) if plots.exposure is None else np.log(plots.exposure)
    if spec.family == "negative_binomial":
        return fit_negative_binomial(x, plots.response, offset)
    if plots.trials is not None:
        return fit_glm(x, plots.response / plots.trials, offset, Binomial(plots.trials))
    distribution: Distribution = Poisson()
    return fit_glm(x, plots.response, offset, distribution)


def _anova(model: LinearModel, plots: Plots, spec: Specification, full: GlmFit) -> dict[str, TermTest]:
    """Each term's columns of the sum-to-zero coding left out in turn, and the model fitted anew."""
    spec = _as_fitted(spec, full)
    out = {}
    for term in model.terms:
        left = np.array([j not in range(term.columns.start, term.columns.stop) for j in range(model.x.shape[1])])
        reduced = fitted(model.x[:, left], plots, spec)
        out[term.name] = _term_test(full, reduced, term.columns.stop - term.columns.start, spec)
    return out


def _as_fitted(spec: Specification, full: GlmFit) -> Specification:
    """A negative binomial that came out as the Poisson is compared with Poisson models."""
    return replace(spec, family="poisson") if full.theta is not None and np.isinf(full.theta) else spec


def _term_test(full: GlmFit, reduced: GlmFit, q: int, spec: Specification) -> TermTest:
    if spec.family == "negative_binomial":
        statistic = 2 * (full.log_likelihood - reduced.log_likelihood)
    else:
        statistic = reduced.deviance - full.deviance
    if spec.family.startswith("quasi"):
        f = statistic / q / full.dispersion
        return TermTest(q, float(full.residual_df), f, f_upper(f, q, full.residual_df))
    return TermTest(q, None, statistic, chi_square_upper(statistic, q))


def _separated_anova(plots: Plots, spec: Specification, full: GlmFit) -> dict[str, TermTest]:
    """The treatments against none, over all plots, in the limit: separated plots add nothing to the full deviance."""
    spec = _as_fitted(spec, full)
    everything = build_model(plots, spec)
    term = next(t for t in everything.terms if t.name == spec.treatments[0])
    left = np.array([j not in range(term.columns.start, term.columns.stop) for j in range(everything.x.shape[1])])
    reduced = fitted(everything.x[:, left], plots, spec)
    return {term.name: _term_test(full, reduced, term.columns.stop - term.columns.start, spec)}


def separation_of(plots: Plots, spec: Specification) -> Separation:
    """Levels of a treatment factor with no event in any plot, or nothing but events."""
    zero, full = [], []
    for name in spec.treatments:
        factor = plots.factors[name]
        for code, level in enumerate(factor.levels):
            here = factor.codes == code
            if not plots.response[here].any():
                zero.append(level)
            elif plots.trials is not None and (plots.response[here] == plots.trials[here]).all():
                full.append(level)
    ranks = _ranks(plots, spec) if (zero or full) and len(spec.treatments) == 1 else None
    return Separation(tuple(zero), tuple(full), ranks)


def _ranks(plots: Plots, spec: Specification) -> RankTest | None:
    """The test on ranks of the plots' rates; None where ranks say nothing either."""
    rates = plots.response / (plots.trials if plots.trials is not None else _ones_or(plots.exposure, len(plots)))
    treatment = plots.factors[spec.treatments[0]].codes
    try:
        if spec.design == "rcbd" and spec.block:
            return friedman(complete_blocks(rates, treatment, plots.factors[spec.block].codes))
        return kruskal_wallis(rates, treatment)
    except Refused:
        return None


def _ones_or(exposure: Floats | None, n: int) -> Floats:
    return np.ones(n) if exposure is None else exposure


def without_separated(plots: Plots, spec: Specification, separation: Separation) -> Plots:
    """The plots of the treatments that have a rate. Raises `Refused` where fewer than two are left."""
    if not separation:
        return plots
    factor = plots.factors[spec.treatments[0]]
    gone = {*separation.zero, *separation.full}
    left = [level for level in factor.levels if level not in gone]
    if len(left) < 2:
        raise Refused(
            "no-variation",
            f"Only {len(left)} of {len(factor)} treatments {'has' if len(left) == 1 else 'have'} events in some plots "
            "and not in all, so no two rates can be compared.",
        )
    return plots.where(np.array([factor.levels[code] not in gone for code in factor.codes]))


def _require_control(control: Against | None, families: Sequence[Family], separation: Separation) -> None:
    if not isinstance(control, str) or any(control in family.labels for family in families):
        return
    if control in (*separation.zero, *separation.full):
        raise Refused(
            "no-variation",
            f"The control {control} has no events at all, or nothing but events, so no ratio to it can be estimated.",
        )
    there = ", ".join(families[0].labels)
    raise Refused(
        "bad-specification", f"comparison.control {control!r} isn’t among the levels of {families[0].name}: {there}."
    )
