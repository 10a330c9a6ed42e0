"""Formulas and conditions of rules: JSONata, which a library evaluates in Python and another one in the browser.

It was chosen over the Common Expression Language, whose library for Python takes six times as long for a formula and
ten times as long to start; both know lists, which readings and parts need. All numbers are doubles, as in the browser.
It has no logarithm: `$ln` is added on both sides.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from functools import lru_cache
from typing import Any

from jsonata import JException, Jsonata

from apercu_core.errors import Refused


def value_of(formula: str, given: Mapping[str, Any]) -> float:
    """The number that a formula makes of named values. Raises `Refused` where it makes none: something isn't there, or
    is divided by zero.
    """
    found = number_or_none(formula, given)
    if found is None:
        raise Refused("bad-value", NO_VALUE)
    return found


def number_or_none(formula: str, given: Mapping[str, Any]) -> float | None:
    """The number that a formula makes of named values, if it makes one."""
    try:
        found = _evaluated(formula, given)
    except Refused:
        return None
    if isinstance(found, bool) or not isinstance(found, int | float) or not math.isfinite(found):
        return None
    return float(found)


def found_in(formula: str, given: Mapping[str, Any]) -> dict[str, Any]:
    """The named values that a formula makes of others."""
    found = _evaluated(formula, given)
    if not isinstance(found, Mapping):
        raise Refused("bad-value", NO_VALUE)
    return dict(found)


def holds(condition: str, given: Mapping[str, Any]) -> bool:
    return _evaluated(condition, given) is True


NO_VALUE = "No value can be worked out from these. Check each of them."


def _evaluated(text: str, given: Mapping[str, Any]) -> Any:
    if isinstance(given.get(text), float):
        return given[text]  # a formula that is a field's name, as of a plain figure
    try:
        return _parsed(text).evaluate(dict(given), {})  # with bindings, each call has a frame of its own
    except (JException, ArithmeticError, ValueError, TypeError):
        raise Refused("bad-value", NO_VALUE) from None


@lru_cache(maxsize=512)
def _parsed(text: str) -> Jsonata:
    made = Jsonata(text)
    made.register_lambda("ln", math.log)
    return made
