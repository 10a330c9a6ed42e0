"""Residual maximum likelihood for any covariance V(θ).

Patterson and Thompson (1971), Biometrika 58, 545–554; scoring and information as in Searle, Casella and McCulloch
(1992), *Variance Components*, sections 6.6 and 8.3.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.linalg.lapack import dpotrf, dpotri

from apercu_core.arrays import Bools, Floats
from apercu_core.errors import Refused
from apercu_core.statistics.covariance import Covariance, SumOfStrata
from apercu_core.statistics.model import LinearModel

_MOST_STEPS = 200
_TOLERANCE = 1e-10
_NEARLY = 1e-6
"""Slope, relative to the parameter, at which rounding may keep the search from the very top."""


@dataclass(frozen=True, slots=True)
class RemlFit:
    """A model fitted by REML.

    `theta`: shape (k,), covariance parameters, some possibly at their bounds; `beta`: shape (p,); `v_inverse`: (n, n);
    `phi`: (p, p), the covariance of beta taken at theta as known; `p_matrix`: (n, n), V⁻¹ − V⁻¹XΦX′V⁻¹.
    `converged`: whether the likelihood was at its highest when the search ended.
    """

    model: LinearModel
    covariance: Covariance
    theta: Floats
    beta: Floats
    phi: Floats
    v_inverse: Floats
    p_matrix: Floats
    log_likelihood: float
    converged: bool = True

    @property
    def residual_df(self) -> int:
        n, p = self.model.x.shape
        return int(n - p)

    @property
    def only_residual(self) -> bool:
        """True where plots are the only stratum of error, so that least squares is exact."""
        return len(self.theta) == 1

    @property
    def residual_sd(self) -> float:
        """Standard deviation between plots that the model leaves, in the response's unit."""
        return float(np.sqrt(self.residual_variance))

    @property
    def residual_variance(self) -> float:
        return float(self.theta[self.covariance.names.index(self.covariance.residual)])

    @property
    def variance_components(self) -> dict[str, float]:
        named = zip(self.covariance.names, map(float, self.theta), self.covariance.variances, strict=True)
        return {name: value for name, value, is_variance in named if is_variance}

    @property
    def residuals(self) -> Floats:
        """Plot residuals after fixed effects and predicted strata, shape (n,), in the response's unit."""
        out: Floats = self.residual_variance * (self.p_matrix @ self.model.y)
        return out


@dataclass(slots=True)
class _State:
    theta: Floats
    v_inverse: Floats
    phi: Floats
    p: Floats
    py: Floats
    log_likelihood: float


def fit_reml(model: LinearModel, covariance: Covariance | None = None) -> RemlFit:
    """RemlFit by REML with parameters inside their bounds; a variance at zero is a result, not an error.

    Raises `Refused` (*no-variation*) where the model leaves nothing unexplained.
    """
    n = len(model.y)
    cov: Covariance = covariance or SumOfStrata(model.strata, n)
    scale, y = _scaled(model)
    state = _evaluate(cov, cov.start(1.0), y, model.x)
    if len(cov.names) == 1:  # least squares: the residual mean square is the estimate
        df = n - model.x.shape[1]
        theta = state.theta * float(y @ state.py) / df
        state = _evaluate(cov, theta, y, model.x)
        return _unscaled(model, cov, state, scale, converged=True)
    state, converged = _climb(cov, state, y, model.x)
    return _unscaled(model, cov, state, scale, converged=converged)


def fit_at(model: LinearModel, theta: Floats) -> RemlFit:
    """The model at variances that are taken as they are, for planning; only means are estimated from the response.

    `theta`: shape (strata + 1,), those of the model's strata, then of plots.
    """
    covariance = SumOfStrata(model.strata, len(model.y))
    state = _evaluate(covariance, np.asarray(theta, dtype=float), model.y, model.x)
    return _unscaled(model, covariance, state, 1.0, converged=True)


def _scaled(model: LinearModel) -> tuple[float, Floats]:
    """Least-squares residuals with unit variance, and the factor that was taken out.

    REML doesn't see the fixed effects (PX = 0); without them, a mean far from zero costs no digits.
    """
    q, _ = np.linalg.qr(model.x)
    largest = float(np.abs(model.y).max()) or 1.0
    y = model.y / largest  # squares of very small or large values would be lost
    rest = y - q @ (q.T @ y)
    _require_error(model, y, rest)
    scale = float(np.sqrt(rest @ rest / (len(rest) - q.shape[1])))
    return scale * largest, rest / scale


LEAST_ERROR = 1e-10
"""Share of the total variance below which the error variance is rounding, not error."""


def _require_error(model: LinearModel, y: Floats, rest: Floats) -> None:
    """Refuse a table that its design explains to the last digit. `rest`: residuals of the fixed effects, (n,)."""
    total = float(((y - y.mean()) ** 2).mean())
    rounding = (1e-13 * float(np.abs(y).max())) ** 2
    if float((rest @ rest) / len(y)) <= max(LEAST_ERROR * total, rounding):
        same = "All plots" if not total else "" if len(model.terms) > 1 else "Plots of one treatment all"
        found = f"{same} have the same value" if same else "Treatments and blocks explain every value to the last digit"
        raise Refused(
            "no-variation",
            f"{found}, so there is no error to judge by. Were the values computed, or entered once for several plots?",
        )
    if not model.strata:
        return
    groups = [np.eye(s.codes.max() + 1)[s.codes] for s in model.strata]
    inside = rest - _projection(np.hstack([model.x, *groups])) @ rest
    if float((inside @ inside) / len(y)) <= max(LEAST_ERROR * total, rounding):
        where = model.strata[-1].name.replace("_", " ")
        hint = (
            "Were the values computed, or entered once for several plots?"
            if where == "block"
            else f"If this was measured once for each {where}, it can’t tell the treatments within it apart."
        )
        raise Refused(
            "no-variation",
            f"Plots of one {where} differ by nothing but their treatments, so there is no error between plots to judge "
            f"by. {hint}",
        )


