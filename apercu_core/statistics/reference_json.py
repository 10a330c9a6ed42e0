"""An analysis in the JSON shape that docs/analyse.md describes."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

from apercu_core.statistics.analysis import Analysis
from apercu_core.statistics.anova import Estimate
from apercu_core.statistics.comparisons import Pairs, least_significant_difference
from apercu_core.statistics.distributions import t_quantile
from apercu_core.statistics.generalised import GeneralisedAnalysis, TermTest
from apercu_core.statistics.inference import FTest
from apercu_core.statistics.means import Family
from apercu_core.statistics.rank_analysis import RankAnalysis
from apercu_core.statistics.scales import IDENTITY, Scale

Json = dict[str, Any]


def as_json(analysis: Analysis) -> Json:
    """Plain lists, strings and numbers; what a method doesn't give is null or left out."""
    out: Json = {
        "anova": _tests("term", analysis.anova),
        "variance_components": _components(analysis),
        "cv_percent": _finite(analysis.cv_percent),
        "grand_mean": analysis.grand_mean,
        "n_analysed": len(analysis.plots),
        "means": _means(analysis),
        "pairs_scale": _pairs_scale(analysis.scale),
        "pairs_method": analysis.specification.comparison.method,
        "pairs": [pair for pairs in analysis.pairs for pair in _pairs(pairs, analysis.scale)],
        "diagnostics": _diagnostics(analysis),
        "info": {"singular": bool(analysis.at_zero)},
    }
    if analysis.scale is IDENTITY and any(pairs.method != "dunnett" for pairs in analysis.pairs):
        whole = [pairs for pairs in analysis.pairs if not pairs.family.within]
        lsd = {pairs.family.name: least_significant_difference(pairs) for pairs in whole}
        out["lsd"] = {name: value for name, value in lsd.items() if value is not None}
    if analysis.anova_additive:
        out["anova_additive_model"] = _tests("term", analysis.anova_additive)
    if analysis.contrasts:
        out["contrasts"] = [_estimate(e) for e in analysis.contrasts]
    if analysis.joint_contrasts:
        out["joint_contrasts"] = _tests("name", analysis.joint_contrasts)
    if analysis.covariates:
        out["covariates"] = [_estimate(e) for e in analysis.covariates]
    if analysis.equivalence:
        out["equivalence"] = _equivalence(analysis)
    return out


def _tests(key: str, tests: Mapping[str, FTest]) -> list[Json]:
    return [{key: name, "df_num": t.df_num, "df_den": t.df_den, "F": t.f, "p": t.p} for name, t in tests.items()]


def _components(analysis: Analysis) -> dict[str, float]:
    """Classical strata estimate the residual; what mean squares make of the rest may be negative and isn't shown."""
    components = analysis.fit.variance_components
    classical = analysis.specification.df_method == "containment_anova"
    return {name: v for name, v in components.items() if name == "residual" or not classical}


def _finite(value: float | None) -> float | None:
    return None if value is None or not math.isfinite(value) else float(value)


def _means(analysis: Analysis | GeneralisedAnalysis) -> list[Json]:
    out = []
    for i, family in enumerate(analysis.families):
        letters = analysis.letters[i] if analysis.letters else None
        alpha = analysis.specification.comparison.alpha
        out += [_mean(family, j, alpha, letters, analysis.scale) for j in range(len(family.levels))]
    return out


def _mean(family: Family, i: int, alpha: float, letters: tuple[str, ...] | None, scale: Scale) -> Json:
    """In the response's unit: the standard error by the delta method, the ends of the interval taken back."""
    mean, se, df = float(family.mean[i]), float(family.se[i]), float(family.df[i])
    treatment = dict([*zip(family.factors, family.levels[i], strict=True), *family.within])
    if not math.isfinite(mean):
        nothing = dict.fromkeys(("mean", "se", "df", "lower", "upper"))
        return {"treatment": treatment, **nothing, "note": "non-estimable"}
    half = float(t_quantile(alpha / 2, df)) * se
    out: Json = {
        "treatment": treatment,
        "mean": scale.inverse(mean),
        "se": abs(scale.slope(mean)) * se,
        "df": _df(df),
        "lower": scale.back(mean - half),
        "upper": scale.back(mean + half),
    }
    return {**out, "letters": letters[i]} if letters and letters[i] else out


def _df(df: float) -> float | str:
    return df if math.isfinite(df) else "Inf"


def _pairs_scale(scale: Scale) -> str:
    if scale is IDENTITY:
        return "difference"
    if scale.ratio:
        return "ratio"
    return "odds_ratio" if scale.name == "logit" else "transformed_difference"


def _pairs(pairs: Pairs, scale: Scale) -> list[Json]:
    """Differences, or ratios with the standard error of the ratio where the scale's differences are their logs."""
    labels = pairs.family.labels
    out = []
    for i in range(len(pairs)):
        numbers = {
            name: float(getattr(pairs, name)[i]) for name in ("estimate", "se", "df", "t", "p", "lower", "upper")
        }
        if scale.ratio or scale.name == "logit":
            ratio = math.exp(numbers["estimate"])
            ends = {
                end: math.exp(numbers[end]) if math.isfinite(numbers[end]) else math.nan for end in ("lower", "upper")
            }
            numbers |= {"estimate": ratio, "se": ratio * numbers["se"], **ends}
        out.append(
            {
                "family": pairs.family.name,
                **({"by": dict(pairs.family.within)} if pairs.family.within else {}),
                "a": labels[pairs.a[i]],
                "b": labels[pairs.b[i]],
                **{name: _finite(value) for name, value in numbers.items()},
                "df": _df(numbers["df"]),
            }
        )
    return out


