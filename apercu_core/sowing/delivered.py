"""What was really sown: the rate that a plot got, from what was left over or what the drill counted."""

from __future__ import annotations

from apercu_core.agronomy.given import not_negative, positive, refuse


def from_remains(filled_g: float, left_g: float, sown_m2: float) -> float:
    """kg/ha of what was filled in and what the drill and the bag still held."""
    not_negative("filled_g", filled_g)
    if not_negative("left_g", left_g) > filled_g:
        raise refuse("left_g", f"{left_g:g} g can’t be left of {filled_g:g} g. Check both weighings.")
    return (filled_g - left_g) * 10 / positive("sown_m2", sown_m2)


def off(delivered: float, intended: float) -> float:
    """Share by which the delivered rate is off: 0.1 is 10 % too much."""
    return not_negative("delivered", delivered) / positive("intended", intended) - 1
