"""A record's ranges as readers of other units see and type them; records themselves stay metric."""

from __future__ import annotations

import re
from collections.abc import Callable

from apercu_core.amounts import CELSIUS, FAHRENHEIT, amounts_in, shown_number, stored_number
from apercu_core.species.record import SpeciesField
from apercu_core.units import System, shown_in

_NUMBER = re.compile(r"[−-]?\d+(?:[.,]\d+)?")
_DEGREE_DAYS = "°C d"
_GRAMS = "g"
"""Of a thousand seeds: grams everywhere."""


def unit_in(field: SpeciesField, system: System) -> str:
    """The unit in which readers of that custom are shown the field."""
    if system == "us" and field.unit.startswith(CELSIUS):
        return field.unit.replace(CELSIUS, FAHRENHEIT)
    return field.unit if field.unit == _GRAMS else shown_in(field.unit, system)[0]


def shown_cell(field: SpeciesField, text: str, system: System) -> str:
    """A cell as it is read and typed again; texts have their amounts turned."""
    if system == "metric":
        return text
    if field.kind == "text":
        return amounts_in(text, system)
    return _each(text, _to_us(field)) if field.kind == "range" else text


def stored_cell(field: SpeciesField, typed: str, system: System, was: str) -> str:
    """A cell as it is kept: what stood there, where it comes back as it was shown."""
    if system == "metric":
        return typed
    if typed.strip() == shown_cell(field, was, system).strip():
        return was
    return _each(typed, _from_us(field)) if field.kind == "range" else typed


def _each(text: str, turn: Callable[[float], float]) -> str:
    def turned(match: re.Match[str]) -> str:
        return f"{turn(float(match[0].replace('−', '-').replace(',', '.'))):g}"

    return _NUMBER.sub(turned, text)


def _to_us(field: SpeciesField) -> Callable[[float], float]:
    if field.unit == CELSIUS:
        return lambda celsius: round(celsius * 1.8 + 32, 1)
    factor = _factor(field)
    return lambda value: float(f"{shown_number(value, factor):.3g}") if factor != 1.0 else value


def _from_us(field: SpeciesField) -> Callable[[float], float]:
    if field.unit == CELSIUS:
        return lambda fahrenheit: round((fahrenheit - 32) / 1.8, 2)
    factor = _factor(field)
    return lambda value: float(f"{stored_number(value, factor, None):.5g}")


def _factor(field: SpeciesField) -> float:
    if field.unit == _DEGREE_DAYS:
        return 1.8
    return 1.0 if field.unit == _GRAMS else shown_in(field.unit, "us")[1]
