"""Checks of the residuals: normality, equal spread, single plots that stand out."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy import special

from apercu_core.arrays import Floats
from apercu_core.statistics.distributions import chi_square_upper, f_upper, t_two_sided
from apercu_core.statistics.plots import Factor
from apercu_core.statistics.reml import RemlFit


@dataclass(frozen=True, slots=True)
class Diagnostics:
    """`residuals`, `fitted`, `studentized` (externally), `outlier_p` (Bonferroni): shape (n,), in plot order."""

    residuals: Floats
    fitted: Floats
    normal_quantiles: Floats
    studentized: Floats
    outlier_p: Floats
    shapiro_p: float | None
    levene_p: float | None
    spread_p: float | None = None
    """One-sided p of a variance that grows with the treatment's mean; None where some mean isn't above zero."""


_NONE = np.array([])
NOT_DIAGNOSED = Diagnostics(_NONE, _NONE, _NONE, _NONE, _NONE, None, None)
"""Of an analysis that nobody looks at plot by plot."""


def diagnose(fit: RemlFit) -> Diagnostics:
    residuals = fit.residuals
    studentized, p = externally_studentized(fit)
    return Diagnostics(
        residuals,
        fit.model.y - residuals,
        normal_quantiles(residuals),
        studentized,
        p,
        shapiro_wilk(residuals),
        brown_forsythe(residuals, fit.model.cells),
        growing_spread(fit),
    )


_POWERS = (0.25, 0.5, 0.75, 1, 1.25, 1.5, 2, 3, 5)


def growing_spread(fit: RemlFit) -> float | None:
    """p of the restricted likelihood ratio of a variance ∝ mean^2θ, θ > 0, against a constant one.

    Half a chi-square with 1 df, since θ lies at its bound under a constant variance (Self and Liang, 1987, JASA 82,
    605–610); with 20 plots it holds its size within half a per cent. Strata are taken out as fixed effects.
    """
    model, cells = fit.model, fit.model.cells
    sums, counts = np.bincount(cells.codes, model.y), np.bincount(cells.codes)
    means = sums / counts
    if len(means) < 3 or means.min() <= 0 or np.ptp(means) < 1e-9 * means.max():
        return None
    groups = [np.eye(s.codes.max() + 1)[s.codes] for s in model.strata]
    left, singular, _ = np.linalg.svd(np.hstack([model.x, *groups]), full_matrices=False)
    basis = left[:, singular > 1e-9 * singular[0]]
    n, p = basis.shape
    log_mean = np.log(means)[cells.codes]
    log_mean = log_mean - log_mean.mean()
    if n - p < 3:
        return None

    weights = np.exp(-np.outer((0.0, *_POWERS), log_mean))
    q, r = np.linalg.qr(basis * weights[:, :, None])
    z = model.y * weights
    rest = z - np.einsum("kip,kp->ki", q, np.einsum("kip,ki->kp", q, z))
    log_r = np.log(np.abs(np.diagonal(r, axis1=1, axis2=2))).sum(axis=1)
    constant, *others = (-log_r - 0.5 * (n - p) * np.log((rest**2).sum(axis=1))).tolist()
    best = max(others)
    if not best > constant:
        return 1.0
    return 0.5 * chi_square_upper(2 * (best - constant), 1)


def normal_quantiles(values: Floats) -> Floats:
    """Expected standard normal value of each plot's rank; Blom (1958) positions."""
    rank = np.argsort(np.argsort(values, kind="stable"), kind="stable") + 1
    out: Floats = special.ndtri((rank - 0.375) / (len(values) + 0.25))
    return out


def externally_studentized(fit: RemlFit) -> tuple[Floats, Floats]:
    """Each plot against the model fitted to the others, and its Bonferroni-adjusted p; NaN where undefined.

    Cook and Weisberg (1982), *Residuals and Influence in Regression*, section 2.2. In a mixed model Pᵢy/√Pᵢᵢ takes
    the place of the studentized residual, the ratio of variances being held.
    """
    y, p, df = fit.model.y, fit.p_matrix, fit.residual_df
    n = len(y)
    with np.errstate(invalid="ignore", divide="ignore"):
        leverage_left = np.diagonal(p)
        usable = leverage_left > 1e-9 * leverage_left.max()
        internal = np.where(usable, (p @ y) / np.sqrt(np.where(usable, leverage_left, 1)), np.nan)
        quadratic = y @ p @ y
        rest = (quadratic - internal**2) / (df - 1) if df > 1 else np.full(n, np.nan)
        external = internal / np.sqrt(np.where(rest > 1e-12 * quadratic, rest, np.nan))
        adjusted = np.minimum(1, n * t_two_sided(external, max(df - 1, 1)))
    return external, adjusted


