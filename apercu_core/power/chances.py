"""The chance of each verdict under a plan, when the truth is known."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np
from scipy import special

from apercu_core.arrays import Floats
from apercu_core.errors import Refused
from apercu_core.power.closed_form import detectable_difference
from apercu_core.power.differences import (
    BalancedDesign,
    Difference,
    Spread,
    board_difference,
    kinds_of_difference,
    over_sites,
)
from apercu_core.statistics.critical import critical_value
from apercu_core.statistics.distributions import t_quantile
from apercu_core.statistics.quadrature import scale_axis
from apercu_core.statistics.specification import Design, Method


@dataclass(frozen=True, slots=True)
class Chances:
    """Probabilities that add up to 1, for one treatment against the control. `runs`: of a simulation, 0 when exact.

    `clear_right`: clear in the direction of the truth (either, when the truth is 0); `clear_wrong`: in the other.
    `equivalent`, `not_less`, `not_more`: chances that such a planned test shows it, which stand beside the verdicts.
    """

    truth: float
    clear_right: float
    clear_wrong: float
    real_unsettled: float
    real_small: float
    no_difference: float
    not_settled: float
    runs: int = 0
    equivalent: float = 0.0
    not_less: float = 0.0
    not_more: float = 0.0


@dataclass(frozen=True, slots=True)
class Seen:
    """The smallest difference of one kind that is found with an 80 % chance, and how many blocks make it so."""

    difference: Difference
    detectable: float


@dataclass(frozen=True, slots=True)
class Outlook:
    """What a plan will be able to see; differences in the unit of the spread. `chances` is empty without a margin.

    `kinds`: each kind of difference by itself, unadjusted; `error_df`: of the kind that the board compares by.
    """

    blocks: int
    plots: int
    error_df: float
    detectable: float
    detectable_with_one_more: float
    chances: tuple[Chances, ...]
    kinds: tuple[Seen, ...]


@dataclass(frozen=True, slots=True)
class PlannedComparison:
    """How the board will compare: each with the control, or all pairs. `whole`, `sub`, `factors`: of `BalancedDesign`.

    `controls`: how many there are, where treatments have one for each level of another factor.
    """

    design: Design
    treatments: int
    method: Method
    alpha: float = 0.05
    whole: tuple[str, int] = ("", 0)
    sub: tuple[str, int] = ("", 0)
    factors: tuple[tuple[str, int], ...] = ()
    controls: int = 1

    @property
    def against_control(self) -> bool:
        return self.method == "dunnett"

    def balanced(self, blocks: int) -> BalancedDesign:
        return BalancedDesign(self.design, self.treatments, blocks, self.whole, self.sub, self.factors)


def outlook(
    plan: PlannedComparison, blocks: int, spread: Spread, margin: float | None, sites: int = 1, *,
    compared: tuple[Difference, Difference] | None = None,
) -> Outlook:  # fmt: skip
    """Smallest difference seen with an 80 % chance, what one block more buys, and the chances at 0, m and 2m.

    All of it at one site; with several, `kinds` ends with the board's kind over all of them.

    `compared`: the board's comparison with these blocks and with one more, where it isn't that of two treatments alike.
    Chances that need simulation are left out; `simulation.simulated_chances` has them.
    """
    if margin is not None and not (math.isfinite(margin) and margin > 0):
        raise Refused("bad-value", f"The margin is {margin:g}; it must be a number above 0.")
    kinds = _kinds(plan, blocks, spread, compared)
    board = kinds[-1]
    kinds += (over_sites(board, sites),) if sites > 1 else ()
    now, then = compared or (board, board_difference(plan.balanced(_one_more(plan, blocks)), spread))
    truths = () if margin is None or not board.exact else (0.0, margin, 2 * margin)
    return Outlook(
        blocks,
        plan.treatments * blocks,
        now.df,
        detectable_on_board(plan, now),
        detectable_on_board(plan, then),
        tuple(chances_of_verdicts(plan, board, margin, truth) for truth in truths if margin is not None),
        tuple(Seen(kind, detectable_difference(kind.standard_error, kind.df, _unadjusted(kind.df, plan.alpha)))
              for kind in kinds),
    )  # fmt: skip


def _kinds(
    plan: PlannedComparison, blocks: int, spread: Spread, compared: tuple[Difference, Difference] | None
) -> tuple[Difference, ...]:
    """In incomplete blocks there is one kind, whose precision only the arrangement tells."""
    if plan.design == "incomplete_block":
        if compared is None:
            raise Refused(
                "not-built", "What incomplete blocks can see depends on their arrangement: give its comparison."
            )
        return (replace(compared[0], name="two treatments"),)
    return kinds_of_difference(plan.balanced(blocks), spread)


def _one_more(plan: PlannedComparison, blocks: int) -> int:
    """A Latin square is as large as its treatments are many, so it can't have one more."""
    return blocks if plan.design == "latin_square" else blocks + 1


def _unadjusted(df: float, alpha: float) -> float:
    return critical_value("lsd", 2, df, alpha, against_control=False)


def _critical(plan: PlannedComparison, df: float) -> float:
    return critical_value(plan.method, plan.treatments, df, plan.alpha, against_control=plan.against_control,
                          controls=plan.controls)  # fmt: skip


def detectable_on_board(plan: PlannedComparison, board: Difference) -> float:
    """The smallest difference that the board's interval excludes zero for with an 80 % chance."""
    critical = _critical(plan, board.df) if board.critical is None else board.critical
    return detectable_difference(board.standard_error, board.df, critical)


def chances_of_verdicts(plan: PlannedComparison, board: Difference, margin: float, truth: float) -> Chances:
    """Exact for a balanced plan with normal plots whose comparison is judged by one mean square.

    Given the estimated spread, each verdict is a range of the estimate, which is normal about `truth` and independent
    of that spread, over whose distribution the ranges are integrated. Not for a protected LSD, which also asks the
    overall test, nor where several mean squares add up: those take simulation.
    """
    if not board.exact:
        raise Refused("not-built", f"The chances for {board.name} need simulation: several mean squares add up.")
    if plan.method == "lsd":
        raise Refused("not-built", "The chances of a protected LSD need simulation: they depend on all treatments.")
    se, df = board.standard_error, board.df
    s, weight = scale_axis(float(df))
    h = _critical(plan, df) * se * s  # half-widths, one for each spread that could be estimated

    def between(low: Floats, high: Floats) -> float:
        inside = special.ndtr((high - truth) / se) - special.ndtr((low - truth) / se)
        return float(weight @ np.where(high > low, inside, 0.0))

    far = np.full_like(h, np.inf)
    small = between(h, margin - h) + between(h - margin, -h)
    up, down = between(margin + h, far), between(-far, -margin - h)
    real = between(h, far) + between(-far, -h)
    edge = np.minimum(h, margin - h)
    none = between(-edge, edge)
    right, wrong = (up, down) if truth >= 0 else (down, up)
    if truth == 0:
        right, wrong = up + down, 0.0
    tested = t_quantile(plan.alpha, df) * se * s  # planned tests aren't adjusted for the others
    equivalent = between(tested - margin, margin - tested)
    not_less, not_more = between(tested - margin, far), between(-far, margin - tested)
    return Chances(
        truth, right, wrong, real - up - down - small, small, none, 1 - real - none, 0, equivalent, not_less, not_more
    )
