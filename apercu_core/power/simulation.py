"""Chances of the verdicts by simulating whole trials, where no closed form serves: all treatments at once, in any
balanced design.

Plots are drawn from the strata that the plan assumes; estimates and stratum mean squares come from them as a reading's
do, so thousands of trials are one matrix product.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from apercu_core.arrays import Bools, Floats, Ints
from apercu_core.errors import Refused
from apercu_core.power.board_contrasts import board_contrasts, compared
from apercu_core.power.chances import Chances
from apercu_core.power.interblock import is_interblock, read_runs
from apercu_core.statistics.balanced_reml import held_squares
from apercu_core.statistics.distributions import f_upper, t_quantile
from apercu_core.statistics.model import LinearModel
from apercu_core.statistics.specification import Against, Method
from apercu_core.verdicts.verdict import PLACES, judge_many

OUTCOMES = ("clear_right", "clear_wrong", "real_unsettled", "real_small", "no_difference", "not_settled")


@dataclass(frozen=True, slots=True)
class Simulated:
    """Shares of the runs, one row a treatment but the base, one column for each of `OUTCOMES`; shape (t − 1, 6).

    `error`: the Monte Carlo standard error of each share. `found`: share of runs whose interval excluded zero.
    `equivalent`, `not_less`, `not_more`: share of runs in which such a planned test would show it.
    """

    treatments: tuple[str, ...]
    runs: int
    shares: Floats
    error: Floats
    found: Floats
    equivalent: Floats
    not_less: Floats
    not_more: Floats


@dataclass(frozen=True, slots=True)
class Assumed:
    """`truth`: true mean of each treatment, in the order of the model's levels; `sigmas`: standard deviations of the
    model's strata in their order, then of plots; all in the measure's unit.
    """

    truth: Sequence[float]
    sigmas: Sequence[float]


@dataclass(frozen=True, slots=True)
class Draws:
    """Each (t − 1, runs): estimates, half-widths of the board's intervals and of planned tests'.

    `found`: (t − 1, 6, runs), one where a run has that outcome.
    """

    treatments: tuple[str, ...]
    estimate: Floats
    half: Floats
    tested: Floats
    found: Floats


def simulate(
    model: LinearModel, assumed: Assumed, base: Against, margin: float, method: Method, *, alpha: float = 0.05,
    runs: int = 10_000, seed: int = 1,
) -> Simulated:  # fmt: skip
    """Simulate `runs` trials of one treatment factor. `margin` > 0: absolute. Raises `Refused` for plans that are
    neither balanced nor of incomplete blocks.

    `base`: the control of all, or each treatment's own.
    """
    drawn = _drawn(model, assumed, base, margin, method, alpha=alpha, runs=runs, seed=seed)
    share = drawn.found.mean(-1)
    excluded = share[:, :4].sum(1)
    tested = _planned(drawn.estimate, drawn.tested, margin)
    error = np.sqrt(share * (1 - share) / runs)
    return Simulated(drawn.treatments, runs, share, error, excluded, *tested)


def _drawn(
    model: LinearModel, assumed: Assumed, base: Against, margin: float, method: Method, *, alpha: float, runs: int,
    seed: int,
) -> Draws:  # fmt: skip
    """The runs one by one."""
    factor = model.factors[model.treatments[0]]
    rng = np.random.default_rng(seed)
    truth = np.asarray(assumed.truth)
    y = truth[factor.codes] + rng.normal(0, assumed.sigmas[-1], (runs, len(model.y)))
    for stratum, sigma in zip(model.strata, assumed.sigmas, strict=False):
        y += rng.normal(0, sigma, (runs, int(stratum.codes.max()) + 1))[:, stratum.codes]
    read = _interblock if is_interblock(model) else _balanced
    others, controls, estimate, half, tested, protected = read(model, y, base, method, alpha)
    found = _sorted_out(estimate, half, margin, truth[others] - truth[controls], protected)
    names = tuple(factor.levels[i] for i in others)
    return Draws(names, estimate, half, tested, found)


_Read = tuple[Ints, Ints, Floats, Floats, Floats, Bools]
"""Indices of treatments and of their controls; estimates, half-widths of intervals and of planned tests' (m, runs); in
which runs the overall test forbids comparing (runs,).
"""


def _balanced(model: LinearModel, y: Floats, base: Against, method: Method, alpha: float) -> _Read:
    """Variances are estimated as the board does: held at zero where they would fall below it. Degrees of freedom are
    Satterthwaite's at these, in a balanced plan those of Kenward and Roger too.
    """
    board = board_contrasts(model, base, method, alpha)
    squares = np.stack([np.square(y @ rest).mean(1) for rest in board.rests])  # (strata, runs)
    held = held_squares(squares, board.dfs, board.expected) if model.strata else squares
    variance, df = board.comparing.variance_and_df(held)
    half = board.comparing.critical(held, df) * np.sqrt(variance)
    protected = np.zeros(len(y), dtype=bool)
    if method == "lsd":
        protected = _overall_p(model, board.means @ y.T, squares, board.dfs) >= alpha
    tested = t_quantile(alpha, df) * np.sqrt(variance)
    return board.others, board.controls, board.weights @ y.T, half, tested, protected


def _interblock(model: LinearModel, y: Floats, base: Against, method: Method, alpha: float) -> _Read:
    """Incomplete blocks, whose variance each run estimates anew."""
    if method == "lsd":
        raise Refused("not-built", "The chances of a protected LSD aren’t worked out for incomplete blocks.")
    others, controls = compared(model.factors[model.treatments[0]].levels, base)
    read = read_runs(model, y, others, controls, method, alpha)
    error = np.sqrt(read.variance)
    tested = t_quantile(alpha, read.df) * error
    return others, controls, read.estimate, read.critical * error, tested, np.zeros(len(y), dtype=bool)


def _planned(estimate: Floats, half: Floats, margin: float) -> tuple[Floats, Floats, Floats]:
    """Shares of runs in which a planned test, unadjusted, shows equivalence, and that it isn't less, or more."""
    low, high = estimate - half, estimate + half
    return ((low > -margin) & (high < margin)).mean(1), (low > -margin).mean(1), (high < margin).mean(1)


