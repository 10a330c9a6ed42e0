"""The largest of several correlated |t|, for comparisons with a control. Deterministic, with any real df.

Where correlations are products λᵢλⱼ (independent means), given one normal variable the contrasts are independent and
the probability is a double integral: Dunnett and Sobel (1955), Biometrika 42, 258–260. In nested groups it is one
integral more (`nested_normal`), and for crossed strips one over few variables (`crossed_normal`). Incomplete blocks,
and plots that were lost, depart from these a little, which a Taylor series adds (`near_product`). Where it is more, the
difference is taken from a lattice rule run on both correlation matrices (Genz and Bretz, 2009, *Computation of
Multivariate Normal and t Probabilities*, chapter 4).
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from scipy import special

from apercu_core.arrays import Floats
from apercu_core.statistics import crossed_normal, near_product, nested_normal
from apercu_core.statistics.known_scale import KnownScale
from apercu_core.statistics.lattice import lattice_points, lattice_scale
from apercu_core.statistics.quadrature import normal_axis, scale_axis
from apercu_core.statistics.root import increasing_root

EXACT_PRODUCT = 1e-7
"""Largest leftover correlation that counts as rounding."""


class LargestT:
    """max |Tᵢ| of a multivariate t with `covariance` up to a common factor, shape (m, m), and `df` > 0.

    `nearly`: take the nearest product of loadings for what is far from all of these; good to about half a per cent of
    the quantile, and quick.
    """

    def __init__(self, covariance: Floats, df: float, *, nearly: bool = False) -> None:
        found = _structure(np.ascontiguousarray(covariance, dtype=float).tobytes(), len(covariance), nearly)
        self._correlation, self._loadings, self._known, self._df = found.correlation, found.loadings, found.known, df
        self._product = np.outer(self._loadings, self._loadings)
        np.fill_diagonal(self._product, 1)
        is_product = bool(np.abs(self._product - self._correlation).max() < EXACT_PRODUCT)
        self._is_exact = is_product or nearly or self._known is not None

    def upper(self, t: float) -> float:
        """P(max |Tᵢ| > t)."""
        return 1 - self._nearly(abs(t)) - self._correction(abs(t))

    def quantile(self, p_upper: float) -> float:
        """The t with P(max |Tᵢ| > t) = p_upper. The correction hardly changes with t, so few steps of it are enough."""
        if self._known is None and self._is_exact:
            return _one_factor_quantile(p_upper, tuple(self._loadings.tolist()), self._df)
        t = 2.5
        for _ in range(6):
            wanted, before = 1 - p_upper - self._correction(t), t
            t = increasing_root(lambda x, wanted=wanted: self._nearly(x) - wanted, t)  # type: ignore[misc]
            if self._is_exact or abs(t - before) < 1e-7:
                break
        return t

    def _nearly(self, t: float) -> float:
        if self._known is not None:
            return float(self._known.inside(t, self._df))
        return float(_one_factor(np.array([t]), self._loadings, self._df)[0])

    def _correction(self, t: float) -> float:
        if self._is_exact:
            return 0.0
        return _lattice(t, self._correlation, self._df) - _lattice(t, self._product, self._df)


def _known_scale(covariance: Floats, correlation: Floats, *, strips: bool) -> KnownScale | None:
    """What is exact and not a product: contrasts in nested groups, or cells of crossed strips; None for others."""
    groups = nested_normal.nested_groups(correlation)
    if groups is not None:
        return _of_groups(groups)
    found = crossed_normal.crossed_strips(covariance) if strips else None
    return _of_strips(found) if found is not None else None


@lru_cache(maxsize=16)
def _of_groups(groups: tuple[nested_normal.Group, ...]) -> KnownScale:
    """Kept, since one board asks for several degrees of freedom."""
    return KnownScale(lambda at: nested_normal.inside_probability(at, groups))


@lru_cache(maxsize=16)
def _of_strips(strips: crossed_normal.Strips) -> KnownScale:
    return KnownScale(lambda at: crossed_normal.inside_probability(at, strips))


@dataclass(frozen=True, slots=True)
class _Structure:
    """`loadings`: of the nearest product, zeros where `known` has nested groups or crossed strips."""

    correlation: Floats
    loadings: Floats
    known: KnownScale | None


@lru_cache(maxsize=32)
def _structure(covariance: bytes, m: int, nearly: bool) -> _Structure:
    """Kept, since one board asks for as many degrees of freedom as it has comparisons."""
    given = np.frombuffer(covariance).reshape(m, m)
    spread = np.sqrt(np.diagonal(given))
    correlation: Floats = given / np.outer(spread, spread)
    known = _known_scale(given, correlation, strips=not nearly)
    if known is not None:
        return _Structure(correlation, np.zeros(m), known)
    loadings = _loadings(correlation)
    leftover = correlation - np.outer(loadings, loadings)
    np.fill_diagonal(leftover, 0.0)
    if EXACT_PRODUCT <= np.abs(leftover).max() <= near_product.FARTHEST:
        known = KnownScale(lambda at: near_product.inside_probability(at, loadings, leftover))
    return _Structure(correlation, loadings, known)


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


@lru_cache(maxsize=256)
def _one_factor_quantile(p_upper: float, loadings: tuple[float, ...], df: float) -> float:
    """The t with P(max |Tᵢ| > t) = p_upper where correlations are λᵢλⱼ. Kept: all measures of a design share it."""
    products = np.array(loadings)
    return increasing_root(lambda t: float(_one_factor(np.array([t]), products, df)[0]) - 1 + p_upper, 2.5)


def _lattice(t: float, correlation: Floats, df: float) -> float:
    chol = np.linalg.cholesky(correlation + 1e-12 * np.eye(len(correlation)))
    m = len(chol)
    u = lattice_points(m)
    edge = t * lattice_scale(m, df)
    probability = np.ones(len(u))
    y = np.zeros((len(u), m))
    for i in range(m):
        shift = y[:, :i] @ chol[i, :i]
        low, high = special.ndtr((-edge - shift) / chol[i, i]), special.ndtr((edge - shift) / chol[i, i])
        probability *= high - low
        if i < m - 1:
            y[:, i] = special.ndtri(np.clip(low + u[:, i] * (high - low), 1e-300, 1 - 1e-16))
    return float(probability.mean())
