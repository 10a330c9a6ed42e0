"""Sheets: which figures a person types in a plot, and the value that they make.

A sheet is data (fields, settings, whether there are several samples per plot) and one formula. Typed text goes in as it
was typed; a figure that can't be is refused, a figure that is hard to believe is questioned.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass

from apercu_core.errors import Place, Refused
from apercu_core.units import System, factor_between, parse_quantity, per_area_factor, shown_in
from apercu_core.words import number

Settings = Mapping[str, float]


@dataclass(frozen=True, slots=True)
class Field:
    """One figure of a sheet. `most` None: no upper end; `whole`: counted, so a fraction can't be.

    `above`: the figure must be more than `least`, not just reach it.
    """

    key: str
    name: str
    unit: str
    least: float = 0.0
    most: float | None = None
    whole: bool = False
    above: bool = False


@dataclass(frozen=True, slots=True)
class Setting:
    """A value that holds for the whole visit, such as the area of the frame. `usual` None: it has to be said, unless it
    is `optional`: then it isn't kept where nobody says it.

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
class Sheet:
    """`sampled`: several entries per plot are wanted, whose mean is the plot's value. `formula`: in words; `makes`: the
    unit that it comes out in, `1/m²` for things counted; empty where it is that of what is typed.
    """

    key: str
    name: str
    fields: tuple[Field, ...]
    settings: tuple[Setting, ...]
    sampled: bool
    formula: str
    compute: Callable[[Settings, Settings], float]
    makes: str = ""


@dataclass(frozen=True, slots=True)
class Entered:
    """The value of an entry in the measure's unit, the figures it came from, and what makes one wonder."""

    value: float
    figures: dict[str, float]
    questions: tuple[str, ...]


def _yield(figures: Settings, settings: Settings) -> float:
    """t/ha at the standard moisture: 10 · kg · (100 − m)/(100 − m_std) / m², moisture in % wet basis."""
    return 10 * figures["mass"] * (100 - figures["moisture"]) / (100 - settings["standard"]) / figures["area"]


def _from_width(figures: Settings, settings: Settings) -> dict[str, float]:
    """The figures with the harvested area, m²: length × width."""
    return {**figures, "area": figures["length"] * settings["width"]}


def counted_area(settings: Settings) -> float | None:
    """What one sample of a count is taken from, m²: a frame, or a length of row with the width that belongs to it."""
    if "row_length" in settings:
        return settings["row_length"] * settings["row_spacing"]
    return settings.get("area") or None


def _per_area(figures: Settings, settings: Settings) -> float:
    area = counted_area(settings)
    assert area
    return figures["count"] / area


def _share(figures: Settings, settings: Settings) -> float:
    """Per cent. Raises `Refused` where more were found than were examined."""
    if figures["k"] > figures["n"]:
        raise Refused(
            "bad-value",
            f"Found {number(figures['k'])} of {number(figures['n'])} can't be. Check both: found is part of examined.",
        )
    return 100 * figures["k"] / figures["n"]


def _layer_nitrogen(figures: Settings, settings: Settings) -> float:
    """kg/ha: mg/kg × bulk density (g/cm³) × thickness of the layer (cm) × 0.1."""
    thickness = settings["depth_to"] - settings["depth_from"]
    return figures["concentration"] * settings["bulk_density"] * thickness * 0.1