def _overall_p(model: LinearModel, estimated: Floats, squares: Floats, dfs: Floats) -> Floats:
    """p of the overall F test of each run; shape (runs,). Treatments have to lie in one stratum, as in blocks."""
    if len(model.strata) > 1:
        raise Refused("not-built", "A protected LSD has no one overall test where there are several strata of error.")
    t = len(estimated)
    f = len(model.y) / t * np.square(estimated - estimated.mean(0)).sum(0) / (t - 1) / squares[-1]
    return np.array([f_upper(float(x), t - 1, float(dfs[-1])) for x in f])


def _sorted_out(estimate: Floats, half: Floats, margin: float, truth: Floats, protected: Bools) -> Floats:
    """Which outcome each run has, as ones and zeros; shape (t − 1, 6, runs). The rules are `judge_many`'s."""
    place = judge_many(estimate - half, estimate + half, np.array(-margin), np.array(margin), protected)
    more, less, unsettled, small, nothing, open_, _ = (place == k for k in range(len(PLACES)))
    true = truth[:, None]
    right = np.where(true > 0, more, np.where(true < 0, less, more | less))
    wrong = (more | less) & ~right
    return np.stack([right, wrong, unsettled, small, nothing, open_], axis=1).astype(float)


def simulated_chances(
    model: LinearModel, sigmas: Sequence[float], base: Against, other: str, margin: float, method: Method, *,
    alpha: float = 0.05, runs: int = 10_000,
) -> tuple[Chances, ...]:  # fmt: skip
    """The chance of each verdict of `other` against its control when the truth is 0, the margin, and twice that."""
    levels = model.factors[model.treatments[0]].levels
    truths, out = (0.0, margin, 2 * margin), []
    one = None
    for i, truth in enumerate(truths):
        means = [truth if level == other else 0.0 for level in levels]
        if one is None or method == "lsd":  # whose protection depends on all means
            assumed = Assumed(means, sigmas)
            one = _drawn(model, assumed, base, margin, method, alpha=alpha, runs=runs, seed=1 + i)
            moved = 0.0
        else:  # a true difference moves the estimate and nothing else
            moved = truth
        at = [one.treatments.index(other)]
        estimate = one.estimate[at] + moved
        found = one.found[at]
        if moved:
            found = _sorted_out(estimate, one.half[at], margin, np.array([truth]), np.zeros(runs, dtype=bool))
        tests = [float(x[0]) for x in _planned(estimate, one.tested[at], margin)]
        shares = {name: float(x) for name, x in zip(OUTCOMES, found.mean(-1)[0], strict=True)}
        named = dict(zip(("equivalent", "not_less", "not_more"), tests, strict=True))
        out.append(Chances(truth=truth, runs=runs, **shares, **named))
    return tuple(out)
