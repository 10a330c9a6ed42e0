"""A drawn plan as the facts that readings and doubts start from."""

from __future__ import annotations

from collections.abc import Iterable

from apercu_core.design.plan_file import PlannedDesign
from apercu_core.design.randomisation import PlannedPlot
from apercu_core.statistics.specification import Design
from apercu_core.trial.facts import PlotFacts

READ_AS: dict[PlannedDesign, Design] = {
    "crd": "crd", "rcbd": "rcbd", "paired_strips": "rcbd", "latin_square": "latin_square", "split_plot": "split_plot",
    "strip_plot": "strip_plot", "incomplete_block": "incomplete_block",
}  # fmt: skip
"""The analysis of each design: paired strips are blocks of two."""


def block_name(number: int) -> str:
    """A, B, … Z, AA, AB, … for 1, 2, …"""
    name = ""
    while number:
        number, letter = divmod(number - 1, 26)
        name = chr(65 + letter) + name
    return name


def facts_of(plots: Iterable[PlannedPlot], design: PlannedDesign) -> tuple[PlotFacts, ...]:
    """One fact a plot, larger units named within their block. Completely randomised plots have no block."""
    return tuple(
        PlotFacts(
            str(p.number), "" if design == "crd" else block_name(p.block), p.treatment, p.position,
            whole_plot=_name(p.whole_plot), row_strip=_name(p.row_strip), column_strip=_name(p.column_strip),
            row=_name(p.row), column=_name(p.column), incomplete_block=_name(p.incomplete_block),
        )
        for p in plots
    )  # fmt: skip


def _name(number: int | None) -> str:
    return "" if number is None else str(number)
