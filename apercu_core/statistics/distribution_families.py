"""Distributions of counts and of k of n: how the variance follows the mean, the link, deviance and likelihood.

McCullagh and Nelder (1989), *Generalized Linear Models*, chapters 4, 6 and 9; negative binomial: Venables and Ripley
(2002), *Modern Applied Statistics with S*, section 7.4.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

import numpy as np
from scipy import special

from apercu_core.arrays import Floats


class Distribution(Protocol):
    """Of one observation with mean μ; y and μ are counts, or shares of `size` trials. All shapes (n,)."""

    def start(self, y: Floats) -> Floats:
        """A first guess of μ, inside its bounds."""

    def mean(self, eta: Floats) -> Floats:
        """μ from the linear predictor."""

    def slope(self, eta: Floats) -> Floats:
        """∂μ/∂η."""

    def link(self, mu: Floats) -> Floats: ...

    def variance(self, mu: Floats) -> Floats: ...

    def curvature(self, y: Floats, mu: Floats) -> Floats:
        """−∂²ℓ/∂η² of each observation, above zero: with it Newton's steps converge fast."""

    def deviance(self, y: Floats, mu: Floats) -> float: ...

    def log_likelihood(self, y: Floats, mu: Floats) -> float: ...


class _LogLink:
    def mean(self, eta: Floats) -> Floats:
        out: Floats = np.exp(np.clip(eta, -60, 60))
        return out

    def slope(self, eta: Floats) -> Floats:
        return self.mean(eta)

    def link(self, mu: Floats) -> Floats:
        out: Floats = np.log(mu)
        return out

    def start(self, y: Floats) -> Floats:
        return y + 0.1


class Poisson(_LogLink):
    def variance(self, mu: Floats) -> Floats:
        return mu

    def curvature(self, y: Floats, mu: Floats) -> Floats:
        return mu

    def deviance(self, y: Floats, mu: Floats) -> float:
        return float(2 * (special.xlogy(y, y / mu) - (y - mu)).sum())

    def log_likelihood(self, y: Floats, mu: Floats) -> float:
        return float((special.xlogy(y, mu) - mu - special.gammaln(y + 1)).sum())


@dataclass(frozen=True, slots=True)
class QuadraticVariance(_LogLink):
    """Variance μ + αμ²: with α = 1/θ the negative binomial's."""

    alpha: float

    def variance(self, mu: Floats) -> Floats:
        return mu + self.alpha * mu * mu

    def curvature(self, y: Floats, mu: Floats) -> Floats:
        return mu * (1 + self.alpha * y) / (1 + self.alpha * mu) ** 2

    def deviance(self, y: Floats, mu: Floats) -> float:
        theta = 1 / self.alpha
        rest = (y + theta) * np.log1p((y - mu) / (mu + theta))
        return float(2 * (special.xlogy(y, y / mu) - rest).sum())

    def log_likelihood(self, y: Floats, mu: Floats) -> float:
        theta = 1 / self.alpha
        return float(
            (
                special.gammaln(theta + y) - special.gammaln(theta) - special.gammaln(y + 1)
                + theta * np.log(theta / (theta + mu)) + special.xlogy(y, mu / (theta + mu))
            ).sum()
        )  # fmt: skip


@dataclass(frozen=True, slots=True)
class Binomial:
    """Shares k/n with logit link. `size`: n of each observation."""

    size: Floats

    def start(self, y: Floats) -> Floats:
        return (self.size * y + 0.5) / (self.size + 1)

    def mean(self, eta: Floats) -> Floats:
        out: Floats = special.expit(eta)
        return out

    def slope(self, eta: Floats) -> Floats:
        out: Floats = special.expit(eta) * special.expit(-eta)
        return out

    def link(self, mu: Floats) -> Floats:
        out: Floats = special.logit(mu)
        return out

    def variance(self, mu: Floats) -> Floats:
        return mu * (1 - mu) / self.size

    def curvature(self, y: Floats, mu: Floats) -> Floats:
        return self.size * mu * (1 - mu)

    def deviance(self, y: Floats, mu: Floats) -> float:
        n = self.size
        return float(2 * (n * (special.xlogy(y, y / mu) + special.xlogy(1 - y, (1 - y) / (1 - mu)))).sum())

    def log_likelihood(self, y: Floats, mu: Floats) -> float:
        n, k = self.size, self.size * y
        ways = special.gammaln(n + 1) - special.gammaln(k + 1) - special.gammaln(n - k + 1)
        return float((ways + special.xlogy(k, mu) + special.xlogy(n - k, 1 - mu)).sum())
