"""Normal probabilities for correlations that are nearly products, as between means of treatments in incomplete blocks.

With correlations λᵢλⱼ the contrasts are independent given one normal variable. What is left of the correlations, e, is
added as the first two terms of a Taylor series in e, from Plackett's identity that the derivative by a correlation is
that by both edges: Plackett (1954), Biometrika 41, 351–360.
"""

from __future__ import annotations

import numpy as np
from scipy import special

from apercu_core.arrays import Floats
from apercu_core.statistics.quadrature import normal_axis

FARTHEST = 0.25
"""Largest leftover correlation for which two terms are good to the third digit (tests)."""

_LEAST = 1e-12
"""Factors below it make their product too small to matter, and what is divided by them too large to compute."""


def inside_probability(at: Floats, loadings: Floats, leftover: Floats) -> Floats:
    """P(all |Dᵢ| ≤ x sd(Dᵢ)) at each x > 0 of `at`, shape (q,).

    `loadings`: λ, shape (m,); `leftover`: shape (m, m), zero on its diagonal.
    """
    z, weights = normal_axis(0.25 if np.abs(loadings).max() < 0.85 else 0.125)
    rest = np.sqrt(1 - loadings * loadings)
    upper = (at[:, None, None] - z[:, None] * loadings) / rest  # (q, z, m)
    lower = (-at[:, None, None] - z[:, None] * loadings) / rest
    each = special.ndtr(upper) - special.ndtr(lower)
    inside = each.prod(-1)
    seen = each > _LEAST
    each = np.where(seen, each, 1.0)
    high, low = _density(upper), _density(lower)
    first = np.where(seen, (high - low) / rest / each, 0.0)
    second = np.where(seen, (low * lower - high * upper) / rest**2 / each, 0.0)
    met = first @ leftover
    once = (first * met).sum(-1)
    squares = leftover * leftover
    both = first * first
    shared = met * met - both @ squares
    twice = (
        once**2 - 2 * (both * (both @ squares)).sum(-1)
        + 4 * ((second - both) * shared).sum(-1)
        + 2 * (second * (second @ squares)).sum(-1)
    )  # fmt: skip
    out: Floats = np.clip((inside * (1 + once / 2 + twice / 8)) @ weights, 0.0, 1.0)
    return out


def _density(x: Floats) -> Floats:
    out: Floats = np.exp(-0.5 * x * x) / np.sqrt(2 * np.pi)
    return out