_DEPTHS = (
    Setting("depth_from", "From depth", "cm", 0, 0, 300),
    Setting("depth_to", "To depth", "cm", None, 1, 300, "30, 60 or 90 cm are common."),
)
FRAMES = Setting("frames", "Frames per plot", "", 3, 1, 24)
_STANDARD = Setting(
    "standard", "Standard moisture", "%", None, 0, 60,
    "Maize 15.5, soybean 13, wheat 13.5, barley 14 to 15, by country: take your buyer's.",
)  # fmt: skip
_BUSHEL = Setting(
    "bushel", "Bushel mass", "lb", None, 10, 100,
    "Pounds in a standard bushel, so that yields are shown in bu/ac: maize and rye 56, wheat and soybean 60, barley "
    "48, oats 32.", optional=True,
)  # fmt: skip
_WIDTH = Setting(
    "width", "Harvested width", "m", None, 0.1, 100, "What the combine takes, or the rows lifted times their spacing."
)
_LENGTH = Field("length", "Harvested length", "m", above=True, most=10_000)
SHEETS: dict[str, Sheet] = {
    sheet.key: sheet
    for sheet in (
        Sheet(
            "figure", "One value per plot", (Field("value", "Value", "", least=-math.inf),), (), False,
            "the value as typed", lambda figures, _: figures["value"],
        ),
        Sheet(
            "soil-layer", "Value of a soil layer", (Field("value", "Value", ""),), _DEPTHS, False,
            "the value as typed, for the layer", lambda figures, _: figures["value"],
        ),
        Sheet(
            "soil-mg-per-kg", "Soil nitrogen in mg/kg",
            (Field("concentration", "Concentration", "mg/kg", most=10_000),),
            (*_DEPTHS, Setting("bulk_density", "Bulk density", "g/cm³", None, 0.1, 2.2,
                               "1.2 to 1.5 in mineral soil; of the fine earth where stones are taken off.")), False,
            "mg/kg × bulk density × thickness × 0.1, in kg/ha", _layer_nitrogen, "kg/ha",
        ),
        Sheet(
            "percentage", "Percentage, 0 to 100", (Field("value", "Value", "", most=100),), (), False,
            "the percentage as typed", lambda figures, _: figures["value"],
        ),
        Sheet(
            "k-of-n", "Counted out of a number",
            (Field("k", "Found", "", whole=True, most=100_000),
             Field("n", "Examined", "", whole=True, above=True, most=100_000)), (), False,
            "100 × found / examined", _share,
        ),
        Sheet(
            "score", "Score on a scale", (Field("value", "Score", "", least=-math.inf),),
            (Setting("lowest", "Lowest grade", "", 1, -1000, 1000),
             Setting("highest", "Highest grade", "", 9, -1000, 1000)), False,
            "the score as given", lambda figures, _: figures["value"],
        ),
        Sheet(
            "frame-count", "Count in frames", (Field("count", "Count", "", whole=True, most=100_000),),
            (Setting("area", "Frame area", "m²", 0.25, 0.001, 100), FRAMES), True,
            "count / frame area, mean of the frames", _per_area, "1/m²",
        ),
        Sheet(
            "row-count", "Count along rows", (Field("count", "Count", "", whole=True, most=100_000),),
            (Setting("row_length", "Length of row", "m", 3, 0.1, 100, "3 to 5 m in wide rows."),
             Setting("row_spacing", "Row spacing", "m", None, 0.05, 5, "0.125 in cereals, 0.5 in beet, 0.75 in maize."),
             Setting("frames", "Lengths of row per plot", "", 2, 1, 24)), True,
            "count / (length of row × row spacing), mean of the lengths", _per_area, "1/m²",
        ),
        Sheet(
            "moist-yield", "Harvest at standard moisture",
            (Field("mass", "Mass", "kg", most=100_000), Field("moisture", "Moisture", "%", most=99, above=False),
             Field("area", "Harvested area", "m²", above=True, most=1e6)),
            (_STANDARD, _BUSHEL), False,
            "10 × mass × (100 − moisture) / (100 − standard) / area", _yield, "t/ha",
        ),
        Sheet(
            "moist-yield-strip", "Harvest at standard moisture, length × width",
            (Field("mass", "Mass", "kg", most=100_000), Field("moisture", "Moisture", "%", most=99), _LENGTH),
            (_STANDARD, _WIDTH, _BUSHEL), False,
            "10 × mass × (100 − moisture) / (100 − standard) / (length × width)",
            lambda figures, settings: _yield(_from_width(figures, settings), settings), "t/ha",
        ),
        Sheet(
            "fresh-yield", "Harvest as it is",
            (Field("mass", "Mass", "kg", most=100_000), Field("area", "Harvested area", "m²", above=True, most=1e6)),
            (), False, "10 × mass / area", lambda figures, _: 10 * figures["mass"] / figures["area"], "t/ha",
        ),
        Sheet(
            "fresh-yield-strip", "Harvest as it is, length × width",
            (Field("mass", "Mass", "kg", most=100_000), _LENGTH), (_WIDTH,), False, "10 × mass / (length × width)",
            lambda figures, settings: 10 * figures["mass"] / (figures["length"] * settings["width"]), "t/ha",
        ),
    )
}  # fmt: skip


def settings_for(sheet: Sheet, given: Mapping[str, float]) -> dict[str, float]:
    """The sheet's settings with what was given; raises `Refused` outside their range or for unknown names."""
    unknown = sorted(set(given) - {setting.key for setting in sheet.settings})
    if unknown:
        raise Refused("bad-value", f"{sheet.name} has no setting called {unknown[0]}.")
    out = {}
    chosen = {setting.key: given.get(setting.key, setting.usual) for setting in sheet.settings}
    if missing := [s for s in sheet.settings if chosen[s.key] is None and not s.optional]:
        said = " ".join(f"Say the {s.name.lower()}. {s.hint}".rstrip() for s in missing)
        places = [Place(s.key, s.hint or "Type a value.") for s in missing]
        raise Refused("bad-value", f"{sheet.name}: {said}", places)
    for setting in sheet.settings:
        wanted = chosen[setting.key]
        if wanted is None:
            continue
        value = float(wanted)
        if not (math.isfinite(value) and setting.least <= value <= setting.most):
            unit = f" {setting.unit}" if setting.unit else ""
            raise Refused(
                "bad-value",
                f"{setting.name}: {value:g}{unit} can't be; it goes from {number(setting.least)} to "
                f"{number(setting.most)}{unit}.",
                [Place(setting.key, f"{number(setting.least)} to {number(setting.most)}{unit}.")],
            )
        out[setting.key] = value
    if "depth_to" in out and out["depth_from"] >= out["depth_to"]:
        raise Refused("bad-value", "The layer ends above where it begins. Type the deeper end as 'to depth'.")
    if sheet.key == "score" and out["lowest"] >= out["highest"]:
        raise Refused(
            "bad-value",
            f"The score goes from {number(out['lowest'])} to {number(out['highest'])}; its highest grade must be above "
            "its lowest.",
        )
    return out


