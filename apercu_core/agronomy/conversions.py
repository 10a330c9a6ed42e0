"""Rates, lengths, areas and temperatures from one unit into another.

A rate in bushels goes by the crop's standard bushel, never by the measured test weight; between masses and numbers of
seeds it goes by the mass of 1,000 seeds. Other factors: `apercu_core.units`.
"""

from __future__ import annotations

from dataclasses import dataclass

from apercu_core.agronomy.given import amount, positive, refuse
from apercu_core.units import factor_between

ABSOLUTE_ZERO_C = -273.15
_POUND_PER_ACRE = factor_between("lb/ac", "kg/ha")


@dataclass(frozen=True, slots=True)
class _Unit:
    """`factor`: how many of the dimension's base one is; `offset`: of the base where it reads 0."""

    dimension: str
    factor: float
    offset: float = 0.0


def _of(dimension: str, base: str, *names: str) -> dict[str, _Unit]:
    return {name: _Unit(dimension, factor_between(name, base)) for name in names}


UNITS: dict[str, _Unit] = {
    **_of("mass per area", "kg/ha", "kg/ha", "g/m2", "t/ha", "lb/ac", "ton/ac"),
    **_of("seeds per area", "seeds/m2", "seeds/m2", "seeds/ac", "seeds/ft2"),
    **_of("volume per area", "L/ha", "L/ha", "gal/ac"),
    **_of("length", "m", "m", "cm", "mm", "ft", "in"),
    **_of("area", "m2", "ha", "ac", "m2", "ft2"),
    "C": _Unit("temperature", 1.0),
    "F": _Unit("temperature", 5 / 9, -160 / 9),
    "degC.d": _Unit("degree days", 1.0),
    "degF.d": _Unit("degree days", 5 / 9),
}
_SEEDS, _MASS = "seeds per area", "mass per area"
BUSHELS = "bu/ac"


def _unit(name: str, field: str, bushel_lb: float | None) -> _Unit:
    if name == BUSHELS:
        if bushel_lb is None:
            raise refuse("bushel_lb", "it is missing. Enter how many pounds a standard bushel of the crop weighs.")
        return _Unit(_MASS, positive("bushel_lb", bushel_lb) * _POUND_PER_ACRE)
    if name not in UNITS:
        raise refuse(field, f"“{name}” is not a unit here. The units are: {', '.join([*UNITS, BUSHELS])}.")
    return UNITS[name]


def converted(
    value: float, given: str, wanted: str, *, bushel_lb: float | None = None, tkw_g: float | None = None
) -> float:
    """`value` in `wanted`. `bushel_lb`: lb per bushel; `tkw_g`: g per 1,000 seeds. Refused between unlike units."""
    for name, beside in (("bushel_lb", bushel_lb), ("tkw_g", tkw_g)):
        if beside is not None:
            positive(name, beside)
    of, into = _unit(given, "from", bushel_lb), _unit(wanted, "to", bushel_lb)
    if of.dimension == "temperature":
        amount("value", value)
        if value * of.factor + of.offset < ABSOLUTE_ZERO_C:
            raise refuse("value", f"{value:g} lies below absolute zero.")
    elif of.dimension == "degree days":
        amount("value", value)
    else:
        amount("value", value, least=0)
    if given == wanted:
        return value
    if of.dimension == into.dimension:
        return (value * of.factor + of.offset - into.offset) / into.factor
    if {of.dimension, into.dimension} != {_SEEDS, _MASS}:
        raise refuse(
            "to", f"{given} is {of.dimension} and {wanted} is {into.dimension}. Choose a unit of {of.dimension}."
        )
    if tkw_g is None:
        raise refuse("tkw_g", "it is missing. Between masses and seeds, enter the mass of 1,000 seeds in grams.")
    seeds_per_kg = 100 / positive("tkw_g", tkw_g)  # seeds/m² of 1 kg/ha
    base = value * of.factor
    return (base * seeds_per_kg if into.dimension == _SEEDS else base / seeds_per_kg) / into.factor
