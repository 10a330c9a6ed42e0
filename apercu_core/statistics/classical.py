"""Classical strata of a balanced design: each effect is judged by the mean square of its own stratum.

Variances of means are sums of stratum mean squares, their degrees of freedom by Satterthwaite on those mean squares.
Cochran and Cox (1957), *Experimental Designs*, sections 7.1 to 7.3; Satterthwaite (1946), Biometrics Bulletin 2,
110–114.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from apercu_core.arrays import Bools, Floats
from apercu_core.errors import Refused
from apercu_core.statistics.covariance import SumOfStrata
from apercu_core.statistics.distributions import f_upper
from apercu_core.statistics.inference import FTest
from apercu_core.statistics.model import LinearModel
from apercu_core.statistics.reml import LEAST_ERROR, RemlFit

_SAME = 1e-8


@dataclass(frozen=True, slots=True)
class Line:
    """A stratum of the analysis of variance. `basis`: (n, r), all of it; `rest`: (n, df), what no effect explains."""

    name: str
    basis: Floats
    rest: Floats
    mean_square: float

    @property
    def df(self) -> int:
        return int(self.rest.shape[1])


def fit_strata(model: LinearModel) -> tuple[RemlFit, ClassicalStrata]:
    """Least squares, with variance components from mean squares, not held above zero.

    Raises `Refused` (*not-balanced*) where an effect lies in more than one stratum: a plot was lost, say.
    """
    lines = _lines(model)
    covariance = SumOfStrata(model.strata, len(model.y))
    parts = covariance.derivatives(np.empty(0))
    expected = np.array([[np.trace(line.rest.T @ part @ line.rest) / line.df for part in parts] for line in lines])
    squares = np.array([line.mean_square for line in lines])
    from_squares = np.linalg.inv(expected)  # θ as sums of mean squares
    theta = from_squares @ squares
    q, r = np.linalg.qr(model.x)
    to_plots = q @ np.linalg.inv(r).T  # (n, p): β = to_plots′ y
    per_part = np.einsum("np,knm,mq->kpq", to_plots, parts, to_plots, optimize=True)
    phi = np.tensordot(theta, per_part, 1)
    last = lines[-1]
    p_matrix = last.rest @ last.rest.T / last.mean_square
    fit = RemlFit(
        model, covariance, np.append(theta[:-1], last.mean_square), to_plots.T @ model.y, phi,
        np.eye(len(model.y)) / last.mean_square, p_matrix, float("nan"),
    )  # fmt: skip
    per_square = np.tensordot(from_squares.T, per_part, 1)  # ∂Φ/∂MS, (lines, p, p)
    return fit, ClassicalStrata(fit, lines, to_plots, per_square)


def projections(model: LinearModel, *, whole: bool = False) -> list[Floats]:
    """An orthonormal basis of each stratum's error, the residual last, (n, df) each; `whole`: of all of the stratum."""
    return [basis if whole else rest for _, basis, rest in _strata(model)]


def _lines(model: LinearModel) -> list[Line]:
    lines = [
        Line(name, basis, rest, float(np.square(rest.T @ model.y).sum() / rest.shape[1]))
        for name, basis, rest in _strata(model)
    ]
    total = float(((model.y - model.y.mean()) ** 2).mean())
    if lines[-1].mean_square <= max(LEAST_ERROR * total, (1e-13 * float(np.abs(model.y).max())) ** 2):
        raise Refused("no-variation", "Plots don’t vary beyond their treatments, so there is no error to judge by.")
    return lines


def _strata(model: LinearModel) -> list[tuple[str, Floats, Floats]]:
    """Name, basis, and what no effect explains, of each stratum."""
    n = len(model.y)
    used = np.ones((n, 1)) / np.sqrt(n)
    bases = []
    for stratum in model.strata:
        basis = _new_directions(np.eye(stratum.codes.max() + 1)[stratum.codes], used)
        used = np.hstack([used, basis])
        bases.append((stratum.name, basis))
    bases.append(("residual", _new_directions(np.eye(n), used)))
    effects: list[list[Floats]] = [[] for _ in bases]
    known = np.ones((n, 1)) / np.sqrt(n)
    for term in model.terms:
        own = _new_directions(model.x[:, term.columns], known)
        known = np.hstack([known, own])
        _share_out(own, [basis for _, basis in bases], effects, term.name)
    strata = []
    for (name, basis), found in zip(bases, effects, strict=True):
        rest = basis
        if found:
            explained = np.hstack(found)
            rest = _new_directions(basis - explained @ (explained.T @ basis), explained)
        if not rest.shape[1]:
            raise Refused("no-replication", f"Nothing is left in the stratum of {name}s to judge its effects by.")
        strata.append((name, basis, rest))
    return strata


