"""t and F tails from scipy.special: importing scipy.stats alone would take longer than a whole reading."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike
from scipy import special

from apercu_core.arrays import Floats


def t_upper(t: ArrayLike, df: ArrayLike) -> Floats:
    """P(T > t) for Student's t, exact also far out in the tail; df may be any positive real."""
    t, df = np.asarray(t, float), np.asarray(df, float)
    tail = 0.5 * special.betainc(0.5 * df, 0.5, df / (df + t * t))
    return np.where(t >= 0, tail, 1 - tail)


def t_two_sided(t: ArrayLike, df: ArrayLike) -> Floats:
    """P(|T| > |t|)."""
    return 2 * t_upper(np.abs(np.asarray(t, float)), df)


def t_quantile(p_upper: ArrayLike, df: ArrayLike) -> Floats:
    """The t > 0 with P(T > t) = p_upper, for 0 < p_upper < 0.5."""
    p, df = np.asarray(p_upper, float), np.asarray(df, float)
    w = special.betaincinv(0.5 * df, 0.5, 2 * p)
    out: Floats = np.sqrt(df * (1 - w) / w)
    return out


def f_upper(f: float, df1: float, df2: float) -> float:
    """P(F > f)."""
    return float(special.fdtrc(df1, df2, max(f, 0.0)))
