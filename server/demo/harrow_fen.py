"""Made-up trials in Harrow Fen, a district that doesn't exist. Seeded: the same on every machine."""

from __future__ import annotations

import uuid
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from apercu_core.design.layout import PlotSize
from apercu_core.design.randomisation import randomised_complete_block
from apercu_core.doubts.doubt import PlotFacts

NAMESPACE = uuid.UUID("7c9e6a52-7f1b-4f0e-9d0a-5d1f6f7b2e11")
WRITTEN_FOR = date(2026, 10, 20)
"""The demo's own today; at loading, all dates shift so that it falls on the real one."""

BLOCKS = "ABCD"
TREATMENTS = {
    "Bare stubble": "BS",
    "Winter camelina": "WC",
    "Balansa clover": "BC",
    "Black oat": "BO",
    "Oat + clover": "OC",
}


@dataclass(frozen=True, slots=True)
class DemoMeasure:
    """Truth of a measure: control mean, effects beside it in the order of TREATMENTS, spreads; margin, direction."""

    name: str
    unit: str
    visit: str
    control: float
    effects: tuple[float, float, float, float]
    plot_sd: float
    block_sd: float
    decimals: int
    margin: float
    direction: str
    planned: str = "none"


MEASURES = (
    DemoMeasure("Cover biomass", "t/ha", "Cover biomass", 0.15, (2.0, 1.5, 3.8, 4.4), 0.28, 0.15, 2, 1.0, "higher"),
    DemoMeasure("Soil moisture, May", "% by volume", "Soil in May", 27, (-2.6, -1.0, 0.4, -0.2), 1.9, 1.2, 1, 2.5,
                "higher",
                "non-inferiority"),
    DemoMeasure("Weeds, June", "weeds/m²", "Weeds 1", 41, (-14, -10, -26, -31), 5.2, 4, 0, 10, "lower"),
    DemoMeasure("Soil nitrate-N", "kg/ha", "Soil in May", 46, (-19, 2, -23, -8), 4.2, 3, 0, 8, "higher"),
    DemoMeasure("Potato yield", "t/ha", "Harvest", 44.2, (1.9, 4.1, 1.0, 5.6), 0.95, 0.8, 1, 2.0, "higher"),
)  # fmt: skip
OPERATIONS = (
    ("sow", "Sow the covers", date(2025, 9, 1), "12.5 cm rows; 14 mm of rain the day after"),
    ("kill", "Crimp and mow", date(2026, 4, 20), "two passes"),
    ("plant", "Plant the potatoes", date(2026, 4, 30), "75 cm ridges"),
    ("harvest", "Lift the potatoes", date(2026, 10, 6), "middle two ridges of each plot"),
)
VISITS = (
    ("Cover biomass", date(2026, 4, 17)),
    ("Soil in May", None),  # somebody forgot to write the date down
    ("Weeds 1", date(2026, 6, 24)),
    ("Harvest", date(2026, 10, 6)),
)
STARTS, ENDS = date(2025, 8, 28), date(2026, 10, 14)
SEED = 20250828
SIZE = PlotSize(width=6, length=12, gap=0.5, alley=3)


def plots() -> tuple[PlotFacts, ...]:
    plan = randomised_complete_block(list(TREATMENTS), len(BLOCKS), SEED)
    return tuple(PlotFacts(str(p.number), BLOCKS[p.block - 1], p.treatment, p.position) for p in plan.plots)


def samples(measure: DemoMeasure) -> dict[str, list[tuple[float | None, str]]]:
    """Plot label → (value, why it is missing), with the troubles of a real season."""
    rng = np.random.default_rng([SEED, MEASURES.index(measure)])
    block = dict(zip(BLOCKS, rng.normal(0, measure.block_sd, len(BLOCKS)), strict=True))
    effect = dict(zip(TREATMENTS, (0.0, *measure.effects), strict=True))
    out: dict[str, list[tuple[float | None, str]]] = {}
    for plot in plots():
        value = measure.control + effect[plot.treatment] + block[plot.block] + float(rng.normal(0, measure.plot_sd))
        out[plot.label] = [(round(max(value, 0.0), measure.decimals), "")]
    for label, trouble in _troubles(measure).items():
        out[label] = [trouble]
    return out


def _plot(block: str, treatment: str) -> str:
    return next(p.label for p in plots() if (p.block, p.treatment) == (block, treatment))


def _troubles(measure: DemoMeasure) -> dict[str, tuple[float | None, str]]:
    """A drain trenched through a plot in January, hail on a corner in July, a failed cover, an odd count."""
    trenched: dict[str, tuple[float | None, str]] = {
        _plot("C", "Balansa clover"): (None, "Trenched for a drain on 9 January")
    }
    match measure.name:
        case "Cover biomass":  # the clover of block A never came: a zero, not a gap
            return {**trenched, _plot("A", "Balansa clover"): (0.0, "")}
        case "Weeds, June":
            return {**trenched, _plot("B", "Winter camelina"): (88.0, "")}
        case "Potato yield":
            corner = max((p for p in plots() if p.block == "D"), key=lambda p: p.position or 0).label
            return {**trenched, corner: (None, "Hail on 11 July broke the haulm in this corner")}
        case _:
            return trenched


def shift_to(today: date) -> timedelta:
    return today - WRITTEN_FOR
