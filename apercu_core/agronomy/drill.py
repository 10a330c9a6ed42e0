"""Drill catch test: whether the drill delivers its rate, and which setting to try next."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from scipy.special import stdtrit

from apercu_core.agronomy.given import filled, not_negative, positive, share, whole

Decision = Literal["accept", "adjust", "catch_again"]
ENOUGH_CATCHES = 3
USUAL_LIMIT = 0.05
ROUNDING = 1e-12
"""So that a mean that lies just at the limit is within it."""


@dataclass(frozen=True, slots=True)
class CatchTest:
    """`off`: mean over expected, minus 1; `off_low`, `off_high`: its 95 % interval, None with one catch.

    `next_setting`: None where no setting was given; holds for drills whose setting is proportional to the rate.
    """

    expected_g: float
    mean_g: float
    off: float
    off_low: float | None
    off_high: float | None
    decision: Decision
    next_setting: float | None


def catch_test(
    bulk_kg_ha: float, row_spacing_m: float, rows: float, distance_m: float, catches_g: Sequence[float],
    limit: float = USUAL_LIMIT, setting: float | None = None,
) -> CatchTest:  # fmt: skip
    """`catches_g`: the mass of each catch over `distance_m` rolled, from `rows` rows; `limit`: of the rate, 0 to 1."""
    expected = positive("bulk_kg_ha", bulk_kg_ha) * positive("row_spacing_m", row_spacing_m)
    expected *= whole("rows", rows, least=1) * positive("distance_m", distance_m) / 10
    share("limit", limit)
    for i, caught in enumerate(filled("catches_g", catches_g)):
        not_negative(f"catches_g.{i}", caught)
    mean = math.fsum(catches_g) / len(catches_g)
    off = mean / expected - 1
    low, high = _interval(catches_g, mean, expected)
    following = None
    if setting is not None:
        following = positive("setting", setting) * expected / positive("mean of catches_g", mean)
    return CatchTest(expected, mean, off, low, high, _decision(len(catches_g), low, high, limit), following)


def _interval(catches: Sequence[float], mean: float, expected: float) -> tuple[float | None, float | None]:
    n = len(catches)
    if n < 2:
        return None, None
    sd = math.sqrt(math.fsum((caught - mean) ** 2 for caught in catches) / (n - 1))
    half = float(stdtrit(n - 1, 0.975)) * sd / math.sqrt(n)
    return (mean - half) / expected - 1, (mean + half) / expected - 1


def _decision(catches: int, low: float | None, high: float | None, limit: float) -> Decision:
    if catches < ENOUGH_CATCHES or low is None or high is None:
        return "catch_again"
    edge = limit + ROUNDING
    if -edge <= low and high <= edge:
        return "accept"
    return "adjust" if low > edge or high < -edge else "catch_again"
