"""A reading as JSON: everything that the board and the full reading draw, computed here and nowhere else."""

from __future__ import annotations

import math
from dataclasses import asdict
from typing import Any

import numpy as np

from apercu_core.arrays import Floats
from apercu_core.doubts.doubt import Doubt
from apercu_core.measures.catalogue import group_of
from apercu_core.reading.description import decimals_of
from apercu_core.reading.found import MeasureReading, Reading
from apercu_core.reading.intervals import mean_intervals
from apercu_core.reading.measure import labels_of
from apercu_core.reading.model_words import anova_lines, component_in_words, model_in_words
from apercu_core.statistics.comparisons import least_significant_difference
from apercu_core.statistics.fitted import FittedAnalysis
from apercu_core.statistics.scales import IDENTITY
from apercu_core.words import decimals_for, difference_unit
from readings.bridge import Given
from trials.measure_parts import parts_of
from trials.models import TrialMeasure

Json = dict[str, Any]


def reading_json(reading: Reading, given: Given) -> Json:
    return {
        "base": reading.base,
        "how": {
            "method": reading.how.method,
            "alpha": reading.how.alpha,
            "block_effect": reading.how.block_effect,
            "df_method": reading.how.df_method,
            "counts": reading.how.counts,
            "scale": reading.how.scale,
        },
        "families": reading.families,
        "core_version": reading.core_version,
        "fingerprint": reading.fingerprint,
        "doubts": [doubt_json(d) for d in reading.doubts],
        "measures": [_measure(m, used, given) for m, used in zip(reading.measures, given.measures, strict=True)],
    }


def doubt_json(doubt: Doubt) -> Json:
    return {**asdict(doubt), "key": f"{doubt.id}|{doubt.subject}|{','.join(doubt.plots)}"[:240], "answer": None}


def _finite(value: float | None) -> float | None:
    return None if value is None or not math.isfinite(value) else float(value)


def _list(values: Floats) -> list[float | None]:
    return [_finite(v) for v in values.tolist()]


def _measure(m: MeasureReading, used: TrialMeasure, given: Given) -> Json:
    se = float(m.pairs.se.max()) if m.pairs is not None else math.nan
    return {
        "id": str(used.id),
        "name": m.asked.name,
        "unit": m.asked.unit,
        "difference_unit": difference_unit(m.asked.unit),
        "group": group_of(used.version.catalogue),
        "occasion": {"visit": m.occasion.visit, "date": m.occasion.date or None} if m.occasion else None,
        "counted": m.asked.kind in ("count", "k-of-n"),
        "base": m.base,
        "controls": list(m.controls),
        "primary": m.asked.primary,
        "direction": m.asked.direction,
        "margin": _margin(m.asked.margin.value, given) if m.asked.margin else None,
        "margin_kind": m.asked.margin.kind if m.asked.margin else "absolute",
        "planned_kind": m.asked.planned,
        "decimals": decimals_for(se) if m.analysis else decimals_of(m.described),
        "band": {"low": m.band.low, "high": m.band.high} if m.band else None,
        "refusal": m.refusal,
        "detectable": _finite(m.detectable),
        "cells": [{**asdict(cell), "verdict": cell.verdict.value} for cell in m.cells],
        "planned": [
            {
                "treatment": p.test.treatment,
                "margin": p.margin,
                "kind": p.kind,
                "estimate": p.test.estimate,
                "lower": p.test.lower,
                "upper": p.test.upper,
                "p": p.test.p_tost if p.kind == "equivalence" else p.test.p_noninferiority,
                "shown": p.shown,
                "parts": p.parts,
                "chosen_after": p.chosen_after,
            }
            for p in m.planned
        ],
        "letters_withheld": m.letters_withheld,
        "notes": list(m.notes),
        "doubts": [doubt_json(d) for d in m.doubts],
        "plots": _plots(m, used, given),
        "described": [asdict(one) for one in m.described],
        "parts": _parts(used, given),
        "full": _full(m.analysis, bool(m.letters_withheld)) if m.analysis else None,
    }


