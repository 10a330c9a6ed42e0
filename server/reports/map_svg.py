"""The plot map as a still picture for print: to scale, treatments by colour, pattern and code."""

from __future__ import annotations

from collections.abc import Sequence
from html import escape
from typing import Any

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


def map_svg(units: Sequence[Any], treatments: Sequence[Any], *, width: float, height: float, bearing: float,
            system: System, black: bool = False) -> str:  # fmt: skip
    """`units`: plots with their ground; `width`, `height`: most that the picture may take, in CSS pixels.

    `black`: for a printer without colour; the patterns tell treatments apart.
    """
    grounds = [unit.ground for unit in units]
    if not grounds:
        return ""
    across = max(g.x_m + g.width_m for g in grounds)
    along = max(g.y_m + g.length_m for g in grounds)
    scale = min(width / across, (height - 24) / along)
    order = {t.id: i for i, t in enumerate(treatments)}
    codes = {t.id: t.code for t in treatments}
    body = [_plot(u, order[u.treatment_id], codes[u.treatment_id], along, scale, black) for u in units]
    drawn = along * scale
    foot = "" if grounds[0].schematic else _bar(scale, drawn, system) + _north(across * scale, drawn, bearing)
    defs = "".join(_pattern(i, black) for i in range(len(treatments)))
    return (
        f"<svg xmlns='http://www.w3.org/2000/svg' width='{across * scale:.1f}' height='{drawn + 24:.1f}' "
        f"font-family='Page, sans-serif' role='img' aria-label='Plot map'><defs>{defs}</defs>"
        f"{''.join(body)}{foot}</svg>"
    )


def swatch_svg(index: int, code: str, *, black: bool = False) -> str:
    """A treatment's sign for the key beside the map."""
    text = f"<text x='17' y='12' text-anchor='middle' font-size='9' font-weight='700' fill='#20262B'>{escape(code)}"
    worn = _worn(index, "x='.5' y='.5' width='33' height='16' rx='3'", black)
    return (
        "<svg xmlns='http://www.w3.org/2000/svg' width='34' height='17' font-family='Page, sans-serif'>"
        f"<defs>{_pattern(index, black)}</defs>{worn}"
        f"<rect x='4' y='3' width='26' height='11' rx='2' fill='#fff'/>{text}</text></svg>"
    )


def _wear(i: int) -> tuple[str, str]:
    """Colour and mark of the i-th treatment; after ten, colours come again with other marks."""
    turn, hue = divmod(i, len(HUES))
    return HUES[hue], _MARKS[(i + turn * 3) % len(_MARKS)]


def _pattern(i: int, black: bool) -> str:
    """The marks alone: a tile with a ground of its own would show its seams in print."""
    return (
        f"<pattern id='w{i}' width='8' height='8' patternUnits='userSpaceOnUse'>"
        f"<g stroke='{'#20262B' if black else '#ffffff'}' stroke-opacity='.55' stroke-width='1.5' fill='none'>"
        f"{_wear(i)[1]}</g></pattern>"
    )


def _worn(i: int, where: str, black: bool = False) -> str:
    """A rectangle in the treatment's colour, and its marks over it."""
    hue, mark = _wear(i)
    dress = "fill='#ffffff' stroke='#20262B' stroke-width='.8'" if black else f"fill='{hue}'"
    return f"<rect {where} {dress}/>" + (f"<rect {where} fill='url(#w{i})'/>" if mark else "")


def _plot(unit: Any, index: int, code: str, along: float, scale: float, black: bool) -> str:
    g = unit.ground
    x, y = g.x_m * scale, (along - g.y_m - g.length_m) * scale
    w, h = g.width_m * scale, g.length_m * scale
    size = max(5.0, min(9.0, w / 4))
    middle = f"x='{x + w / 2:.1f}' text-anchor='middle' fill='#20262B'"
    return (
        _worn(index, f"x='{x:.1f}' y='{y:.1f}' width='{w:.1f}' height='{h:.1f}' rx='2'", black)
        + f"<rect x='{x + 2:.1f}' y='{y + h / 2 - 1.3 * size:.1f}' width='{w - 4:.1f}' height='{2.6 * size:.1f}' "
        f"rx='2' fill='#ffffff' fill-opacity='.93'/>"
        f"<text {middle} y='{y + h / 2 - 0.2 * size:.1f}' font-size='{size * 0.85:.1f}'>{escape(unit.label)}</text>"
        f"<text {middle} y='{y + h / 2 + 0.95 * size:.1f}' font-size='{size:.1f}' font-weight='700'>{escape(code)}"
        f"</text>"
    )


def _bar(scale: float, top: float, system: System) -> str:
    unit, factor = shown_in("m", system)
    per_unit = scale / factor
    length = max(
        (step * 10**power for power in range(-1, 5) for step in (1, 2, 5) if step * 10**power * per_unit <= 90),
        default=0.1,
    )
    end = length * per_unit
    return (
        f"<path d='M0 {top + 8:.1f}v5h{end:.1f}v-5' fill='none' stroke='#20262B'/>"
        f"<text x='{end + 5:.1f}' y='{top + 14:.1f}' font-size='8' fill='#20262B'>{length:g} {unit}</text>"
    )


def _north(right: float, top: float, bearing: float) -> str:
    return (
        f"<g transform='translate({right - 10:.1f} {top + 13:.1f}) rotate({-bearing:g})'>"
        "<path d='M0 -8l4 14-4-4-4 4z' fill='#20262B'/></g>"
    )
