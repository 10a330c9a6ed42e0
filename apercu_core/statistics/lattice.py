"""Points of a fixed lattice rule, so that results never depend on a random seed."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from scipy import special

from apercu_core.arrays import Floats

POINTS = 8191


@lru_cache(maxsize=16)
def lattice_points(dimensions: int) -> Floats:
    """Richtmyer's points from square roots of primes, folded so that the integrand is periodic; none is 0 or 1."""
    primes = [p for p in range(2, 600) if all(p % d for d in range(2, int(p**0.5) + 1))][:dimensions]
    raw: Floats = np.outer(np.arange(1, POINTS + 1), np.sqrt(primes)) % 1
    folded: Floats = np.clip(np.abs(2 * raw - 1), 1e-15, 1 - 1e-15)
    return folded


@lru_cache(maxsize=64)
def lattice_scale(dimensions: int, df: float) -> Floats:
    """√(χ²/df) at the points' last coordinate, which takes longer than all the rest."""
    u = lattice_points(dimensions)[:, -1]
    out: Floats = np.sqrt(special.gammaincinv(0.5 * df, u) * 2 / df) if np.isfinite(df) else np.ones(len(u))
    return out
