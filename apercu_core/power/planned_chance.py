"""The chance that a planned test of equivalence or non-inferiority shows it, and how many blocks that takes."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Literal

import numpy as np
from scipy import special

from apercu_core.errors import Refused
from apercu_core.power.differences import Difference
from apercu_core.statistics.distributions import t_quantile
from apercu_core.statistics.quadrature import scale_axis

Test = Literal["equivalence", "non-inferiority"]
MOST_BLOCKS = 40
WANTED = 0.8


def planned_chance(
    compared: Difference, test: Test, margin: float, truth: float = 0.0, *, alpha: float = 0.05
) -> float:
    """Chance that the test, at one-sided `alpha` and unadjusted, shows it when the true difference is `truth`.

    `truth` counts in the wanted direction, so that non-inferiority asks whether it lies above −margin. Two one-sided
    tests: Schuirmann (1987), Journal of Pharmacokinetics and Biopharmaceutics 15, 657–680. Exact where one mean square
    judges the comparison, else with Satterthwaite's degrees of freedom.
    """
    if not (math.isfinite(margin) and margin > 0):
        raise Refused("bad-value", f"The margin is {margin:g}; it must be a number above 0.")
    se, df = compared.standard_error, compared.df
    scale, share = scale_axis(float(df))
    half = float(t_quantile(alpha, df)) * se * scale
    above = (half - margin - truth) / se
    below = (margin - half - truth) / se if test == "equivalence" else np.full_like(half, np.inf)
    inside = special.ndtr(below) - special.ndtr(above)
    return float(share @ np.where(below > above, inside, 0.0))


def blocks_for_planned(
    compared_in: Callable[[int], Difference], test: Test, margin: float, *, alpha: float = 0.05, least: int = 2,
    most: int = MOST_BLOCKS,
) -> int | None:  # fmt: skip
    """The fewest blocks in which the test shows it with an 80 % chance if there is no difference; None past `most`.

    `compared_in`: the board's comparison in so many blocks.
    """
    low, high = least - 1, most
    if planned_chance(compared_in(high), test, margin, alpha=alpha) < WANTED:
        return None
    while high - low > 1:
        middle = (low + high) // 2
        enough = planned_chance(compared_in(middle), test, margin, alpha=alpha) >= WANTED
        low, high = (low, middle) if enough else (middle, high)
    return high
