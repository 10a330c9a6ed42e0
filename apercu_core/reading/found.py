"""What a reading finds, as plain values."""

from __future__ import annotations

from dataclasses import dataclass

from apercu_core.doubts.doubt import Doubt
from apercu_core.reading.asked import Asked, How, Occasion
from apercu_core.reading.description import Description
from apercu_core.statistics.comparisons import Pairs
from apercu_core.statistics.equivalence import EquivalenceTest
from apercu_core.statistics.fitted import FittedAnalysis
from apercu_core.verdicts.margin import Band
from apercu_core.verdicts.verdict import Planned, Verdict

DIFFERENT = frozenset(
    {Verdict.CLEAR_GAIN, Verdict.CLEAR_LOSS, Verdict.CLEAR_MORE, Verdict.CLEAR_LESS, Verdict.REAL_UNSETTLED,
     Verdict.REAL_SMALL}
)  # fmt: skip
"""Verdicts whose interval excludes zero."""


@dataclass(frozen=True, slots=True)
class Cell:
    """One treatment against its control, `against`, for one measure; differences in the measure's unit.

    `reason`: why there is no answer, or why an interval that excludes zero isn't called real. `blocks`: how many
    would settle it if the estimate stays, unless `more_than_40` is the answer; `blocks_likely`: would with an 80 %
    chance if it is the truth. `stands_out`: marked by the false discovery rate.
    """

    treatment: str
    verdict: Verdict
    estimate: float | None = None
    lower: float | None = None
    upper: float | None = None
    p: float | None = None
    reason: str = ""
    blocks: int | None = None
    blocks_likely: int | None = None
    more_than_40: bool = False
    stands_out: bool = False
    against: str = ""

    @property
    def excludes_zero(self) -> bool:
        """Whether the verdict says that there is a difference."""
        return self.verdict in DIFFERENT


@dataclass(frozen=True, slots=True)
class PlannedTest:
    """A planned equivalence or non-inferiority test; `parts`: why it differs from the verdict, if it does.

    `chosen_after`: it was chosen once results had been seen, so that it isn't a planned test.
    """

    kind: Planned
    margin: float
    test: EquivalenceTest
    shown: bool
    parts: str = ""
    chosen_after: bool = False


@dataclass(frozen=True, slots=True)
class MeasureReading:
    """`base`: what its cells are compared with, in words where each has its own control; `controls`: all of them.

    `analysis` None: refused, with `refusal` saying why. `band`: the margin on the scale of the comparison. `described`:
    what was seen, where there is no analysis.
    """

    asked: Asked
    base: str
    analysis: FittedAnalysis | None
    refusal: str
    cells: tuple[Cell, ...]
    band: Band | None
    detectable: float | None
    planned: tuple[PlannedTest, ...]
    letters_withheld: str
    notes: tuple[str, ...]
    doubts: tuple[Doubt, ...]
    described: tuple[Description, ...] = ()
    controls: tuple[str, ...] = ()
    occasion: Occasion | None = None

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
