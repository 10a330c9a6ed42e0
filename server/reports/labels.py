"""Stake labels: one a plot, on the usual label sheets or on plain paper to cut."""

from __future__ import annotations

from dataclasses import dataclass
from html import escape
from typing import Any

import segno

from crew.models import Person
from reports.map_svg import COLOUR_NAMES, swatch_svg
from reports.printing import document_of, font_face, pdf_of
from reports.stake_out import staked_plots
from trials.models import Season, Unit


@dataclass(frozen=True, slots=True)
class Sheet:
    """A label sheet, millimetres: page, labels across and down, margins and gaps."""

    name: str
    page: tuple[float, float]
    across: int
    down: int
    label: tuple[float, float]
    margin: tuple[float, float]
    gap: float = 0.0


A4, LETTER = (210.0, 297.0), (215.9, 279.4)
SHEETS = {
    "a4-3x7": Sheet("A4, 3 × 7 labels of 63.5 × 38.1 mm", A4, 3, 7, (63.5, 38.1), (7.2, 15.15), 2.5),
    "a4-2x5": Sheet("A4, 2 × 5 labels of 99.1 × 57 mm", A4, 2, 5, (99.1, 57.0), (4.65, 6.0), 2.5),
    "letter-3x10": Sheet("Letter, 3 × 10 labels of 2⅝ × 1 in", LETTER, 3, 10, (66.7, 25.4), (4.8, 12.7), 3.2),
    "a4": Sheet("A4, plain, 2 × 4 to cut", A4, 2, 4, (95.0, 68.0), (10.0, 12.5)),
    "letter": Sheet("Letter, plain, 2 × 4 to cut", LETTER, 2, 4, (98.0, 63.0), (9.9, 13.7)),
}


def stake_labels(*, by: Person, season: Season, sheet: Sheet, address: str) -> bytes:
    """One label a plot, in walking order of the numbers: plot, code, colour name and pattern, and the plot's QR."""
    plots = staked_plots(by, season)
    order = {t.id: i for i, t in enumerate(season.trial.treatments.all())}
    site = f"site={season.site_id}&" if season.trial.seasons.count() > 1 else ""
    walk = f"{address}/trials/{season.trial_id}/walk?{site}plot="
    labels = "".join(_label(u, n, order, sheet, walk + u.label) for n, u in enumerate(plots))
    page, label = sheet.page, sheet.label
    code = min(34, label[1] - 7)
    style = (
        font_face()
        + f"""
@page {{size: {page[0]}mm {page[1]}mm; margin: 0}}
html {{font: 9pt/1.25 Page, sans-serif; color: #20262B}} body {{margin: 0}}
.sheet {{position: relative; height: {page[1]}mm; break-after: page}} .sheet:last-child {{break-after: auto}}
.label {{position: absolute; width: {label[0]}mm; height: {label[1]}mm; overflow: hidden}}
.words {{position: absolute; top: 2.5mm; left: 3mm; width: {label[0] - code - 8:.1f}mm}}
.plot {{font-size: {min(40, label[1] * 0.62):.0f}pt; font-weight: 800; line-height: 1}}
.small {{font-size: 7.5pt; color: #444C52}}
img.qr {{position: absolute; top: 2.5mm; right: 3mm; width: {code:.1f}mm; height: {code:.1f}mm;
  image-rendering: pixelated}}
"""
    )
    title = escape(f"Stake labels, {season.trial.name}")
    return pdf_of(
        document_of(
            f"<!doctype html><html lang='en'><head><meta charset='utf-8'><title>{title}</title><style>{style}</style>"
            f"</head><body><div class='sheet'>{labels}</div></body></html>"
        )
    )


def _label(unit: Unit, n: int, order: dict[Any, int], sheet: Sheet, address: str) -> str:
    """The n-th label; the first of a page after the first begins the next one."""
    t, place = unit.treatment, n % (sheet.across * sheet.down)
    row, column = divmod(place, sheet.across)
    left = sheet.margin[0] + column * (sheet.label[0] + sheet.gap)
    top = sheet.margin[1] + row * sheet.label[1]
    turn = "</div><div class='sheet'>" if n and not place else ""
    assert t
    index = order[t.id]
    code = segno.make(address, error="m", micro=False).png_data_uri(scale=8, border=1)
    block = f"block {escape(unit.block)}" if unit.block else ""
    small = sheet.label[1] < 30
    name = "" if small else f"<div>{escape(t.name)}</div>"
    return (
        f"{turn}<div class='label' style='left: {left:.2f}mm; top: {top:.2f}mm'>"
        f"<div class='words'><div class='plot'>{escape(unit.label)}</div>"
        f"<div>{swatch_svg(index, t.code)} {escape(COLOUR_NAMES[index % len(COLOUR_NAMES)])}</div>{name}"
        f"<div class='small'>{block}</div></div>"
        f"<img class='qr' alt='Opens plot {escape(unit.label)}' src='{code}'></div>"
    )