def _new_directions(columns: Floats, used: Floats) -> Floats:
    """An orthonormal basis of what the columns add to `used`."""
    rest = columns - used @ (used.T @ columns)
    left, singular, _ = np.linalg.svd(rest, full_matrices=False)
    return left[:, singular > _SAME * max(1.0, float(np.linalg.norm(columns, 2)))]


def _share_out(own: Floats, bases: list[Floats], effects: list[list[Floats]], name: str) -> None:
    """Give each stratum the directions of an effect that lie in it; those of a list of cells may lie in several."""
    left = own
    for basis, found in zip(bases, effects, strict=True):
        inside, singular, right = np.linalg.svd(basis.T @ left, full_matrices=False)
        whole = singular > 1 - 1e-7
        if whole.any():
            found.append(basis @ inside[:, whole])
            left = _new_directions(left @ _others(right, whole), np.zeros((len(left), 1)))
        if not left.shape[1]:
            return
    raise Refused(
        "not-balanced",
        f"Classical strata need a balanced design, and {name} lies in more than one stratum here: plots are missing or "
        "unequal, or blocks are incomplete. Use Kenward–Roger.",
    )


def _others(right: Floats, taken: Bools) -> Floats:
    """What is orthogonal to the taken rows of an orthonormal set, as columns."""
    mine = right[taken]
    left, singular, _ = np.linalg.svd(np.eye(right.shape[1]) - mine.T @ mine)
    out: Floats = left[:, singular > 0.5]
    return out


class ClassicalStrata:
    """Standard errors and tests from stratum mean squares."""

    def __init__(self, fit: RemlFit, lines: list[Line], to_plots: Floats, per_square: Floats) -> None:
        self.covariance = fit.phi
        self._fit, self._lines, self._to_plots, self._per_square = fit, lines, to_plots, per_square
        self._squares = np.array([line.mean_square for line in lines])
        self._dfs = np.array([line.df for line in lines])

    def df(self, functions: Floats) -> Floats:
        shares = np.einsum("mp,ipq,mq->im", functions, self._per_square, functions) * self._squares[:, None]
        out: Floats = shares.sum(0) ** 2 / (shares**2 / self._dfs[:, None]).sum(0)
        return out

    def f_test(self, functions: Floats) -> FTest:
        q = len(functions)
        weights = functions @ self._to_plots.T
        estimate = functions @ self._fit.beta
        shares = [float(np.square(weights @ line.basis).sum() / np.square(weights).sum()) for line in self._lines]
        at = int(np.argmax(shares))
        if shares[at] > 1 - 1e-6:
            square = float(estimate @ np.linalg.solve(weights @ weights.T, estimate)) / q
            f, df = square / self._squares[at], float(self._dfs[at])
        elif q == 1:
            f, df = (
                float(estimate[0] ** 2 / (functions @ self.covariance @ functions.T)[0, 0]),
                float(self.df(functions)[0]),
            )
        else:  # over several strata: judged with the fewest degrees of freedom of those it lies in
            f = float(estimate @ np.linalg.solve(functions @ self.covariance @ functions.T, estimate)) / q
            df = float(min(d for d, share in zip(self._dfs, shares, strict=True) if share > 1e-6))
        return FTest(q, df, f, f_upper(f, q, df))

    def by_stratum(self, functions: Floats) -> dict[str, FTest]:
        """The parts of an effect that lie in each stratum, each against its stratum's mean square.

        Listed treatments of a split plot differ between whole plots and within them.
        """
        left, size, _ = np.linalg.svd(functions @ self._to_plots.T, full_matrices=False)
        functions = (left / size).T @ functions  # orthonormal in the plots, where strata are at right angles
        weights = functions @ self._to_plots.T
        out = {}
        for line in self._lines:
            inside, share, _ = np.linalg.svd(weights @ line.basis, full_matrices=False)
            estimate = inside[:, share > 0.5].T @ functions @ self._fit.beta  # a direction lies in one stratum whole
            if q := len(estimate):
                f = float(estimate @ estimate) / q / line.mean_square
                out[line.name] = FTest(q, float(line.df), f, f_upper(f, q, line.df))
        return out
