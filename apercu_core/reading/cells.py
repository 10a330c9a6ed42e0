"""The cells of the board: each treatment against the base, judged, with what would settle it."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from apercu_core.design.error_df import error_df
from apercu_core.doubts.doubt import TrialFacts
from apercu_core.reading.asked import How
from apercu_core.reading.found import Cell, MeasureReading
from apercu_core.statistics.analysis import Analysis
from apercu_core.statistics.comparisons import compare
from apercu_core.statistics.specification import Comparison
from apercu_core.verdicts.margin import Band
from apercu_core.verdicts.settling import blocks_to_settle
from apercu_core.verdicts.verdict import Direction, Interval, Verdict, judge
from apercu_core.words import p_value


def cells_of(
    trial: TrialFacts, analysis: Analysis, how: How, base: str, band: Band | None, direction: Direction, protected: bool
) -> list[Cell]:
    family = analysis.families[0]
    pairs = analysis.pairs[0]
    if how.method == "holm":  # Holm has no interval: glyph and verdict take Bonferroni's
        intervals = compare(family, analysis.inference, Comparison("bonferroni", None, how.alpha))
    else:
        intervals = pairs
    at = family.labels.index(base)
    found: dict[str, Cell] = {}
    for i in range(len(pairs)):
        if at not in (pairs.a[i], pairs.b[i]):
            continue
        sign = 1 if pairs.b[i] == at else -1
        other = family.labels[pairs.a[i] if sign == 1 else pairs.b[i]]
        ends = sorted((sign * float(intervals.lower[i]), sign * float(intervals.upper[i])))
        estimate = sign * float(pairs.estimate[i])
        interval = Interval(*ends)
        verdict = judge(interval, band, direction, protected_out=protected)
        cell = Cell(other, verdict, estimate, ends[0], ends[1], float(pairs.p[i]))
        if verdict is Verdict.NOT_SETTLED and protected and not interval.includes_zero:
            cell = replace(cell, reason=f"overall F {p_value(analysis.anova['treatment'].p)}")
        if verdict is Verdict.NOT_SETTLED and band is not None:
            cell = _with_blocks(cell, band, analysis, how, i)
        found[other] = cell
    missing = "No plot of this treatment has a value."
    order = dict.fromkeys(plot.treatment for plot in trial.plots)
    return [found.get(t) or Cell(t, Verdict.NO_ANSWER, reason=missing) for t in order if t != base]


def _with_blocks(cell: Cell, band: Band, analysis: Analysis, how: How, pair: int) -> Cell:
    assert cell.estimate is not None
    spec, treatments = analysis.specification, len(analysis.families[0].levels)
    if spec.design in ("crd", "rcbd"):  # as two whole blocks would have it, whatever plots were lost
        blocks, df = 2, float(error_df(spec.design, treatments, 2))
        se = float(np.sqrt(analysis.fit.theta[-1]))
    else:
        blocks = len(analysis.plots.factors[spec.block or spec.row or ""])
        se, df = float(analysis.pairs[0].se[pair]), float(analysis.pairs[0].df[pair])
    needed = blocks_to_settle(
        cell.estimate, band, se, df, blocks, treatments=treatments, method=how.method, alpha=how.alpha,
        against_control=how.against_base,
    )  # fmt: skip
    return replace(cell, blocks=needed, more_than_40=needed is None)


def mark_discoveries(readings: tuple[MeasureReading, ...], alpha: float) -> tuple[MeasureReading, ...]:
    """Benjamini and Hochberg (1995), JRSS B 57, 289–300, over the board's unadjusted p, one for each cell.

    It marks cells and never changes a verdict.
    """
    raw: list[tuple[float, int, str]] = []
    for i, reading in enumerate(readings):
        if reading.pairs is None:
            continue
        pairs, labels = reading.pairs, reading.pairs.family.labels
        shown = {cell.treatment for cell in reading.cells if cell.estimate is not None}
        base = (set(labels) - shown).pop()
        for j in range(len(pairs)):
            pair = {labels[pairs.a[j]], labels[pairs.b[j]]}
            if base in pair:
                raw.append((float(pairs.p_raw[j]), i, (pair - {base}).pop()))
    raw.sort()
    passed = max((rank for rank, (p, _, _) in enumerate(raw, 1) if p <= alpha * rank / len(raw)), default=0)
    marked = {(i, treatment) for _, i, treatment in raw[:passed]}
    return tuple(
        replace(r, cells=tuple(replace(c, stands_out=(i, c.treatment) in marked) for c in r.cells))
        for i, r in enumerate(readings)
    )
