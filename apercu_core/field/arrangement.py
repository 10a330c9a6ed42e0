"""How blocks lie to each other: end to end or side by side, by what fits the field and by how one drives."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from apercu_core.field.layout import InGrid, PlotSize, extent, place
from apercu_core.units import System, shown_in
from apercu_core.words import number

IN_BLOCKS = ("rcbd", "split_plot", "strip_plot", "incomplete_block")
"""Designs whose blocks may lie either way; the others have none, or lie as they must."""
DRIVEN_M = 30.0
"""From this length on a plot is a strip that machines drive through without stopping; thumb."""


@dataclass(frozen=True, slots=True)
class Arrangement:
    """What is proposed, and why, in a sentence. `width`, `length`: of the ground that it takes, m."""

    side_by_side: bool
    why: str
    width: float
    length: float


def propose_arrangement(
    plots: Iterable[InGrid], size: PlotSize, design: str, room: tuple[float, float] | None, system: System = "metric",
    chosen: bool | None = None,
) -> Arrangement:  # fmt: skip
    """`room`: width and length of the field inside its headland, m, None where nobody has said. `chosen`: by a person,
    who is told how much ground it takes.
    """
    placed = list(plots)
    takes = {side: extent(place(placed, size, design, side_by_side=side)) for side in (False, True)}
    side, why = _proposed(size, design, takes, room, system)
    if chosen is not None and design in IN_BLOCKS:
        side, why = chosen, ""
    return Arrangement(side, why, *takes[side])


def _proposed(
    size: PlotSize, design: str, takes: dict[bool, tuple[float, float]], room: tuple[float, float] | None,
    system: System,
) -> tuple[bool, str]:  # fmt: skip
    if design not in IN_BLOCKS or takes[False] == takes[True]:
        return False, ""
    unit, factor = shown_in("m", system)

    def said(metres: float) -> str:
        return f"{number(metres * factor)} {unit}"

    if room is not None:
        fits = {side: width <= room[0] and length <= room[1] for side, (width, length) in takes.items()}
        if fits[True] != fits[False]:
            how, other = ("side by side", "end to end") if fits[True] else ("end to end", "side by side")
            ground = f"{said(room[0])} × {said(room[1])}"
            return fits[True], f"Blocks lie {how}: {other} they don’t fit the field of {ground}."
    if size.length >= DRIVEN_M:
        return True, (
            f"Blocks lie side by side, because strips of {said(size.length)} are driven in one pass. End to end they "
            f"would take {said(takes[False][1])} of field length."
        )
    return False, "Blocks lie end to end, because the plots are short. A block stays compact."
