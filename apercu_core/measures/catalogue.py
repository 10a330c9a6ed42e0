"""The measures that ship with the application, as data.

Ranges are rules of thumb of our own for temperate arable ground: outside `plausible` a value is questioned, outside
`possible` refused. `cv_percent` is a rule of thumb for the spread between plots of a block, to plan with until the
workspace has trials of its own.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from apercu_core.measures.sheets import SHEETS, Sheet
from apercu_core.power.effort import Effort
from apercu_core.units import unit_of
from apercu_core.verdicts.verdict import Direction

ValueKind = Literal["continuous", "count"]


@dataclass(frozen=True, slots=True)
class Definition:
    """A measure. `usual`: a common value under the control, to start planning with; all ranges in `unit`.

    `spread`: lowest and highest coefficient of variation of plots in a block that is usual, %, from experience.
    `minutes`: for one plot, and for one sample in it. `depends`: why only the person can say in which direction it is
    better; `direction` is then "none". `zero_when`: what became of a plot that makes it a true zero: a failed cover, of
    what is measured on the cover itself. Weeds, soil, crop and yield of such a plot are still to be observed. `also`: other names that mean it beyond doubt.
    `frames`: per plot to start from, where the sheet's usual number is too few.
    """

    key: str
    name: str
    unit: str
    kind: ValueKind
    sheet_key: str
    direction: Direction
    usual: float
    cv_percent: float
    spread: tuple[float, float]
    plausible: tuple[float, float]
    possible: tuple[float, float]
    minutes: tuple[float, float]
    pitfall: str
    zero_when: tuple[str, ...] = ()
    depends: str = ""
    also: tuple[str, ...] = ()
    frames: int | None = None

    @property
    def sheet(self) -> Sheet:
        return SHEETS[self.sheet_key]

    @property
    def settings(self) -> dict[str, float]:
        """Settings of its sheet that it starts from, where they aren't the sheet's own usual ones."""
        return {} if self.frames is None else {"frames": float(self.frames)}

    @property
    def effort(self) -> Effort:
        return Effort(*self.minutes)

    @property
    def group(self) -> str:
        """What it is measured on: a board with many measures is parted by it."""
        return next((group for group, keys in _GROUPS.items() if self.key in keys), OTHER)

    @property
    def spread_basis(self) -> str:
        """Where the coefficient of variation comes from, as it is said beside it."""
        low, high = self.spread
        return f"from experience, {low:g} to {high:g} % is usual"


OTHER = "Other"
_GROUPS = {
    "Cover": ("stand", "cover-biomass", "height"), "Weeds": ("weeds",), "Soil": ("soil-moisture", "soil-nitrate"),
    "Crop": ("crop-stand", "crop-height", "grain-yield", "tuber-yield", "root-yield", "bulb-yield"),
}  # fmt: skip

CATALOGUE: dict[str, Definition] = {
    d.key: d
    for d in (
        Definition(
            "stand", "Cover stand", "plants/m²", "count", "frame-count", "higher", 250, 20, (12, 30), (0, 1500), (0, 1e5),
            (2, 3), "Count 3 to 4 weeks after sowing. Put frames down at random; the side of a frame is a multiple of the "
            "row spacing, or count a length of row.", ("failed",), also=("Plant stand",), frames=4),
        Definition(
            "crop-stand", "Crop stand", "plants/m²", "count", "frame-count", "higher", 250, 12, (6, 20), (0, 1000), (0, 1e5),
            (2, 3), "Count once the crop has emerged. In wide rows count 3 to 5 m of row, not a square frame."),
        Definition(
            "weeds", "Weeds", "weeds/m²", "count", "frame-count", "lower", 40, 60, (40, 80), (0, 2000), (0, 1e5), (3, 4),
            "Count before the crop’s first herbicide, and say from which size on. Frames in one plot are samples of it, "
            "not replicates.", frames=6),
        Definition(
            "cover-biomass", "Cover biomass", "kg/ha", "continuous", "figure", "higher", 2000, 20, (12, 30), (0, 20_000),
            (0, 40_000),
            (5, 10), "Above-ground dry matter, weeds apart, cut just before the cover is ended. Dry at 60 to 65 °C until "
            "the mass stays the same.", ("failed",)),
        Definition(
            "soil-moisture", "Soil moisture", "% by volume", "continuous", "soil-layer", "none", 25, 7, (5, 12), (3, 75),
            (0, 100), (3, 1), "Same depth and same hour in every plot."),
        Definition(
            "soil-nitrate", "Soil nitrate-N", "kg/ha", "continuous", "soil-layer", "none", 45, 30, (20, 45), (0, 300),
            (0, 1500), (8, 1), "10 to 20 cores a plot, clear of fertiliser bands and wheelings. Keep samples at 4 °C or "
            "below and extract them soon, or freeze them.",
            depends="More is better where it feeds the next crop. Less is better in autumn, when it can leach."),
        Definition(
            "height", "Cover height", "cm", "continuous", "figure", "none", 40, 10, (6, 15), (0, 350), (0, 1000), (3, 1),
            "Mean of several plants chosen at random; natural height, not stretched.", ("failed",), also=("Plant height",)),
        Definition(
            "crop-height", "Crop height", "cm", "continuous", "figure", "none", 60, 8, (4, 12), (0, 350), (0, 1000), (3, 1),
            "Mean of several plants chosen at random; natural height, not stretched."),
        Definition(
            "grain-yield", "Grain yield", "t/ha", "continuous", "moist-yield-strip", "higher", 7, 6, (4, 10), (0.2, 20), (0, 40),
            (6, 1), "Measure the harvested length again after alleys are cut. On long strips plots vary by about 8 %."),
        Definition(
            "tuber-yield", "Tuber yield", "t/ha", "continuous", "fresh-yield-strip", "higher", 44, 9, (6, 12), (2, 110), (0, 300),
            (12, 3), "Lift from the middle of the plot, away from its edges. Say which grades count, and take soil off."),
        Definition(
            "root-yield", "Root yield", "t/ha", "continuous", "fresh-yield-strip", "higher", 75, 6, (5, 8), (5, 160), (0, 400),
            (12, 3), "Clean mass without tops and soil."),
        Definition(
            "bulb-yield", "Bulb yield", "t/ha", "continuous", "fresh-yield-strip", "higher", 45, 11, (8, 14), (2, 110), (0, 300),
            (12, 3), "Say whether fresh from the field or dried."),
    )
}  # fmt: skip


def group_of(key: str) -> str:
    """What a measure of the catalogue is measured on; `Other` for one's own."""
    known = CATALOGUE.get(key)
    return known.group if known else OTHER


def definition(key: str) -> Definition | None:
    """The shipped measure of that key, if there is one."""
    return CATALOGUE.get(key)


def definition_named(name: str, unit: str) -> Definition | None:
    """The shipped measure that a column's name and unit mean beyond doubt; None where several could be meant."""
    plain = name.strip().casefold()
    for known in CATALOGUE.values():
        names = (known.name, known.key.replace("-", " "), *known.also)
        if plain in (name.casefold() for name in names) and measures_alike(unit, known.unit):
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
    return known is not None and "failed" in known.zero_when