def _margin(value: float, given: Given) -> float:
    """As it was typed; turned into another unit, four digits of it."""
    return value if given.system == "metric" else float(f"{value:.4g}")


def _plots(m: MeasureReading, used: TrialMeasure, given: Given) -> list[Json]:
    """Each plot's value, samples and residual, None where there is none."""
    samples, ids = given.shown(used), given.observations[str(used.id)]
    means = {
        label: float(np.mean(present)) if (present := [v for v in values if v is not None]) else None
        for label, values in samples.items()
    }
    measured = labels_of(given.facts.plots, samples, m.analysis) if m.analysis else []
    d = m.analysis.diagnostics if m.analysis else None
    at = {label: i for i, label in enumerate(measured)}

    def of(values: Floats | None, label: str) -> float | None:
        return None if values is None or label not in at else _finite(float(values[at[label]]))

    return [
        {
            "label": plot.label,
            "block": plot.block,
            "treatment": plot.treatment,
            "value": means.get(plot.label),
            "samples": samples.get(plot.label, []),
            "observations": ids.get(plot.label, []),
            "residual": of(d.residuals if d else None, plot.label),
            "fitted": of(d.fitted if d else None, plot.label),
            "quantile": of(d.normal_quantiles if d else None, plot.label),
            "studentized": of(d.studentized if d else None, plot.label),
        }
        for plot in given.facts.plots
    ]


def _parts(used: TrialMeasure, given: Given) -> list[Json]:
    """The mean of each part by treatment, over the plots that have a value; described, and not tested."""
    factor = used.version.shown_in(given.system)[1]
    groups = {one.name: one.group for one in parts_of(used)}
    found = []
    for part, samples in given.by_part.get(str(used.id), {}).items():
        means = []
        for treatment in dict.fromkeys(plot.treatment for plot in given.facts.plots):
            own = [
                float(np.mean(known)) * factor
                for plot in given.facts.plots if plot.treatment == treatment
                if (known := [v for v in samples.get(plot.label, ()) if v is not None])
            ]  # fmt: skip
            means.append({"treatment": treatment, "mean": float(np.mean(own)) if own else None, "plots": len(own)})
        unsaid = given.unsaid[str(used.id)].get(part, 0)
        found.append({"name": part, "group": groups.get(part, ""), "means": means, "unsaid": unsaid})
    return found


def _full(a: FittedAnalysis, letters_withheld: bool) -> Json:
    family, pairs = a.families[0], a.pairs[0]
    letters = a.letters[0] if a.letters and not letters_withheld else None
    low, high = mean_intervals(a)
    spec = a.specification
    return {
        "model": model_in_words(a),
        "design": spec.design,
        "method": spec.comparison.method,
        "n_plots": len(a.plots),
        "grand_mean": a.grand_mean,
        "cv_percent": _finite(a.cv_percent),
        "anova": [
            {"term": label, "label": label, "df_num": t.df_num, "df_den": _finite(t.df_den), "f": t.f, "p": t.p}
            for label, t in anova_lines(a)
        ],
        "variance_components": [
            {"name": name, "label": component_in_words(name, spec.design), "variance": v}
            for name, v in a.variance_components.items()
        ],
        "means": [
            {
                "treatment": label,
                "mean": float(family.mean[i]),
                "se": float(family.se[i]),
                "df": _finite(float(family.df[i])),
                "lower": float(low[i]),
                "upper": float(high[i]),
                "letters": letters[i] if letters else None,
            }
            for i, label in enumerate(family.labels)
        ],
        "pairs": [
            {"a": family.labels[pairs.a[i]], "b": family.labels[pairs.b[i]]}
            | {name: _finite(getattr(pairs, name)[i]) for name in ("estimate", "se", "df", "t", "p", "lower", "upper")}
            for i in range(len(pairs))
        ],
        "lsd": least_significant_difference(pairs) if pairs.method == "lsd" and a.scale is IDENTITY else None,
        "shapiro_p": a.diagnostics.shapiro_p,
        "levene_p": a.diagnostics.levene_p,
    }