def made_in(sheet: Sheet, unit: str, settings: Settings) -> float:
    """The factor from what the sheet makes to the measure's unit.

    Raises `Refused` where one can't be turned into the other, so that no value stands under a unit that isn't its own.
    """
    if not sheet.makes or not unit:
        return 1.0
    if sheet.makes == "1/m²":
        factor = per_area_factor(unit)
        if factor is None:
            raise Refused(
                "bad-value", f"{sheet.name} makes things per area, not {unit}. Write it like plants/m².",
                [Place("unit", "Write things per area, such as plants/m².")],
            )  # fmt: skip
        return factor
    try:
        return factor_between(sheet.makes, unit, settings.get("bushel") or 0.0)
    except Refused:
        do = "Say the bushel mass." if unit.startswith("bu") else "Change the unit, or how values are entered."
        raise Refused(
            "bad-value", f"{sheet.name} makes {sheet.makes}, which can't be turned into {unit}. {do}",
            [Place("bushel" if unit.startswith("bu") else "unit", do)],
        ) from None  # fmt: skip


def evaluate(
    sheet: Sheet, typed: Mapping[str, str], settings: Settings, *, unit: str = "", system: System = "metric",
    plausible: tuple[float, float] | None = None, possible: tuple[float, float] | None = None,
) -> Entered:  # fmt: skip
    """The value of an entry. `unit`: the measure's; `plausible`, `possible`: ranges of the value in that unit.

    A figure without a unit of its own is in the unit that `system` shows for its field. Raises `Refused` with the
    field's name when a figure is missing or can't be.
    """
    figures = {field.key: _figure(field, typed.get(field.key, ""), unit, system) for field in sheet.fields}
    # Counts were always per m² before units were turned, whatever stood beside them.
    factor = per_area_factor(unit) or 1.0 if sheet.makes == "1/m²" else made_in(sheet, unit, settings)
    value = sheet.compute(figures, settings) * factor
    bushel = settings.get("bushel") or 0.0
    if possible and not possible[0] <= value <= possible[1]:
        raise Refused(
            "bad-value",
            f"{_said(value, unit, system, bushel)} can't be: {_range(possible, unit, system, bushel)}. Check the value "
            "and its unit.",
        )
    questions: tuple[str, ...] = ()
    if plausible and not plausible[0] <= value <= plausible[1]:
        usual = _range(plausible, unit, system, bushel)
        questions = (f"{_said(value, unit, system, bushel)} is unusual: {usual} is usual. Is it right?",)
    return Entered(value, figures, questions)


def unit_of_field(field: Field, unit: str) -> str:
    """The unit of a field of a measure in `unit`; counts have none."""
    return field.unit or ("" if field.whole else unit)


def _said(value: float, unit: str, system: System, bushel: float = 0.0) -> str:
    shown, factor = shown_in(unit, system, bushel)
    return f"{number(value * factor)} {shown}".strip()


def _range(ends: tuple[float, float], unit: str, system: System, bushel: float = 0.0) -> str:
    shown, factor = shown_in(unit, system, bushel)
    return f"{number(ends[0] * factor)} to {number(ends[1] * factor)} {shown}".strip()


def _figure(field: Field, text: str, unit: str, system: System) -> float:
    own = unit_of_field(field, unit)
    shown, factor = shown_in(own, system)
    if not text.strip():
        raise Refused("bad-value", f"{field.name} is empty. Type a value, or mark the plot as missing.")
    value = parse_quantity(text, shown) / factor
    said = f"{field.name}: {_said(value, own, system)}"
    if field.whole and value != int(value):
        raise Refused("bad-value", f"{said} isn't a whole number. Things are counted whole.")
    if value < field.least or (field.above and value <= field.least):
        floor = f"more than {number(field.least)}" if field.above else f"{number(field.least)} or more"
        raise Refused("bad-value", f"{said} can't be; it must be {floor}.")
    if field.most is not None and value > field.most:
        raise Refused("bad-value", f"{said} can't be; it must be {number(field.most)} or less.")
    return value
