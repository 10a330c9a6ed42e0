"""Sheets as data: which values a person types in a plot, how they are checked, and the value that they make.

Formulas and conditions are written in JSONata (`measures.expressions`), over the sheet's fields and settings by their
keys, so that a device without a network works them out as the server does.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

Settings = Mapping[str, float]
FieldKind = Literal["number", "whole", "choice", "scale", "text", "moment", "readings"]
"""`whole`: counted; `choice`: one of `choices`; `scale`: a grade, between ends that the sheet names; `moment`: date and
time of day; `readings`: several numbers in one field, parted by blanks or semicolons.
"""


@dataclass(frozen=True, slots=True)
class SheetField:
    """One value of a sheet. `least`, `most`: its limits, None where there is none; `above`: it must be more than
    `least`, not just reach it.
    """

    key: str
    name: str
    unit: str
    least: float | None = 0.0
    most: float | None = None
    kind: FieldKind = "number"
    above: bool = False
    choices: tuple[str, ...] = ()

    @property
    def whole(self) -> bool:
        return self.kind == "whole"


@dataclass(frozen=True, slots=True)
class Setting:
    """A value that holds for the whole visit, such as the area of the quadrat. `usual` None: it has to be said, unless
    it is `optional`: then it isn't kept where nobody says it.

    `hint`: what is common, in words.
    """

    key: str
    name: str
    unit: str
    usual: float | None
    least: float
    most: float
    hint: str = ""
    optional: bool = False


@dataclass(frozen=True, slots=True)
class Check:
    """What can't be. `wrong`: the condition under which it is refused; `say`: the message, with values in braces."""

    wrong: str
    say: str


@dataclass(frozen=True, slots=True)
class Derived:
    """A further value that is worked out and shown beside the entry's own."""

    key: str
    name: str
    unit: str
    formula: str


@dataclass(frozen=True, slots=True)
class Sheet:
    """`formula`: makes the value; `said`: the same in words; `makes`: the unit that it comes out in, `1/m²` for things
    counted, empty where it is that of what is typed. `sampled`: several entries per plot are wanted, whose mean is the
    plot's value. `values`: what they are (`count`, `percentage`, `score`, `k-of-n`), where the sheet settles it; else
    name and unit do. `parts`: what kind of component an entry is told by, if any. `area`: what one sample of a count is
    taken from, m². `possible`: ends of what the value can be, None where there are none.
    """

    key: str
    name: str
    fields: tuple[SheetField, ...]
    settings: tuple[Setting, ...]
    formula: str
    said: str
    makes: str = ""
    values: str = ""
    sampled: bool = False
    parts: str = ""
    area: str = ""
    possible: tuple[str, str] | None = None
    checks: tuple[Check, ...] = ()
    setting_checks: tuple[Check, ...] = ()
    derived: tuple[Derived, ...] = ()


