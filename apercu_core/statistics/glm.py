"""Generalised linear models by Newton's steps, each a weighted least squares.

McCullagh and Nelder (1989), *Generalized Linear Models*, section 2.5. The negative binomial's θ by maximum likelihood
in turn with the means (Venables and Ripley, 2002, section 7.4).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy import special
from scipy.linalg import solve_triangular
from scipy.optimize import brentq, minimize_scalar

from apercu_core.arrays import Floats
from apercu_core.errors import Refused
from apercu_core.statistics.distribution_families import Distribution, Poisson, QuadraticVariance
from apercu_core.statistics.root import increasing_root

_MOST_STEPS = 100
_TOLERANCE = 1e-13
MOST_ALPHA = 10.0
"""Counts that vary more than this are too few to tell how much they vary; the scale takes what is left over."""


@dataclass(frozen=True, slots=True)
class GlmFit:
    """A fitted model. `beta`: (p,), on the link scale; `unscaled`: (p, p), (X′WX)⁻¹; `mu`: (n,), fitted means;
    `deviance`, `pearson`: of the fit; `theta`: of a negative binomial, infinite where it is the Poisson.
    """

    x: Floats
    y: Floats
    distribution: Distribution
    beta: Floats
    unscaled: Floats
    mu: Floats
    deviance: float
    pearson: float
    log_likelihood: float
    theta: float | None = None
    theta_se: float | None = None

    @property
    def residual_df(self) -> int:
        n, p = self.x.shape
        return int(n - p)

    @property
    def dispersion(self) -> float:
        """Pearson's χ² over its degrees of freedom; NaN where none are left."""
        return self.pearson / self.residual_df if self.residual_df else float("nan")

    @property
    def pearson_residuals(self) -> Floats:
        out: Floats = (self.y - self.mu) / np.sqrt(self.distribution.variance(self.mu))
        return out


def fit_glm(
    x: Floats, y: Floats, offset: Floats, distribution: Distribution, start: Floats | None = None
) -> GlmFit:  # fmt: skip
    """Fit y with means linked to Xβ + offset. `x`: shape (n, p) of full rank; `y`, `offset`: (n,); `start`: fitted
    means of a fit nearby, shape (n,).

    Raises `Refused` where the iterations don't settle (effects that run away without end).
    """
    beta, _ = _scored(x, y, offset, distribution, start)
    return _fit_at(x, y, offset, distribution, beta)


def _scored(
    x: Floats, y: Floats, offset: Floats, distribution: Distribution, start: Floats | None,
    tolerance: float = _TOLERANCE,
) -> tuple[Floats, Floats]:  # fmt: skip
    """Coefficients and fitted means of `fit_glm`."""
    mu = distribution.start(y) if start is None else start
    eta = distribution.link(mu)
    beta = np.zeros(x.shape[1])
    deviance = np.inf
    for _ in range(_MOST_STEPS):
        score = (y - mu) * distribution.slope(eta) / distribution.variance(mu)
        weight = distribution.curvature(y, mu)
        working = eta - offset + score / weight
        if not (np.isfinite(working).all() and np.isfinite(weight).all() and weight.all()):
            break
        weighted = x * weight[:, None]
        new: Floats = np.asarray(np.linalg.solve(weighted.T @ x, weighted.T @ working), np.float64)
        beta, eta, mu, value = _damped(beta, new, x, y, offset, distribution, deviance)
        if abs(deviance - value) <= tolerance * (abs(value) + 0.1):
            return beta, mu
        deviance = value
    raise Refused("no-variation", "The counts give no settled answer: some effects grow without end.")


def _damped(
    beta: Floats, new: Floats, x: Floats, y: Floats, offset: Floats, distribution: Distribution, deviance: float
) -> tuple[Floats, Floats, Floats, float]:
    """The step, halved until the deviance doesn't grow."""
    for _ in range(30):
        eta = x @ new + offset
        mu = distribution.mean(eta)
        with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
            value = distribution.deviance(y, mu)
        if np.isfinite(value) and value <= deviance * (1 + 1e-10) + 1e-12:
            break
        new = 0.5 * (beta + new)
    return new, eta, mu, value


def _inverse_information(x: Floats, weight: Floats) -> Floats:
    """(X′WX)⁻¹, by orthogonal factors."""
    _, r = np.linalg.qr(x * np.sqrt(weight)[:, None])
    inverse = solve_triangular(r, np.eye(len(r)))
    out: Floats = inverse @ inverse.T
    return out


def _fit_at(x: Floats, y: Floats, offset: Floats, distribution: Distribution, beta: Floats) -> GlmFit:
    eta = x @ beta + offset
    mu = distribution.mean(eta)
    unscaled = _inverse_information(x, distribution.slope(eta) ** 2 / distribution.variance(mu))
    pearson = float(((y - mu) ** 2 / distribution.variance(mu)).sum())
    return GlmFit(
        x, y, distribution, beta, unscaled, mu, distribution.deviance(y, mu), pearson,
        distribution.log_likelihood(y, mu),
    )  # fmt: skip


