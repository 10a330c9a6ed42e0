"""Which design to propose, from the factors and from what the machines can do; the person decides."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from apercu_core.design.plan_file import PlannedDesign


@dataclass(frozen=True, slots=True)
class FactorFacts:
    """`whole_strips`: its machine can't change from plot to plot, so a level covers a whole strip or pass."""

    name: str
    levels: int
    whole_strips: bool = False


@dataclass(frozen=True, slots=True)
class Proposal:
    """`whole_factor`: of whole plots, or of the rows of a strip plot; `column_factor`: of its columns."""

    design: PlannedDesign
    why: str
    whole_factor: str = ""
    column_factor: str = ""


def propose(factors: Sequence[FactorFacts], treatments: int) -> Proposal:
    """One design, and why in a sentence. Without factors, `treatments` is all that counts."""
    strips = [factor for factor in factors if factor.whole_strips]
    if len(factors) == 2 and len(strips) == 2:
        rows, columns = strips
        return Proposal(
            "strip_plot",
            f"Neither {rows.name} nor {columns.name} can change from plot to plot: strips of the one cross strips of "
            "the other in every block. Their interaction is seen best, each by itself less well.",
            rows.name,
            columns.name,
        )
    if strips and len(factors) > 1:
        whole = min(strips, key=lambda factor: factor.levels)
        inside = " and ".join(factor.name for factor in factors if factor is not whole)
        return Proposal(
            "split_plot",
            f"{whole.name.capitalize()} is done over whole strips, so its levels go to whole plots and {inside} to the "
            f"plots in them. {inside.capitalize()} is seen better than {whole.name}.",
            whole.name,
        )
    if len(factors) > 1:
        return Proposal("rcbd", "Every machine can change from plot to plot, so all combinations stand in each block.")
    if treatments == 2:
        return Proposal("paired_strips", "Two treatments side by side in pairs: each pair is a block of its own.")
    return Proposal("rcbd", "Blocks across the slope or drift take its differences out of the comparison.")
