"""Nodes shared by the simultaneous distributions: the normal axis, and the estimated standard deviation.

The integrands are smooth and die away at both ends, where the trapezoid rule converges faster than any power of
the step (Trefethen and Weideman, 2014, SIAM Review 56, 385–458).
"""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from scipy import special

from apercu_core.arrays import Floats

_REACH = 6.0
"""P(|Z| > 6) is 2e-9."""


@lru_cache(maxsize=64)
def normal_axis(step: float) -> tuple[Floats, Floats]:
    """Points z and weights φ(z)·step; the weights add up to 1."""
    half = round(_REACH / step)
    z: Floats = np.arange(-half, half + 1, dtype=np.float64) * step
    w: Floats = np.exp(-0.5 * z * z)
    return z, w / w.sum()


@lru_cache(maxsize=64)
def half_normal_axis(step: float) -> tuple[Floats, Floats]:
    """The points z ≥ 0 of `normal_axis`, weighted for functions that are the same at z and −z."""
    z, w = normal_axis(step)
    half = len(z) // 2
    return z[half:], np.concatenate([w[half : half + 1], 2 * w[half + 1 :]])


@lru_cache(maxsize=256)
def scale_axis(df: float, points: int = 48) -> tuple[Floats, Floats]:
    """Points s and weights for the density of √(χ²_df/df), for any real df > 0; weights add up to 1.

    The variable is log s, whose density is smooth for every df, with a tail of e^(df·u) on the left.
    """
    if df > 1e6:
        return np.ones(1), np.ones(1)
    low = 0.5 * np.log(special.gammaincinv(0.5 * df, 1e-12) * 2 / df)
    high = 0.5 * np.log(special.gammainccinv(0.5 * df, 1e-13) * 2 / df)
    u = np.linspace(low, high, points if df >= 3 else 3 * points)
    density = np.exp(df * (u - 0.5 * np.expm1(2 * u)))
    return np.exp(u), density / density.sum()
