"""Grazing and lots of an operation: as sent, as shown, and what they come to."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from apercu_core.agronomy.grazing import grazing
from apercu_core.agronomy.nutrients import nutrients_per_ha
from apercu_core.units import System, shown_in
from apercu_core.words import listed, number
from operations.models import Operation

_UNITS = {
    "depth_cm": "cm",
    "area_ha": "ha",
    "before_kg_ha": "kg/ha",
    "after_kg_ha": "kg/ha",
    "caged_kg_ha": "kg/ha",
    "dung_kg_ha": "kg/ha",
}


def read_lot(data: Mapping[str, Any] | None) -> dict[str, Any] | None:
    """As it is kept: the analysis by nutrient. Its amounts are in the units that it names, whoever reads it."""
    if data is None:
        return None
    analysis = {one["nutrient"]: one["content"] for one in data["analysis"]}
    return {"name": data["name"].strip(), "rate": data["rate"], "rate_unit": data["rate_unit"], "analysis": analysis}


def shown_lot(lot: Mapping[str, Any] | None) -> dict[str, Any] | None:
    if lot is None:
        return None
    return {**lot, "analysis": [{"nutrient": name, "content": value} for name, value in lot["analysis"].items()]}


def shown_in_units(said: Mapping[str, Any] | None, system: System) -> dict[str, Any] | None:
    if said is None:
        return None
    return {
        name: value
        if value is None or name not in _UNITS
        else float(f"{value * shown_in(_UNITS[name], system)[1]:.6g}")
        for name, value in said.items()
    }


def found_of(operation: Operation, system: System) -> list[str]:
    """What grazing and lot come to, and how well it was planted, in sentences."""
    return [*_grazed(operation, system), *_nutrients(operation, system), *_planted(operation, system)]


def _grazed(operation: Operation, system: System) -> list[str]:
    if not operation.grazing:
        return []
    found = grazing(**operation.grazing)
    area, factor = shown_in("1/ha", system)
    said = [f"{number(found.head_days_per_ha * factor)} head-days per {area.removeprefix('1/')}."]
    if found.offtake_kg_ha is not None:
        unit, per = shown_in("kg/ha", system)
        share = "" if found.utilised is None else f", {number(100 * found.utilised, 0)} % of what grew"
        how = "by cages" if found.in_cages else "without cages, so that growth meanwhile is left out"
        said.append(f"Offtake {number(found.offtake_kg_ha * per, 0)} {unit}{share}, {how}.")
    if found.dung_kg_ha is not None:
        unit, per = shown_in("kg/ha", system)
        said.append(f"Dung {number(found.dung_kg_ha * per, 0)} {unit} dry matter.")
    return said


def _nutrients(operation: Operation, system: System) -> list[str]:
    if not operation.lot:
        return []
    lot = operation.lot
    found = nutrients_per_ha(lot["rate"], lot["rate_unit"], lot["analysis"])
    unit, factor = shown_in("kg/ha", system)
    if not found:
        return []
    return [f"{listed([f'{number(value * factor)} {unit} {name}' for name, value in found.items()])}."]


PLANTED = {
    "residue_percent": "residue covered {} % of the ground",
    "hairpinned_percent": "residue was pushed into the slot at {} % of the places",
    "open_percent": "the slot stayed open at {} %",
}


def _planted(operation: Operation, system: System) -> list[str]:
    if not operation.planting:
        return []
    said, parts = operation.planting, []
    if said["depth_cm"] is not None:
        unit, factor = shown_in("cm", system)
        parts.append(f"seed lay {number(said['depth_cm'] * factor)} {unit} deep")
    parts += [text.format(number(said[name], 0)) for name, text in PLANTED.items() if said[name] is not None]
    looked = f" ({number(said['places'], 0)} places looked at)" if said["places"] is not None else ""
    return [f"{listed(parts).capitalize()}{looked}."] if parts else []
