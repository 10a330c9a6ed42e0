"""Planned equivalence and non-inferiority tests: a line of their own beside the verdicts."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from apercu_core.reading.asked import Asked, How
from apercu_core.reading.controls import Controls
from apercu_core.reading.found import Cell, PlannedTest
from apercu_core.statistics.equivalence import EquivalenceTest
from apercu_core.statistics.fitted import FittedAnalysis
from apercu_core.statistics.specification import Equivalence
from apercu_core.verdicts.margin import Band
from apercu_core.verdicts.verdict import Verdict

_SHOWN = (Verdict.NO_DIFFERENCE, Verdict.REAL_SMALL)


def planned_tests(
    asked: Asked, analysis: FittedAnalysis, how: How, controls: Controls, band: Band | None, cells: Sequence[Cell], *,
    chosen_after: bool = False,
) -> tuple[PlannedTest, ...]:  # fmt: skip
    if asked.planned == "none" or band is None:
        return ()
    verdicts = {cell.treatment: cell.verdict for cell in cells}
    out = []
    for test in _tests(analysis, controls, band, how, asked):
        if asked.planned_for and test.treatment not in asked.planned_for:
            continue
        shown = test.equivalent if asked.planned == "equivalence" else test.non_inferior
        board_agrees = verdicts[test.treatment] in _SHOWN
        if asked.planned == "non-inferiority":
            board_agrees = board_agrees or verdicts[test.treatment] is Verdict.CLEAR_GAIN
        part = (
            ""
            if shown == board_agrees
            else _why_they_part(how, len(cells), shown, verdicts[test.treatment], asked.planned)
        )
        out.append(PlannedTest(asked.planned, band.high, test, shown, part, chosen_after))
    return tuple(out)


def _tests(
    analysis: FittedAnalysis, controls: Controls, band: Band, how: How, asked: Asked
) -> Iterator[EquivalenceTest]:
    """Each treatment against its own control."""
    for control in controls.all:
        if control not in analysis.families[0].labels:
            continue
        wanted = Equivalence(band.high, control, how.alpha, asked.direction != "lower")
        for test in analysis.equivalence_with(wanted):
            if controls.of.get(test.treatment) == control:
                yield test


def _why_they_part(how: How, comparisons: int, shown: bool, verdict: Verdict, kind: str) -> str:
    """Why the planned test and the board say different things: by what keeps the board from the same answer."""
    wide, narrow = round(100 * (1 - how.alpha)), round(100 * (1 - 2 * how.alpha))
    if not shown:
        return "The board also tests whether the difference is zero. The planned test only asks about the margin."
    if verdict is Verdict.REAL_UNSETTLED:
        other = "the margin on the other side" if kind == "equivalence" else "whether it reaches the margin"
        return f"The board finds a difference and asks about {other} as well. The planned test doesn’t."
    if kind == "non-inferiority" and verdict is Verdict.NOT_SETTLED:
        return (
            "The planned test asks only whether it is worse by the margin. The board also asks whether there is a "
            "difference, and whether it may be better by the margin."
        )
    together = f"holds for {comparisons} comparisons together" if comparisons > 1 and how.method != "lsd" else ""
    if not together:
        return f"The planned test uses a {narrow} % interval. The board uses a {wide} % interval, which is wider."
    return (
        f"The planned test uses a {narrow} % interval for one comparison. The board’s {wide} % interval {together}, "
        "so it is wider."
    )
