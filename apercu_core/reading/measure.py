"""One measure of a trial: its analysis, its cells, its planned tests, its doubts."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

import numpy as np

from apercu_core.doubts.about_measure import doubts_about_measure
from apercu_core.doubts.doubt import MeasureFacts
from apercu_core.errors import Refused
from apercu_core.power.closed_form import detectable_difference
from apercu_core.reading.asked import How, Recorded
from apercu_core.reading.cells import cells_of, compared_pairs
from apercu_core.reading.controls import Controls, controls_of
from apercu_core.reading.description import describe, only_described
from apercu_core.reading.found import Cell, MeasureReading
from apercu_core.reading.inputs import require_values
from apercu_core.reading.notes import notes_of
from apercu_core.reading.percent_margin import PercentMargin
from apercu_core.reading.planned import planned_tests
from apercu_core.statistics.analysis import analyse
from apercu_core.statistics.critical import critical_value
from apercu_core.statistics.densities import analyse_densities
from apercu_core.statistics.fitted import FittedAnalysis, residual_df
from apercu_core.statistics.plots import Row
from apercu_core.statistics.proportions import analyse_proportions
from apercu_core.statistics.scales import IDENTITY, SCALES
from apercu_core.statistics.specification import ONE_STRATUM, Against, Comparison, Design, Specification
from apercu_core.statistics.transformed import analyse_logs, analyse_shares
from apercu_core.trial.facts import PlotFacts, TrialFacts
from apercu_core.verdicts.margin import NoBand, band_of, needs_response_scale
from apercu_core.verdicts.verdict import Verdict
from apercu_core.words import listed, p_value, with_unit

_GROUPINGS: dict[Design, tuple[str, ...]] = {
    "crd": (),
    "rcbd": ("block",),
    "latin_square": ("row", "column"),
    "split_plot": ("block", "whole_plot"),
    "strip_plot": ("block", "row_strip", "column_strip"),
    "incomplete_block": ("block", "incomplete_block"),
}
"""Columns that tell the units of each design apart; treatments are a plain list here, factorials included."""


def specification_for(design: Design, how: How, base: Against) -> Specification:
    """The analysis that the design asks for, with the method in force. `base`: one control, or each treatment's own."""
    plain = Specification(
        response="value",
        treatments=("treatment",),
        design=design,
        plot="plot",
        subsample="sample",
        block_effect=how.block_effect or "random",
        df_method=how.df_method,
        comparison=Comparison(how.method, base if how.against_base else None, how.alpha),
    )
    for grouping in _GROUPINGS[design]:
        plain = replace(plain, **{grouping: grouping})  # type: ignore[arg-type]  # names of columns
    return plain


def rows_of(plots: Sequence[PlotFacts], samples: Mapping[str, Sequence[float | None]]) -> list[Row]:
    """A table of the plots with all units that they lie in; a plot without samples has one empty row."""
    return [
        {
            "plot": plot.label, "block": plot.block, "treatment": plot.treatment, "value": value, "row": plot.row,
            "column": plot.column, "whole_plot": plot.whole_plot, "row_strip": plot.row_strip,
            "column_strip": plot.column_strip, "incomplete_block": plot.incomplete_block,
        }
        for plot in plots
        for value in samples.get(plot.label) or [None]
    ]  # fmt: skip


