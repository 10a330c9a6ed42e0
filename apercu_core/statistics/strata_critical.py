"""Critical values of comparisons whose variance adds up from several strata, for many estimates of them at once."""

from __future__ import annotations

import numpy as np

from apercu_core.arrays import Floats
from apercu_core.statistics.critical import critical_t
from apercu_core.statistics.multivariate_t import LargestT
from apercu_core.statistics.specification import Method
from apercu_core.statistics.studentized_range import range_quantile

_POINTS = {1: 10, 2: 6}
"""Ratios of mean squares at which Dunnett's value is worked out, on each axis: by how many ratios there are."""


class StrataCritical:
    """`parts`: (strata, m, m), what a unit of each stratum's mean square adds to the covariance of the comparisons;
    `dfs`: (strata,). `means`: how many means are compared, for methods other than Dunnett's.
    """

    def __init__(self, parts: Floats, dfs: Floats, method: Method, means: int, alpha: float) -> None:
        own = np.array([np.diagonal(part) for part in parts])  # (strata, m)
        self._used = np.flatnonzero(own.max(axis=1) > 1e-9 * own.max())
        self._parts, self._own, self._dfs = parts[self._used], own[self._used], dfs[self._used]
        self._method: Method = method
        self._means, self._alpha = means, alpha

    def variance_and_df(self, squares: Floats) -> tuple[Floats, Floats]:
        """Of each comparison, (m, runs), at mean squares (strata, runs); degrees of freedom by Satterthwaite (1946)."""
        each = self._own[:, :, None] * squares[self._used][:, None, :]
        variance = each.sum(0)
        return variance, variance**2 / (each**2 / self._dfs[:, None, None]).sum(0)

    @property
    def is_exact(self) -> bool:
        """Whether critical values are the board's own; Dunnett's over several ratios take a quick approximation."""
        return self._method != "dunnett" or len(self._used) <= 2

    def critical(self, squares: Floats, df: Floats) -> Floats:
        """(m, runs). Dunnett's depends on the ratios of the mean squares too, since these make the correlations."""
        if self._method != "dunnett":
            return self._by_df(df)
        ratios = np.log(squares[self._used][:-1] / squares[self._used][-1])
        if not len(ratios):
            largest = LargestT(self._parts[0], float(df[0, 0]))
            return np.full_like(df, largest.quantile(self._alpha))
        if squares.shape[1] == 1:
            return np.array([[self._at(ratios[:, 0], float(one))] for one in df[:, 0]])
        return self._between(ratios, df)

    def _at(self, ratios: Floats, df: float) -> float:
        covariance = np.einsum("k,kij->ij", np.append(np.exp(ratios), 1.0), self._parts)
        return LargestT(covariance, df).quantile(self._alpha)

    def _by_df(self, df: Floats) -> Floats:
        """Methods that look at all pairs: their value depends on degrees of freedom alone."""
        if self._method != "tukey":
            return critical_t(self._method, self._means, df, self._alpha, against_control=False)
        low, high = 1 / float(df.max()), 1 / float(df.min())
        if high - low < 1e-9:
            nodes = np.array([high])
            shares = np.ones((1, *df.shape))
        else:
            nodes = _chebyshev(low, high, _POINTS[1])
            shares = _weights(nodes, 1 / df)
        values = np.array([range_quantile(self._alpha, self._means, float(1 / one)) for one in nodes]) / np.sqrt(2)
        out: Floats = np.einsum("i,i...->...", values, shares)
        return out

    def _between(self, ratios: Floats, df: Floats) -> Floats:
        """Between values at Chebyshev points of the ratios; what differs in the shares of its strata has its own."""
        many = _POINTS.get(len(ratios), 5)
        axes = [_chebyshev(float(one.min()) - 1e-6, float(one.max()) + 1e-6, many) for one in ratios]
        mesh = np.stack(np.meshgrid(*axes, indexing="ij"), axis=-1).reshape(-1, len(ratios))
        kinds, of = np.unique(np.round(self._own / self._own.max(), 9), axis=1, return_inverse=True)
        first = [int(np.flatnonzero(of == k)[0]) for k in range(kinds.shape[1])]
        values = np.empty((len(mesh), len(first)))
        for row, point in enumerate(mesh):
            at = np.append(np.exp(point), 1.0)
            covariance = np.einsum("k,kij->ij", at, self._parts)
            shares = at[:, None] * self._own
            own_df = shares.sum(0) ** 2 / (shares**2 / self._dfs[:, None]).sum(0)
            for column, i in enumerate(first):
                largest = LargestT(covariance, float(own_df[i]), nearly=len(ratios) > 1)
                values[row, column] = largest.quantile(self._alpha)
        found = values.T.reshape(len(first), *[many] * len(ratios))
        found = np.repeat(found[..., None], ratios.shape[1], axis=-1)
        for axis, one in zip(axes, ratios, strict=True):  # each sums the first axis that is left
            found = np.einsum("ir,ki...r->k...r", _weights(axis, one), found)
        return np.stack([found[k] for k in np.ravel(of)])


def _chebyshev(low: float, high: float, many: int) -> Floats:
    out: Floats = low + (high - low) * (1 - np.cos(np.pi * np.arange(many) / (many - 1))) / 2
    return out


def _weights(nodes: Floats, at: Floats) -> Floats:
    """Of each Chebyshev node in the value at each point, (nodes, *points).

    Berrut and Trefethen (2004), SIAM Review 46, 501–517.
    """
    sign = (-1.0) ** np.arange(len(nodes))
    sign[[0, -1]] *= 0.5
    apart = at[None] - nodes.reshape(-1, *[1] * at.ndim)
    apart[apart == 0] = 1e-300
    share = sign.reshape(-1, *[1] * at.ndim) / apart
    out: Floats = share / share.sum(0)
    return out
