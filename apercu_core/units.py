"""Units as data: what people may type, what is stored, and what readers of another custom are shown.

A unit is a name from `UNITS`, or two of them with a stroke between (`kg/ha`). A word that isn't a unit counts things
(`plants/m²`). Factors are exact by definition: Thompson and Taylor (2008), NIST Special Publication 811, appendix B.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

from apercu_core.errors import Refused
from apercu_core.tables.figures import read_number

System = Literal["metric", "us"]


@dataclass(frozen=True, slots=True)
class Unit:
    """`factor`: how many of the dimension's base unit (g, m, m², L, s, 1) one of these is."""

    dimension: str
    factor: float


UNITS: dict[str, Unit] = {
    "g": Unit("mass", 1), "kg": Unit("mass", 1e3), "t": Unit("mass", 1e6), "mg": Unit("mass", 1e-3),
    "oz": Unit("mass", 28.349523125), "lb": Unit("mass", 453.59237), "ton": Unit("mass", 907184.74),
    "m": Unit("length", 1), "cm": Unit("length", 0.01), "mm": Unit("length", 0.001), "km": Unit("length", 1e3),
    "ft": Unit("length", 0.3048), "in": Unit("length", 0.0254), "yd": Unit("length", 0.9144),
    "m²": Unit("area", 1), "cm²": Unit("area", 1e-4), "ha": Unit("area", 1e4),
    "ft²": Unit("area", 0.09290304), "ac": Unit("area", 4046.8564224),
    "L": Unit("volume", 1), "mL": Unit("volume", 1e-3), "gal": Unit("volume", 3.785411784),
    "s": Unit("time", 1), "min": Unit("time", 60), "h": Unit("time", 3600), "d": Unit("time", 86400),
    "%": Unit("share", 0.01),
}  # fmt: skip
_ALSO = {
    "m2": "m²", "cm2": "cm²", "ft2": "ft²", "sqm": "m²", "sqft": "ft²", "acre": "ac", "acres": "ac", "lbs": "lb",
    "l": "L", "ml": "mL", "tons": "ton", "pct": "%", "percent": "%", "grams": "g", "feet": "ft", "inch": "in",
    "inches": "in", "bags": "bag",
}  # fmt: skip
_US = {"kg": "lb", "g": "oz", "t": "ton", "m": "ft", "cm": "in", "m²": "ft²", "ha": "ac", "L": "gal"}
_GROUPED = re.compile(r"[-+−]?\d{1,3}([\s'’\u00a0\u202f]\d{3})+([.,]\d+)?")
_TYPED = re.compile(r"^(?P<figure>[-+−]?[\d.,'’\s\u00a0\u202f]*\d[\d.,]*(?:[eE][-+]?\d+)?)\s*(?P<unit>[^\d\s].*)?$")


def _plain(name: str) -> str:
    tidy = name.strip().replace(" ", "")
    return _ALSO.get(tidy) or _ALSO.get(tidy.lower()) or (tidy if tidy in UNITS else _any_case(tidy))


def _any_case(name: str) -> str:
    return next((known for known in UNITS if known.lower() == name.lower()), name)


def unit_of(name: str) -> Unit:
    """The unit of that name; a quotient's dimension names both parts, a word that isn't a unit counts itself."""
    parts = [_plain(part) for part in name.split("/")]
    found = [UNITS.get(part, Unit(part, 1.0)) for part in parts]
    if len(found) == 1:
        return found[0]
    return Unit("/".join(unit.dimension for unit in found), found[0].factor / _product(found[1:]))


def _product(units: list[Unit]) -> float:
    out = 1.0
    for unit in units:
        out *= unit.factor
    return out


@lru_cache(maxsize=512)
def factor_between(given: str, wanted: str) -> float:
    """How many `wanted` one `given` is. Raises `Refused` when they measure different things."""
    if given == wanted:
        return 1.0
    a, b = unit_of(given), unit_of(wanted)
    if a.dimension != b.dimension:
        raise Refused("bad-value", f"{given} can't be turned into {wanted}. Type the figure in {wanted}.")
    return a.factor / b.factor


def parse_quantity(text: str, unit: str) -> float:
    """The figure in `unit` of what was typed: decimal point or comma, with or without a unit of its own (`30 lb`)."""
    match = _TYPED.match(text.strip())
    figure = match["figure"].strip() if match else ""
    parted = re.search(r"[\s'’\u00a0\u202f]", figure) and not _GROUPED.fullmatch(figure)  # “3 4” may be two figures
    value = None if parted else read_number(figure)
    if match is None or value is None:
        example = f"12.5 {unit}".strip()
        raise Refused("bad-value", f"“{text.strip()}” isn't a figure. Type a number, for example {example}.")
    suffix = (match["unit"] or "").strip()
    if not suffix or unit.startswith(suffix):  # “23 %” where the unit is “% by volume”
        return value
    return value * factor_between(suffix, unit)


@lru_cache(maxsize=512)
def shown_in(unit: str, system: System) -> tuple[str, float]:
    """The unit that readers of this custom are shown, and the factor from `unit` to it.

    Units without a counterpart stay as they are; so do temperatures, whose scales don't share a zero.
    """
    if system == "metric" or not unit:
        return unit, 1.0
    parts = [_US.get(_plain(part), part) for part in unit.split("/")]
    shown = "/".join(parts)
    return (shown, factor_between(unit, shown)) if shown != unit else (unit, 1.0)
