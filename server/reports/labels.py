"""Stake labels: one a plot, on the usual label sheets or on plain paper to cut."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import segno

from crew.models import Person
from reports.map_svg import COLOUR_NAMES, swatch_svg
from reports.printing import document_of, pdf_of, printed
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
    labels = [label_at(u, n, order, sheet, walk + u.label) for n, u in enumerate(plots)]
    return labels_pdf(labels, season, sheet, "Stake labels")


def labels_pdf(labels: list[dict[str, Any]], season: Season, sheet: Sheet, title: str) -> bytes:
    """`labels`: from `label_at`, in order."""
    on_a_page = sheet.across * sheet.down
    code = min(34, sheet.label[1] - 7)
    shown = {
        "title": title, "trial": season.trial, "sheet": sheet, "code": code, "words": sheet.label[0] - code - 8,
        "plot": min(40, sheet.label[1] * 0.62), "named": sheet.label[1] >= 30,
        "sheets": [labels[at : at + on_a_page] for at in range(0, len(labels), on_a_page)],
    }  # fmt: skip
    return pdf_of(document_of(printed("labels.html", shown)))


def label_at(unit: Unit, n: int, order: dict[Any, int], sheet: Sheet, address: str) -> dict[str, Any]:
    """What the n-th label says, and where it lies on its page, millimetres."""
    row, column = divmod(n % (sheet.across * sheet.down), sheet.across)
    treatment = unit.treatment
    assert treatment
    index = order[treatment.id]
    return {
        "left": sheet.margin[0] + column * (sheet.label[0] + sheet.gap),
        "top": sheet.margin[1] + row * sheet.label[1],
        "plot": unit.label, "block": unit.block, "treatment": treatment.name,
        "colour": COLOUR_NAMES[index % len(COLOUR_NAMES)], "swatch": swatch_svg(index, treatment.code),
        "qr": segno.make(address, error="m", micro=False).png_data_uri(scale=8, border=1),
    }  # fmt: skip
