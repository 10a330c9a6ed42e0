"""A whole reading: each measure analysed as the design says, its verdicts, and the doubts."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from apercu_core import __version__
from apercu_core.design.power import minimum_detectable_difference
from apercu_core.doubts.about_measure import doubts_about_measure
from apercu_core.doubts.about_trial import doubts_about_trial
from apercu_core.doubts.doubt import Doubt, MeasureFacts, TrialFacts
from apercu_core.errors import Refused
from apercu_core.statistics.analysis import Analysis, analyse
from apercu_core.statistics.comparisons import Pairs, compare
from apercu_core.statistics.equivalence import EquivalenceTest, equivalence_tests
from apercu_core.statistics.plots import Row
from apercu_core.statistics.specification import (
    BlockEffect,
    Comparison,
    Design,
    DfMethod,
    Equivalence,
    Method,
    Specification,
)
from apercu_core.verdicts.margin import Band, Margin, NoBand, band_of
from apercu_core.verdicts.scales import IDENTITY
from apercu_core.verdicts.settling import blocks_to_settle
from apercu_core.verdicts.verdict import Direction, Interval, Verdict, judge
from apercu_core.words import number, p_value

Planned = Literal["none", "equivalence", "non-inferiority"]


@dataclass(frozen=True, slots=True)
class How:
    """The method in force. Dunnett compares with the base treatment only; the others' families are all pairs."""

    method: Method = "dunnett"
    alpha: float = 0.05
    block_effect: BlockEffect = "random"
    df_method: DfMethod = "kenward_roger"

    @property
    def against_base(self) -> bool:
        return self.method == "dunnett"


@dataclass(frozen=True, slots=True)
class Asked:
    """One measure: what it is, the margin that matters, and which direction is wanted."""

    name: str
    unit: str = ""
    margin: Margin | None = None
    direction: Direction = "none"
    planned: Planned = "none"


@dataclass(frozen=True, slots=True)
class Cell:
    """One treatment against the base treatment, for one measure; differences in the measure's unit.

    `reason`: why there is no answer, or why an interval that excludes zero isn't called real. `blocks`: how many
    would settle it, if `more_than_40` isn't the answer. `stands_out`: marked by the false discovery rate.
    """

    treatment: str
    verdict: Verdict
    estimate: float | None = None
    lower: float | None = None
    upper: float | None = None
    p: float | None = None
    reason: str = ""
    blocks: int | None = None
    more_than_40: bool = False
    stands_out: bool = False


@dataclass(frozen=True, slots=True)
class PlannedTest:
    """A planned equivalence or non-inferiority test; `parts`: why it differs from the verdict, if it does."""

    kind: Planned
    margin: float
    test: EquivalenceTest
    shown: bool
    parts: str = ""


@dataclass(frozen=True, slots=True)
class MeasureReading:
    """`analysis` None: refused, with `refusal` saying why. `band`: the margin on the scale of the comparison."""

    asked: Asked
    analysis: Analysis | None
    refusal: str
    cells: tuple[Cell, ...]
    band: Band | None
    detectable: float | None
    planned: tuple[PlannedTest, ...]
    letters_withheld: str
    notes: tuple[str, ...]
    doubts: tuple[Doubt, ...]

    @property
    def pairs(self) -> Pairs | None:
        return self.analysis.pairs[0] if self.analysis else None


@dataclass(frozen=True, slots=True)
class Reading:
    """All measures of a trial. `families`: how many families of comparisons the board holds."""

    base: str
    how: How
    measures: tuple[MeasureReading, ...]
    doubts: tuple[Doubt, ...]
    families: int
    core_version: str
    fingerprint: str


@dataclass(frozen=True, slots=True)
class Recorded:
    """Values of one measure: plot label → its samples, in order; an empty list or all None: lost.

    `failed`: plots whose treatment failed, so that their zero is what was found.
    """

    asked: Asked
    samples: Mapping[str, Sequence[float | None]]
    changed: tuple[str, ...] = ()
    failed: tuple[str, ...] = ()


def read_trial(trial: TrialFacts, design: Design, measures: Sequence[Recorded], how: How, base: str) -> Reading:
    """Read every measure; one that can't be read says why and keeps nobody from reading the rest.

    `base`: the treatment that the board compares with, the control where there is one.
    """
    if base not in {plot.treatment for plot in trial.plots}:
        raise Refused("bad-specification", f"{base!r} isn't a treatment of this trial.")
    readings = tuple(_read_measure(trial, design, recorded, how, base) for recorded in measures)
    readings = _mark_discoveries(readings, how.alpha)
    return Reading(
        base,
        how,
        readings,
        doubts_about_trial(trial),
        sum(reading.analysis is not None for reading in readings),
        __version__,
        fingerprint(trial, measures),
    )


def fingerprint(trial: TrialFacts, measures: Sequence[Recorded]) -> str:
    """SHA-256 over plots and values: two readings with the same one saw the same data."""
    plots = [[p.label, p.block, p.treatment, p.position] for p in trial.plots]
    values = [[m.asked.name, m.asked.unit, sorted((k, list(v)) for k, v in m.samples.items())] for m in measures]
    return hashlib.sha256(json.dumps([plots, values]).encode()).hexdigest()


