"""An analysis in the JSON shape that docs/analyse.md describes."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

from apercu_core.statistics.analysis import Analysis
from apercu_core.statistics.anova import Estimate
from apercu_core.statistics.comparisons import Pairs, least_significant_difference
from apercu_core.statistics.distributions import t_quantile
from apercu_core.statistics.inference import FTest
from apercu_core.statistics.means import Family

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
        "pairs_scale": "difference",
        "pairs_method": analysis.specification.comparison.method,
        "pairs": [pair for pairs in analysis.pairs for pair in _pairs(pairs)],
        "diagnostics": _diagnostics(analysis),
        "info": {"singular": bool(analysis.at_zero)},
    }
    if any(pairs.method != "dunnett" for pairs in analysis.pairs):
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


def _means(analysis: Analysis) -> list[Json]:
    out = []
    for i, family in enumerate(analysis.families):
        letters = analysis.letters[i] if analysis.letters else None
        out += [_mean(family, j, analysis.specification.comparison.alpha, letters) for j in range(len(family.levels))]
    return out


def _mean(family: Family, i: int, alpha: float, letters: tuple[str, ...] | None) -> Json:
    mean, se, df = float(family.mean[i]), float(family.se[i]), float(family.df[i])
    treatment = dict([*zip(family.factors, family.levels[i], strict=True), *family.within])
    if not math.isfinite(mean):
        nothing = dict.fromkeys(("mean", "se", "df", "lower", "upper"))
        return {"treatment": treatment, **nothing, "note": "non-estimable"}
    half = float(t_quantile(alpha / 2, df)) * se
    out: Json = {
        "treatment": treatment,
        "mean": mean,
        "se": se,
        "df": df,
        "lower": mean - half,
        "upper": mean + half,
    }
    return {**out, "letters": letters[i]} if letters and letters[i] else out


def _pairs(pairs: Pairs) -> list[Json]:
    labels = pairs.family.labels
    numbers = {name: getattr(pairs, name) for name in ("estimate", "se", "df", "t", "p", "lower", "upper")}
    return [
        {
            "family": pairs.family.name,
            **({"by": dict(pairs.family.within)} if pairs.family.within else {}),
            "a": labels[pairs.a[i]],
            "b": labels[pairs.b[i]],
            **{name: _finite(values[i]) for name, values in numbers.items()},
        }
        for i in range(len(pairs))
    ]


def _estimate(e: Estimate) -> Json:
    return {"name": e.name, "estimate": e.estimate, "se": e.se, "df": e.df, "t": e.t, "p": e.p,
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