def fit_negative_binomial(x: Floats, y: Floats, offset: Floats) -> GlmFit:
    """Means and θ by maximum likelihood. Counts that vary no more than a Poisson's: θ is infinite, the Poisson fit."""
    fit = fit_glm(x, y, offset, Poisson())
    if ((y - fit.mu) ** 2 - y).sum() <= 0:
        return _with_theta(fit, np.inf, None)
    theta = _theta_by_likelihood(y, fit.mu)
    for _ in range(200):
        if not np.isfinite(theta):  # these means need no more than a Poisson's variance; better ones may
            theta = _theta_by_profile(x, y, offset)
            if not np.isfinite(theta):
                return _with_theta(fit_glm(x, y, offset, Poisson()), np.inf, None)
            return _with_theta(fit_glm(x, y, offset, QuadraticVariance(1 / theta)), theta, None)
        fit = fit_glm(x, y, offset, QuadraticVariance(1 / theta))
        before, theta = theta, _theta_by_likelihood(y, fit.mu)
        if abs(theta - before) <= 1e-11 * before:
            break
    information = -_theta_curvature(theta, y, fit.mu)
    return _with_theta(fit, theta, float(1 / np.sqrt(information)) if information > 0 else None)


def _theta_by_profile(x: Floats, y: Floats, offset: Floats) -> float:
    """θ that maximises the likelihood with the means that are best for it; infinite where the Poisson's is higher."""

    def loss(log_theta: float) -> float:
        try:
            return -fit_glm(x, y, offset, QuadraticVariance(float(np.exp(-log_theta)))).log_likelihood
        except Refused:
            return float("inf")

    grid = np.linspace(np.log(1e-4), np.log(1e6), 47)
    values = [loss(float(one)) for one in grid]
    best = int(np.argmin(values))
    around = (float(grid[max(best - 1, 0)]), float(grid[min(best + 1, len(grid) - 1)]))
    found = minimize_scalar(loss, bounds=around, method="bounded", options={"xatol": 1e-10})
    if -fit_glm(x, y, offset, Poisson()).log_likelihood <= min(float(found.fun), values[best]):
        return float("inf")
    return float(np.exp(found.x if found.fun <= values[best] else grid[best]))


def _with_theta(fit: GlmFit, theta: float, se: float | None) -> GlmFit:
    return GlmFit(
        fit.x, fit.y, fit.distribution, fit.beta, fit.unscaled, fit.mu, fit.deviance, fit.pearson, fit.log_likelihood,
        float(theta), se,
    )  # fmt: skip


def _theta_score(theta: float, y: Floats, mu: Floats) -> float:
    return float(
        (
            special.digamma(theta + y) - special.digamma(theta) + np.log(theta / (theta + mu))
            + 1 - (y + theta) / (mu + theta)
        ).sum()
    )  # fmt: skip


def _theta_curvature(theta: float, y: Floats, mu: Floats) -> float:
    trigamma = special.polygamma
    return float(
        (
            trigamma(1, theta + y) - trigamma(1, theta) + 1 / theta - 2 / (mu + theta)
            + (y + theta) / (mu + theta) ** 2
        ).sum()
    )  # fmt: skip


def _theta_by_likelihood(y: Floats, mu: Floats) -> float:
    """θ where the score is zero, the means held; infinite where the likelihood rises for ever."""
    largest = 1e8
    if _theta_score(largest, y, mu) >= 0:
        return float("inf")
    theta = increasing_root(lambda t: -_theta_score(t, y, mu), 1.0)
    for _ in range(20):  # polish
        step = _theta_score(theta, y, mu) / _theta_curvature(theta, y, mu)
        if not np.isfinite(step) or theta - step <= 0:
            break
        theta -= step
        if abs(step) <= 1e-14 * theta:
            break
    return theta


def moment_alpha(x: Floats, y: Floats, offset: Floats) -> tuple[float, GlmFit]:
    """α of the variance μ + αμ², so that Pearson's χ² equals its degrees of freedom; 0 where a Poisson's does already,
    at most `MOST_ALPHA`.

    Breslow (1984), Applied Statistics 33, 38–44.
    """
    fit = fit_glm(x, y, offset, Poisson())
    df = fit.residual_df
    if df < 1 or fit.pearson <= df:
        return 0.0, fit
    near = fit.mu

    def left_over(alpha: float) -> float:
        """Decreasing in α; on the log scale nearly straight. Begins at the means of the last α that was tried."""
        nonlocal near
        distribution = QuadraticVariance(alpha)
        _, near = _scored(x, y, offset, distribution, near, tolerance=1e-9)
        return float(np.log(((y - near) ** 2 / distribution.variance(near)).sum() / df))

    low, high = 1e-6, min(max((fit.pearson / df - 1) / max(float(fit.mu.mean()), 1e-3), 1e-3), MOST_ALPHA)
    while left_over(high) > 0 and high < MOST_ALPHA:
        low, high = high, min(4 * high, MOST_ALPHA)
    if left_over(low) <= 0:
        alpha = low
    elif left_over(high) >= 0:
        alpha = high
    else:
        alpha = float(brentq(left_over, low, high, xtol=1e-6 * high, rtol=1e-6))
    return alpha, fit_glm(x, y, offset, QuadraticVariance(alpha), near)