def _projection(columns: Floats) -> Floats:
    """The projection onto the space of the columns, shape (n, n)."""
    left, singular, _ = np.linalg.svd(columns, full_matrices=False)
    basis = left[:, singular > 1e-9 * singular[0]]
    out: Floats = basis @ basis.T
    return out


def _evaluate(cov: Covariance, theta: Floats, y: Floats, x: Floats) -> _State:
    chol, failed = dpotrf(cov.matrix(theta), lower=1, clean=1)
    if failed:
        raise np.linalg.LinAlgError("V is not positive definite")
    half, _ = dpotri(chol, lower=1)
    v_inverse = np.tril(half) + np.tril(half, -1).T
    vx = v_inverse @ x
    xvx = x.T @ vx
    c, failed = dpotrf(xvx, lower=1, clean=1)
    if failed:
        raise np.linalg.LinAlgError("X′V⁻¹X is not positive definite")
    half, _ = dpotri(c, lower=1)
    phi = np.tril(half) + np.tril(half, -1).T
    p = v_inverse - vx @ phi @ vx.T
    py = p @ y
    logdet = np.log(np.diagonal(chol)).sum() + np.log(np.diagonal(c)).sum()
    return _State(theta, v_inverse, phi, p, py, float(-logdet - 0.5 * (y @ py)))


def score_and_information(cov: Covariance, theta: Floats, p: Floats, py: Floats) -> tuple[Floats, Floats, Floats]:
    """Gradient of the REML log likelihood, shape (k,), with its expected and observed information, (k, k) each."""
    d = cov.derivatives(theta)
    k = len(d)
    pd = p @ d
    dpy = d @ py
    score = 0.5 * (dpy @ py - np.trace(pd, axis1=1, axis2=2))
    expected = 0.5 * (pd.reshape(k, -1) @ pd.transpose(0, 2, 1).reshape(k, -1).T)
    average = 0.5 * (dpy @ p @ dpy.T)
    observed = 2 * average - expected
    second = cov.second_derivatives(theta)
    if second is not None:
        observed += 0.5 * (np.einsum("ab,ijba->ij", p, second) - np.einsum("a,ijab,b->ij", py, second, py))
    return score, expected, observed


def _climb(cov: Covariance, state: _State, y: Floats, x: Floats) -> tuple[_State, bool]:
    """Projected Newton ascent: expected information first, then the observed where it is positive definite.

    In balanced data the first step ends at the top. Returned with it: whether the top was reached; a search that only
    creeps on, or runs out of steps, hasn't.
    """
    for taken in range(_MOST_STEPS):
        score, expected, observed = score_and_information(cov, state.theta, state.p, state.py)
        free = ~(cov.closed & (state.theta <= cov.lower) & (score <= 0))
        steepest = np.abs(score[free] * np.maximum(np.abs(state.theta[free]), 1e-6)).max(initial=0)
        if steepest < _TOLERANCE:
            return state, True
        moved = _better(cov, state, _newton_step(score, expected, observed if taken else expected, free), y, x)
        if moved is None:
            return state, bool(steepest < _NEARLY)
        state = moved
    return state, False


def _newton_step(score: Floats, expected: Floats, observed: Floats, free: Bools) -> Floats:
    at = np.ix_(free, free)
    step = np.zeros_like(score)
    for information in (observed[at], expected[at]):
        if np.linalg.eigvalsh(information)[0] > 1e-8 * np.abs(information).max():
            step[free] = np.linalg.solve(information, score[free])
            return step
    step[free] = np.linalg.lstsq(expected[at], score[free], rcond=1e-10)[0]
    return step


def _better(cov: Covariance, state: _State, step: Floats, y: Floats, x: Floats) -> _State | None:
    """The first of ever shorter steps, held inside the bounds, that raises the likelihood."""
    for halvings in range(40):
        theta = _inside(cov, state.theta + step * 0.5**halvings, state.theta)
        try:
            candidate = _evaluate(cov, theta, y, x)
        except np.linalg.LinAlgError:
            continue
        if candidate.log_likelihood > state.log_likelihood - 1e-13 * abs(state.log_likelihood):
            moved = np.abs(theta - state.theta).max() > 1e-13 * np.abs(theta).max()
            return candidate if moved else None
    return None


def _inside(cov: Covariance, theta: Floats, before: Floats) -> Floats:
    """Closed bounds can be reached; of the way to an open one a thousandth is left."""
    least = np.where(cov.closed, cov.lower, cov.lower + 1e-3 * (before - cov.lower))
    bounded = np.isfinite(cov.upper)
    most = np.full(len(theta), np.inf)
    most[bounded] = cov.upper[bounded] - 1e-3 * (cov.upper[bounded] - before[bounded])
    return np.clip(theta, least, most)


def _unscaled(model: LinearModel, cov: Covariance, state: _State, scale: float, *, converged: bool) -> RemlFit:
    square = scale * scale
    vx = state.v_inverse @ model.x
    n, p = model.x.shape
    return RemlFit(
        model=model,
        covariance=cov,
        theta=np.where(cov.variances, state.theta * square, state.theta),
        beta=state.phi @ (vx.T @ model.y),
        phi=state.phi * square,
        v_inverse=state.v_inverse / square,
        p_matrix=state.p / square,
        log_likelihood=state.log_likelihood - (n - p) * float(np.log(scale) + 0.5 * np.log(2 * np.pi)),
        converged=converged,
    )
