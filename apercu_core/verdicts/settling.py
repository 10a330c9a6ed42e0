"""How many blocks would settle a comparison, if its estimate stays."""

from __future__ import annotations

import math

from apercu_core.design.error_df import error_df
from apercu_core.statistics.critical import critical_value
from apercu_core.statistics.specification import Design, Method
from apercu_core.verdicts.margin import Band

MOST_BLOCKS = 40


def blocks_to_settle(
    estimate: float, band: Band, sigma: float, *, treatments: int, design: Design, method: Method, alpha: float,
    against_control: bool,
) -> int | None:  # fmt: skip
    """The smallest number of blocks b with half-width c(b)·σ·√(2/b) below max(|d|, distance to the margin).

    `sigma`: standard deviation between plots in the comparison's stratum, in the scale of `estimate` and `band`.
    None if more than 40 would be needed: then another measure, more frames or a wider margin is the answer.
    """
    target = max(abs(estimate), min(band.high - estimate, estimate - band.low))

    def settles(b: int) -> bool:
        c = critical_value(method, treatments, error_df(design, treatments, b), alpha, against_control=against_control)
        return c * sigma * math.sqrt(2 / b) < target

    if not settles(MOST_BLOCKS):
        return None
    low, high = 1, MOST_BLOCKS  # settles(high) holds, settles(low) can't
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (low, middle) if settles(middle) else (middle, high)
    return high