def read_measure(
    trial: TrialFacts, design: Design, recorded: Recorded, how: How, base: str, *, beside: int = 1
) -> MeasureReading:  # fmt: skip
    """Read one measure, from fit to verdict; whatever can't be answered says why and keeps nobody from the rest.

    `base`: what treatments are compared with unless the question says otherwise. `beside`: how many measures are on the
    board.
    """
    controls = controls_of(trial, recorded.asked, base)
    how = replace(how, scale=recorded.scale or how.scale)
    try:
        require_values(recorded, trial)
        if not controls.of:
            raise Refused("bad-specification", f"No treatment has {controls.said} to be compared with.")
        rows = rows_of(trial.plots, recorded.samples)
        _require_taken(rows)
        _require_control_taken(rows, controls)
        if why := only_described(trial):
            raise Refused("bad-design", why)
        with np.errstate(all="ignore"):
            analysis = _analyse(rows, trial.plots, recorded, design, how, controls)
            if not set(controls.all) & set(analysis.families[0].labels):
                raise Refused("too-few-plots", _control_apart(analysis, controls))
            if not np.isfinite(analysis.pairs[0].se).any():
                raise ArithmeticError("no error is a number")
            return _judge_measure(trial, recorded, analysis, how, controls, beside)
    except Refused as refusal:
        return _without_answer(trial, recorded, controls, refusal.message, beside)
    except (ArithmeticError, ValueError, AssertionError, np.linalg.LinAlgError):
        return _without_answer(trial, recorded, controls, UNFORESEEN, beside)


def _analyse(
    rows: list[Row], trial_plots: Sequence[PlotFacts], recorded: Recorded, design: Design, how: How, controls: Controls
) -> FittedAnalysis:
    """Counts and k of n as such where they are known to be, in the model that the design's strata allow; the rest as
    normal.
    """
    spec = specification_for(design, how, controls.named)
    shares = shares_of(rows, trial_plots, recorded)
    if shares is not None:
        if design in ONE_STRATUM:
            return analyse_proportions(
                shares,
                replace(spec, subsample=None, trials="n", family="quasi_binomial"),
                estimated=how.counts == "estimated",
            )
        return analyse_shares([{**row, "value": _ratio(row)} for row in shares], replace(spec, subsample=None))
    counts = counts_of(rows, recorded)
    if counts is None:
        return analyse(rows, spec) if how.scale == "measured" else _analyse_logs(rows, spec, recorded, controls)
    asked = replace(spec, subsample=None, exposure="area", family="quasi_poisson")
    return analyse_densities(counts, asked, how.counts if design in ONE_STRATUM else "estimated")


def _analyse_logs(rows: list[Row], spec: Specification, recorded: Recorded, controls: Controls) -> FittedAnalysis:
    """By ratios to the control where the margin is a share of it; by differences of means where it has the unit, and
    where several controls share the margin.
    """
    for plot, values in recorded.samples.items():
        present = [value for value in values if value is not None]
        if present and sum(present) <= 0:
            raise Refused(
                "bad-value",
                f"Plot {plot} has {with_unit(sum(present) / len(present), recorded.asked.unit)}, but logarithms "
                "need values above 0. Choose the scale as measured.",
            )
    margin = recorded.asked.margin
    ratios = margin is not None and len(controls.all) == 1 and not needs_response_scale(margin, SCALES["log"])
    return analyse_logs(rows, spec, ratios_to=frozenset(controls.all) if ratios else frozenset())


def shares_of(rows: Sequence[Row], plots: Sequence[PlotFacts], recorded: Recorded) -> list[Row] | None:
    """One row for each plot with k and the n that it is of; None for what isn't k of n."""
    if recorded.asked.kind != "k-of-n" or not recorded.examined:
        return None
    totals: dict[str, dict[str, Any]] = {}
    for row in rows:
        totals.setdefault(str(row["plot"]), {**row, "value": None, "n": None})
    for plot in plots:
        pairs = zip(recorded.samples.get(plot.label, ()), recorded.examined.get(plot.label, ()), strict=True)
        for percent, n in pairs:
            if percent is None:
                continue
            if not n or abs(percent * n / 100 - round(percent * n / 100)) > 1e-6 * n:
                return None
            total = totals[plot.label]
            total["value"] = (total["value"] or 0) + round(percent * n / 100)
            total["n"] = (total["n"] or 0) + n
    return list(totals.values())


def _ratio(row: Row) -> float | None:
    k, n = row["value"], row["n"]
    return k / n if isinstance(k, int | float) and isinstance(n, int | float) else None


