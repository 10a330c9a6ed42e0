"""How even a stand is: gaps along a row, and how much frames differ."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from apercu_core.agronomy.given import amount, filled, not_negative, positive, refuse

LONG_GAP_CM = 20.0
ROUNDING_CM = 1e-9
"""So that a gap just as long as the limit isn't longer than it."""


@dataclass(frozen=True, slots=True)
class Gaps:
    """`share_in_gaps`: of the row's length, 0 to 1."""

    gaps_per_m: float
    share_in_gaps: float


def gaps(positions_cm: Sequence[float], row_length_m: float, longer_than_cm: float = LONG_GAP_CM) -> Gaps:
    """Stretches without a plant, those before the first and after the last among them."""
    length = 100 * positive("row_length_m", row_length_m)
    positive("longer_than_cm", longer_than_cm)
    for i, position in enumerate(positions_cm):
        amount(f"positions_cm.{i}", position, least=0, most=length)
        if i and position < positions_cm[i - 1]:
            raise refuse(f"positions_cm.{i}", f"{position:g} cm lies before the plant at {positions_cm[i - 1]:g} cm. "
                         "Enter the plants in order along the row.")  # fmt: skip
    stretches = [b - a for a, b in pairwise([0.0, *positions_cm, length])]
    long = [one for one in stretches if one > longer_than_cm + ROUNDING_CM]
    return Gaps(len(long) / row_length_m, math.fsum(long) / length)


@dataclass(frozen=True, slots=True)
class Patchiness:
    mean: float
    cv_percent: float
    share_below_floor: float


def patchiness(frames: Sequence[float], floor: float) -> Patchiness:
    """Of the values of one plot's frames; `floor`: below which a frame counts as thin."""
    values = [not_negative(f"frames.{i}", one) for i, one in enumerate(filled("frames", frames, 2))]
    not_negative("floor", floor)
    n = len(values)
    mean = positive("mean of frames", math.fsum(values) / n)
    sd = math.sqrt(math.fsum((one - mean) ** 2 for one in values) / (n - 1))
    return Patchiness(mean, 100 * sd / mean, sum(one < floor for one in values) / n)
