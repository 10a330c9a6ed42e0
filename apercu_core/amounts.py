"""Amounts for readers of another custom: numbers as they are shown and taken back, and amounts inside sentences.

What is stored is metric. A number that was shown and comes back as it was shown is the stored one, so that nothing
drifts when a page is opened in one system and saved in the other.
"""

from __future__ import annotations

import re
from collections.abc import Callable

from apercu_core.errors import Refused
from apercu_core.numbers import read_number
from apercu_core.units import System, shown_in, split_unit_off

EXACT_DIGITS = 5
"""A number of at most so many digits is shown whole; a longer one comes from another system and is rounded."""
ROUNDED_DIGITS = 4
CELSIUS, FAHRENHEIT = "°C", "°F"


def shown_number(stored: float, factor: float = 1.0) -> float:
    """A stored number in the reader's unit: whole where it is short, else to four digits (3 m are 9.843 ft)."""
    value = float(f"{stored * factor:.9g}")
    digits = f"{abs(value):.9e}".partition("e")[0].replace(".", "").rstrip("0")
    if len(digits) <= EXACT_DIGITS:
        return value
    if factor == 1.0:
        return float(f"{value:.6g}")
    return float(f"{value:.{ROUNDED_DIGITS}g}") if abs(value) < 10**ROUNDED_DIGITS else float(round(value))


def stored_number(typed: float, factor: float, stored: float | None) -> float:
    """What a number in the reader's unit is kept as: `stored` itself where it was only shown and not changed."""
    if stored is not None and shown_number(stored, factor) == typed:
        return stored
    return typed if factor == 1.0 else float(f"{typed / factor:.12g}")


def stored_amount(typed: float, factor: float) -> float:
    """What is stored, of an amount in the reader's unit: the shortest number of up to three decimals that is shown so,
    where there is one.
    """
    exact = typed / factor
    for decimals in range(4):
        near = round(exact, decimals)
        if shown_number(near, factor) == typed:
            return near
    return float(f"{exact:.9g}")


def temperature_unit(system: System) -> str:
    return FAHRENHEIT if system == "us" else CELSIUS


def shown_temperature(celsius: float, system: System) -> float:
    """A point on the scale, to a tenth in °F."""
    return round(celsius * 1.8 + 32, 1) if system == "us" else celsius


def parse_temperature(text: str, system: System) -> float:
    """°C, of a temperature in the reader's unit or in one of its own (`10 °F`, `−12C`).

    Raises `Refused` where it isn't a number, or has another unit.
    """
    typed, suffix = split_unit_off(text)
    value = read_number(typed)
    given = suffix.replace("°", "").replace(" ", "").upper() or temperature_unit(system)[1]
    if value is None or given not in ("C", "F"):
        unit = temperature_unit(system)
        raise Refused("bad-value", f"“{text.strip()[:40]}” isn’t a temperature. Type a number in {unit}.")
    return round((value - 32) / 1.8, 2) if given == "F" else value


_NUMBER = r"[−-]?\d+(?:,\d{3})*(?:\.\d+)?"
_UNITS = ("kg/ha", "t/ha", "L/ha", "g/m²", "km", "cm", "mm", "m²", "ha", "kg", "m", r"°C\s?d", "°C")
_AMOUNT = re.compile(
    rf"(?<![\w.,])(?P<first>{_NUMBER})(?P<more>(?:(?:,| to| or| and| by|–| ×)\s?{_NUMBER})*)"
    rf"\s?(?P<unit>{'|'.join(_UNITS)}|[a-z]+/m²)(?![\w/²])(?! [NPKS]\b)"
)
_QUOTED = re.compile(r"(“[^”]*”|(?<!\w)'[^']*'(?!\w))")
"""What a person typed or called something; amounts of nutrients stand in names of levels as well."""


def amounts_in(text: str, system: System) -> str:
    """A sentence of ours with its metric amounts in the reader's units: `60 to 65 °C` becomes `140 to 149 °F`.

    Each number keeps as many digits as it was written with, two at least. What stands in quotation marks is left, and
    so are rates of nutrients, which are names of levels.
    """
    if system == "metric":
        return text
    parts = _QUOTED.split(text)
    return "".join(part if part[:1] in ("“", "'") else _AMOUNT.sub(_in_us, part) for part in parts)


def _in_us(match: re.Match[str]) -> str:
    unit, turned = _turned(match["unit"])

    def number(found: re.Match[str]) -> str:
        return turned(found[0])

    joined = re.sub(_NUMBER, number, match["first"]) + re.sub(rf"(?<!\d){_NUMBER}", number, match["more"])
    return f"{joined} {unit}"


def _turned(unit: str) -> tuple[str, Callable[[str], str]]:
    """The reader's unit, and how a number in the other is written in it."""
    if unit == CELSIUS:
        return FAHRENHEIT, lambda text: _written(round(_value(text) * 1.8 + 32), 9)
    if unit.startswith(CELSIUS):
        return f"{FAHRENHEIT} d", lambda text: _written(_value(text) * 1.8, _digits(text))
    shown, factor = shown_in(unit, "us")
    return shown, lambda text: _written(_value(text) * factor, _digits(text))


def _value(text: str) -> float:
    return float(text.replace(",", "").replace("−", "-"))


def _digits(text: str) -> int:
    return max(2, len(re.sub(r"\D", "", text).strip("0")))


def _written(value: float, digits: int) -> str:
    rounded = float(f"{value:.{digits}g}")
    text = f"{rounded:,.0f}" if rounded == int(rounded) else f"{rounded:,.6f}".rstrip("0")
    return text.replace("-", "−")