_DEPTHS = (
    Setting("depth_from", "From depth", "cm", 0, 0, 300),
    Setting("depth_to", "To depth", "cm", None, 1, 300, "30, 60 or 90 cm are common."),
)
_LAYER = Check("depth_from >= depth_to", "The layer ends above where it begins. Type the deeper end as 'to depth'.")
FRAMES = Setting("frames", "Frames per plot", "", 3, 1, 24)
_STANDARD = Setting(
    "standard", "Standard moisture", "%", None, 0, 60,
    "Maize 15.5, soybean 13, wheat 13.5, barley 14 to 15, by country: take your buyer’s.",
)  # fmt: skip
_BUSHEL = Setting(
    "bushel", "Bushel mass", "lb", None, 10, 100,
    "Pounds in a standard bushel, so that yields are shown in bu/ac: maize and rye 56, wheat and soybean 60, barley "
    "48, oats 32.", optional=True,
)  # fmt: skip
_WIDTH = Setting(
    "width", "Harvested width", "m", None, 0.1, 100, "What the combine takes, or the rows lifted times their spacing."
)
_COUNT = SheetField("count", "Count", "", kind="whole", most=100_000)
_MASS = SheetField("mass", "Mass", "kg", most=100_000)
_MOISTURE = SheetField("moisture", "Moisture", "%", most=99)
_AREA = SheetField("area", "Harvested area", "m²", above=True, most=1e6)
_LENGTH = SheetField("length", "Harvested length", "m", above=True, most=10_000)
SHEETS: dict[str, Sheet] = {
    sheet.key: sheet
    for sheet in (
        Sheet("figure", "One value per plot", (SheetField("value", "Value", "", least=None),), (), "value",
              "the value as typed"),
        Sheet("readings", "Mean of several readings",
              (SheetField("readings", "List of readings", "", least=None, kind="readings"),), (),
              "$average(readings)", "mean of the readings of a plot, as typed one after another",
              derived=(Derived("n", "readings", "", "$count(readings)"),)),
        Sheet("soil-layer", "Value of a soil layer", (SheetField("value", "Value", ""),), _DEPTHS, "value",
              "the value as typed, for the layer", setting_checks=(_LAYER,)),
        Sheet(
            "soil-mg-per-kg", "Soil nitrogen in mg/kg",
            (SheetField("concentration", "Concentration", "mg/kg", most=10_000),),
            (*_DEPTHS, Setting("bulk_density", "Bulk density", "g/cm³", None, 0.1, 2.2,
                               "1.2 to 1.5 in mineral soil; of the fine earth where stones are taken off.")),
            "concentration * bulk_density * (depth_to - depth_from) * 0.1",
            "mg/kg × bulk density × thickness × 0.1, in kg/ha", "kg/ha", setting_checks=(_LAYER,),
        ),
        Sheet("percentage", "Percentage, 0 to 100", (SheetField("value", "Value", "", most=100),), (), "value",
              "the percentage as typed", values="percentage", possible=("0", "100")),
        Sheet(
            "k-of-n", "Counted out of a number",
            (SheetField("k", "Found", "", kind="whole", most=100_000),
             SheetField("n", "Examined", "", kind="whole", above=True, most=100_000)), (),
            "100 * k / n", "100 × found / examined", values="k-of-n", possible=("0", "100"),
            checks=(Check("k > n", "Found {k} of {n} can’t be. Check both: found is part of examined."),),
        ),
        Sheet(
            "score", "Score on a scale", (SheetField("value", "Score", "", least=None, kind="scale"),),
            (Setting("lowest", "Lowest grade", "", 1, -1000, 1000),
             Setting("highest", "Highest grade", "", 9, -1000, 1000)),
            "value", "the score as given", values="score", possible=("lowest", "highest"),
            setting_checks=(Check("lowest >= highest", "The score goes from {lowest} to {highest}; its highest grade "
                                  "must be above its lowest."),),
        ),
        Sheet("frame-count", "Count in frames", (_COUNT,),
              (Setting("area", "Frame area", "m²", 0.25, 0.001, 100), FRAMES), "count / area",
              "count / frame area, mean of the frames", "1/m²", values="count", sampled=True, area="area"),
        Sheet(
            "row-count", "Count along rows", (_COUNT,),
            (Setting("row_length", "Length of row", "m", 3, 0.1, 100, "3 to 5 m in wide rows."),
             Setting("row_spacing", "Row spacing", "m", None, 0.05, 5, "0.125 m in cereals, 0.5 m in beet, 0.75 m in "
                     "maize."),
             Setting("frames", "Lengths of row per plot", "", 2, 1, 24)),
            "count / (row_length * row_spacing)",
            "count / (length of row × row spacing), mean of the lengths", "1/m²", values="count", sampled=True,
            area="row_length * row_spacing",
        ),
        Sheet("moist-yield", "Harvest at standard moisture", (_MASS, _MOISTURE, _AREA), (_STANDARD, _BUSHEL),
              "10 * mass * (100 - moisture) / (100 - standard) / area",
              "10 × mass × (100 − moisture) / (100 − standard) / area", "t/ha"),
        Sheet("moist-yield-strip", "Harvest at standard moisture, length × width", (_MASS, _MOISTURE, _LENGTH),
              (_STANDARD, _WIDTH, _BUSHEL), "10 * mass * (100 - moisture) / (100 - standard) / (length * width)",
              "10 × mass × (100 − moisture) / (100 − standard) / (length × width)", "t/ha"),
        Sheet("fresh-yield", "Harvest as it is", (_MASS, _AREA), (), "10 * mass / area", "10 × mass / area", "t/ha"),
        Sheet("fresh-yield-strip", "Harvest as it is, length × width", (_MASS, _LENGTH), (_WIDTH,),
              "10 * mass / (length * width)", "10 × mass / (length × width)", "t/ha"),
    )
}  # fmt: skip
