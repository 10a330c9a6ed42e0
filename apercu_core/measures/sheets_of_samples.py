"""Sheets of what is weighed and analysed: samples of plants and soil, other harvests, lots that are spread."""

from __future__ import annotations

from apercu_core.measures.sheet import Check, Derived, Setting, Sheet, SheetField
from apercu_core.measures.sheets_in_plots import FRAME, FRAMES

NITROGEN_OF = {"NO3-N": 1.0, "NO3": 0.2259, "NH4-N": 1.0}
"""Nitrogen in what a laboratory reports, by mass; NO3 by molar masses."""


def _mass(key: str, name: str) -> SheetField:
    return SheetField(key, name, "g", most=1e6)


_DRY = "(wet - tare) * (sub_dry - sub_tare) / (sub_wet - sub_tare)"
SHEETS_OF_SAMPLES: tuple[Sheet, ...] = (
    Sheet(
        "biomass-sample", "Biomass from a weighed subsample",
        (_mass("wet", "Whole sample, wet, with its container"), _mass("tare", "Container"),
         _mass("sub_wet", "Subsample, wet, with its container"), _mass("sub_dry", "Subsample, dry, with its container"),
         _mass("sub_tare", "Container of the subsample")),
        (*FRAME, FRAMES), f"10 * {_DRY} / area",
        "10 × (wet − container) × (subsample dry − container) / (subsample wet − container) / frame area", "kg/ha",
        sampled=True, disturbs=True,
        checks=(Check("wet < tare or sub_wet <= sub_tare or sub_dry < sub_tare",
                      "A container can’t weigh more than itself with what is in it. Check the masses."),
                Check("sub_dry > sub_wet", "The subsample can’t be heavier dry than wet. Were the two swapped?"),
                Check("sub_wet - sub_tare > wet - tare", "The subsample can’t be heavier than the whole sample.")),
        derived=(Derived("dry_matter", "dry matter, %", "", "100 * (sub_dry - sub_tare) / (sub_wet - sub_tare)"),),
    ),
    Sheet(
        "species-mass", "Dry matter by species",
        (SheetField("mass", "Dry matter", "g", most=1e5),), (*FRAME, FRAMES), "10 * mass / area",
        "10 × dry matter / frame area for each species; the plot’s value is their sum", "kg/ha", sampled=True,
        disturbs=True,
        parts="species",
    ),
    Sheet(
        "grade-mass", "Harvest by grade",
        (SheetField("mass", "Mass", "kg", most=1e5),
         SheetField("number", "Number", "", kind="whole", most=1e6, optional=True)),
        (Setting("area", "Harvested area", "m²", None, 0.01, 1e6),), "10 * mass / area",
        "10 × mass / harvested area for each grade; the plot’s value is their sum", "t/ha", parts="grade",
        derived=(Derived("each", "mean mass, g", "", "1000 * mass / number"),),
    ),
    Sheet(
        "nitrogen-uptake", "Nitrogen from dry matter and its content",
        (SheetField("dry", "Dry matter", "kg/ha", most=1e5), SheetField("nitrogen", "Nitrogen content", "%", most=20)),
        (), "dry * nitrogen / 100", "dry matter × nitrogen content / 100", "kg/ha",
    ),
    Sheet(
        "carbon-to-nitrogen", "C:N of the whole cover",
        (SheetField("dry", "Dry matter of each part", "kg/ha", most=1e5, kind="readings"),
         SheetField("nitrogen", "Nitrogen content of each part", "%", most=20, kind="readings")),
        (Setting("carbon", "Carbon content", "%", 42, 20, 60, "42 % of ash-free dry matter is assumed where it isn’t "
                 "measured."),),
        "carbon * $sum(dry) / $sum($map([0..$count(dry) - 1], function($i)"
        "{$append([], dry)[$i] * $append([], nitrogen)[$i]}))",
        "sum of carbon / sum of nitrogen over the parts; never the mean of their ratios",
        checks=(Check("$count(dry) != $count(nitrogen)", "Each part has its dry matter and its nitrogen content: type "
                      "as many of one as of the other."),
                Check("$sum(nitrogen) = 0 or $sum(dry) = 0", "Without any nitrogen there is no ratio. Check the "
                      "contents."),
                Check("$max(nitrogen) + carbon > 100", "Carbon and nitrogen can’t make more than 100 % of a part.")),
    ),
    Sheet(
        "recovery", "Nitrogen recovered of what was applied",
        (SheetField("uptake", "Uptake", "kg/ha", most=1e4), SheetField("control", "Uptake of the control", "kg/ha",
                                                                     most=1e4),
         SheetField("applied", "Nitrogen applied", "kg/ha", above=True, most=1e4)), (),
        "100 * (uptake - control) / applied", "100 × (uptake − uptake of the control) / applied",
    ),
    Sheet(
        "nutrient-of-lot", "Nutrient in what was spread",
        (SheetField("rate", "Spread", "t/ha", most=1000), SheetField("content", "Content by analysis", "kg/t",
                                                                    most=1000)), (),
        "rate * content", "amount spread × content", "kg/ha",
    ),
    Sheet(
        "relative-yield", "Relative yield of a mix",
        (SheetField("mixed", "Each species in the mix", "kg/ha", most=1e6, kind="readings"),
         SheetField("alone", "The same species alone", "kg/ha", most=1e6, kind="readings")), (),
        "$sum($map([0..$count(mixed) - 1], function($i){$append([], mixed)[$i] / $append([], alone)[$i]}))",
        "sum over the species of its yield in the mix / its yield alone",
        checks=(Check("$count(mixed) != $count(alone)", "Each species is weighed in the mix and alone: type as many of "
                      "one as of the other."),
                Check("$min(alone) = 0", "A species without any yield alone has no relative yield.")),
    ),
    Sheet(
        "bulk-density", "Bulk density of a ring",
        (_mass("dry", "Dry soil of the ring"), SheetField("stones", "Stones in it", "g", most=1e6, optional=True)),
        (Setting("diameter", "Diameter of the ring", "cm", 5, 1, 50), Setting("height", "Height of the ring", "cm", 5,
        1,
                                                                           100),
         Setting("stone_density", "Density of stones", "g/cm³", 2.65, 1, 4)),
        "(dry - ($exists(stones) ? stones : 0)) / (3.141592653589793 * $power(diameter / 2, 2) * height - "
        "($exists(stones) ? stones : 0) / stone_density)",
        "(dry − stones) / (volume of the ring − stones / their density)", "g/cm³",
        checks=(Check("$exists(stones) and stones >= dry", "There is nothing but stones in the ring. Check the "
                      "masses."),),
    ),
    Sheet(
        "water-content", "Soil water by drying",
        (_mass("wet", "Wet soil with its container"), _mass("dry", "Dry soil with its container"),
         _mass("tare", "Container")), (),
        "100 * (wet - dry) / (dry - tare)", "100 × water / dry soil", values="",
        checks=(Check("dry > wet", "Soil can’t be heavier dry than wet. Were the two swapped?"),
                Check("dry <= tare", "The container can’t weigh more than itself with the soil. Check the masses.")),
    ),
    Sheet(
        "water-content-volume", "Soil water by drying, by volume",
        (_mass("wet", "Wet soil with its container"), _mass("dry", "Dry soil with its container"),
         _mass("tare", "Container")),
        (Setting("bulk_density", "Bulk density", "g/cm³", None, 0.1, 2.2, "1.2 to 1.5 in mineral soil."),),
        "100 * (wet - dry) / (dry - tare) * bulk_density", "100 × water / dry soil × bulk density",
        checks=(Check("dry > wet", "Soil can’t be heavier dry than wet. Were the two swapped?"),
                Check("dry <= tare", "The container can’t weigh more than itself with the soil. Check the masses.")),
    ),
    Sheet(
        "probe", "Readings of a probe with its calibration",
        (SheetField("readings", "Readings", "", least=None, kind="readings"),),
        (Setting("intercept", "Calibration: value at reading 0", "", 0, -1e6, 1e6),
         Setting("slope", "Calibration: value for each unit read", "", 1, -1e6, 1e6)),
        "intercept + slope * $average(readings)", "calibration of the mean of the readings",
        derived=(Derived("n", "readings", "", "$count(readings)"),),
    ),
    Sheet(
        "soil-n-layer", "Soil nitrogen of a layer, with stones",
        (SheetField("concentration", "Concentration", "mg/kg", most=10_000),
         SheetField("form", "Reported as", "", kind="choice", choices=tuple(NITROGEN_OF)),
         SheetField("density", "Bulk density", "g/cm³", above=True, most=2.2),
         SheetField("stones", "Stones by volume", "%", most=95, optional=True)),
        (Setting("depth_from", "From depth", "cm", 0, 0, 300),
         Setting("depth_to", "To depth", "cm", None, 1, 300, "30, 60 or 90 cm are common.")),
        f'concentration * (form = "NO3" ? {NITROGEN_OF["NO3"]} : 1) * density * (depth_to - depth_from) * 0.1 * '
        "(1 - ($exists(stones) ? stones : 0) / 100)",
        "mg/kg of nitrogen × bulk density × thickness × 0.1 × (1 − stones)", "kg/ha",
        setting_checks=(Check("depth_from >= depth_to", "The layer ends above where it begins. Type the deeper end as "
                              "'to depth'."),),
    ),
    Sheet(
        "mass-of-plants", "Mass of several plants",
        (SheetField("mass", "Mass", "kg", most=1e5), SheetField("plants", "Plants", "", kind="whole", above=True,
                                                                most=1e5)), (),
        "mass / plants", "mass / number of trees, vines or plants",
    ),
    Sheet(
        "share-of-mass", "Share of a mass",
        (SheetField("part", "Part", "kg", most=1e5), SheetField("whole", "Whole", "kg", above=True, most=1e5)), (),
        "100 * part / whole", "100 × part / whole", values="percentage", possible=("0", "100"),
        checks=(Check("part > whole", "A part can’t be heavier than the whole. Check both masses."),),
    ),
    Sheet(
        "product-of-area", "Amount for an area",
        (SheetField("amount", "Amount", "", most=1e6), SheetField("area", "Area", "ha", above=True, most=1e4)), (),
        "amount / area", "amount / area",
    ),
)  # fmt: skip
