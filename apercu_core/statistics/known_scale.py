"""The largest of several |t| from the same probability with a known standard deviation, for any degrees of freedom."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.polynomial import Chebyshev
from numpy.typing import ArrayLike
from scipy.interpolate import CubicSpline

from apercu_core.arrays import Floats
from apercu_core.statistics.quadrature import scale_axis
from apercu_core.statistics.root import increasing_root

FARTHEST = 6.5
"""P(|D| > 6.5) is 8e-11: beyond, the probability counts as 1."""

_DEGREES = (31, 59, 119)


class KnownScale:
    """P(all |Tᵢ| ≤ t) for t > 0.

    `probability`: P(all |Dᵢ| ≤ x sd(Dᵢ)) at each of some x, shape (q,), for normal D. It is worked out once, at
    Chebyshev points, of which more are taken until the last coefficients are below `tolerance`. A polynomial through
    them is spread to a cubic spline, which is quick; what depends on degrees of freedom is a weighted sum.
    """

    def __init__(self, probability: Callable[[Floats], Floats], tolerance: float = 1e-5) -> None:
        for degree in _DEGREES:
            found = Chebyshev.interpolate(probability, degree, domain=[0, FARTHEST])
            if np.abs(found.coef[-2:]).max() < tolerance:
                break
        at = np.linspace(0, FARTHEST, round(8 / tolerance**0.25))
        self._known = CubicSpline(at, np.clip(found(at), 0.0, 1.0))

    def inside(self, t: ArrayLike, df: float) -> Floats:
        """At each t, any shape."""
        scale, share = scale_axis(float(df))
        x = np.asarray(t, dtype=float)[..., None] * scale
        out: Floats = np.where(x < FARTHEST, self._known(np.minimum(x, FARTHEST)), 1.0) @ share
        return out

    def quantile(self, p_upper: float, df: float) -> float:
        """The t with P(max |Tᵢ| > t) = p_upper."""
        return increasing_root(lambda t: float(self.inside(t, df)) - (1 - p_upper), 2.5)
