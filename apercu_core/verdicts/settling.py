"""How many blocks would settle a comparison, if its estimate stays."""

from __future__ import annotations

import math

from apercu_core.statistics.critical import critical_value
from apercu_core.statistics.specification import Method
from apercu_core.verdicts.margin import Band

MOST_BLOCKS = 40


def blocks_to_settle(
    estimate: float, band: Band, standard_error: float, df: float, blocks: float, *, treatments: int, method: Method,
    alpha: float, against_control: bool, controls: int = 1,
) -> int | None:  # fmt: skip
    """The smallest number of blocks b with half-width c(b)·SE(b) below max(|d|, distance to the margin).

    `standard_error`, `df`: of the comparison as found in `blocks` blocks, in the scale of `estimate` and `band`; with b
    blocks SE shrinks by √(blocks/b), and the degrees of freedom of its stratum grow as b − 1 does. None if more than
    40 would be needed: then another measure, more frames or a wider margin is the answer.
    """
    target = max(abs(estimate), min(band.high - estimate, estimate - band.low))

    def settles(b: int) -> bool:
        df_then = max(df * (b - 1) / (blocks - 1), 1.0)
        c = critical_value(method, treatments, df_then, alpha, against_control=against_control, controls=controls)
        return c * standard_error * math.sqrt(blocks / b) < target

    if not settles(MOST_BLOCKS):
        return None
    low, high = 1, MOST_BLOCKS  # settles(high) holds, settles(low) can't
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (low, middle) if settles(middle) else (middle, high)
    return high
