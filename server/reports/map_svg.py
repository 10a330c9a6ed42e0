"""The plot map as a still picture for print: to scale, treatments by colour, pattern and code."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from django.template.loader import render_to_string
from django.utils.safestring import SafeString, mark_safe

from apercu_core.units import System, shown_in

HUES = ("#6F6A61", "#96610F", "#4E7A3A", "#33608F", "#7C4A84", "#A13F57", "#20756F", "#8A4A2B", "#555C9E", "#6E6C14")
COLOUR_NAMES = (
    "grey", "ochre, slanted lines", "green, dots", "blue, upright lines", "purple, crossed lines", "red, level lines",
    "teal, back-slanted lines", "rust, large dots", "indigo, bricks", "olive, waves",
)  # fmt: skip
"""What a person without a picture would call each treatment's colour and pattern."""
_MARKS = (
    "",
    "<path d='M-2 2l4-4M0 8l8-8M6 10l4-4'/>",
    "<circle cx='2' cy='2' r='1.1'/><circle cx='6' cy='6' r='1.1'/>",
    "<path d='M2 0v8M6 0v8'/>",
    "<path d='M0 0l8 8M8 0l-8 8'/>",
    "<path d='M0 2h8M0 6h8'/>",
    "<path d='M-2 6l4 4M0 0l8 8M6-2l4 4'/>",
    "<circle cx='4' cy='4' r='2.2'/>",
    "<path d='M0 1h8M0 5h8M2 1v4M6 5v4'/>",
    "<path d='M0 3q2-3 4 0t4 0M0 7q2-3 4 0t4 0'/>",
)


_BELOW = 24
"""CSS pixels under the plots for the scale bar and north."""


@dataclass(frozen=True, slots=True)
class Look:
    """Colour and mark of the treatment at `index`; after ten, colours come again with other marks."""

    index: int

    @property
    def hue(self) -> str:
        return HUES[self.index % len(HUES)]

    @property
    def mark(self) -> SafeString:
        turn = self.index // len(HUES)
        return mark_safe(_MARKS[(self.index + turn * 3) % len(_MARKS)])


def map_svg(units: Sequence[Any], treatments: Sequence[Any], *, width: float, height: float, bearing: float,
            system: System, black: bool = False) -> SafeString:  # fmt: skip
    """`units`: plots with their ground; `width`, `height`: most that the picture may take, in CSS pixels.

    `black`: for a printer without colour; the patterns tell treatments apart.
    """
    grounds = [unit.ground for unit in units]
    if not grounds:
        return SafeString()
    across = max(g.x_m + g.width_m for g in grounds)
    along = max(g.y_m + g.length_m for g in grounds)
    scale = min(width / across, (height - _BELOW) / along)
    looks = {t.id: (Look(i), t.code) for i, t in enumerate(treatments)}
    shown: dict[str, Any] = {
        "width": across * scale, "height": along * scale + _BELOW, "black": black,
        "looks": [look for look, _ in looks.values()],
        "plots": [_plot(unit, *looks[unit.treatment_id], along, scale) for unit in units],
    }  # fmt: skip
    if not grounds[0].schematic:
        shown["bar"] = _bar(scale, along * scale, system)
        shown["north"] = {"x": across * scale - 10, "y": along * scale + 13, "turn": f"{-bearing:g}"}
    return render_to_string("reports/map.svg", shown)


def swatch_svg(index: int, code: str, *, black: bool = False) -> SafeString:
    """A treatment's sign for the key beside the map."""
    width = max(34, 14 + 6 * len(code))  # room for a long code
    sizes = {"width": width, "edge": width - 1, "card": width - 8, "middle": width / 2}
    return render_to_string("reports/swatch.svg", {"look": Look(index), "code": code, "black": black, **sizes})


def key_of(treatments: Sequence[Any], *, black: bool = False) -> list[tuple[str, SafeString]]:
    """Names and signs of treatments, by their order in the trial."""
    return [(t.name, swatch_svg(i, t.code, black=black)) for i, t in enumerate(treatments)]


def _plot(unit: Any, look: Look, code: str, along: float, scale: float) -> dict[str, Any]:
    """Where a plot, and the card with its number and code, lie in the picture."""
    g = unit.ground
    x, y = g.x_m * scale, (along - g.y_m - g.length_m) * scale
    w, h = g.width_m * scale, g.length_m * scale
    size = max(5.0, min(9.0, w / 4))
    return {
        "look": look, "x": x, "y": y, "width": w, "height": h, "middle": x + w / 2,
        "card": {"x": x + 2, "y": y + h / 2 - 1.3 * size, "width": w - 4, "height": 2.6 * size},
        "label": unit.label, "label_y": y + h / 2 - 0.2 * size, "label_size": size * 0.85,
        "code": code, "code_y": y + h / 2 + 0.95 * size,
        "code_size": min(size, (w - 6) / (0.62 * max(1, len(code)))),
    }  # fmt: skip


def _bar(scale: float, top: float, system: System) -> dict[str, Any]:
    unit, factor = shown_in("m", system)
    per_unit = scale / factor
    length = max(
        (step * 10**power for power in range(-1, 5) for step in (1, 2, 5) if step * 10**power * per_unit <= 90),
        default=0.1,
    )
    end = length * per_unit
    return {"top": top + 8, "end": end, "text_x": end + 5, "text_y": top + 14, "says": f"{length:g} {unit}"}
