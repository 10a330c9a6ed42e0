"""Numbers as people read them: as many digits as the standard error supports, a real minus, units always."""

from __future__ import annotations

import math
import re
from collections.abc import Mapping, Sequence
from datetime import date
from decimal import ROUND_HALF_UP, Context, Decimal
from typing import Any


def decimals_for(standard_error: float) -> int:
    """Decimals so that one unit of the last digit is at most a third of the standard error: −6 to 6, below 0 tens,
    hundreds and so on.
    """
    if not math.isfinite(standard_error) or standard_error <= 0:
        return 2
    return min(6, max(-6, math.ceil(-math.log10(standard_error / 3))))


def rounded(value: float, decimals: int) -> str:
    """The one rule for rounding: the exact value to the nearest, a tie away from zero, as the browser does it too."""
    if not math.isfinite(value):
        return str(value)
    return f"{Decimal(value).quantize(Decimal(1).scaleb(-decimals), ROUND_HALF_UP, Context(prec=400)):f}"


LARGEST_WRITTEN_OUT = 1e15
"""Larger numbers are written as powers of ten."""


def number(value: float, decimals: int | None = None) -> str:
    """`decimals` None: three significant digits at most, but never fewer than the whole number, no idle zeros."""
    if math.isfinite(value) and abs(value) >= LARGEST_WRITTEN_OUT:
        return f"{value:.3g}".replace("e+", "e").replace("-", "−")
    if decimals is None:
        size = abs(value)
        decimals = 0 if size == 0 else min(6, max(0, 2 - math.floor(math.log10(size))))
        text = rounded(value, decimals)
        text = text.rstrip("0").rstrip(".") if "." in text else text
    else:
        text = rounded(value, decimals)
    if float(text) == 0:
        text = text.lstrip("-")
    return text.replace("-", "−")


def with_unit(value: float, unit: str, decimals: int | None = None) -> str:
    return f"{number(value, decimals)} {unit}".strip()


def beyond_bound(side: str, bound: float, unit: str) -> str:
    """The reason why there is no value where only one end of it is known; `side`: `more`, `less`."""
    return f"It is {side} than {with_unit(bound, unit)}."


POINTS = "percentage points"


def is_percentage(unit: str) -> bool:
    """Whether values in the unit are percentages: `%`, `% by volume`."""
    return unit.strip().startswith("%") or unit.strip().casefold() in ("percent", "per cent")


def difference_unit(unit: str) -> str:
    """What a difference of two values is in: of two percentages, percentage points."""
    return POINTS if is_percentage(unit) else unit


def p_value(p: float) -> str:
    return "p < 0.001" if p < 0.001 else f"p = {p:.3f}" if p < 0.1 else f"p = {p:.2f}"


def without_p_values(text: str) -> str:
    """A finding without its `(p = 0.029, adjusted for 4 treatments)`, for readers whom that wouldn't help."""
    return re.sub(r" \(p [=<] [^)]*\)", "", text)


def listed(names: Sequence[str], most: int = 6) -> str:
    """`a, b and c`; past `most`, how many more there are."""
    shown = list(names[:most])
    if len(names) > most:
        return f"{', '.join(shown)} and {len(names) - most} more"
    return shown[0] if len(shown) == 1 else f"{', '.join(shown[:-1])} and {shown[-1]}"


def filled(message: str, given: Mapping[str, Any]) -> str:
    """A message with the values that its braces name; numbers as people write them."""
    said = {key: number(value) if isinstance(value, int | float) else value for key, value in given.items()}
    return message.format_map(said)


_MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")


def day_said(day: date) -> str:
    """`6 Oct 2026`, as the pages write dates."""
    return f"{day.day} {_MONTHS[day.month - 1]} {day.year}"
