"""Plot widths that the machines can work: whole drill widths, at least one harvest width with guards."""

from __future__ import annotations

import math
from dataclasses import dataclass, fields

from apercu_core.errors import Refused
from apercu_core.units import System, shown_in
from apercu_core.words import number

GUARD_M = 0.5
"""Beside the harvested strip, on each side: rule of thumb, so that neighbours' edges aren't harvested."""


@dataclass(frozen=True, slots=True)
class Machines:
    """Working widths in metres; None: not said. `sprayer_section`: the narrowest part of the sprayer that can be shut
    off by itself; `row_spacing`: of the drill's rows; `rows_caught`: how many of them are caught at a time when the
    drill is tried out.
    """

    drill: float | None = None
    spreader: float | None = None
    sprayer: float | None = None
    mower: float | None = None
    roller: float | None = None
    cultivator: float | None = None
    sprayer_section: float | None = None
    combine: float | None = None
    row_spacing: float | None = None
    rows_caught: int | None = None

    def __post_init__(self) -> None:
        if self.rows_caught is not None:
            rows = round(self.drill / self.row_spacing) if self.drill and self.row_spacing else 200
            if not 1 <= self.rows_caught <= max(rows, 1):
                raise Refused("bad-value", f"{self.rows_caught} rows can’t be caught; the drill has 1 to {rows}.")
        for field in fields(self):
            if field.name == "rows_caught":
                continue
            width = getattr(self, field.name)
            if width is not None and not (math.isfinite(width) and 0 < width <= 100):
                name = field.name.replace("_", " ")
                raise Refused("bad-value", f"The {name} is {width:g} m; it must be above 0 and at most 100 m.")


@dataclass(frozen=True, slots=True)
class WidthFit:
    """`width`: the narrowest plot that suits drill and combine, m, None where neither is known.

    `too_narrow`: why a plot of the asked width can't be worked at all, empty where it can; `hints`: what to mind.
    """

    width: float | None
    too_narrow: str
    hints: tuple[str, ...]


def fit_width(width: float, machines: Machines, system: System = "metric", whole: float | None = None) -> WidthFit:
    """How a plot `width` metres wide suits the machines; sentences in the reader's units.

    `whole`: metres across a whole plot, where levels of a factor go to such; then passes are held against it.
    """

    def said(metres: float) -> str:
        unit, factor = shown_in("m", system)
        return f"{number(metres * factor)} {unit}"

    for name, own in (("drill", machines.drill), ("combine", machines.combine)):
        if own is not None and width < own * (1 - 1e-6):
            text = f"A plot of {said(width)} is narrower than the {name}, {said(own)}. Make plots at least that wide."
            return WidthFit(_narrowest(machines), text, ())
    hints = []
    if machines.drill is not None and not _whole(width / machines.drill):
        low = math.floor(width / machines.drill) * machines.drill
        hints.append(
            f"{said(width)} isn’t a whole number of drill widths of {said(machines.drill)}. Use {said(low)} or "
            f"{said(low + machines.drill)}."
        )
    if machines.combine is not None and width < machines.combine + 2 * GUARD_M - 1e-9:
        hints.append(
            f"The combine takes {said(machines.combine)}, so less than {said(GUARD_M)} of guard is left on each side, "
            "and edges of neighbouring plots are harvested too."
        )
    if whole is not None:
        return WidthFit(_narrowest(machines), "", (*whole_plot_hints(whole, machines, system), *hints))
    for name in _PASSES:
        own = _finest(machines, name)
        if own is not None and own > width * (1 + 1e-6):
            hints.append(
                f"The {name} is {said(own)} wide and covers {math.ceil(own / width - 1e-9)} plots at once. A factor "
                "that it applies needs whole strips. Mark this in Ask."
            )
    return WidthFit(_narrowest(machines), "", tuple(hints))


_PASSES = ("sprayer", "spreader", "mower", "roller", "cultivator")


def _finest(machines: Machines, name: str) -> float | None:
    """The narrowest width that the machine can work: of a sprayer its section, where that is known."""
    width: float | None = getattr(machines, name)
    return machines.sprayer_section or width if name == "sprayer" else width


def whole_plot_hints(width: float, machines: Machines, system: System = "metric") -> tuple[str, ...]:
    """What to mind where levels go to whole plots `width` metres wide: each machine that is wider can't part them."""
    unit, factor = shown_in("m", system)
    out = []
    for name in _PASSES:
        own = _finest(machines, name)
        if own is not None and own > width * (1 + 1e-6):
            section = "’s section" if name == "sprayer" and machines.sprayer_section else ""
            more = "" if section or name != "sprayer" else " If sections can be shut off, say how wide one is."
            out.append(
                f"Whole plots are {number(width * factor)} {unit} wide, and the {name}{section} works "
                f"{number(own * factor)} {unit}: two neighbouring whole plots can’t be treated apart by it. Make whole "
                f"plots at least that wide, or use a narrower machine.{more}"
            )
    return tuple(out)


def _whole(ratio: float) -> bool:
    return abs(ratio - round(ratio)) < 0.01


def _narrowest(machines: Machines) -> float | None:
    needed = machines.combine + 2 * GUARD_M if machines.combine is not None else 0.0
    if machines.drill is None:
        return needed or None
    return machines.drill * max(1, math.ceil(needed / machines.drill - 1e-9))
