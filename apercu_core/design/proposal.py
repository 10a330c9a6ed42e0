"""Which design to propose, from the factors and from what the machines can do; the person decides."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from apercu_core.design.incomplete_blocks import usual_size
from apercu_core.design.plan_file import PlannedDesign
from apercu_core.power.planned_chance import MOST_BLOCKS
from apercu_core.units import System


@dataclass(frozen=True, slots=True)
class FactorFacts:
    """`whole_strips`: its machine can't change from plot to plot, so a level covers a whole strip or pass."""

    name: str
    levels: int
    whole_strips: bool = False


@dataclass(frozen=True, slots=True)
class Size:
    """To start planning from, m and blocks: a plot that most drills and combines suit; thumb."""

    width: float = 6.0
    length: float = 12.0
    gap: float = 0.5
    alley: float = 3.0
    blocks: int = 4
    least_blocks: int = 2
    most_blocks: int = MOST_BLOCKS

    def in_units(self, system: System) -> Size:
        """The same in round feet for those who measure in feet: 20 × 40 ft."""
        return self if system == "metric" else replace(self, width=6.096, length=12.192, gap=0.6096, alley=3.048)


@dataclass(frozen=True, slots=True)
class Proposal:
    """`whole_factor`: of whole plots, or of the rows of a strip plot; `column_factor`: of its columns. They are named
    for every design, in case that the person takes a split plot or a strip plot instead; empty where there are none.

    `impossible`: why no design that can be drawn here keeps to what the machines can do; empty where one does.
    `block_size`: plots in an incomplete block, 0 for other designs.
    """

    design: PlannedDesign
    why: str
    whole_factor: str = ""
    column_factor: str = ""
    impossible: str = ""
    block_size: int = 0
    size: Size = Size()

    def in_units(self, system: System) -> Proposal:
        """The same, with plots that are round in the reader's units."""
        return replace(self, size=self.size.in_units(system))


FEW_PAIRS = 6
"""Pairs of strips below which a difference is hardly ever settled: 4 pairs leave 3 degrees of freedom; thumb."""
MANY_TREATMENTS = 12
"""Treatments from which on a complete block is too long to be even; thumb."""


def propose(factors: Sequence[FactorFacts], treatments: int) -> Proposal:
    """One design, and why in a sentence. Without factors, `treatments` is all that counts."""
    ordered = sorted(factors, key=lambda factor: (not factor.whole_strips, factor.levels * factor.whole_strips))
    whole, column = [*(factor.name for factor in ordered), "", ""][:2]
    return replace(_design_for(factors, treatments, whole), whole_factor=whole, column_factor=column)


def _design_for(factors: Sequence[FactorFacts], treatments: int, whole_factor: str) -> Proposal:
    strips = [factor for factor in factors if factor.whole_strips]
    if len(factors) == 2 and len(strips) == 2:
        rows, columns = strips
        return Proposal(
            "strip_plot",
            f"Neither {rows.name} nor {columns.name} can change from plot to plot. Strips of one factor cross strips "
            "of the other in every block. Their interaction is estimated best, each factor by itself less well.",
        )
    if strips and len(factors) > 1:
        rest = [factor.name for factor in factors if factor.name != whole_factor]
        inside, are = " and ".join(rest), "is" if len(rest) == 1 else "are"
        return Proposal(
            "split_plot",
            f"{whole_factor.capitalize()} needs whole strips, so its levels go to whole plots and {inside} to the "
            f"plots in them. {inside.capitalize()} {are} compared more precisely than {whole_factor}.",
            impossible=strips_lost(factors, "split_plot", whole_factor, ""),
        )
    if len(factors) > 1 and treatments < MANY_TREATMENTS:
        return Proposal("rcbd", "Every machine can change from plot to plot, so each block holds all combinations.")
    if treatments == 2:
        return Proposal(
            "paired_strips",
            "Two treatments lie side by side in pairs, and each pair is a block. Plan at least "
            f"{FEW_PAIRS} pairs. With 4 pairs there are only 3 degrees of freedom.",
        )
    if treatments >= MANY_TREATMENTS:
        return Proposal(
            "incomplete_block",
            f"A block of {treatments} plots is long, and long blocks are seldom even. Each replicate is divided into "
            f"incomplete blocks of about {usual_size(treatments)} plots, which are small enough to be even. Treatments "
            "share them in different combinations in each replicate.",
            block_size=usual_size(treatments),
        )
    return Proposal("rcbd", "Blocks across the slope or gradient remove its differences from the comparison.")


_SAID = {
    "crd": "completely randomised plan", "rcbd": "plan in complete blocks", "paired_strips": "plan of paired strips",
    "latin_square": "Latin square", "split_plot": "split plot", "strip_plot": "strip plot",
    "incomplete_block": "plan in incomplete blocks",
}  # fmt: skip


def strips_lost(factors: Sequence[FactorFacts], design: PlannedDesign, whole_factor: str, column_factor: str) -> str:
    """Why the design can't be worked: several factors need whole strips and one gets none. Empty where it can."""
    strips = [factor.name for factor in factors if factor.whole_strips]
    kept = {"split_plot": (whole_factor,), "strip_plot": (whole_factor, column_factor)}.get(design, ())
    lost = [name for name in strips if name not in kept]
    if len(strips) < 2 or not lost:
        return ""
    return (
        f"{' and '.join(strips)} need whole strips, but a {_SAID[design]} puts {' and '.join(lost)} on "
        "single plots. Remove one of these factors, or keep it the same in all plots. With only two factors, use a "
        "strip plot."
    )