def _estimate(e: Estimate) -> Json:
    return {"name": e.name, "estimate": e.estimate, "se": e.se, "df": _df(e.df), "t": e.t, "p": e.p,
            "lower": e.lower, "upper": e.upper}  # fmt: skip


def _equivalence(analysis: Analysis) -> list[Json]:
    return [
        {
            "treatment": test.treatment,
            "estimate": test.estimate,
            "se": test.se,
            "df": test.df,
            "p_lower": test.p_lower,
            "p_upper": test.p_upper,
            "p_tost": test.p_tost,
            "p_noninferiority": test.p_noninferiority,
            "lower": test.lower,
            "upper": test.upper,
            "conclusion": "equivalent" if test.equivalent else "not_shown_equivalent",
            "conclusion_noninferiority": "non_inferior" if test.non_inferior else "not_shown_non_inferior",
        }
        for test in analysis.equivalence
    ]


def _diagnostics(analysis: Analysis) -> Json:
    d = analysis.diagnostics
    if analysis.specification.df_method == "containment_anova" and not analysis.fit.only_residual:
        return {}
    out: Json = {"residuals": d.residuals.tolist()}
    if d.shapiro_p is not None:
        out["shapiro_p"] = d.shapiro_p
    if d.levene_p is not None:
        out["levene_p"] = d.levene_p
    return out


def counts_as_json(analysis: GeneralisedAnalysis) -> Json:
    """An analysis of counts or of k of n; separated treatments have their rate and no interval."""
    glm, spec = analysis.glm, analysis.specification
    fit: Json = {"deviance": glm.deviance, "df_resid": glm.residual_df, "pearson_chi2": glm.pearson,
                 "dispersion": _finite(glm.dispersion)}  # fmt: skip
    if not spec.family.startswith("quasi"):
        fit["loglik"] = glm.log_likelihood
        counted = 1 if glm.theta is not None else 0
        if glm.theta is None or math.isfinite(glm.theta):
            fit["aic"] = -2 * glm.log_likelihood + 2 * (len(glm.beta) + counted)
    if glm.theta is not None:
        fit["theta"] = _df(glm.theta)
        if glm.theta_se is not None:
            fit["theta_se"] = glm.theta_se
    out: Json = {
        "anova": [_term_test(name, test) for name, test in analysis.anova.items()],
        "glm": fit,
        "n_analysed": len(analysis.plots),
        "means": [*_means(analysis), *_separated_means(analysis)],
        "pairs_scale": analysis.pairs_scale,
        "pairs_method": spec.comparison.method,
        "pairs": [pair for pairs in analysis.pairs for pair in _pairs(pairs, analysis.scale)],
        "info": {},
    }
    if analysis.separation:
        separation = analysis.separation
        out["separation"] = {
            "detected": True,
            "zero_treatments": list(separation.zero),
            "full_treatments": list(separation.full),
        }
        if separation.ranks:
            r = separation.ranks
            out["rank_based"] = {"test": r.test, "statistic": r.statistic, "df": r.df, "p": r.p}
    if analysis.contrasts:
        out["contrasts"] = [_estimate(e) for e in analysis.contrasts]
    if analysis.covariates:
        out["covariates"] = [_estimate(e) for e in analysis.covariates]
    return out


def _term_test(name: str, test: TermTest) -> Json:
    if test.df_den is None:
        return {"term": name, "df_num": test.df_num, "chisq": test.statistic, "p": test.p}
    return {"term": name, "df_num": test.df_num, "df_den": test.df_den, "F": test.statistic, "p": test.p}


def _separated_means(analysis: GeneralisedAnalysis) -> list[Json]:
    name = analysis.specification.treatments[0]
    note = "separated: no Wald interval"
    ends = [(0, level) for level in analysis.separation.zero] + [(1, level) for level in analysis.separation.full]
    return [{"treatment": {name: level}, "mean": mean, "se": None, "note": note} for mean, level in ends]


def ranks_as_json(analysis: RankAnalysis) -> Json:
    """A test on ranks with its pairs."""
    test, name = analysis.test, analysis.factor.name
    levels = analysis.factor.levels
    shown: Json = {"test": test.test, "statistic": test.statistic, "df": test.df, "p": test.p}
    if test.blocks is not None:
        shown |= {"kendall_w": test.kendall_w, "n_blocks": test.blocks}
    out: Json = {
        "rank_test": shown,
        "means": [
            {"treatment": {name: level}, "mean_rank": float(test.mean_ranks[i]), "median": float(analysis.medians[i])}
            for i, level in enumerate(levels)
        ],
        "pairs_method": f"pairwise_wilcoxon_{'signed_rank' if test.blocks is not None else 'rank_sum'}_holm",
        "pairs": [
            {"family": name, "a": levels[p.a], "b": levels[p.b], "statistic": p.statistic, "p_raw": p.p_raw, "p": p.p}
            for p in analysis.pairs
        ],
    }
    if analysis.dunn:
        out["pairs_dunn"] = [
            {"family": name, "a": levels[p.a], "b": levels[p.b], "estimate": p.estimate, "se": p.se, "t": p.z,
             "p_raw": p.p_raw, "p": p.p}
            for p in analysis.dunn
        ]  # fmt: skip
    return out
