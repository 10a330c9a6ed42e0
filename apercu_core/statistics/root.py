"""The root of an increasing function of a positive number."""

from __future__ import annotations

from collections.abc import Callable

from scipy.optimize import brentq


def increasing_root(function: Callable[[float], float], guess: float) -> float:
    """Bracket from `guess` outwards, then Brent's method."""
    low, high = guess, guess
    while function(high) < 0:
        low, high = high, 2 * high
    while function(low) > 0:
        low, high = 0.5 * low, low
    if low == high:
        return low
    return float(brentq(function, low, high, xtol=1e-9, rtol=1e-10))
