"""How many blocks would settle a comparison: if its estimate stays, and with an 80 % chance if it is the truth."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from scipy import special

from apercu_core.statistics.critical import critical_value
from apercu_core.statistics.quadrature import scale_axis
from apercu_core.statistics.specification import Method
from apercu_core.verdicts.margin import Band

MOST_BLOCKS = 40
WANTED = 0.8


@dataclass(frozen=True, slots=True)
class Compared:
    """A comparison as it was found in `blocks` blocks, in the scale of its estimate and band.

    With b blocks its standard error shrinks by √(blocks/b), and degrees of freedom of its stratum grow as b − 1 does.
    `test`: |t| and degrees of freedom of the test that says whether there is a difference, where that isn't the
    interval's. `known_df`: a part of 1/df that doesn't shrink with more blocks.
    """

    estimate: float
    standard_error: float
    df: float
    blocks: float
    treatments: int
    method: Method
    alpha: float
    against_control: bool
    controls: int = 1
    test: tuple[float, float] | None = None
    known_df: float = 0.0

    def in_blocks(self, b: int, digits: int = 17) -> tuple[float, float, float]:
        """Standard error, degrees of freedom and critical value; the latter's df to so many digits, which are kept."""
        df = max(float(f"{self.df_in(self.df, b):.{digits}g}"), 1.0)
        return self.standard_error * math.sqrt(self.blocks / b), df, self.critical(df)

    def df_in(self, df: float, b: int) -> float:
        shrinking = max(1 / df - self.known_df, 1e-12) * (self.blocks - 1) / (b - 1)
        return 1 / (shrinking + self.known_df)

    def critical(self, df: float) -> float:
        return critical_value(
            self.method, self.treatments, df, self.alpha, against_control=self.against_control, controls=self.controls
        )

    def test_in(self, b: int, digits: int = 17) -> tuple[float, float, float]:
        """|t| that is to be expected of the test, its degrees of freedom and critical value."""
        t, df = self.test or (abs(self.estimate) / self.standard_error, self.df)
        then = max(float(f"{df * (b - 1) / (self.blocks - 1):.{digits}g}"), 1.0)
        return t * math.sqrt(b / self.blocks), then, self.critical(then)


def blocks_to_settle(compared: Compared, band: Band) -> int | None:
    """The smallest number of blocks whose half-width is below max(|d|, distance to the margin), if the estimate stays.

    None if more than 40 would be needed: then another measure, more frames or a wider margin is the answer.
    """
    target = max(abs(compared.estimate), min(band.high - compared.estimate, compared.estimate - band.low))

    def settles(b: int) -> bool:
        se, _, critical = compared.in_blocks(b)
        return critical * se < target

    return fewest_blocks(settles)


def blocks_for_a_chance(compared: Compared, band: Band) -> int | None:
    """The smallest number of blocks that settles it in 80 % of trials, if estimate and spread are the truth.

    Settled is an interval without zero, or one within the margins; None past 40.
    """

    def settles(b: int) -> bool:
        se, df, critical = compared.in_blocks(b, digits=2)
        scale, share = scale_axis(float(df))
        half, d = critical * se * scale, compared.estimate
        if compared.test is None:
            excluded = special.ndtr((d - half) / se) + special.ndtr((-d - half) / se)
            found = float(share @ excluded)
        else:
            t, test_df, test_critical = compared.test_in(b, digits=2)
            test_scale, test_share = scale_axis(float(test_df))
            edge = test_critical * test_scale
            found = float(test_share @ (special.ndtr(t - edge) + special.ndtr(-t - edge)))
        # within the margins, and not excluded already: |estimate| ≤ half, and half-width to both margins
        high, low = np.minimum(half, band.high - half), np.maximum(-half, band.low + half)
        inside = np.where(high > low, special.ndtr((high - d) / se) - special.ndtr((low - d) / se), 0.0)
        return found + float(share @ inside) >= WANTED

    return fewest_blocks(settles)


def blocks_for_f(f: float, df: int, error_df: float, blocks: float, alpha: float) -> int | None:
    """The smallest number of blocks that makes an overall F test significant, if the means stay; None past 40.

    F grows with the number of blocks, and its error's degrees of freedom as b − 1 does.
    """

    def significant(b: int) -> bool:
        then = max(error_df * (b - 1) / (blocks - 1), 1.0)
        return float(special.fdtrc(df, then, f * b / blocks)) < alpha

    return fewest_blocks(significant)


def fewest_blocks(settles: Callable[[int], bool], now: int = 1) -> int | None:
    """The smallest number of blocks above `now` that settles it, if more blocks never unsettle it; None past 40."""
    if now >= MOST_BLOCKS or not settles(MOST_BLOCKS):
        return None
    low, high = now, MOST_BLOCKS  # settles(high) holds, settles(low) can't
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (low, middle) if settles(middle) else (middle, high)
    return high
