"""The studentized range, for Tukey's comparisons, with any real degrees of freedom."""

from __future__ import annotations

import numpy as np
from scipy import special

from apercu_core.arrays import Floats
from apercu_core.statistics.quadrature import normal_axis, scale_axis
from apercu_core.statistics.root import increasing_root


def range_upper(q: Floats, means: int, df: float) -> Floats:
    """P(Q > q) for the range of `means` independent means over an estimate with `df`; q: any shape.

    P(Q ≤ q) = ∫ f(s) k ∫ φ(z) [Φ(z) − Φ(z − qs)]^(k−1) dz ds: Tukey (1953); Copenhaver and Holland (1988),
    J. Stat. Comput. Simul. 30, 1–15, equations 1 and 2. Good to 1e-7.
    """
    z, wz = normal_axis(0.25 if means <= 12 else 0.125)
    s, ws = scale_axis(float(df))
    q = np.asarray(q, float)
    width = q[..., None, None] * s[:, None]
    inner = special.ndtr(z) - special.ndtr(z - width)
    inside = means * (inner ** (means - 1) @ wz) @ ws
    out: Floats = np.clip(1 - inside, 0, 1)
    return out


def range_quantile(p_upper: float, means: int, df: float) -> float:
    """The q with P(Q > q) = p_upper."""
    return increasing_root(lambda q: p_upper - float(range_upper(np.array(q), means, df)), 3.0)
