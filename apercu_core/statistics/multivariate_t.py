"""The largest of several correlated |t|, for comparisons with a control. Deterministic, with any real df.

Where correlations are products λᵢλⱼ (independent means), given one normal variable the contrasts are independent and
the probability is a double integral: Dunnett and Sobel (1955), Biometrika 42, 258–260. Unbalanced mixed models
depart from that a little; the small difference is then taken from a lattice rule run on both correlation matrices
(Genz and Bretz, 2009, *Computation of Multivariate Normal and t Probabilities*, chapter 4).
"""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from scipy import special

from apercu_core.arrays import Floats
from apercu_core.statistics.quadrature import normal_axis, scale_axis
from apercu_core.statistics.root import increasing_root

_LATTICE_POINTS = 8191


class LargestT:
    """max |Tᵢ| of a multivariate t with `correlation`, shape (m, m), and `df` > 0."""

    def __init__(self, correlation: Floats, df: float) -> None:
        self._correlation, self._df = correlation, df
        self._loadings = _loadings(correlation)
        self._product = np.outer(self._loadings, self._loadings)
        np.fill_diagonal(self._product, 1)
        self._is_product = bool(np.abs(self._product - correlation).max() < 1e-7)

    def upper(self, t: float) -> float:
        """P(max |Tᵢ| > t)."""
        return 1 - self._nearly(abs(t)) - self._correction(abs(t))

    def quantile(self, p_upper: float) -> float:
        """The t with P(max |Tᵢ| > t) = p_upper. The correction hardly changes with t, so few steps of it are enough."""
        t = 2.5
        for _ in range(6):
            wanted, before = 1 - p_upper - self._correction(t), t
            t = increasing_root(lambda x, wanted=wanted: self._nearly(x) - wanted, t)  # type: ignore[misc]
            if self._is_product or abs(t - before) < 1e-7:
                break
        return t

    def _nearly(self, t: float) -> float:
        return float(_one_factor(np.array([t]), self._loadings, self._df)[0])

    def _correction(self, t: float) -> float:
        if self._is_product:
            return 0.0
        return _lattice(t, self._correlation, self._df) - _lattice(t, self._product, self._df)


def largest_upper(t: float, correlation: Floats, df: float) -> float:
    """P(max |Tᵢ| > t) for a multivariate t with `correlation`, shape (m, m), and `df` > 0."""
    return LargestT(correlation, df).upper(t)


def largest_quantile(p_upper: float, correlation: Floats, df: float) -> float:
    """The t with P(max |Tᵢ| > t) = p_upper."""
    return LargestT(correlation, df).quantile(p_upper)


def _loadings(correlation: Floats) -> Floats:
    """λ with λᵢλⱼ nearest to the off-diagonal correlations, by alternating least squares; |λ| < 1."""
    m = len(correlation)
    if m == 1:
        return np.zeros(1)
    off = correlation - np.eye(m)
    if m == 2:
        root = np.sqrt(abs(off[0, 1]))
        return np.array([root, np.copysign(root, off[0, 1])])
    exact = _product_loadings(off)
    if exact is not None:
        return exact
    signs = np.where(off[0] < 0, -1.0, 1.0)
    loadings: Floats = signs * np.sqrt(np.clip(np.abs(off).sum(1) / (m - 1), 0, 0.99))
    for _ in range(500):
        before = loadings.copy()
        for i in range(m):
            others = np.delete(loadings, i)
            square = others @ others
            loadings[i] = np.clip(np.delete(off[i], i) @ others / square, -0.999, 0.999) if square > 0 else 0.0
        if np.abs(loadings - before).max() < 1e-13:
            break
    return loadings


def _product_loadings(off: Floats) -> Floats | None:
    """λ where all correlations are above zero and exactly products: λᵢ² = rᵢⱼ rᵢₖ / rⱼₖ; None where they aren't."""
    m = len(off)
    if (off + np.eye(m) <= 0).any():
        return None
    j, k = np.arange(m) - 1, np.arange(m) - 2
    i = np.arange(m)
    loadings: Floats = np.sqrt(off[i, j] * off[i, k] / off[j, k])
    product = np.outer(loadings, loadings) - np.diag(loadings**2)
    return loadings if loadings.max() < 0.999 and np.abs(product - off).max() < 1e-12 else None


def _one_factor(t: Floats, loadings: Floats, df: float) -> Floats:
    """P(all |Tᵢ| ≤ t) where correlations are λᵢλⱼ; t: shape (q,)."""
    z, wz = normal_axis(0.25 if np.abs(loadings).max() < 0.85 else 0.0625)
    s, ws = scale_axis(float(df))
    inside = np.ones((len(t), len(s), len(z)))
    edge = (t[:, None] * s)[:, :, None]
    groups, counts = np.unique(np.round(loadings, 12), return_counts=True)
    for loading, count in zip(groups, counts, strict=True):
        rest = np.sqrt(1 - loading * loading)
        middle = loading * z
        inside *= (special.ndtr((middle + edge) / rest) - special.ndtr((middle - edge) / rest)) ** count
    out: Floats = (inside @ wz) @ ws
    return out


@lru_cache(maxsize=8)
def _lattice_points(dimensions: int) -> Floats:
    """Richtmyer's points from square roots of primes, folded so that the integrand is periodic."""
    primes = [p for p in range(2, 600) if all(p % d for d in range(2, int(p**0.5) + 1))][:dimensions]
    raw: Floats = np.outer(np.arange(1, _LATTICE_POINTS + 1), np.sqrt(primes)) % 1
    folded: Floats = np.abs(2 * raw - 1)
    return folded


@lru_cache(maxsize=64)
def _lattice_scale(dimensions: int, df: float) -> Floats:
    """√(χ²/df) at the points, which take longer than all the rest."""
    u = np.clip(_lattice_points(dimensions)[:, -1], 1e-15, 1 - 1e-15)
    out: Floats = np.sqrt(special.gammaincinv(0.5 * df, u) * 2 / df) if np.isfinite(df) else np.ones(len(u))
    return out


def _lattice(t: float, correlation: Floats, df: float) -> float:
    chol = np.linalg.cholesky(correlation + 1e-12 * np.eye(len(correlation)))
    m = len(chol)
    u = np.clip(_lattice_points(m), 1e-15, 1 - 1e-15)
    edge = t * _lattice_scale(m, df)
    probability = np.ones(len(u))
    y = np.zeros((len(u), m))
    for i in range(m):
        shift = y[:, :i] @ chol[i, :i]
        low, high = special.ndtr((-edge - shift) / chol[i, i]), special.ndtr((edge - shift) / chol[i, i])
        probability *= high - low
        if i < m - 1:
            y[:, i] = special.ndtri(np.clip(low + u[:, i] * (high - low), 1e-300, 1 - 1e-16))
    return float(probability.mean())
