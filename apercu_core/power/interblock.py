"""The board's comparisons under a plan of incomplete blocks, with recovery of inter-block information.

Treatments lie in two strata there, and how much each tells depends on the ratio of the variance between incomplete
blocks to that between plots. A reading estimates it by REML; so does each simulated trial here, and what a ratio makes
of weights, variances and degrees of freedom is the reading's own (`statistics.inference`).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from apercu_core.arrays import Floats, Ints
from apercu_core.power.board_contrasts import compared
from apercu_core.power.differences import Difference
from apercu_core.statistics.comparisons import adjust
from apercu_core.statistics.inference import KenwardRoger
from apercu_core.statistics.means import mean_functions
from apercu_core.statistics.model import LinearModel
from apercu_core.statistics.reml import fit_at
from apercu_core.statistics.specification import Against, Comparison, Method

_RATIOS = np.concatenate([[0.0], np.geomspace(1e-3, 1e3, 121)])
_EACH = 6
"""Every sixth ratio has its own weights and degrees of freedom; between them they are interpolated."""


@dataclass(frozen=True, slots=True)
class AtRatio:
    """The comparisons where the ratio of variances is known. `weights`: (m, n), plots → differences; `variance`: (m,),
    for a plot variance of one; `df`, `critical`: (m,).
    """

    weights: Floats
    variance: Floats
    df: Floats
    critical: Floats


def is_interblock(model: LinearModel) -> bool:
    """Whether the model's only stratum beside plots is that of incomplete blocks."""
    return [stratum.name for stratum in model.strata] == ["incomplete_block"]


def judged(model: LinearModel, ratio: float, others: Ints, controls: Ints, method: Method, alpha: float) -> AtRatio:
    """The comparisons of `others` with `controls` as a reading that estimates this ratio judges them."""
    fit = fit_at(model, np.array([ratio, 1.0]))
    inference = KenwardRoger(fit)
    means = mean_functions(model, model.treatments)[:, model.kept]
    functions = means[others] - means[controls]
    covariance = functions @ inference.covariance @ functions.T
    df = inference.df(functions)
    # Holm has no interval of its own; the board takes Bonferroni's.
    comparison = Comparison("bonferroni" if method == "holm" else method, alpha=alpha)
    _, critical = adjust(comparison, np.zeros_like(df), df, np.ones_like(df), covariance, len(means))
    weights = functions @ fit.phi @ (model.x.T @ fit.v_inverse)
    return AtRatio(weights, np.diagonal(covariance).copy(), df, critical)


def least_precise(
    model: LinearModel, between: float, plot: float, base: Against, method: Method, alpha: float = 0.05
) -> tuple[str, Difference]:
    """The treatment that is compared least precisely with its control, and how.

    `between`, `plot`: standard deviations between incomplete blocks of a replicate, and between plots in them.
    """
    levels = model.factors[model.treatments[0]].levels
    others, controls = compared(levels, base)
    at = judged(model, (between / plot) ** 2, others, controls, method, alpha)
    error = plot * np.sqrt(at.variance)
    worst = int(np.argmax(at.critical * error))
    difference = Difference(
        "as the board compares", float(error[worst]), float(at.df[worst]), len(levels), board=True, exact=False,
        critical=float(at.critical[worst]),
    )  # fmt: skip
    return levels[int(others[worst])], difference


@dataclass(frozen=True, slots=True)
class Read:
    """Of each comparison in each run, (m, runs): its estimate, variance, degrees of freedom and critical value."""

    estimate: Floats
    variance: Floats
    df: Floats
    critical: Floats


def read_runs(model: LinearModel, y: Floats, others: Ints, controls: Ints, method: Method, alpha: float) -> Read:
    """Simulated trials as a reading would judge them. `y`: (runs, n)."""
    at, plot_variance = _estimated(model, y)
    nodes = np.unique(np.append(np.arange(0, len(_RATIOS), _EACH), len(_RATIOS) - 1))
    inside = np.clip(np.searchsorted(nodes, at, side="right") - 1, 0, len(nodes) - 2)
    share = (at - nodes[inside]) / (nodes[inside + 1] - nodes[inside])
    needed = {k: judged(model, float(_RATIOS[nodes[k]]), others, controls, method, alpha)
              for k in sorted({*inside.tolist(), *(inside + 1).tolist()})}  # fmt: skip
    out = Read(*(np.empty((len(others), len(y))) for _ in range(4)))
    for k in np.unique(inside):
        runs, low, high = np.flatnonzero(inside == k), needed[int(k)], needed[int(k) + 1]
        far = share[runs]
        near = 1 - far
        out.estimate[:, runs] = near * (low.weights @ y[runs].T) + far * (high.weights @ y[runs].T)
        for name in ("variance", "df", "critical"):
            between = getattr(low, name)[:, None] * near + getattr(high, name)[:, None] * far
            getattr(out, name)[:, runs] = between
    out.variance[:] *= plot_variance
    return out


def _estimated(model: LinearModel, y: Floats) -> tuple[Ints, Floats]:
    """By REML, of each run: which of `_RATIOS`, and the plot variance; both (runs,).

    Of contrasts free of fixed effects, the squares along the axes of the blocks' covariance are independent, each with
    variance σ²(1 + ratio × eigenvalue): Searle, Casella and McCulloch (1992), *Variance Components*, section 6.6.
    """
    (stratum,) = model.strata
    n, p = model.x.shape
    free = np.linalg.qr(model.x, mode="complete")[0][:, p:]
    blocks = free.T @ np.eye(int(stratum.codes.max()) + 1)[stratum.codes]
    eigenvalues, axes = np.linalg.eigh(blocks @ blocks.T)
    squares = np.square(y @ free @ axes)  # (runs, n − p)
    spread = 1 + np.outer(np.maximum(eigenvalues, 0.0), _RATIOS)  # (n − p, ratios)
    plot = squares @ (1 / spread) / (n - p)
    deviance = (n - p) * np.log(plot) + np.log(spread).sum(0)
    at = np.argmin(deviance, axis=1)
    return at, plot[np.arange(len(y)), at]
