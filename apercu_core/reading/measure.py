"""One measure of a trial: its analysis, its cells, its planned tests, its doubts."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np

from apercu_core.design.power import detectable_difference, minimum_detectable_difference
from apercu_core.doubts.about_measure import doubts_about_measure
from apercu_core.doubts.doubt import MeasureFacts, PlotFacts, TrialFacts
from apercu_core.errors import Refused
from apercu_core.reading.asked import How, Recorded
from apercu_core.reading.cells import cells_of
from apercu_core.reading.description import describe, only_described
from apercu_core.reading.found import Cell, MeasureReading
from apercu_core.reading.planned import planned_tests
from apercu_core.statistics.analysis import Analysis, analyse
from apercu_core.statistics.critical import critical_value
from apercu_core.statistics.plots import Row
from apercu_core.statistics.scales import IDENTITY
from apercu_core.statistics.specification import Comparison, Design, Specification
from apercu_core.verdicts.margin import NoBand, band_of
from apercu_core.verdicts.verdict import Verdict
from apercu_core.words import number, p_value

_GROUPINGS: dict[Design, tuple[str, ...]] = {
    "crd": (),
    "rcbd": ("block",),
    "latin_square": ("row", "column"),
    "split_plot": ("block", "whole_plot"),
    "strip_plot": ("block", "row_strip", "column_strip"),
}
"""Columns that tell the units of each design apart; treatments are a plain list here, factorials included."""


def specification_for(design: Design, how: How, base: str) -> Specification:
    """The analysis that the design asks for, with the method in force."""
    plain = Specification(
        response="value",
        treatments=("treatment",),
        design=design,
        plot="plot",
        subsample="sample",
        block_effect=how.block_effect,
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
            "column_strip": plot.column_strip,
        }
        for plot in plots
        for value in samples.get(plot.label) or [None]
    ]  # fmt: skip


def read_measure(trial: TrialFacts, design: Design, recorded: Recorded, how: How, base: str) -> MeasureReading:
    rows = rows_of(trial.plots, recorded.samples)
    try:
        _require_values(rows)
        if why := only_described(trial):
            raise Refused("bad-design", why)
        analysis = analyse(rows, specification_for(design, how, base))
        if base not in analysis.families[0].labels:
            raise Refused("too-few-plots", f"No plot of {base} has a value, so there is nothing to compare with.")
    except Refused as refusal:
        treatments = dict.fromkeys(plot.treatment for plot in trial.plots)
        seen = describe(trial.plots, recorded.samples)
        mean = {one.treatment: one.mean for one in seen}
        cells = tuple(
            Cell(t, Verdict.NO_ANSWER, mean[t] - mean[base] if t in mean and base in mean else None,
                 reason=refusal.message)
            for t in treatments if t != base
        )  # fmt: skip
        facts = _facts(trial, recorded, None, None, None)
        return MeasureReading(
            recorded.asked, base, None, refusal.message, cells, None, None, (), "", (), doubts_about_measure(facts),
            seen,
        )  # fmt: skip
    return _judge_measure(trial, recorded, analysis, how, base)


def _require_values(rows: Sequence[Row]) -> None:
    """Says of a measure that nobody has taken yet that it is so, rather than what the analysis lacks."""
    plots = {row["plot"] for row in rows if row["value"] is not None}
    if len(plots) < 2:
        raise Refused("too-few-plots", "Only one plot has a value yet." if plots else "No plot has a value yet.")


def _judge_measure(trial: TrialFacts, recorded: Recorded, analysis: Analysis, how: How, base: str) -> MeasureReading:
    asked, family = recorded.asked, analysis.families[0]
    base_mean = float(family.mean[family.labels.index(base)])
    band, no_band = None, ""
    if asked.margin is not None:
        try:
            band = band_of(asked.margin, base_mean, IDENTITY)
        except NoBand as reason:
            no_band = str(reason)
    overall = analysis.anova["treatment"]
    protected = how.method == "lsd" and overall.p >= how.alpha
    withheld = f"Overall F {p_value(overall.p)}: pairs aren't compared, so letters are withheld." if protected else ""
    cells = tuple(
        replace(cell, verdict=Verdict.NO_ANSWER, reason=no_band) if no_band else cell
        for cell in cells_of(trial, analysis, how, base, band, asked.direction, protected)
    )
    detectable = _detectable(analysis, how, base)
    margin = band.high if band else None
    return MeasureReading(
        asked,
        base,
        analysis,
        "",
        cells,
        band,
        detectable,
        planned_tests(asked, analysis, how, base, band, cells),
        withheld,
        _notes(recorded, analysis, how, base, base_mean),
        doubts_about_measure(_facts(trial, recorded, analysis, margin, detectable)),
    )


def _detectable(analysis: Analysis, how: How, base: str) -> float | None:
    """With as many blocks as there are on average, and the spread that was found; in designs with several strata, for
    the least precise comparison with the base.
    """
    family = analysis.families[0]
    treatments = len(family.levels)
    blocks = len(analysis.plots) // treatments
    if blocks < 2:
        return None
    if analysis.specification.design not in ("crd", "rcbd"):
        pairs, at = analysis.pairs[0], family.labels.index(base)
        with_base = np.flatnonzero((pairs.a == at) | (pairs.b == at))
        worst = with_base[np.argmax(pairs.se[with_base])]
        se, df = float(pairs.se[worst]), float(pairs.df[worst])
        critical = critical_value(how.method, treatments, df, how.alpha, against_control=how.against_base)
        return detectable_difference(se, df, critical)
    sigma = float(np.sqrt(analysis.fit.theta[-1]))
    return minimum_detectable_difference(
        sigma, treatments, blocks, design=analysis.specification.design, method=how.method, alpha=how.alpha,
        against_control=how.against_base,
    )  # fmt: skip


def _notes(recorded: Recorded, analysis: Analysis, how: How, base: str, base_mean: float) -> tuple[str, ...]:
    asked, notes = recorded.asked, []
    if len(recorded.zones) > 1:
        notes.append(
            f"A plot's value is the mean of its zones ({', '.join(recorded.zones)}), weighted by their shares."
        )
    elif recorded.zones:
        notes.append(f"Taken in one zone of each plot only: {recorded.zones[0]}.")
    if how.method == "holm":
        notes.append("Holm has no intervals of its own: glyphs and verdicts use the Bonferroni intervals.")
    if asked.margin is not None and asked.margin.kind == "percent":
        unit = f" {asked.unit}" if asked.unit else ""
        notes.append(f"The margin is {asked.margin.value:g} % of {base} at {number(base_mean)}{unit}, taken as fixed.")
    for name in analysis.at_zero:
        notes.append(f"Variation between {name}s was estimated at zero: {name}s differ no more than plots in them do.")
    return tuple(notes)


def _facts(
    trial: TrialFacts, recorded: Recorded, analysis: Analysis | None, margin: float | None, detectable: float | None
) -> MeasureFacts:
    present = {label: [v for v in samples if v is not None] for label, samples in recorded.samples.items()}
    values = {label: (sum(vs) / len(vs) if vs else None) for label, vs in present.items()}
    outlier_p: dict[str, float] = {}
    if analysis is not None:
        with_value = [plot.label for plot in trial.plots if values.get(plot.label) is not None]
        raw = analysis.diagnostics.outlier_p
        outlier_p = {label: float(p) for label, p in zip(with_value, raw, strict=True) if np.isfinite(p)}
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
    )