def brown_forsythe(residuals: Floats, cells: Factor) -> float | None:
    """p of the analysis of variance of |residual − cell median|; None if a cell has one plot.

    Brown and Forsythe (1974), JASA 69, 364–367.
    """
    codes, counts = cells.codes, np.bincount(cells.codes, minlength=len(cells))
    if counts.min() < 2:
        return None
    n, k = len(residuals), len(counts)
    ranked = residuals[np.lexsort((residuals, codes))]
    before = np.cumsum(counts) - counts
    medians = (ranked[before + (counts - 1) // 2] + ranked[before + counts // 2]) / 2
    spread = np.abs(residuals - medians[codes])
    means = np.bincount(codes, spread) / counts
    between = counts @ (means - spread.mean()) ** 2
    within = ((spread - means[codes]) ** 2).sum()
    if within <= 0:
        return None
    return f_upper(float(between / (k - 1) / (within / (n - k))), k - 1, n - k)


def shapiro_wilk(values: Floats) -> float | None:
    """p of the W test; None for fewer than 3 values or none that differ.

    Royston (1995), Applied Statistics 44, 547–551 (algorithm AS R94), n from 3 to 5000.
    """
    x = np.sort(values)
    n = len(x)
    if not 3 <= n <= 5000 or x[-1] - x[0] < 1e-12 * max(np.abs(x).max(), 1e-300):
        return None
    weights = _shapiro_weights(n)
    centred = x - x.mean()
    w = min(float((weights @ x) ** 2 / (centred @ centred)), 1.0)
    if n == 3:
        p = 6 / np.pi * (np.arcsin(np.sqrt(w)) - np.arcsin(np.sqrt(0.75)))
        return float(max(p, 0))
    y = np.log(max(1 - w, 1e-19))
    if n <= 11:
        gamma = -2.273 + 0.459 * n
        if y >= gamma:
            return 1e-99
        y = -np.log(gamma - y)
        mean = np.polyval([-0.0006714, 0.025054, -0.39978, 0.5440], n)
        sd = np.exp(np.polyval([-0.0020322, 0.062767, -0.77857, 1.3822], n))
    else:
        log_n = np.log(n)
        mean = np.polyval([0.0038915, -0.083751, -0.31082, -1.5861], log_n)
        sd = np.exp(np.polyval([0.0030302, -0.082676, -0.4803], log_n))
    return float(special.ndtr(-(y - mean) / sd))


def _shapiro_weights(n: int) -> Floats:
    if n == 3:
        return np.array([-np.sqrt(0.5), 0, np.sqrt(0.5)])
    m = special.ndtri((np.arange(1, n + 1) - 0.375) / (n + 0.25))
    square = float(m @ m)
    root = 1 / np.sqrt(n)
    last = np.polyval([-2.706056, 4.434685, -2.07119, -0.147981, 0.221157, 0], root) + m[-1] / np.sqrt(square)
    weights = np.zeros(n)
    if n > 5:
        second = np.polyval([-3.582633, 5.682633, -1.752461, -0.293762, 0.042981, 0], root) + m[-2] / np.sqrt(square)
        rest = (square - 2 * m[-1] ** 2 - 2 * m[-2] ** 2) / (1 - 2 * last**2 - 2 * second**2)
        weights[2:-2] = m[2:-2] / np.sqrt(rest)
        weights[[1, -2]] = -second, second
    else:
        rest = (square - 2 * m[-1] ** 2) / (1 - 2 * last**2)
        weights[1:-1] = m[1:-1] / np.sqrt(rest)
    weights[[0, -1]] = -last, last
    return weights