def counts_of(rows: Sequence[Row], recorded: Recorded) -> list[Row] | None:
    """One row for each plot with its count and the area that it was taken from; None for what isn't a count."""
    if recorded.asked.kind != "count" or recorded.area is None:
        return None
    totals: dict[str, dict[str, Any]] = {}
    for row in rows:
        plot = totals.setdefault(str(row["plot"]), {**row, "value": None, "area": 0.0})
        value = row["value"]
        if isinstance(value, int | float):
            area = recorded.areas.get(str(row["plot"]), recorded.area)
            count = value * area
            if abs(count - round(count)) > 1e-6 * max(1.0, abs(count)):
                return None
            plot["value"] = (plot["value"] or 0) + round(count)
            plot["area"] += area
    return list(totals.values())


UNFORESEEN = (
    "The analysis of these values didn’t come to an end, so nothing is said about them. Look at the values: very large "
    "or very small ones beside the others, or a wrong unit?"
)


def _without_answer(
    trial: TrialFacts, recorded: Recorded, controls: Controls, why: str, beside: int
) -> MeasureReading:  # fmt: skip
    """What was seen, and why nothing is tested."""
    seen = describe(trial.plots, recorded.samples)
    mean = {one.treatment: one.mean for one in seen}
    cells = tuple(
        Cell(t, Verdict.NO_ANSWER, mean[t] - mean[c] if t in mean and c in mean else None, reason=why, against=c)
        for t, c in controls.of.items()
    )
    doubts = doubts_about_measure(_facts(trial, recorded, beside, controls=controls.all))
    return MeasureReading(
        recorded.asked,
        controls.said,
        None,
        why,
        cells,
        None,
        None,
        (),
        "",
        (),
        doubts,
        seen,
        controls.all,
        recorded.occasion,
    )


def _require_taken(rows: Sequence[Row]) -> None:
    """Says of a measure that nobody has taken yet that it is so, rather than what the analysis lacks."""
    plots = {row["plot"] for row in rows if row["value"] is not None}
    if len(plots) < 2:
        raise Refused("too-few-plots", "Only one plot has a value yet." if plots else "No plot has a value yet.")


def _control_apart(analysis: FittedAnalysis, controls: Controls) -> str:
    """Why a control that was looked at has no mean to compare with: none or all of what was examined was found."""
    said = listed(list(controls.all))
    none = all(not analysis.value_without_interval(one) for one in controls.all if one in analysis.none_found)
    found = f"Nothing was found in any plot of {said}" if none else f"All that was examined in {said} was found"
    return f"{found}, so no difference from it can be estimated. Compare with another treatment."


def _require_control_taken(rows: Sequence[Row], controls: Controls) -> None:
    if not set(controls.all) & {row["treatment"] for row in rows if row["value"] is not None}:
        said = listed(list(controls.all))
        raise Refused("too-few-plots", f"No plot of {said} has a value, so there is nothing to compare with.")


def _judge_measure(
    trial: TrialFacts, recorded: Recorded, analysis: FittedAnalysis, how: How, controls: Controls, beside: int
) -> MeasureReading:
    asked, family = recorded.asked, analysis.families[0]
    means = [float(family.mean[family.labels.index(c)]) for c in controls.all if c in family.labels]
    base_mean = sum(means) / len(means)
    band, no_band = None, ""
    if asked.margin is not None:
        try:
            band = band_of(asked.margin, base_mean, IDENTITY)
        except NoBand as reason:
            no_band = str(reason)
    of_control = asked.margin is not None and asked.margin.kind == "percent"
    percent = PercentMargin(asked.margin.value / 100, controls) if of_control and asked.margin else None
    overall = analysis.anova["treatment"]
    protected = how.method == "lsd" and overall.p >= how.alpha
    withheld = (
        f"The overall F test isn’t significant ({p_value(overall.p)}), so pairs aren’t compared and have no letters."
        if protected
        else ""
    )
    cells = tuple(
        replace(cell, verdict=Verdict.NO_ANSWER, reason=no_band) if no_band else cell
        for cell in cells_of(trial, analysis, how, controls, asked.unit, band, asked.direction, protected, percent)
    )
    detectable = _detectable(analysis, how, controls, cells)
    margin = band.high if band else None
    return MeasureReading(
        asked,
        controls.said,
        analysis,
        "",
        cells,
        band,
        detectable,
        planned_tests(asked, analysis, how, controls, band, cells, chosen_after=recorded.planned_after),
        withheld,
        notes_of(recorded, analysis, how, controls, base_mean),
        doubts_about_measure(_facts(trial, recorded, beside, analysis, margin, detectable, cells, controls.all)),
        controls=controls.all,
        occasion=recorded.occasion,
    )


