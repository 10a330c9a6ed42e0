"""The design of a layout that lies in the field already: as its file says, else as a person says; never inferred."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import cast, get_args

from apercu_core.design.plan_file import PlannedDesign
from apercu_core.errors import Place, Refused
from apercu_core.layout_files.read import Imported, ImportedPlot

SAID: dict[PlannedDesign, str] = {
    "crd": "completely randomised",
    "rcbd": "randomised blocks",
    "paired_strips": "paired strips",
    "latin_square": "Latin square",
    "split_plot": "split plot",
    "strip_plot": "strip plot",
    "incomplete_block": "incomplete blocks",
}

Levels = Mapping[str, Mapping[str, str]]
"""Treatment → factor → level."""


@dataclass(frozen=True, slots=True)
class ImportedDesign:
    """`whole_factor`: of whole plots, or of the rows of a strip plot; `column_factor`: of its columns.

    `block_size`: plots in the largest incomplete block, 0 for other designs.
    """

    design: PlannedDesign
    whole_factor: str = ""
    column_factor: str = ""
    block_size: int = 0


def design_of(found: Imported, levels: Levels, chosen: str) -> ImportedDesign:
    """How the plots are to be read.

    `chosen`: what the person says, empty where the file says it. Raises `Refused` where nobody says it, where file and
    person differ, and where the plots can't be of that design, with each plot that is in the way.
    """
    known = get_args(PlannedDesign)
    said = found.design or chosen
    if said not in known:
        which = f"The file says the design is {found.design!r}" if found.design else "The file doesn’t say its design"
        raise Refused("bad-design", f"{which}. Choose how its plots are grouped: {', '.join(SAID.values())}.")
    design = cast(PlannedDesign, said)
    if chosen and chosen != design:
        theirs, yours = SAID[design], SAID[cast(PlannedDesign, chosen)]
        raise Refused("bad-design", f"The file says its design is {theirs}, and you chose {yours}. Choose one of them.")
    plots = found.plots
    if design == "crd":
        return ImportedDesign(design)
    if design == "latin_square":
        _require(plots, design, row=True, column=True)
        _require_square(plots)
        return ImportedDesign(design)
    _require(plots, design, block=True, whole_plot=design == "split_plot", row=design == "strip_plot",
             column=design == "strip_plot", incomplete_block=design == "incomplete_block")  # fmt: skip
    if len({p.block for p in plots}) < 2:
        raise Refused("no-replication", f"All plots lie in block {plots[0].block}. Give each plot its own block.")
    if design == "paired_strips":
        _require_pairs(plots)
    if design == "incomplete_block":
        sizes = Counter((p.block, p.incomplete_block) for p in plots)
        return ImportedDesign(design, block_size=max(sizes.values()))
    if design == "split_plot":
        return ImportedDesign(design, _factor(plots, levels, lambda p: p.whole_plot, "whole plots", "whole_plot"))
    if design == "strip_plot":
        rows = _factor(plots, levels, lambda p: p.row, "rows", "row")
        columns = _factor(plots, levels, lambda p: p.column, "columns", "column", besides=rows)
        return ImportedDesign(design, rows, columns)
    return ImportedDesign(design)


def _require(
    plots: Sequence[ImportedPlot], design: PlannedDesign, *, block: bool = False, whole_plot: bool = False,
    row: bool = False, column: bool = False, incomplete_block: bool = False,
) -> None:  # fmt: skip
    """Each plot must say in which units of the design it lies."""
    wrong = []
    asked = (("block", block), ("whole_plot", whole_plot), ("row", row), ("column", column),
             ("incomplete_block", incomplete_block))  # fmt: skip
    for name, needed in asked:
        for plot in plots if needed else ():
            text = str(getattr(plot, name))
            if not text:
                wrong.append(
                    Place(f"plot {plot.label}, {name}", f"It is empty, and {SAID[design]} needs it. Enter it.")
                )
            elif name in ("row", "column") and not text.isdigit():
                wrong.append(Place(f"plot {plot.label}, {name}", f"{text!r} isn’t a whole number from 1."))
    if wrong:
        raise Refused("bad-value", f"These plots can’t be read as {SAID[design]}; nothing was saved.", wrong[:40])


def _require_square(plots: Sequence[ImportedPlot]) -> None:
    n = len({p.treatment for p in plots})
    for what in ("row", "column"):
        seen: dict[str, list[str]] = {}
        for plot in plots:
            seen.setdefault(str(getattr(plot, what)), []).append(plot.treatment)
        for name, inside in seen.items():
            if len(seen) != n or len(inside) != n or len(set(inside)) != n:
                raise Refused(
                    "bad-design",
                    f"In a Latin square each row and column holds each treatment once. In {what} {name} it isn’t "
                    "so. Check the file, or choose another design.",
                )


def _require_pairs(plots: Sequence[ImportedPlot]) -> None:
    treatments = {p.treatment for p in plots}
    for block in dict.fromkeys(p.block for p in plots):
        inside = [p.treatment for p in plots if p.block == block]
        if len(treatments) != 2 or len(inside) != 2 or len(set(inside)) != 2:
            raise Refused(
                "bad-design",
                f"Paired strips compare two treatments, one strip of each in every pair. Pair {block} isn’t so. Choose "
                "randomised blocks.",
            )


def _factor(
    plots: Sequence[ImportedPlot], levels: Levels, unit: Callable[[ImportedPlot], str], said: str, column: str,
    besides: str = "",
) -> str:  # fmt: skip
    """The factor that has one level in each larger unit, and several within each block."""
    inside: dict[tuple[str, str], set[str]] = {}
    for plot in plots:
        inside.setdefault((plot.block, unit(plot)), set()).add(plot.treatment)
    for factor in dict.fromkeys(name for of in levels.values() for name in of):
        one_each = all(len({levels[t].get(factor, "") for t in there}) == 1 for there in inside.values())
        several = len({levels[p.treatment].get(factor, "") for p in plots}) > 1
        if factor != besides and one_each and several:
            return factor
    raise Refused(
        "bad-design",
        f"The file names {said}, but no factor of the trial has one level in each of them. Name the factors and their "
        f"levels in Ask, or correct the column {column}.",
    )
