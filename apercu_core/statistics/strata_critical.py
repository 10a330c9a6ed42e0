"""Critical values of comparisons whose variance adds up from several strata, for many estimates of them at once."""

from __future__ import annotations

import numpy as np
from scipy.interpolate import RegularGridInterpolator

from apercu_core.arrays import Floats
from apercu_core.statistics.critical import critical_value
from apercu_core.statistics.multivariate_t import LargestT
from apercu_core.statistics.specification import Method

_GRID = {1: 9, 2: 6}
"""Ratios of mean squares at which Dunnett's value is worked out: by how many ratios there are."""


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

    def critical(self, squares: Floats, df: Floats) -> Floats:
        """(m, runs). Dunnett's depends on the ratios of the mean squares too, since these make the correlations."""
        if self._method != "dunnett":
            return np.stack([self._by_df(one) for one in df])
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
        low, high = float(df.min()), float(df.max())
        grid = 1 / np.linspace(1 / high, 1 / low, 12) if high > low * (1 + 1e-9) else np.array([low])
        grid.sort()
        values = [
            critical_value(self._method, self._means, round(float(x), 6), self._alpha, against_control=False)
            for x in grid
        ]
        out: Floats = np.interp(-1 / df, -1 / grid, values)
        return out

    def _between(self, ratios: Floats, df: Floats) -> Floats:
        """Between the values at a grid of ratios; what differs in the shares of its strata has its own."""
        many = _GRID.get(len(ratios), 4)
        ends = [np.quantile(one, [0.002, 0.998]) for one in ratios]
        axes = [np.linspace(float(low) - 1e-6, float(high) + 1e-6, many) for low, high in ends]
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
        where = np.stack([np.clip(one, axis[0], axis[-1]) for one, axis in zip(ratios, axes, strict=True)], axis=-1)
        shape = [many] * len(ratios)
        found = [RegularGridInterpolator(axes, values[:, k].reshape(shape))(where) for k in range(len(first))]
        return np.stack([found[k] for k in np.ravel(of)])
