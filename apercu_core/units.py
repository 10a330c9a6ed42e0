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
from apercu_core.numbers import read_number

System = Literal["metric", "us"]


@dataclass(frozen=True, slots=True)
class Unit:
    """`factor`: how many of the dimension's base unit (g, m, m², L, s, 1) one of these is."""

    dimension: str
    factor: float


UNITS: dict[str, Unit] = {
    "g": Unit("mass", 1), "kg": Unit("mass", 1e3), "t": Unit("mass", 1e6), "mg": Unit("mass", 1e-3),
    "dt": Unit("mass", 1e5), "q": Unit("mass", 1e5), "bu": Unit("bushel", 1),
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
    "inches": "in", "bags": "bag", "bushel": "bu", "bushels": "bu",
}  # fmt: skip
_COUNTED = {"1", "°C", "°F", "mg/kg", "MPa", "kPa", "pH", "no", "count", "dS", "score"}
_US = {"kg": "lb", "g": "oz", "t": "ton", "m": "ft", "cm": "in", "mm": "in", "m²": "ft²", "ha": "ac", "L": "gal"}
_OF_LABORATORIES = {"mg/kg", "g/kg", "mg/L", "g/cm³", "kg/hL"}
"""Written alike everywhere: nobody reports mg/lb."""
_TYPED = re.compile(
    r"^(?P<number>[-+−–]?[0-9.,'’\s\u00a0\u202f]*[0-9][0-9.,]*(?:[eE][-+]?[0-9]+)?)\s*(?P<unit>[^0-9\s].*)?$"
)


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


def _in_pounds(name: str) -> tuple[str, bool]:
    """A unit with its bushels as pounds, and whether it had any."""
    parts = [_plain(part) for part in name.split("/")]
    return "/".join("lb" if part == "bu" else part for part in parts), parts[0] == "bu"


@lru_cache(maxsize=512)
def factor_between(given: str, wanted: str, bushel_lb: float = 0.0) -> float:
    """How many `wanted` one `given` is; `bushel_lb`: pounds in a bushel of the crop, 0 where nobody has said.

    Raises `Refused` when they measure different things, or a bushel would have to be guessed.
    """
    if given == wanted:
        return 1.0
    if bushel_lb > 0:
        (of, from_bushels), (into, to_bushels) = _in_pounds(given), _in_pounds(wanted)
        pounds = factor_between(of, into)
        return pounds * (bushel_lb if from_bushels else 1) / (bushel_lb if to_bushels else 1)
    a, b = unit_of(given), unit_of(wanted)
    if a.dimension != b.dimension:
        raise Refused("bad-value", f"{given} can’t be turned into {wanted}. Type the value in {wanted}.")
    return a.factor / b.factor


def per_area_factor(unit: str) -> float | None:
    """How many of a count in `unit` (`plants/ft²`) one per m² is; None where the unit isn't one per area."""
    area = unit.rpartition("/")[2] if "/" in unit else ""
    return factor_between("1/m²", f"1/{area}") if area and unit_of(area).dimension == "area" else None


def is_unit(text: str) -> bool:
    """Whether every part of the text is a unit that is known here; `plants/m²` is one, `plants` isn't."""
    parts = [_plain(part.strip("()[] ")) for part in text.split("/")]
    known = [part in UNITS or part in _COUNTED for part in parts]
    return bool(text.strip()) and (all(known) or (len(parts) > 1 and all(known[1:]) and parts[0].isalpha()))


def split_unit_off(text: str) -> tuple[str, str]:
    """`4.2 t/ha` → number and unit as written; the unit is empty where there is none, the number where it isn't one."""
    match = _TYPED.match(text.strip())
    return (match["number"].strip(), (match["unit"] or "").strip()) if match else ("", text.strip())


def same_unit(given: str, unit: str) -> bool:
    """Whether a written unit is that of the place: spelled otherwise, or without its addition (`%`, `% by volume`)."""
    return unit_of(given) == unit_of(unit) or unit.startswith(f"{given} ")


def parse_quantity(text: str, unit: str) -> float:
    """The number in `unit` of what was typed: decimal point or comma, with or without a unit of its own (`30 lb`)."""
    typed, suffix = split_unit_off(text)
    value = read_number(typed)
    if value is None:
        example = f"12.5 {unit}".strip()
        raise Refused("bad-value", f"“{text.strip()[:40]}” isn’t a number. Type one number, for example {example}.")
    if not suffix or same_unit(suffix, unit):
        return value
    if not unit:
        raise Refused("bad-value", f"“{text.strip()[:40]}” has a unit, and this value has none. Type the number alone.")
    return value * factor_between(suffix, unit)


@lru_cache(maxsize=512)
def shown_in(unit: str, system: System, bushel_lb: float = 0.0) -> tuple[str, float]:
    """The unit that readers of this custom are shown, and the factor from `unit` to it.

    Units without a counterpart stay as they are, and those of laboratories; so do temperatures, whose scales don't
    share a zero. `bushel_lb`:
    pounds in a bushel of the crop, so that yields are shown in bushels; 0: they aren't.
    """
    if system == "metric" or not unit or unit in _OF_LABORATORIES:
        return unit, 1.0
    if bushel_lb > 0 and unit_of(unit).dimension == "mass/area":
        return "bu/ac", factor_between(unit, "bu/ac", bushel_lb)
    parts = [_US.get(_plain(part), part) for part in unit.split("/")]
    shown = "/".join(parts)
    return (shown, factor_between(unit, shown)) if shown != unit else (unit, 1.0)
