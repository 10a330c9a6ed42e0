"""Chances of the verdicts by simulating whole trials, where no closed form serves: all treatments at once, in any
balanced design.

Plots are drawn from the strata that the plan assumes; estimates and stratum mean squares come from them as a reading's
do, so thousands of trials are one matrix product.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from apercu_core.arrays import Bools, Floats
from apercu_core.design.chances import Chances
from apercu_core.errors import Refused
from apercu_core.statistics.classical import projections
from apercu_core.statistics.critical import critical_value
from apercu_core.statistics.distributions import f_upper
from apercu_core.statistics.means import mean_functions
from apercu_core.statistics.model import LinearModel
from apercu_core.statistics.specification import Method

OUTCOMES = ("clear_right", "clear_wrong", "real_unsettled", "real_small", "no_difference", "not_settled")


@dataclass(frozen=True, slots=True)
class Simulated:
    """Shares of the runs, one row a treatment but the base, one column for each of `OUTCOMES`; shape (t − 1, 6).

    `error`: the Monte Carlo standard error of each share. `found`: share of runs whose interval excluded zero.
    """

    treatments: tuple[str, ...]
    runs: int
    shares: Floats
    error: Floats
    found: Floats


@dataclass(frozen=True, slots=True)
class Assumed:
    """`truth`: true mean of each treatment, in the order of the model's levels; `sigmas`: standard deviations of the
    model's strata in their order, then of plots; all in the measure's unit.
    """

    truth: Sequence[float]
    sigmas: Sequence[float]


def simulate(
    model: LinearModel, assumed: Assumed, base: str, margin: float, method: Method, *, alpha: float = 0.05,
    runs: int = 10_000, seed: int = 1,
) -> Simulated:  # fmt: skip
    """Simulate `runs` trials of one treatment factor. `margin` > 0: absolute. Raises `Refused` for unbalanced plans."""
    factor = model.factors[model.treatments[0]]
    to_means = mean_functions(model, model.treatments)[:, model.kept]
    q, r = np.linalg.qr(model.x)
    means = to_means @ np.linalg.inv(r) @ q.T  # (t, n): plot values → treatment means
    rng = np.random.default_rng(seed)
    y = np.asarray(assumed.truth)[factor.codes] + rng.normal(0, assumed.sigmas[-1], (runs, len(model.y)))
    for stratum, sigma in zip(model.strata, assumed.sigmas, strict=False):
        y += rng.normal(0, sigma, (runs, int(stratum.codes.max()) + 1))[:, stratum.codes]
    at = factor.levels.index(base)
    others = [i for i in range(len(factor)) if i != at]
    contrasts = means[others] - means[at]
    rests = projections(model)
    squares = np.stack([np.square(y @ rest).mean(1) for rest in rests])  # (strata, runs)
    # The share of each stratum in a contrast's variance, in plots' worth of its mean square.
    shares = np.stack([np.square(contrasts @ basis).sum(1) for basis in projections(model, whole=True)])
    parts = shares[:, :, None] * squares[:, None, :]  # (strata, t − 1, runs)
    dfs = np.array([rest.shape[1] for rest in rests])
    variance = parts.sum(0)
    df = variance**2 / (parts**2 / dfs[:, None, None]).sum(0)
    half = _critical(method, len(factor), df, alpha) * np.sqrt(variance)
    estimate = contrasts @ y.T
    protected = np.zeros(runs, dtype=bool)
    if method == "lsd":
        protected = _overall_p(model, means @ y.T, squares, dfs) >= alpha
    found = _sorted_out(estimate, half, margin, np.asarray(assumed.truth)[others] - assumed.truth[at], protected)
    share = found.mean(-1)
    names = tuple(factor.levels[i] for i in others)
    excluded = share[:, :4].sum(1)
    return Simulated(names, runs, share, np.sqrt(share * (1 - share) / runs), excluded)


def _critical(method: Method, treatments: int, df: Floats, alpha: float) -> Floats:
    """Critical values, between those of a few degrees of freedom where they vary from run to run."""
    low, high = float(df.min()), float(df.max())
    grid = 1 / np.linspace(1 / high, 1 / low, 12) if high > low * (1 + 1e-9) else np.array([low])
    grid.sort()
    values = [critical_value(method, treatments, round(float(x), 6), alpha, against_control=True) for x in grid]
    out: Floats = np.interp(-1 / df, -1 / grid, values)
    return out


def _overall_p(model: LinearModel, estimated: Floats, squares: Floats, dfs: Floats) -> Floats:
    """p of the overall F test of each run; shape (runs,). Treatments have to lie in one stratum, as in blocks."""
    if len(model.strata) > 1:
        raise Refused("not-built", "A protected LSD has no one overall test where there are several strata of error.")
    t = len(estimated)
    f = len(model.y) / t * np.square(estimated - estimated.mean(0)).sum(0) / (t - 1) / squares[-1]
    return np.array([f_upper(float(x), t - 1, float(dfs[-1])) for x in f])


def _sorted_out(estimate: Floats, half: Floats, margin: float, truth: Floats, protected: Bools) -> Floats:
    """Which outcome each run has, as ones and zeros; shape (t − 1, 6, runs). The rules of `verdicts.verdict.judge`."""
    low, high = estimate - half, estimate + half
    zero = (low <= 0) & (high >= 0)
    within = (low >= -margin) & (high <= margin)
    up, down = ~zero & (low >= margin), ~zero & (high <= -margin)
    right = np.where(truth[:, None] > 0, up, np.where(truth[:, None] < 0, down, up | down))
    wrong = (up | down) & ~right
    small = ~zero & within & ~up & ~down
    unsettled = ~zero & ~within & ~up & ~down
    blocked = protected[None, :] & ~zero
    parts = [np.where(blocked, False, part) for part in (right, wrong, unsettled, small)]
    return np.stack([*parts, zero & within, (zero & ~within) | blocked], axis=1).astype(float)


def simulated_chances(
    model: LinearModel, sigmas: Sequence[float], base: str, other: str, margin: float, method: Method, *,
    alpha: float = 0.05, runs: int = 10_000,
) -> tuple[Chances, ...]:  # fmt: skip
    """The chance of each verdict of `other` against `base` when the truth is 0, the margin, and twice the margin."""
    out = []
    for i, truth in enumerate((0.0, margin, 2 * margin)):
        levels = model.factors[model.treatments[0]].levels
        means = [truth if level == other else 0.0 for level in levels]
        drawn = simulate(model, Assumed(means, sigmas), base, margin, method, alpha=alpha, runs=runs, seed=1 + i)
        share = drawn.shares[drawn.treatments.index(other)]
        shares = {name: float(x) for name, x in zip(OUTCOMES, share, strict=True)}
        out.append(Chances(truth=truth, runs=runs, **shares))
    return tuple(out)
