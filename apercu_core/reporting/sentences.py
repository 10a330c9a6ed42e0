"""A verdict as a sentence that a grower can use, with figures, units and no more certainty than there is."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from apercu_core.reading.description import decimals_of
from apercu_core.reading.found import Cell, MeasureReading, Reading
from apercu_core.verdicts.verdict import Verdict
from apercu_core.words import decimals_for, difference_unit, listed, number, rounded, with_unit


@dataclass(frozen=True, slots=True)
class Line:
    treatment: str
    verdict: Verdict
    sentence: str


@dataclass(frozen=True, slots=True)
class MeasureReport:
    """One measure in words; `refusal`: why nothing is tested."""

    name: str
    unit: str
    refusal: str
    lines: tuple[Line, ...]


def measure_report(m: MeasureReading) -> MeasureReport:
    """A line for each treatment but the one compared with; where nothing is tested, the reason and what was seen."""
    if m.pairs is None:
        digits = decimals_of(m.described)
        told = [c for c in m.cells if c.estimate is not None and math.isfinite(c.estimate)]
        seen = tuple(
            Line(
                c.treatment, c.verdict, f"{_difference(c.estimate, m.asked.unit, c.against, digits)}; seen, not tested."
            )
            for c in told if c.estimate is not None
        )  # fmt: skip
        return MeasureReport(m.asked.name, m.asked.unit, m.refusal, seen)
    decimals = decimals_for(float(m.pairs.se.max()))
    lines = tuple(Line(cell.treatment, cell.verdict, sentence(cell, m, decimals)) for cell in m.cells)
    return MeasureReport(m.asked.name, m.asked.unit, "", lines)


def sentence(cell: Cell, m: MeasureReading, decimals: int) -> str:
    """The verdict of one cell, against the base treatment."""
    if cell.estimate is None or cell.lower is None or cell.upper is None or cell.verdict is Verdict.NO_ANSWER:
        return f"no answer. {cell.reason}".strip()
    unit = m.asked.unit
    found = _difference(cell.estimate, unit, cell.against, decimals)
    limits = (0.0, m.band.low, m.band.high) if m.band else (0.0,)
    between = f"(between {_end(cell.lower, decimals, limits)} and {_end(cell.upper, decimals, limits)})"
    margin = _margin(m)
    match cell.verdict:
        case Verdict.CLEAR_GAIN:
            return f"{found} {between}. This is a clear gain, larger than the margin of {margin}."
        case Verdict.CLEAR_LOSS:
            return f"{found} {between}. This is a clear loss, larger than the margin of {margin}."
        case Verdict.CLEAR_MORE | Verdict.CLEAR_LESS:
            return f"{found} {between}. This is a clear difference, larger than the margin of {margin}."
        case Verdict.REAL_UNSETTLED:
            return (
                f"{found} {between}. The difference is real. Whether it reaches the margin of {margin} isn’t settled."
            )
        case Verdict.REAL_SMALL:
            return f"{found} {between}. The difference is real, but smaller than the margin of {margin}."
        case Verdict.NO_DIFFERENCE:
            return (
                f"no difference worth having {between}. It is smaller than the margin of {margin} in both directions."
            )
        case Verdict.NO_MARGIN:
            return f"{found} {between}. No margin was set, so there is no verdict."
        case _:
            return f"not settled {between}. {_more(cell)}"


def _difference(estimate: float, unit: str, base: str, decimals: int) -> str:
    way = "more" if estimate >= 0 else "less"
    return f"{with_unit(abs(estimate), difference_unit(unit), decimals)} {way} than {base}"


_MORE_DECIMALS = 4


def _end(value: float, decimals: int, limits: Sequence[float]) -> str:
    """The end of an interval with so many decimals, or a few more where rounding would put it on a limit, or beyond."""
    for digits in range(decimals, decimals + _MORE_DECIMALS + 1):
        shown = float(rounded(value, digits))
        if all((shown > limit) == (value > limit) and (shown < limit) == (value < limit) for limit in limits):
            return _signed(value, digits)
    near = min(limits, key=lambda limit: abs(value - limit))
    if value == near:
        return _signed(value, decimals)
    return f"just {'above' if value > near else 'below'} {_signed(near, decimals) if near else 0}"


def _signed(value: float, decimals: int) -> str:
    text = number(value, decimals)
    return f"+{text}" if value > 0 and float(rounded(value, decimals)) != 0 else text


def _margin(m: MeasureReading) -> str:
    asked = m.asked.margin
    if asked is None:
        return "difference"
    return (
        f"{number(asked.value)} %" if asked.kind == "percent" else with_unit(asked.value, difference_unit(m.asked.unit))
    )


def _more(cell: Cell) -> str:
    if cell.reason:
        return f"The trial as a whole doesn’t show that its treatments differ. {_blocks(cell)}".strip()
    if cell.more_than_40:
        return "More than 40 blocks would be needed. Use another measure, more frames or a wider margin."
    return _blocks(cell)


def _blocks(cell: Cell) -> str:
    if not cell.blocks:
        return ""
    likely = f"{cell.blocks_likely} blocks" if cell.blocks_likely else "more than 40 blocks"
    return (
        f"About {cell.blocks} blocks would settle it if the difference stays the same. With {likely}, 8 of 10 such "
        "trials would settle it, one way or the other."
    )


_CLEAR = (Verdict.CLEAR_GAIN, Verdict.CLEAR_LOSS, Verdict.CLEAR_MORE, Verdict.CLEAR_LESS)


def _clearly(verdict: Verdict, m: MeasureReading) -> str:
    """A clear difference as the measure has it: `Clearly fewer weeds`, `Clearly higher potato yield`."""
    gains_up = m.asked.direction != "lower"
    up = verdict is Verdict.CLEAR_MORE or (verdict is (Verdict.CLEAR_GAIN if gains_up else Verdict.CLEAR_LOSS))
    name = m.asked.name
    things = m.asked.kind == "count" and name.split(" ")[0].endswith("s")  # weeds are fewer, a cover stand is lower
    more, less = ("more", "fewer") if things else ("higher", "lower")
    name = name[:1].lower() + name[1:] if name[1:2].islower() else name  # but for NDVI and pH
    return f"Clearly {more if up else less} {name}"


_SHOWN = {
    "equivalence": ("Shown equivalent", "Not shown equivalent"),
    "non-inferiority": ("Shown not to be worse", "Not shown to be no worse"),
}


def _planned_in_short(m: MeasureReading) -> str:
    """The outcome of the planned test of the measure that decides the question; empty where there is none."""
    tests = [test for test in m.planned if not test.chosen_after]
    out = []
    for shown in (True, False):
        names = [test.test.treatment for test in tests if test.shown is shown]
        if names:
            words = _SHOWN[tests[0].kind][0 if shown else 1]
            out.append(f"{words} in {m.asked.name}, by the margin of {_margin(m)}: {listed(names)}.")
    return " ".join(out)


def in_short(measures: Sequence[MeasureReport], reading: Reading) -> str:
    """What is clear, or that nothing is."""
    parts = [said for m in reading.measures if m.asked.primary and (said := _planned_in_short(m))]
    for verdict in _CLEAR:
        for report, measure in zip(measures, reading.measures, strict=False):
            names = [line.treatment for line in report.lines if line.verdict is verdict]
            if names:
                parts.append(f"{_clearly(verdict, measure)}: {listed(names)}.")
    if parts:
        return " ".join(parts)
    if not any(measure.lines for measure in measures):
        return "There is nothing to compare yet."
    if all(measure.refusal for measure in measures):
        return "The observed values are described below. Nothing was tested."
    bases = list(dict.fromkeys(m.base for m in reading.measures if m.cells))
    return f"No treatment is clearly better or worse than {listed(bases or [reading.base])} by the margins."
