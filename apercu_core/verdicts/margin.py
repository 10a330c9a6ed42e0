"""The smallest difference that would change a decision, on the scale of the comparison."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from apercu_core.errors import Refused
from apercu_core.statistics.scales import Scale


@dataclass(frozen=True, slots=True)
class Margin:
    """`value` > 0: in the measure's unit (`absolute`), or in per cent of the control's mean (`percent`)."""

    value: float
    kind: Literal["absolute", "percent"] = "absolute"

    def __post_init__(self) -> None:
        if not (math.isfinite(self.value) and self.value > 0):
            raise Refused("bad-value", f"The margin is {self.value:g}; it must be a number above 0.")


@dataclass(frozen=True, slots=True)
class Band:
    """Differences inside [low, high] don't matter; low < 0 < high. On log scales it isn't symmetric."""

    low: float
    high: float


class NoBand(ValueError):
    """The margin means nothing for these numbers; the text says why."""


def needs_response_scale(margin: Margin, scale: Scale) -> bool:
    """Whether the comparison has to be made on the response scale, by the delta method, to meet this margin."""
    return scale.name != "none" and not (scale.ratio and margin.kind == "percent")


def band_of(margin: Margin, control_mean: float, scale: Scale) -> Band:
    """The band of a margin; `control_mean` in the response's unit, its estimate taken as fixed.

    Per cent on a log scale: from log(1 − m) to log(1 + m). Raises `NoBand` where the control's mean is zero or less
    and the margin is a share of it.
    """
    if margin.kind == "absolute":
        return Band(-margin.value, margin.value)
    share = margin.value / 100
    if scale.ratio:
        return Band(math.log1p(-share) if share < 1 else -math.inf, math.log1p(share))
    if control_mean <= 0:
        raise NoBand("The control’s mean isn’t above zero, so a margin in per cent of it means nothing.")
    return Band(-share * control_mean, share * control_mean)