def _detectable(analysis: FittedAnalysis, how: How, controls: Controls, cells: Sequence[Cell]) -> float | None:
    """The largest of the smallest differences with 80 % power among the comparisons that aren't settled.

    From each comparison's own standard error and degrees of freedom, with the critical value that its interval has.
    None where every comparison is settled: then the trial wasn't too small.
    """
    unsettled = {cell.treatment for cell in cells if cell.verdict is Verdict.NOT_SETTLED}
    pairs, family = analysis.pairs[0], analysis.families[0]
    treatments = len(family.estimable)
    largest: dict[tuple[float, float], float] = {}  # of each kind of comparison the one with the largest error
    for i, other, _ in compared_pairs(pairs, controls):
        if other in unsettled:
            df = float(f"{pairs.df[i]:.9g}")
            critical = float(f"{pairs.critical[i]:.9g}")
            if not np.isfinite(critical):  # Holm: the interval is Bonferroni's
                critical = critical_value(how.method, treatments, df, how.alpha, against_control=how.against_base)
            largest[df, critical] = max(float(pairs.se[i]), largest.get((df, critical), 0.0))
    found = [detectable_difference(se, df, critical) for (df, critical), se in largest.items()]
    return max(found, default=None)


def _facts(
    trial: TrialFacts, recorded: Recorded, beside: int, analysis: FittedAnalysis | None = None,
    margin: float | None = None, detectable: float | None = None, cells: Sequence[Cell] = (),
    controls: Sequence[str] = (),
) -> MeasureFacts:  # fmt: skip
    present = {label: [v for v in samples if v is not None] for label, samples in recorded.samples.items()}
    values = {label: (sum(vs) / len(vs) if vs else None) for label, vs in present.items()}
    outlier_p: dict[str, float] = {}
    if analysis is not None:
        analysed = labels_of(trial.plots, recorded.samples, analysis)
        found = analysis.diagnostics
        outlier_p = {label: float(p) for label, p in zip(analysed, found.outlier_p, strict=True) if np.isfinite(p)}
    return MeasureFacts(
        recorded.asked.name,
        recorded.asked.unit,
        trial,
        values,
        {label: len(vs) for label, vs in present.items() if vs},
        outlier_p,
        margin,
        detectable,
        recorded.changed,
        recorded.failed,
        beside,
        analysis.diagnostics.spread_p if analysis else None,
        tuple(cell.treatment for cell in cells if cell.verdict is Verdict.NOT_SETTLED),
        recorded.question_changed,
        (analysis.assumed, residual_df(analysis)) if analysis and analysis.assumed else ("", 0),
        analysis.converged if analysis else True,
        recorded.beyond,
        recorded.beyond_side,
        recorded.lacking,
        tuple(controls) if recorded.asked.kind in ("count", "k-of-n") else (),  # else zero is often what it has
        recorded.conflicts,
        recorded.set_aside,
    )


def labels_of(
    plots: Sequence[PlotFacts], samples: Mapping[str, Sequence[float | None]], analysis: FittedAnalysis
) -> list[str]:
    """Labels of the plots that were analysed, in their order."""
    if analysis.specification.subsample:
        rows = [plot.label for plot in plots for _ in samples.get(plot.label) or [None]]
    else:  # samples were added up
        rows = [plot.label for plot in plots]
    return [rows[i] for i in analysis.plots.row_of.tolist()]
