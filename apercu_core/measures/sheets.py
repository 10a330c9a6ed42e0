"""The sheets that values are typed into, as data: the general ones here, those of one subject in rooms of their own."""

from __future__ import annotations

from apercu_core.measures.sheet import Check, Derived, Setting, Sheet, SheetField
from apercu_core.measures.sheets_in_plots import COUNT, FRAME, FRAMES, SHEETS_IN_PLOTS
from apercu_core.measures.sheets_of_samples import SHEETS_OF_SAMPLES

_DEPTHS = (
    Setting("depth_from", "From depth", "cm", 0, 0, 300),
    Setting("depth_to", "To depth", "cm", None, 1, 300, "30, 60 or 90 cm are common."),
)
_LAYER = Check("depth_from >= depth_to", "The layer ends above where it begins. Type the deeper end as 'to depth'.")

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
        Sheet("frame-count", "Count in frames", (COUNT,),
              (*FRAME, FRAMES), "count / area",
              "count / frame area, mean of the frames", "1/m²", values="count", sampled=True, area="area"),
        Sheet("dug-count", "Count of what is dug from frames", (COUNT,), (*FRAME, FRAMES), "count / area",
              "count / frame area, mean of the frames", "1/m²", values="count", sampled=True, area="area",
              disturbs=True),
        Sheet(
            "row-count", "Count along rows", (COUNT,),
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
        *SHEETS_IN_PLOTS,
        *SHEETS_OF_SAMPLES,
    )
}  # fmt: skip
