"""Made-up trials in Harrow Fen, a district that doesn't exist. Seeded: the same on every machine."""

from __future__ import annotations

import uuid
from dataclasses import dataclass, field
from datetime import date, timedelta

import numpy as np

from apercu_core.design.randomisation import randomised_complete_block
from apercu_core.field.layout import PlotSize
from apercu_core.trial.facts import PlotFacts

NAMESPACE = uuid.UUID("7c9e6a52-7f1b-4f0e-9d0a-5d1f6f7b2e11")
WRITTEN_FOR = date(2026, 9, 18)
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
    """Truth of a measure: control mean, effects beside it in the order of TREATMENTS, spreads; margin.

    `cv_percent`: of plots about their mean, without what the counting adds; `catalogue`, `sheet`, `settings`: as asked.
    """

    name: str
    unit: str
    visit: str
    control: float
    effects: tuple[float, float, float, float]
    cv_percent: float
    block_sd: float
    decimals: int
    margin: float
    direction: str
    catalogue: str
    sheet: str
    settings: dict[str, float] = field(default_factory=dict)
    planned: str = "none"


_LAYER = {"depth_from": 0.0, "depth_to": 30.0}
MEASURES = (
    DemoMeasure("Cover biomass", "kg/ha", "Biomass cut", 200, (2000, 1600, 3000, 3400), 18, 100, -1, 1000, "higher",
                "cover-biomass", "figure"),
    DemoMeasure("Soil moisture", "% by volume", "Soil at planting", 27, (-2.6, -1.0, 0.4, -0.2), 7, 1.2, 1, 2.5,
                "higher", "soil-moisture", "soil-layer", _LAYER, "non-inferiority"),
    DemoMeasure("Weeds", "weeds/m²", "Weed count", 41, (-14, -10, -26, -31), 45, 3, 0, 10, "lower", "weeds",
                "frame-count", {"area": 0.25, "frames": 4.0}),
    DemoMeasure("Soil nitrate-N", "kg/ha", "Soil at planting", 46, (-19, 2, -23, -8), 26, 3, 0, 8, "higher",
                "soil-nitrate", "soil-layer", _LAYER),
    DemoMeasure("Potato yield", "t/ha", "Harvest", 44.2, (1.2, 3.0, 0.8, 4.6), 6.5, 0.8, 1, 2.0, "higher",
                "tuber-yield", "fresh-yield"),
)  # fmt: skip
HARVESTED_M2 = 18.0
"""The middle two ridges of a plot, 1.5 × 12 m."""
OPERATIONS = (
    ("till", "Stubble tillage", date(2025, 8, 24), "one pass, 8 cm"),
    ("sow", "Sow the covers", date(2025, 9, 1), "12.5 cm rows; 14 mm of rain the day after"),
    (
        "mow",
        "Flail the covers",
        date(2026, 3, 28),
        "after a mild winter, no night below −4 °C, so that black oat lived",
    ),
    ("till", "Work the covers in", date(2026, 3, 31), "15 cm, all plots alike"),
    ("till", "Make the beds", date(2026, 4, 22), "bed tiller and destoner"),
    ("plant", "Plant the potatoes", date(2026, 4, 25), "75 cm ridges; no nitrogen, so that the covers' own shows"),
    ("spray", "Sprays against blight", date(2026, 6, 12), "the first of nine, all plots alike"),
    ("spray", "Desiccate the haulm", date(2026, 8, 18), "all plots alike"),
    ("harvest", "Lift the potatoes", date(2026, 9, 10), "middle two ridges of each plot"),
)
VISITS = (
    ("Biomass cut", date(2026, 3, 26)),
    ("Soil at planting", None),  # somebody forgot to write the date down
    ("Weed count", date(2026, 5, 28)),
    ("Harvest", date(2026, 9, 10)),
)
STARTS, ENDS = date(2025, 8, 24), date(2026, 9, 16)
SEED = 20250828
SIZE = PlotSize(width=6, length=12, gap=0.5, alley=3)


def plots() -> tuple[PlotFacts, ...]:
    plan = randomised_complete_block(list(TREATMENTS), len(BLOCKS), SEED)
    return tuple(PlotFacts(str(p.number), BLOCKS[p.block - 1], p.treatment, p.position) for p in plan.plots)


def entries(measure: DemoMeasure) -> dict[str, list[dict[str, str]] | str]:
    """Plot label → what was typed into the sheet for each sample, or why nothing was, with the troubles of a season."""
    rng = np.random.default_rng([SEED, MEASURES.index(measure)])
    block = dict(zip(BLOCKS, rng.normal(0, measure.block_sd, len(BLOCKS)), strict=True))
    effect = dict(zip(TREATMENTS, (0.0, *measure.effects), strict=True))
    out: dict[str, list[dict[str, str]] | str] = {}
    for plot in plots():
        mean = max(measure.control + effect[plot.treatment] + block[plot.block], measure.control / 4)
        shape = (100 / measure.cv_percent) ** 2
        out[plot.label] = _typed(measure, mean * float(rng.gamma(shape, 1 / shape)), rng)
    return out | _troubles(measure)


def _typed(measure: DemoMeasure, value: float, rng: np.random.Generator) -> list[dict[str, str]]:
    if measure.sheet == "frame-count":
        counts = rng.poisson(value * measure.settings["area"], int(measure.settings["frames"]))
        return [{"count": str(int(count))} for count in counts]
    if measure.sheet == "fresh-yield":
        return [{"mass": f"{value * HARVESTED_M2 / 10:.1f}", "area": f"{HARVESTED_M2:g}"}]
    return [{"value": f"{round(value, measure.decimals):.{max(measure.decimals, 0)}f}"}]


def _plot(block: str, treatment: str) -> str:
    return next(p.label for p in plots() if (p.block, p.treatment) == (block, treatment))


def _troubles(measure: DemoMeasure) -> dict[str, list[dict[str, str]] | str]:
    """A drain trenched through a plot in January, hail on a corner in July, a failed cover, a point left out."""
    trenched: dict[str, list[dict[str, str]] | str] = {
        _plot("C", "Balansa clover"): "Trenched for a drain on 9 January"
    }
    match measure.name:
        case "Cover biomass":  # the clover of block A never came: a zero, not a gap
            return {**trenched, _plot("A", "Balansa clover"): [{"value": "0"}]}
        case "Soil nitrate-N":
            return {**trenched, _plot("B", "Winter camelina"): [{"value": "264"}]}
        case "Potato yield":
            corner = max((p for p in plots() if p.block == "D"), key=lambda p: p.position or 0).label
            return {**trenched, corner: "Hail on 11 July broke the haulm in this corner"}
        case _:
            return trenched


def shift_to(today: date) -> timedelta:
    return today - WRITTEN_FOR


def shifted_day(day: str, shift: timedelta) -> str:
    """A usual frost, "MM-DD", moved like all dates of the demo, so that it still fits what was done."""
    month, of_month = (int(part) for part in day.split("-"))
    return f"{date(2025, month, of_month) + shift:%m-%d}"
