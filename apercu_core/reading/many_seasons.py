"""The verdicts of many invented seasons at once, where the design is balanced.

A season is then its estimates and the mean squares of its strata, so thousands of seasons are a few matrix products.
What comes out is what `reading.trial.read_trial` says of each season; where that can't be had so, seasons are read one
by one.
"""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

import numpy as np
from scipy import special

from apercu_core.arrays import Bools, Floats, Ints
from apercu_core.errors import Refused
from apercu_core.power.board_contrasts import BoardContrasts, board_contrasts
from apercu_core.reading.asked import Asked, How
from apercu_core.reading.controls import Controls
from apercu_core.reading.description import only_described
from apercu_core.reading.measure import rows_of, specification_for
from apercu_core.statistics.balanced_reml import held_squares
from apercu_core.statistics.distributions import t_quantile
from apercu_core.statistics.model import build_model
from apercu_core.statistics.plots import plots_of
from apercu_core.statistics.specification import Design
from apercu_core.trial.facts import TrialFacts
from apercu_core.verdicts.margin import Margin
from apercu_core.verdicts.verdict import PLACES, Verdict, judge_many, with_direction


@dataclass(frozen=True, slots=True)
class Intervals:
    """Of each treatment that is compared, in each season, (m, seasons): estimates, standard errors, half-widths of the
    board's intervals, degrees of freedom. `protected`: (seasons,), where the overall test forbids comparing.
    `control_mean`: (seasons,), what a margin in per cent is of.
    """

    treatments: tuple[str, ...]
    estimate: Floats
    se: Floats
    half: Floats
    df: Floats
    protected: Bools
    control_mean: Floats


class BalancedBoard:
    """The board of one balanced design. `order`: (n,), index among the trial's plots of each that has a value."""

    def __init__(self, contrasts: BoardContrasts, order: Ints, how: How, controls: Controls) -> None:
        self._contrasts, self._order, self._how, self._controls = contrasts, order, how, controls
        self._of_control = contrasts.means[[contrasts.levels.index(c) for c in controls.all]].mean(0)
        levels = contrasts.levels
        self.treatments = tuple(levels[i] for i in contrasts.others)

    def intervals(self, values: Floats) -> Intervals:
        """`values`: (seasons, plots of the trial), in the measure's unit."""
        y, board = values[:, self._order], self._contrasts
        squares = np.stack([np.square(y @ rest).mean(1) for rest in board.rests])
        held = held_squares(squares, board.dfs, board.expected)
        variance, df = board.comparing.variance_and_df(held)
        se = np.sqrt(variance)
        half = board.comparing.critical(held, df) * se
        protected = np.zeros(len(y), dtype=bool)
        if self._how.method == "lsd":
            protected = _overall_p(board, y, held[-1]) >= self._how.alpha
        return Intervals(self.treatments, board.weights @ y.T, se, half, df, protected, y @ self._of_control)

    def verdicts(self, asked: Asked, found: Intervals) -> dict[str, dict[Verdict, int]]:
        """How many of the seasons say what of each treatment."""
        margin = _margin(asked.margin, found.control_mean)
        place = judge_many(found.estimate - found.half, found.estimate + found.half, -margin, margin, found.protected)
        out: dict[str, dict[Verdict, int]] = {}
        for treatment, row in zip(self.treatments, place, strict=True):
            counted = np.bincount(row, minlength=len(PLACES))
            each = {with_direction(p, asked.direction): int(n) for p, n in zip(PLACES, counted, strict=True) if n}
            out[treatment] = {Verdict.NO_MARGIN: len(row)} if asked.margin is None else each
        return out | {t: {Verdict.NO_ANSWER: len(found.protected)} for t in self._controls.without}

    def shown(self, asked: Asked, found: Intervals) -> dict[str, int]:
        """In how many of the seasons the planned test of each treatment shows it."""
        if asked.planned == "none" or asked.margin is None:
            return {}
        margin = _margin(asked.margin, found.control_mean)
        narrow = t_quantile(self._how.alpha, found.df) * found.se
        above, below = found.estimate - narrow > -margin, found.estimate + narrow < margin
        one_side = below if asked.direction == "lower" else above
        held = above & below if asked.planned == "equivalence" else one_side
        sums = zip(self.treatments, held.sum(1), strict=True)
        return {t: int(n) for t, n in sums if not asked.planned_for or t in asked.planned_for}


def balanced_board(
    trial: TrialFacts, design: Design, how: How, controls: Controls, lost: Collection[str]
) -> BalancedBoard | None:
    """None where the design isn't balanced, or the method needs each season's own fit. `how`: in force."""
    if only_described(trial) or not controls.of:
        return None
    places = {p.label: [None if p.label in lost else float(i)] for i, p in enumerate(trial.plots)}
    spec = specification_for(design, how, controls.named)
    try:
        model = build_model(plots_of(rows_of(trial.plots, places), spec), spec)
        if model.strata and (how.method == "lsd" or how.df_method == "containment_anova"):
            return None
        contrasts = board_contrasts(model, controls.named, how.method, how.alpha)
    except Refused:
        return None
    if set(contrasts.levels) != {p.treatment for p in trial.plots} or not contrasts.comparing.is_exact:
        return None
    return BalancedBoard(contrasts, model.y.astype(int), how, controls)


def _margin(margin: Margin | None, control_mean: Floats) -> Floats:
    """(seasons,); NaN where a share of a mean at or below zero means nothing."""
    if margin is None:
        return np.full_like(control_mean, np.inf)
    if margin.kind == "absolute":
        return np.full_like(control_mean, margin.value)
    return np.where(control_mean > 0, margin.value / 100 * control_mean, np.nan)


def _overall_p(board: BoardContrasts, y: Floats, error: Floats) -> Floats:
    """p of the overall F of each season, (seasons,), in a design with one stratum of error. `error`: (seasons,)."""
    apart = board.means[1:] - board.means[0]
    estimate = apart @ y.T
    square = (estimate * np.linalg.solve(apart @ apart.T, estimate)).sum(0) / len(apart)
    out: Floats = special.fdtrc(len(apart), board.dfs[-1], square / error)
    return out