def specification_for(design: Design, how: How, base: str) -> Specification:
    """The analysis that the design asks for, with the method in force."""
    return Specification(
        response="value",
        treatments=("treatment",),
        design=design,
        block="block" if design != "crd" else None,
        plot="plot",
        subsample="sample",
        block_effect=how.block_effect,
        df_method=how.df_method,
        comparison=Comparison(how.method, base if how.against_base else None, how.alpha),
    )


def _rows(trial: TrialFacts, recorded: Recorded) -> list[Row]:
    return [
        {"plot": plot.label, "block": plot.block, "treatment": plot.treatment, "value": value}
        for plot in trial.plots
        for value in recorded.samples.get(plot.label) or [None]
    ]


def _read_measure(trial: TrialFacts, design: Design, recorded: Recorded, how: How, base: str) -> MeasureReading:
    rows = _rows(trial, recorded)
    try:
        analysis = analyse(rows, specification_for(design, how, base))
        if base not in analysis.families[0].labels:
            raise Refused("too-few-plots", f"No plot of {base} has a value, so there is nothing to compare with.")
    except Refused as refusal:
        treatments = dict.fromkeys(plot.treatment for plot in trial.plots)
        cells = tuple(Cell(t, Verdict.NO_ANSWER, reason=refusal.message) for t in treatments if t != base)
        facts = _facts(trial, recorded, None, None, None)
        return MeasureReading(
            recorded.asked, None, refusal.message, cells, None, None, (), "", (), doubts_about_measure(facts)
        )
    return _judge_measure(trial, recorded, analysis, how, base)


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
        for cell in _cells(trial, analysis, how, base, band, asked.direction, protected)
    )
    detectable = _detectable(trial, analysis, how)
    margin = band.high if band else None
    return MeasureReading(
        asked,
        analysis,
        "",
        cells,
        band,
        detectable,
        _planned(asked, analysis, how, base, band, cells),
        withheld,
        _notes(asked, analysis, how, base, base_mean),
        doubts_about_measure(_facts(trial, recorded, analysis, margin, detectable)),
    )


def _cells(
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
            cell = _with_blocks(cell, band, analysis, how)
        found[other] = cell
    missing = "No plot of this treatment has a value."
    order = dict.fromkeys(plot.treatment for plot in trial.plots)
    return [found.get(t) or Cell(t, Verdict.NO_ANSWER, reason=missing) for t in order if t != base]


def _with_blocks(cell: Cell, band: Band, analysis: Analysis, how: How) -> Cell:
    assert cell.estimate is not None
    sigma = float(np.sqrt(analysis.fit.theta[-1]))
    blocks = blocks_to_settle(
        cell.estimate, band, sigma, treatments=len(analysis.families[0].levels),
        design=analysis.specification.design, method=how.method, alpha=how.alpha, against_control=how.against_base,
    )  # fmt: skip
    return replace(cell, blocks=blocks, more_than_40=blocks is None)


def _detectable(trial: TrialFacts, analysis: Analysis, how: How) -> float | None:
    """With as many blocks as there are on average, and the spread that was found."""
    treatments = len(analysis.families[0].levels)
    blocks = len(analysis.plots) // treatments
    if blocks < 2 or analysis.specification.design not in ("crd", "rcbd"):
        return None
    sigma = float(np.sqrt(analysis.fit.theta[-1]))
    return minimum_detectable_difference(
        sigma, treatments, blocks, design=analysis.specification.design, method=how.method, alpha=how.alpha,
        against_control=how.against_base,
    )  # fmt: skip


_SHOWN = (Verdict.NO_DIFFERENCE, Verdict.REAL_SMALL)


def _planned(
    asked: Asked, analysis: Analysis, how: How, base: str, band: Band | None, cells: Sequence[Cell]
) -> tuple[PlannedTest, ...]:
    if asked.planned == "none" or band is None:
        return ()
    wanted = Equivalence(band.high, base, how.alpha, asked.direction != "lower")
    verdicts = {cell.treatment: cell.verdict for cell in cells}
    out = []
    for test in equivalence_tests(analysis.families[0], analysis.inference, wanted):
        shown = test.equivalent if asked.planned == "equivalence" else test.non_inferior
        board_agrees = verdicts[test.treatment] in _SHOWN
        if asked.planned == "non-inferiority":
            board_agrees = board_agrees or verdicts[test.treatment] is Verdict.CLEAR_GAIN
        part = "" if shown == board_agrees else _why_they_part(how, len(cells), shown)
        out.append(PlannedTest(asked.planned, band.high, test, shown, part))
    return tuple(out)


def _why_they_part(how: How, comparisons: int, shown: bool) -> str:
    wide, narrow = round(100 * (1 - how.alpha)), round(100 * (1 - 2 * how.alpha))
    if shown:
        return (
            f"The planned test looks at one comparison and one side at a time, with a {narrow} % interval; the board's "
            f"{wide} % interval is two-sided and holds for {comparisons} comparisons together, so it is wider."
        )
    return "The board speaks of the difference from zero as well; the planned test only asks about the margin."


def _notes(asked: Asked, analysis: Analysis, how: How, base: str, base_mean: float) -> tuple[str, ...]:
    notes = []
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


def _mark_discoveries(readings: tuple[MeasureReading, ...], alpha: float) -> tuple[MeasureReading, ...]:
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
