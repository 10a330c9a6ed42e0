"""Formulas and conditions of rules: JSONata, which a library evaluates in Python and another one in the browser.

It was chosen over the Common Expression Language, whose library for Python takes six times as long for a formula and
ten times as long to start; both know lists, which readings and parts need. All numbers are doubles, as in the browser.
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
    found = _evaluated(formula, given)
    if isinstance(found, bool) or not isinstance(found, int | float) or not math.isfinite(found):
        raise Refused("bad-value", NO_VALUE)
    return float(found)


def holds(condition: str, given: Mapping[str, Any]) -> bool:
    return _evaluated(condition, given) is True


NO_VALUE = "No value can be worked out from these. Check each of them."


def _evaluated(text: str, given: Mapping[str, Any]) -> Any:
    try:
        return _parsed(text).evaluate(dict(given), {})  # with bindings, each call has a frame of its own
    except (JException, ArithmeticError):
        raise Refused("bad-value", NO_VALUE) from None


@lru_cache(maxsize=512)
def _parsed(text: str) -> Jsonata:
    return Jsonata(text)
