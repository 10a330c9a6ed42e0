"""An analysis in the JSON shape that docs/analyse.md describes."""

from __future__ import annotations

import math
from typing import Any

from apercu_core.statistics.analysis import Analysis
from apercu_core.statistics.anova import Estimate
from apercu_core.statistics.comparisons import Pairs, least_significant_difference
from apercu_core.statistics.distributions import t_quantile
from apercu_core.statistics.means import Family

Json = dict[str, Any]


def as_json(analysis: Analysis) -> Json:
    """Plain lists, strings and numbers; what a method doesn't give is null or left out."""
    out: Json = {
        "anova": [
            {"term": name, "df_num": test.df_num, "df_den": test.df_den, "F": test.f, "p": test.p}
            for name, test in analysis.anova.items()
        ],
        "variance_components": analysis.fit.variance_components,
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
        lsd = {pairs.family.name: least_significant_difference(pairs) for pairs in analysis.pairs}
        out["lsd"] = {name: value for name, value in lsd.items() if value is not None}
    if analysis.contrasts:
        out["contrasts"] = [_estimate(e) for e in analysis.contrasts]
    if analysis.covariates:
        out["covariates"] = [_estimate(e) for e in analysis.covariates]
    if analysis.equivalence:
        out["equivalence"] = _equivalence(analysis)
    return out


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
    half = float(t_quantile(alpha / 2, df)) * se
    out: Json = {
        "treatment": dict(zip(family.factors, family.levels[i], strict=True)),
        "mean": mean,
        "se": se,
        "df": df,
        "lower": mean - half,
        "upper": mean + half,
    }
    return out if letters is None else {**out, "letters": letters[i]}


def _pairs(pairs: Pairs) -> list[Json]:
    labels = pairs.family.labels
    numbers = {name: getattr(pairs, name) for name in ("estimate", "se", "df", "t", "p", "lower", "upper")}
    return [
        {
            "family": pairs.family.name,
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
    out: Json = {"residuals": d.residuals.tolist()}
    if d.shapiro_p is not None:
        out["shapiro_p"] = d.shapiro_p
    if d.levene_p is not None:
        out["levene_p"] = d.levene_p
    return out
