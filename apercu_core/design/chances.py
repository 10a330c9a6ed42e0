"""The chance of each verdict under a plan, when the truth is known."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from scipy import special

from apercu_core.arrays import Floats
from apercu_core.design.error_df import error_df
from apercu_core.design.power import minimum_detectable_difference
from apercu_core.errors import Refused
from apercu_core.statistics.critical import critical_value
from apercu_core.statistics.quadrature import scale_axis
from apercu_core.statistics.specification import Design, Method


@dataclass(frozen=True, slots=True)
class Chances:
    """Probabilities that add up to 1, for one treatment against the control.

    `clear_right`: clear in the direction of the truth (either, when the truth is 0); `clear_wrong`: in the other.
    """

    truth: float
    clear_right: float
    clear_wrong: float
    real_unsettled: float
    real_small: float
    no_difference: float
    not_settled: float


@dataclass(frozen=True, slots=True)
class Outlook:
    """What a plan will be able to see; differences in the unit of `sigma`. `chances` is empty without a margin."""

    blocks: int
    plots: int
    error_df: int
    detectable: float
    detectable_with_one_more: float
    chances: tuple[Chances, ...]


@dataclass(frozen=True, slots=True)
class PlannedComparison:
    """How the board will compare: each with the control, or all pairs."""

    design: Design
    treatments: int
    method: Method
    alpha: float = 0.05

    @property
    def against_control(self) -> bool:
        return self.method == "dunnett"


def outlook(plan: PlannedComparison, blocks: int, sigma: float, margin: float | None) -> Outlook:
    """Smallest difference seen with an 80 % chance, what one block more buys, and the chances at 0, m and 2m."""
    if margin is not None and not (math.isfinite(margin) and margin > 0):
        raise Refused("bad-value", f"The margin is {margin:g}; it must be a number above 0.")
    truths = () if margin is None else (0.0, margin, 2 * margin)
    return Outlook(
        blocks,
        plan.treatments * blocks,
        error_df(plan.design, plan.treatments, blocks),
        _detectable(plan, blocks, sigma),
        _detectable(plan, blocks + 1, sigma),
        tuple(chances_of_verdicts(plan, blocks, sigma, margin, truth) for truth in truths if margin is not None),
    )


def _detectable(plan: PlannedComparison, blocks: int, sigma: float) -> float:
    return minimum_detectable_difference(
        sigma, plan.treatments, blocks, design=plan.design, method=plan.method, alpha=plan.alpha,
        against_control=plan.against_control,
    )  # fmt: skip


def chances_of_verdicts(plan: PlannedComparison, blocks: int, sigma: float, margin: float, truth: float) -> Chances:
    """Exact for a balanced plan with normal plots: given the estimated spread, each verdict is a range of the estimate.

    The estimate is normal about `truth` with variance 2σ²/b and independent of the estimated spread, over whose
    distribution the ranges are integrated. Methods with one critical value for all pairs; not for a protected LSD,
    which also asks the overall test.
    """
    if plan.method == "lsd":
        raise Refused("not-built", "The chances of a protected LSD need simulation, which isn't built yet.")
    df = error_df(plan.design, plan.treatments, blocks)
    c = critical_value(plan.method, plan.treatments, df, plan.alpha, against_control=plan.against_control)
    se = sigma * math.sqrt(2 / blocks)
    s, weight = scale_axis(float(df))
    h = c * se * s  # half-widths, one for each spread that could be estimated

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
    return Chances(truth, right, wrong, real - up - down - small, small, none, 1 - real - none)
