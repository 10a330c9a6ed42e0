"""t and F tails from scipy.special: importing scipy.stats alone would take longer than a whole reading.

Infinite degrees of freedom give the normal and the chi-square distribution.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike
from scipy import special

from apercu_core.arrays import Floats


def t_upper(t: ArrayLike, df: ArrayLike) -> Floats:
    """P(T > t) for Student's t, exact also far out in the tail; df may be any positive real, or infinite."""
    t, df = np.asarray(t, float), np.asarray(df, float)
    finite = np.where(np.isfinite(df), df, 1.0)
    tail = 0.5 * special.betainc(0.5 * finite, 0.5, finite / (finite + t * t))
    tail = np.where(np.isfinite(df), tail, special.ndtr(-np.abs(t)))
    return np.where(t >= 0, tail, 1 - tail)


def log_t_upper(t: float, df: float) -> float:
    """log P(T > t), not below that of the smallest number."""
    return float(np.log(max(float(t_upper(t, df)), 1e-300)))


def t_two_sided(t: ArrayLike, df: ArrayLike) -> Floats:
    """P(|T| > |t|)."""
    return 2 * t_upper(np.abs(np.asarray(t, float)), df)


def t_quantile(p_upper: ArrayLike, df: ArrayLike) -> Floats:
    """The t > 0 with P(T > t) = p_upper, for 0 < p_upper < 0.5."""
    p, df = np.asarray(p_upper, float), np.asarray(df, float)
    finite = np.where(np.isfinite(df), df, 1.0)
    w = special.betaincinv(0.5 * finite, 0.5, 2 * p)
    out: Floats = np.where(np.isfinite(df), np.sqrt(finite * (1 - w) / w), -special.ndtri(p))
    return out


def f_upper(f: float, df1: float, df2: float) -> float:
    """P(F > f)."""
    if np.isinf(df2):
        return chi_square_upper(max(f, 0.0) * df1, df1)
    return float(special.fdtrc(df1, df2, max(f, 0.0)))


def chi_square_upper(x: float, df: float) -> float:
    """P(X > x) of a chi-square."""
    return float(special.chdtrc(df, max(x, 0.0)))
