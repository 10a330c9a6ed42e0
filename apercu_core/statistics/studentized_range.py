"""The studentized range, for Tukey's comparisons, with any real degrees of freedom."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import ArrayLike
from scipy import special

from apercu_core.arrays import Floats
from apercu_core.statistics.known_scale import KnownScale
from apercu_core.statistics.quadrature import normal_axis


def range_upper(q: ArrayLike, means: int, df: float) -> Floats:
    """P(Q > q) for the range of `means` independent means over an estimate with `df`; q: any shape.

    P(Q ≤ q) = ∫ f(s) k ∫ φ(z) [Φ(z) − Φ(z − qs)]^(k−1) dz ds: Tukey (1953); Copenhaver and Holland (1988),
    J. Stat. Comput. Simul. 30, 1–15, equations 1 and 2. Good to 1e-7.
    """
    out: Floats = np.clip(1 - _range(means).inside(np.asarray(q) / np.sqrt(2), df), 0, 1)
    return out


def range_quantile(p_upper: float, means: int, df: float) -> float:
    """The q with P(Q > q) = p_upper."""
    return _range(means).quantile(p_upper, df) * float(np.sqrt(2))


@lru_cache(maxsize=32)
def _range(means: int) -> KnownScale:
    """Kept: the inner integral, over z, depends on nothing but the number of means.

    A range is the largest difference between two means, and its standard deviation is √2.
    """
    z, weights = normal_axis(0.25 if means <= 12 else 0.125)

    def inside(at: Floats) -> Floats:
        each = special.ndtr(z) - special.ndtr(z - np.sqrt(2) * at[:, None])
        out: Floats = means * (each ** (means - 1) @ weights)
        return out

    return KnownScale(inside, tolerance=1e-9)
