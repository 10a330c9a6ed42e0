"""What holds for a whole visit: the settings of a sheet, and the unit that its values come out in."""

from __future__ import annotations

import math
from collections.abc import Mapping

from apercu_core.errors import Place, Refused
from apercu_core.measures.expressions import holds, value_of
from apercu_core.measures.sheet import Settings, Sheet, SheetField
from apercu_core.units import factor_between, per_area_factor
from apercu_core.words import filled, number

MOST_GRADES = 10
"""Between the ends of a scale whose grades are shown as buttons."""


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
                f"{setting.name}: {value:g}{unit} isn’t possible. The range is {number(setting.least)} to "
                f"{number(setting.most)}{unit}.",
                [Place(setting.key, f"{number(setting.least)} to {number(setting.most)}{unit}.")],
            )
        out[setting.key] = value
    for check in sheet.setting_checks:
        if holds(check.wrong, out):
            raise Refused("bad-value", filled(check.say, out))
    return out


def choices_of(field: SheetField, settings: Settings) -> tuple[str, ...]:
    """What a field is chosen from: its choices, or the grades of a scale that is short enough to be shown whole."""
    if field.kind != "scale":
        return field.choices
    low, high = settings.get("lowest", 0.0), settings.get("highest", 0.0)
    if low != int(low) or high != int(high) or high - low > MOST_GRADES:
        return ()
    return tuple(number(grade) for grade in range(int(low), int(high) + 1))


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
            "bad-value", f"{sheet.name} makes {sheet.makes}, which can’t be turned into {unit}. {do}",
            [Place("bushel" if unit.startswith("bu") else "unit", do)],
        ) from None  # fmt: skip


def counted_area(sheet: Sheet, settings: Settings) -> float | None:
    """What one sample of a count is taken from, m²: a quadrat, or a length of row with the width that belongs to it."""
    return value_of(sheet.area, settings) if sheet.area else None
