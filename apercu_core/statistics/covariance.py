"""The covariance of the observations as a function of its parameters, with derivatives.

The fitter and the small-sample methods see only this interface, so that other structures (correlation over dates,
unequal variances) are new classes here, not new fitters.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

import numpy as np

from apercu_core.arrays import Bools, Floats, Ints


@dataclass(frozen=True, slots=True)
class Stratum:
    """A random grouping of plots (block, whole plot, strip). `codes`: shape (n,), the group of each plot."""

    name: str
    codes: Ints


class Covariance(Protocol):
    """V(θ), shape (n, n), for parameters θ, shape (k,)."""

    @property
    def names(self) -> tuple[str, ...]:
        """One name for each parameter."""

    @property
    def residual(self) -> str:
        """The name of the parameter that is the variance of plots themselves."""

    @property
    def lower(self) -> Floats:
        """Lower bounds, shape (k,)."""

    @property
    def upper(self) -> Floats:
        """Upper bounds, shape (k,), which no parameter reaches; infinite where there are none."""

    @property
    def closed(self) -> Bools:
        """Which parameters may be at their lower bound, as a variance component of zero; shape (k,)."""

    @property
    def variances(self) -> Bools:
        """Which parameters are in the response's unit squared, shape (k,); the others have none."""

    def start(self, variance: float) -> Floats:
        """Where to begin, given the variance of the response about the fixed model."""

    def matrix(self, theta: Floats) -> Floats:
        """V(θ), shape (n, n), symmetric, positive definite inside the bounds."""

    def derivatives(self, theta: Floats) -> Floats:
        """∂V/∂θᵢ, shape (k, n, n)."""

    def second_derivatives(self, theta: Floats) -> Floats | None:
        """∂²V/∂θᵢ∂θⱼ, shape (k, k, n, n); None where V is linear in θ."""


class SumOfStrata:
    """V(θ) = Σ θᵢ ZᵢZᵢ′ + θₖ I: variance components, the residual last."""

    def __init__(self, strata: tuple[Stratum, ...], n: int) -> None:
        self.names = (*(s.name for s in strata), "residual")
        k = len(self.names)
        self.residual = "residual"
        self.lower, self.upper = np.zeros(k), np.full(k, np.inf)
        self.closed = np.array([True] * len(strata) + [False])
        self.variances = np.ones(k, dtype=bool)
        grouped = [(s.codes[:, None] == s.codes[None, :]).astype(float) for s in strata]
        self._parts = np.stack([*grouped, np.eye(n)])
        self._flat = self._parts.reshape(len(self._parts), -1)
        self._n = n

    def start(self, variance: float) -> Floats:
        k = len(self.names)
        return np.full(k, variance / k)

    def matrix(self, theta: Floats) -> Floats:
        v: Floats = (theta @ self._flat).reshape(self._n, self._n)
        return v

    def derivatives(self, theta: Floats) -> Floats:
        return self._parts

    def second_derivatives(self, theta: Floats) -> None:
        return None
