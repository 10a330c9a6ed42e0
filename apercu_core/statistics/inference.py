"""Standard errors, degrees of freedom and F tests of linear functions of the fixed effects.

Three methods behind one interface: exact least squares, Kenward–Roger, Satterthwaite.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

import numpy as np

from apercu_core.arrays import Floats
from apercu_core.statistics.distributions import f_upper
from apercu_core.statistics.reml import RemlFit, score_and_information
from apercu_core.statistics.specification import DfMethod


@dataclass(frozen=True, slots=True)
class FTest:
    df_num: float
    df_den: float
    f: float
    p: float


class Inference(Protocol):
    """`covariance`: shape (p, p), of the fixed effects, adjusted where the method adjusts it."""

    @property
    def covariance(self) -> Floats: ...

    def df(self, functions: Floats) -> Floats:
        """Degrees of freedom of each row of `functions`, shape (m, p) → (m,)."""

    def f_test(self, functions: Floats) -> FTest:
        """Test that all rows of `functions`, shape (q, p), independent, are zero."""


def choose_inference(fit: RemlFit, method: DfMethod) -> Inference:
    """Least squares is exact with one stratum of error; otherwise the method asked for."""
    if fit.only_residual:
        return LeastSquares(fit)
    return KenwardRoger(fit) if method == "kenward_roger" else Satterthwaite(fit)


def _wald(functions: Floats, beta: Floats, covariance: Floats) -> float:
    estimate = functions @ beta
    return float(estimate @ np.linalg.solve(functions @ covariance @ functions.T, estimate))


class LeastSquares:
    """One stratum: the residual degrees of freedom serve for everything."""

    def __init__(self, fit: RemlFit) -> None:
        self.covariance = fit.phi
        self._fit = fit

    def df(self, functions: Floats) -> Floats:
        return np.full(len(functions), float(self._fit.residual_df))

    def f_test(self, functions: Floats) -> FTest:
        q, df = len(functions), float(self._fit.residual_df)
        f = _wald(functions, self._fit.beta, self.covariance) / q
        return FTest(q, df, f, f_upper(f, q, df))


class KenwardRoger:
    """Kenward and Roger (1997), Biometrics 53, 983–997, with expected information.

    A variance estimated at zero still counts as a parameter. The limits of the F approximation at df 2 and 4
    follow the convention that the reference numbers state.
    """

    def __init__(self, fit: RemlFit) -> None:
        self._fit = fit
        phi, vinv, x = fit.phi, fit.v_inverse, fit.model.x
        d = fit.covariance.derivatives(fit.theta)
        k = len(d)
        vx = vinv @ x
        dvx = d @ vx
        self._p = -(vx.T @ dvx)  # Pᵢ, shape (k, p, p)
        q = np.einsum("iap,ab,jbr->ijpr", dvx, vinv, dvx, optimize=["einsum_path", (0, 1), (0, 1)])
        _, expected, _ = score_and_information(fit.covariance, fit.theta, fit.p_matrix, fit.p_matrix @ fit.model.y)
        self._w = np.linalg.pinv(expected, rcond=1e-12, hermitian=True)
        adjust = np.zeros_like(phi)
        second = fit.covariance.second_derivatives(fit.theta)
        for i in range(k):
            for j in range(k):
                part = q[i, j] - self._p[i] @ phi @ self._p[j]
                if second is not None:
                    part = part - 0.25 * (vx.T @ second[i, j] @ vx)
                adjust += self._w[i, j] * part
        self.covariance = phi + 2 * phi @ adjust @ phi
        self.covariance = 0.5 * (self.covariance + self.covariance.T)
        self._phi_p_phi = phi @ self._p @ phi

    def df(self, functions: Floats) -> Floats:
        """For one function, A₁ = A₂ = A and the approximation reduces to df = 2/A."""
        variance = np.einsum("mp,pq,mq->m", functions, self._fit.phi, functions)
        t = np.einsum("mp,ipq,mq->im", functions, self._phi_p_phi, functions) / variance
        a = np.einsum("im,ij,jm->m", t, self._w, t)
        out: Floats = 2 / a
        return out

    def f_test(self, functions: Floats) -> FTest:
        q = len(functions)
        middle = np.linalg.inv(functions @ self._fit.phi @ functions.T)
        u = middle @ (functions @ self._phi_p_phi @ functions.T)  # (k, q, q), similar to Θ Φ Pᵢ Φ
        traces = np.trace(u, axis1=1, axis2=2)
        a1 = float(traces @ self._w @ traces)
        a2 = float(np.einsum("iab,jba,ij->", u, u, self._w))
        df, scale = _kenward_roger_df(q, a1, a2)
        f = scale * _wald(functions, self._fit.beta, self.covariance) / q
        return FTest(q, df, f, f_upper(f, q, df))


def _kenward_roger_df(q: int, a1: float, a2: float) -> tuple[float, float]:
    """Denominator df and scaling of F from A₁ and A₂ (their section 3)."""
    b = (a1 + 6 * a2) / (2 * q)
    g = ((q + 1) * a1 - (q + 4) * a2) / ((q + 2) * a2)
    c = 3 * q + 2 * (1 - g)
    v0, v1, v2 = 1 + g / c * b, 1 - (q - g) / c * b, 1 - (q + 2 - g) / c * b
    if abs(v0) < 1e-10:
        v0 = 0.0
    top = 1 - a2 / q
    ratio = 1.0 if abs(top) < 1e-14 and abs(v1) < 1e-14 else top / v1
    if v2 == 0 or abs(q * ratio**2 * v0 / v2 / q) > 1e300:
        df = 4.0
    else:
        rho = ratio**2 * v0 / v2 / q
        df = 4 + (q + 2) / (q * rho - 1)
    scale = 1.0 if abs(df - 2) < 1e-2 else df * top / (df - 2)
    return df, scale


class Satterthwaite:
    """Satterthwaite (1946), Biometrics Bulletin 2, 110–114; several rows as in Fai and Cornelius (1996).

    Uses the observed information of the parameters above zero: one at the bound has no first-order influence.
    """

    def __init__(self, fit: RemlFit) -> None:
        self._fit = fit
        self.covariance = fit.phi
        above = ~(fit.covariance.closed & (fit.theta <= fit.covariance.lower))
        py = fit.p_matrix @ fit.model.y
        _, _, observed = score_and_information(fit.covariance, fit.theta, fit.p_matrix, py)
        self._w = np.linalg.inv(observed[np.ix_(above, above)])
        vx = fit.v_inverse @ fit.model.x
        d = fit.covariance.derivatives(fit.theta)[above]
        self._gradient = fit.phi @ (vx.T @ d @ vx) @ fit.phi  # ∂Φ/∂θᵢ

    def df(self, functions: Floats) -> Floats:
        variance = np.einsum("mp,pq,mq->m", functions, self._fit.phi, functions)
        g = np.einsum("mp,ipq,mq->im", functions, self._gradient, functions)
        out: Floats = 2 * variance**2 / np.einsum("im,ij,jm->m", g, self._w, g)
        return out

    def f_test(self, functions: Floats) -> FTest:
        q = len(functions)
        values, vectors = np.linalg.eigh(functions @ self._fit.phi @ functions.T)
        independent = vectors.T @ functions
        f = float(((independent @ self._fit.beta) ** 2 / values).sum() / q)
        df = _pooled_df(self.df(independent))
        return FTest(q, df, f, f_upper(f, q, df))


def _pooled_df(each: Floats) -> float:
    if len(each) == 1 or np.ptp(each) < 1e-8 * each.max():
        return float(each.mean())
    if (each <= 2).any():
        return 2.0
    expectation = float((each / (each - 2)).sum())
    return 2 * expectation / (expectation - len(each))
