"""Measures of Ask between the person's units and the stored ones, so that nothing drifts on the way."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, cast

from apercu_core.amounts import shown_number, stored_number
from apercu_core.errors import Place, Refused
from apercu_core.measures.own import OWN
from apercu_core.measures.sheets import SHEETS
from apercu_core.units import System, factor_between, parse_quantity, shown_in
from trials.actions import NewMeasure
from trials.models import MarginKind, TrialMeasure

IN_UNIT = ("margin", "expected")
ABOVE_0 = "The margin must be a number above 0, or empty."


def shown_measure(measure: TrialMeasure, system: System) -> dict[str, Any]:
    """Unit, margin, expected mean and settings as the reader types them."""
    version = measure.version
    unit, factor = version.shown_in(system)
    margin_factor = factor if measure.margin_kind == MarginKind.ABSOLUTE else 1.0
    units = {s.key: s.unit for s in version.entry_sheet.settings}
    return {
        "shown_unit": unit,
        "margin": _shown(measure.margin, margin_factor),
        "expected": _shown(measure.expected, factor),
        "settings": {
            key: _shown(value, shown_in(units.get(key, ""), system)[1]) for key, value in version.settings.items()
        },
    }


def _shown(value: float | None, factor: float) -> float | None:
    return None if value is None else shown_number(value, factor)


def measure_as_typed(given: Mapping[str, Any], at: int, was: TrialMeasure | None, system: System) -> NewMeasure:
    """The measure in stored units. A number that comes back as it was shown stays what it was.

    Raises `Refused` with the place, `measures.0.margin`, of what isn't a number in that unit.
    """
    fields = {key: value for key, value in given.items() if key not in ("id", "shown_unit", "settings", *IN_UNIT)}
    settings, before = ({} if given["sheet"] == OWN else given["settings"]), was.version.settings if was else {}
    units = {s.key: s.unit for s in SHEETS[given["sheet"]].settings} if given["sheet"] in SHEETS else {}
    wrong: list[Place] = []

    def read(typed: str, unit: str, factor: float, stored: float | None, where: str) -> float | None:
        if not typed.strip():
            return None
        try:
            return stored_number(parse_quantity(typed, unit), factor, stored)
        except Refused as refusal:
            wrong.append(Place(f"measures.{at}.{where}", refusal.message))
            return None

    read_settings = {
        key: read(text, *shown_in(units.get(key, ""), system), before.get(key), key) for key, text in settings.items()
    }
    unit = given["shown_unit"] or given["unit"]
    factor = 1.0
    if unit != given["unit"]:
        factor = factor_between(given["unit"], unit, read_settings.get("bushel") or 0.0)
    percent = given["margin_kind"] == MarginKind.PERCENT
    margin = read(
        given["margin"].rstrip("% ") if percent else given["margin"], "" if percent else unit,
        1.0 if percent else factor, was.margin if was else None, "margin",
    )  # fmt: skip
    if margin is not None and margin <= 0:
        wrong.append(Place(f"measures.{at}.margin", ABOVE_0))
    expected = read(given["expected"], unit, factor, was.expected if was else None, "expected")
    if wrong:
        raise Refused("bad-value", f"{given['name']}: {wrong[0].what}", wrong)
    return NewMeasure(
        str(given["id"]), **fields, margin=margin, expected=expected,
        settings=cast(dict[str, float], read_settings),
    )  # fmt: skip
