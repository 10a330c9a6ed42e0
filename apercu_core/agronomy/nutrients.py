"""Nutrients of a lot of manure or fertiliser, per hectare."""

from __future__ import annotations

from collections.abc import Mapping

from apercu_core.agronomy.given import not_negative, refuse

ANALYSED_IN: Mapping[str, str] = {"t/ha": "kg/t", "m³/ha": "kg/m³", "kg/ha": "%"}
"""Unit of the rate → unit of the analysis that belongs to it."""
NUTRIENTS = ("N", "NH₄-N", "P", "K", "S", "Mg")


def nutrients_per_ha(rate: float, rate_unit: str, analysis: Mapping[str, float]) -> dict[str, float]:
    """kg/ha of each nutrient. `analysis`: of the fresh lot, in the unit of `ANALYSED_IN`."""
    if rate_unit not in ANALYSED_IN:
        raise refuse("rate_unit", f"{rate_unit!r} isn’t a unit of a rate here: {', '.join(ANALYSED_IN)} are.")
    not_negative("rate", rate)
    factor = 0.01 if rate_unit == "kg/ha" else 1.0
    for name, value in analysis.items():
        not_negative(f"analysis.{name}", value)
        if rate_unit == "kg/ha" and value > 100:
            raise refuse(f"analysis.{name}", f"{value:g} % is more than all of the lot.")
    return {name: rate * value * factor for name, value in analysis.items()}
