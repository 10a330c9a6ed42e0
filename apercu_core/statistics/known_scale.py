"""The largest of several |t| from the same probability with a known standard deviation, for any degrees of freedom."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from scipy.interpolate import CubicSpline

from apercu_core.arrays import Floats
from apercu_core.statistics.quadrature import scale_axis
from apercu_core.statistics.root import increasing_root

POINTS = 73
FARTHEST = 9.0


class KnownScale:
    """P(all |Tᵢ| ≤ t) for t > 0.

    `probability`: P(all |Dᵢ| ≤ x sd(Dᵢ)) at each of some x, shape (q,), for normal D. It is worked out once at fixed
    points and taken between them by a cubic spline, good to about five digits; what depends on degrees of freedom is
    a weighted sum.
    """

    def __init__(self, probability: Callable[[Floats], Floats]) -> None:
        at = np.linspace(0, FARTHEST, POINTS)
        self._known = CubicSpline(at, np.concatenate([[0.0], probability(at[1:])]))

    def inside(self, t: float, df: float) -> float:
        scale, share = scale_axis(float(df))
        x = t * scale
        return float(np.where(x < FARTHEST, self._known(np.minimum(x, FARTHEST)), 1.0) @ share)

    def quantile(self, p_upper: float, df: float) -> float:
        """The t with P(max |Tᵢ| > t) = p_upper."""
        return increasing_root(lambda t: self.inside(t, df) - (1 - p_upper), 2.5)
