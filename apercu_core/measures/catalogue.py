"""The measures that ship with the application, as data.

Ranges are rules of thumb of our own for temperate arable ground: outside `plausible` a figure is questioned, outside
`possible` refused. `cv_percent` is a rule of thumb for the spread between plots of a block, to plan with until the
workspace has trials of its own.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from apercu_core.measures.sheets import SHEETS, Sheet
from apercu_core.units import unit_of
from apercu_core.verdicts.verdict import Direction

Kind = Literal["continuous", "count"]


@dataclass(frozen=True, slots=True)
class Definition:
    """A measure. `usual`: a common value under the control, to start planning with; all ranges in `unit`.

    `of_cover`: it is measured on the cover itself (its stand, biomass, height), so that a cover that failed is a true
    zero. Weeds, soil, crop and yield of such a plot are still to be observed.
    """

    key: str
    name: str
    unit: str
    kind: Kind
    sheet_key: str
    direction: Direction
    usual: float
    cv_percent: float
    plausible: tuple[float, float]
    possible: tuple[float, float]
    pitfall: str
    of_cover: bool = False

    @property
    def sheet(self) -> Sheet:
        return SHEETS[self.sheet_key]


_MANY = 1e6
CATALOGUE: dict[str, Definition] = {
    d.key: d
    for d in (
        Definition("stand", "Plant stand", "plants/m²", "count", "frame-count", "higher", 250, 15, (0, 1500), (0, 1e5),
                   "Put the frame down where chance says, not where the crop looks typical.", True),
        Definition("weeds", "Weeds", "weeds/m²", "count", "frame-count", "lower", 40, 30, (0, 800), (0, 1e5),
                   "Frames in one plot are samples of it, not replicates."),
        Definition("cover-biomass", "Cover biomass", "t/ha", "continuous", "figure", "higher", 2, 20, (0, 12), (0, 60),
                   "Dry matter, cut just before the cover is killed.", True),
        Definition("soil-moisture", "Soil moisture", "% by volume", "continuous", "figure", "none", 25, 8, (3, 55),
                   (0, 100), "Same depth and same day in every plot."),
        Definition("soil-nitrate", "Soil nitrate-N", "kg/ha", "continuous", "figure", "higher", 45, 18, (0, 300),
                   (0, 5000), "Keep samples cool, and say to which depth."),
        Definition("height", "Plant height", "cm", "continuous", "figure", "none", 40, 10, (0, 250), (0, 1000),
                   "Mean of several plants chosen by chance.", True),
        Definition("grain-yield", "Grain yield", "t/ha", "continuous", "moist-yield", "higher", 7, 6, (0.2, 16),
                   (0, 40), "Measure the harvested length again after alleys are cut."),
        Definition("tuber-yield", "Tuber yield", "t/ha", "continuous", "fresh-yield", "higher", 44, 6, (2, 110),
                   (0, 300), "Lift from the middle of the plot, away from its edges."),
        Definition("root-yield", "Root yield", "t/ha", "continuous", "fresh-yield", "higher", 75, 6, (5, 160),
                   (0, 400), "Clean mass without tops."),
        Definition("bulb-yield", "Bulb yield", "t/ha", "continuous", "fresh-yield", "higher", 45, 8, (2, 110),
                   (0, 300), "Say whether fresh from the field or dried."),
    )
}  # fmt: skip


def definition(key: str) -> Definition | None:
    """The shipped measure of that key, if there is one."""
    return CATALOGUE.get(key)


def definition_named(name: str, unit: str) -> Definition | None:
    """The shipped measure that a column's name and unit mean beyond doubt; None where several could be meant."""
    plain = name.strip().casefold()
    for known in CATALOGUE.values():
        if plain in (known.name.casefold(), known.key.replace("-", " ")) and measures_alike(unit, known.unit):
            return known
    return None


def measures_alike(unit: str, known: str) -> bool:
    """Whether values in `unit` can be turned into `known`; things counted are alike by whatever name (`1/m²`)."""
    if not unit:
        return False
    given, wanted = unit_of(unit), unit_of(known)
    return given.dimension == wanted.dimension


def zero_when_failed(catalogue: str) -> bool:
    """Whether a plot whose cover failed counts as zero; never for a measure that isn't in the catalogue."""
    known = definition(catalogue)
    return known is not None and known.of_cover
