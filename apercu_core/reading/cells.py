"""The cells of the board: each treatment against its control, judged, with what would settle it."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from apercu_core.power.error_df import error_df
from apercu_core.reading.asked import How
from apercu_core.reading.controls import Controls
from apercu_core.reading.found import Cell, MeasureReading
from apercu_core.reading.model_words import nothing_found_in_words
from apercu_core.reading.percent_margin import PercentMargin
from apercu_core.statistics.comparisons import Pairs
from apercu_core.statistics.densities import ALPHA_DF, DensityAnalysis
from apercu_core.statistics.fitted import FittedAnalysis
from apercu_core.statistics.scales import IDENTITY
from apercu_core.statistics.specification import Comparison
from apercu_core.trial.facts import TrialFacts
from apercu_core.verdicts.margin import Band
from apercu_core.verdicts.settling import Compared, blocks_for_a_chance, blocks_for_f, blocks_to_settle, fewest_blocks
from apercu_core.verdicts.verdict import Direction, Interval, Verdict, judge
from apercu_core.words import p_value


def cells_of(
    trial: TrialFacts,
    analysis: FittedAnalysis,
    how: How,
    controls: Controls,
    unit: str,
    band: Band | None,
    direction: Direction,
    protected: bool,
    percent: PercentMargin | None = None,
) -> list[Cell]:
    """`percent`: how a margin in per cent of the control is met, where it is one."""
    pairs = analysis.pairs[0]
    # Holm has no interval: glyph and verdict take Bonferroni's.
    intervals = analysis.compared(Comparison("bonferroni", None, how.alpha)) if how.method == "holm" else pairs
    found: dict[str, Cell] = {}
    for i, other, sign in compared_pairs(pairs, controls):
        ends = sorted((sign * float(intervals.lower[i]), sign * float(intervals.upper[i])))
        estimate = sign * float(pairs.estimate[i])
        interval = Interval(*ends)
        at = percent.ends(analysis, pairs, i, sign, float(intervals.critical[i])) if percent and band else None
        verdict = judge(interval, band, direction, protected_out=protected, against=at)
        cell = Cell(other, verdict, estimate, ends[0], ends[1], float(pairs.p[i]), against=controls.of[other])
        if verdict is Verdict.NOT_SETTLED and protected and not interval.includes_zero:
            cell = replace(cell, reason=f"overall F {p_value(analysis.anova['treatment'].p)}")
        if verdict is Verdict.NOT_SETTLED and band is not None:
            cell = _with_blocks(cell, band, analysis, how, i, sign, controls, percent, protected=protected)
        found[other] = cell
    order = dict.fromkeys(plot.treatment for plot in trial.plots)
    shown = [t for t in order if t in controls.of or t in controls.without]
    return [found.get(t) or _without(t, analysis, controls, unit) for t in shown]


def compared_pairs(pairs: Pairs, controls: Controls) -> Iterator[tuple[int, str, int]]:
    """Index of each pair that is a treatment and its control, the treatment, and −1 where it is control − treatment."""
    labels = pairs.family.labels
    for i in range(len(pairs)):
        a, b = labels[pairs.a[i]], labels[pairs.b[i]]
        if controls.of.get(a) == b:
            yield i, a, 1
        elif controls.of.get(b) == a:
            yield i, b, -1


def _without(treatment: str, analysis: FittedAnalysis, controls: Controls, unit: str) -> Cell:
    """A treatment that isn't compared: it has no control, nothing was counted in it, or one of the two has no value."""
    if treatment in controls.without:
        return Cell(treatment, Verdict.NO_ANSWER, reason=controls.without[treatment])
    control, family = controls.of[treatment], analysis.families[0]
    area = analysis.none_found.get(treatment)
    if control not in family.labels:
        why = f"No plot of {control} has a value, so there is nothing to compare with."
        return Cell(treatment, Verdict.NO_ANSWER, reason=why, against=control)
    if area is None:
        return Cell(treatment, Verdict.NO_ANSWER, reason="No plot of this treatment has a value.", against=control)
    reason = nothing_found_in_words(analysis, treatment, area, unit)
    estimate = analysis.value_without_interval(treatment) - float(family.mean[family.labels.index(control)])
    return Cell(treatment, Verdict.NO_ANSWER, estimate, reason=reason, against=control)


