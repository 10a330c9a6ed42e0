"""The five verdicts. They share out every interval between them, so a verdict is never a matter of taste."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum
from typing import Literal

import numpy as np

from apercu_core.arrays import Bools, Floats, Ints
from apercu_core.verdicts.margin import Band

Direction = Literal["higher", "lower", "none"]
Planned = Literal["none", "equivalence", "non-inferiority"]
"""Which test was planned before there were values."""


class Verdict(StrEnum):
    CLEAR_GAIN = "clear-gain"
    CLEAR_LOSS = "clear-loss"
    CLEAR_MORE = "clear-more"
    CLEAR_LESS = "clear-less"
    REAL_UNSETTLED = "real-size-unsettled"
    REAL_SMALL = "real-but-small"
    NO_DIFFERENCE = "no-difference-worth-having"
    NOT_SETTLED = "not-settled"
    NO_MARGIN = "no-margin"
    NO_ANSWER = "no-answer"


@dataclass(frozen=True, slots=True)
class Interval:
    """The two-sided simultaneous interval of a difference from the control."""

    lower: float
    upper: float

    @property
    def includes_zero(self) -> bool:
        """Touching zero counts as including it."""
        return self.lower <= 0 <= self.upper

    def within(self, band: Band) -> bool:
        """Touching the margin counts as within."""
        return band.low <= self.lower and self.upper <= band.high


@dataclass(frozen=True, slots=True)
class AgainstMargin:
    """Where a comparison lies to a margin that has an error of its own: wholly `below`, `above`, or `within` both."""

    below: bool
    above: bool
    within: bool


def judge(
    interval: Interval, band: Band | None, direction: Direction, *, protected_out: bool = False,
    against: AgainstMargin | None = None,
) -> Verdict:  # fmt: skip
    """Where the interval lies decides.

    `against`: what decides beside the margin, where the margin is an estimate itself. `band` None: no margin was
    named, so there is an interval and no verdict. `protected_out`: the overall test of a protected LSD isn't
    significant, so no interval may claim to exclude zero. Ends that aren't finite have no answer.
    """
    if not (math.isfinite(interval.lower) and math.isfinite(interval.upper)):
        return Verdict.NO_ANSWER
    if band is None:
        return Verdict.NO_MARGIN
    if math.isnan(band.low) or math.isnan(band.high):
        return Verdict.NO_ANSWER
    at = against or AgainstMargin(interval.upper <= band.low, interval.lower >= band.high, interval.within(band))
    if interval.includes_zero:
        return Verdict.NO_DIFFERENCE if at.within else Verdict.NOT_SETTLED
    if protected_out:
        return Verdict.NOT_SETTLED
    if at.above:
        return _clear(True, direction)
    if at.below:
        return _clear(False, direction)
    return Verdict.REAL_SMALL if at.within else Verdict.REAL_UNSETTLED


def _clear(more: bool, direction: Direction) -> Verdict:
    if direction == "none":
        return Verdict.CLEAR_MORE if more else Verdict.CLEAR_LESS
    return Verdict.CLEAR_GAIN if more == (direction == "higher") else Verdict.CLEAR_LOSS


PLACES = (
    Verdict.CLEAR_MORE,
    Verdict.CLEAR_LESS,
    Verdict.REAL_UNSETTLED,
    Verdict.REAL_SMALL,
    Verdict.NO_DIFFERENCE,
    Verdict.NOT_SETTLED,
    Verdict.NO_ANSWER,
)
"""Where an interval can lie; without a wanted direction, a verdict."""


def judge_many(lower: Floats, upper: Floats, low: Floats, high: Floats, protected_out: Bools) -> Ints:
    """`judge` for many intervals at once, without a direction: indices into `PLACES`. Arrays broadcast together."""
    lower, upper, low, high, protected_out = np.broadcast_arrays(lower, upper, low, high, protected_out)
    nothing = ~(np.isfinite(lower) & np.isfinite(upper)) | np.isnan(low) | np.isnan(high)
    zero = (lower <= 0) & (upper >= 0)
    within = (low <= lower) & (upper <= high)
    cases = [nothing, zero & within, zero | protected_out, lower >= high, upper <= low, within]
    out: Ints = np.select(cases, [6, 4, 5, 0, 1, 3], 2)
    return out


def with_direction(place: Verdict, direction: Direction) -> Verdict:
    """What a place means where more, or less, is wanted."""
    if place in (Verdict.CLEAR_MORE, Verdict.CLEAR_LESS):
        return _clear(place is Verdict.CLEAR_MORE, direction)
    return place
