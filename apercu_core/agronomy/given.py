"""What a calculation was given: each figure held against what is possible, with its name where it isn't."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import TypeVar

from apercu_core.errors import Place, Refused

T = TypeVar("T")


def refuse(name: str, what: str) -> Refused:
    return Refused("bad-value", f"{name}: {what}", [Place(name, what)])


def amount(
    name: str, value: float, *, above: float | None = None, least: float | None = None, most: float | None = None
) -> float:
    """`value`, if it is a number within its limits; `above` is a limit that it may not touch."""
    if not math.isfinite(value):
        raise refuse(name, f"{value} is not a number that can be used. Enter a finite number.")
    if above is not None and not value > above:
        raise refuse(name, f"{value:g} is not possible. Enter a value above {above:g}.")
    if least is not None and value < least:
        raise refuse(name, f"{value:g} is not possible. Enter {least:g} or more.")
    if most is not None and value > most:
        raise refuse(name, f"{value:g} is not possible. Enter {most:g} or less.")
    return value


def positive(name: str, value: float) -> float:
    return amount(name, value, above=0)


def not_negative(name: str, value: float) -> float:
    return amount(name, value, least=0)


def share(name: str, value: float) -> float:
    """0 to 1."""
    if value > 1:
        raise refuse(name, f"{value:g} is not possible as a share. Enter a value from 0 to 1, such as 0.95 for 95 %.")
    return amount(name, value, least=0)


def share_above_zero(name: str, value: float) -> float:
    share(name, value)
    return amount(name, value, above=0)


def whole(name: str, value: float, *, least: int = 0) -> int:
    if not math.isfinite(value) or value != int(value):
        raise refuse(name, f"{value:g} is not a whole number. Enter a whole number.")
    return int(amount(name, value, least=least))


def filled(name: str, values: Sequence[T], least: int = 1) -> Sequence[T]:
    """The values, if there are enough of them."""
    if len(values) < least:
        few = "The list is empty" if not values else f"There are only {len(values)}"
        raise refuse(name, f"{few}. Enter at least {least}.")
    return values


def rounded_up(quotient: float) -> int:
    """How many whole ones it takes; a billionth over a whole number is rounding, not one more."""
    return math.ceil(quotient - 1e-9 * max(1.0, abs(quotient)))