def _with_blocks(
    cell: Cell, band: Band, analysis: FittedAnalysis, how: How, pair: int, sign: int, controls: Controls,
    percent: PercentMargin | None, *, protected: bool,
) -> Cell:  # fmt: skip
    """How many blocks would settle it, by the kind of interval that left it unsettled; never fewer than there are."""
    assert cell.estimate is not None
    now = max(_blocks_now(analysis), 1)
    compared = _compared(cell.estimate, analysis, how, pair, len(controls.all))
    if analysis.scale is IDENTITY and percent is None:
        needed = blocks_to_settle(compared, band)
    else:
        needed = fewest_blocks(lambda b: _settles(b, compared, analysis, pair, sign, band, percent), now)
    likely = blocks_for_a_chance(compared, band)
    if protected:
        overall = analysis.anova["treatment"]
        by_f = blocks_for_f(overall.f, round(overall.df_num), overall.df_den, now, how.alpha)
        needed = None if needed is None or by_f is None else max(needed, by_f)
        likely = None if likely is None or by_f is None else max(likely, by_f)
    needed = None if needed is None else max(needed, now + 1)
    likely = None if likely is None else max(likely, now + 1)
    return replace(cell, blocks=needed, blocks_likely=likely, more_than_40=needed is None)


def _compared(estimate: float, analysis: FittedAnalysis, how: How, pair: int, controls: int) -> Compared:
    spec, treatments, pairs = analysis.specification, len(analysis.families[0].levels), analysis.pairs[0]
    plain = Compared(
        estimate, analysis.residual_sd, 1.0, 2, treatments, how.method, how.alpha, how.against_base, controls
    )  # fmt: skip
    if analysis.scale is IDENTITY and spec.design in ("crd", "rcbd"):
        # as two whole blocks would have it, whatever plots were lost
        return replace(plain, df=float(error_df(spec.design, treatments, 2)))
    now, df = max(_blocks_now(analysis), 2), float(pairs.df[pair])
    plain = replace(plain, standard_error=float(pairs.se[pair]), df=df, blocks=now)
    test = analysis.test if isinstance(analysis, DensityAnalysis) else None
    if not isinstance(analysis, DensityAnalysis) or test is None:
        return plain
    found = test.compared(Comparison("lsd", None, how.alpha))
    wanted = {pairs.family.labels[pairs.a[pair]], pairs.family.labels[pairs.b[pair]]}
    labels = found.family.labels
    at = next(k for k in range(len(found)) if {labels[found.a[k]], labels[found.b[k]]} == wanted)
    return replace(plain, test=(abs(float(found.t[at])), float(found.df[at])), known_df=analysis.alpha / ALPHA_DF)


def _settles(
    b: int, compared: Compared, analysis: FittedAnalysis, pair: int, sign: int, band: Band,
    percent: PercentMargin | None,
) -> bool:  # fmt: skip
    """Whether the interval that b blocks would have, if the estimate stays, excludes zero or lies within the margin."""
    pairs, now = analysis.pairs[0], max(_blocks_now(analysis), 2)
    _, _, critical = compared.in_blocks(b, digits=3)
    low, high = analysis.interval_with(pair, b / now, critical)
    ends = (low, high) if sign > 0 else (-high, -low)
    if compared.test is not None:
        t, _, test_critical = compared.test_in(b, digits=3)
        excluded = t > test_critical
    else:
        excluded = ends[0] > 0 or ends[1] < 0
    at = percent.ends(analysis, pairs, pair, sign, critical, b / now) if percent else None
    return excluded or (at.within if at else band.low <= ends[0] and ends[1] <= band.high)


def _blocks_now(analysis: FittedAnalysis) -> int:
    """How many blocks there are, or plots of each treatment."""
    spec = analysis.specification
    if spec.design == "crd":
        return len(analysis.plots) // len(analysis.families[0].levels)
    return len(analysis.plots.factors[spec.block or spec.row or ""])


def mark_discoveries(readings: tuple[MeasureReading, ...], alpha: float) -> tuple[MeasureReading, ...]:
    """Benjamini and Hochberg (1995), JRSS B 57, 289–300, over the board's unadjusted p, one for each cell.

    It marks cells and never changes a verdict; a cell whose verdict doesn't exclude zero isn't marked.
    """
    raw: list[tuple[float, int, str]] = []
    for i, reading in enumerate(readings):
        if reading.pairs is None:
            continue
        against = Controls("", {c.treatment: c.against for c in reading.cells if c.against}, {})
        for j, treatment, _ in compared_pairs(reading.pairs, against):
            raw.append((float(reading.pairs.p_raw[j]), i, treatment))
    raw.sort()
    passed = max((rank for rank, (p, _, _) in enumerate(raw, 1) if p <= alpha * rank / len(raw)), default=0)
    marked = {(i, treatment) for _, i, treatment in raw[:passed]}
    return tuple(
        replace(r, cells=tuple(replace(c, stands_out=(i, c.treatment) in marked and c.excludes_zero) for c in r.cells))
        for i, r in enumerate(readings)
    )
