"""Soil as it is met in the plot: water that soaks in, what a cone meets, worms in a block."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from apercu_core.agronomy.given import filled, not_negative, positive, refuse

FILL_MM = 25.0
"""Water poured on for each fill of the ring."""
SAME = 0.10
"""Of their mean: the range of the last three rates within which infiltration counts as steady."""
ROUNDING = 1e-12
ROOTS_STOP_MPA = 2.0
"""Where roots of most plants hardly grow on; thumb."""
BLOCKS_PER_M2 = 25
"""Blocks of 20 × 20 cm."""


@dataclass(frozen=True, slots=True)
class Infiltration:
    """`rates_mm_h`: of the fills that went in; `value_mm_h`: None where the last one didn't, which then was below
    `below_mm_h`. Water also flows sideways under a single ring, so rates are too high.
    """

    rates_mm_h: tuple[float, ...]
    steady: bool
    value_mm_h: float | None
    below_mm_h: float | None


def infiltration(fills_s: Sequence[float | None], limit_s: float | None = None) -> Infiltration:
    """`fills_s`: seconds for each fill of 25 mm; None for a last one that hadn't gone in after `limit_s`."""
    filled("fills_s", fills_s)
    if limit_s is not None:
        positive("limit_s", limit_s)
    rates = []
    for i, seconds in enumerate(fills_s):
        if seconds is not None:
            rates.append(FILL_MM * 3600 / positive(f"fills_s.{i}", seconds))
        elif i < len(fills_s) - 1:
            raise refuse(
                f"fills_s.{i}", "a fill follows one that had not gone in. Only the last one can be unfinished."
            )
    if fills_s[-1] is None:
        if limit_s is None:
            raise refuse("limit_s", "the last fill had not gone in. Enter after how many seconds the time ran out.")
        return Infiltration(tuple(rates), False, None, FILL_MM * 3600 / limit_s)
    last = rates[-3:]
    mean = math.fsum(last) / len(last)
    steady = len(rates) >= 3 and max(last) - min(last) <= SAME * mean * (1 + ROUNDING)
    return Infiltration(tuple(rates), steady, mean if steady else rates[-1], None)


@dataclass(frozen=True, slots=True)
class Resistance:
    """`mean_mpa`: at each depth over the profiles that reach it; `deeper_than_cm`: where the limit isn't reached."""

    mean_mpa: tuple[float | None, ...]
    first_crossing_cm: float | None
    deeper_than_cm: float | None


def resistance(
    depths_cm: Sequence[float], profiles_mpa: Sequence[Sequence[float | None]], limit_mpa: float = ROOTS_STOP_MPA
) -> Resistance:
    """`profiles_mpa`: a value for each depth; None from where a stone stopped the cone."""
    for i, depth in enumerate(filled("depths_cm", depths_cm)):
        if not_negative(f"depths_cm.{i}", depth) <= (depths_cm[i - 1] if i else -1):
            raise refuse(
                f"depths_cm.{i}", f"{depth:g} cm doesn’t lie below {depths_cm[i - 1]:g} cm. Enter them in order."
            )
    positive("limit_mpa", limit_mpa)
    for i, profile in enumerate(filled("profiles_mpa", profiles_mpa)):
        _require_profile(f"profiles_mpa.{i}", profile, len(depths_cm))
    means = tuple(_mean([one[k] for one in profiles_mpa]) for k in range(len(depths_cm)))
    known = [(depth, mean) for depth, mean in zip(depths_cm, means, strict=True) if mean is not None]
    if not known:
        raise refuse("profiles_mpa", "no profile has a value. Enter at least one.")
    for i, (depth, mean) in enumerate(known):
        if mean >= limit_mpa:
            return Resistance(means, _crossed(known[i - 1], (depth, mean), limit_mpa) if i else depth, None)
    return Resistance(means, None, known[-1][0])


def _require_profile(at: str, profile: Sequence[float | None], depths: int) -> None:
    if len(profile) != depths:
        raise refuse(
            at, f"it has {len(profile)} values for {depths} depths. Enter one for each, null where it stopped."
        )
    stopped = False
    for k, value in enumerate(profile):
        if value is None:
            stopped = True
        elif stopped:
            raise refuse(f"{at}.{k}", "a value follows a missing one. A profile can only stop, not go on below.")
        else:
            not_negative(f"{at}.{k}", value)


def _mean(values: Sequence[float | None]) -> float | None:
    there = [one for one in values if one is not None]
    return math.fsum(there) / len(there) if there else None


def _crossed(above: tuple[float, float], below: tuple[float, float], limit: float) -> float:
    (top, less), (bottom, more) = above, below
    return top + (bottom - top) * (limit - less) / (more - less)


@dataclass(frozen=True, slots=True)
class Earthworms:
    """`adults_m2`: None where adults weren't counted apart."""

    per_m2: float
    adults_m2: float | None


def earthworms(counts: Sequence[float], adults: Sequence[float] | None = None) -> Earthworms:
    """Worms in blocks of 20 × 20 × 20 cm, `adults` of them in each."""
    worms = [not_negative(f"counts.{i}", one) for i, one in enumerate(filled("counts", counts))]
    per_m2 = BLOCKS_PER_M2 * math.fsum(worms) / len(worms)
    if adults is None:
        return Earthworms(per_m2, None)
    if len(adults) != len(worms):
        raise refuse("adults", f"there are {len(adults)} counts for {len(worms)} blocks. Enter one for each block.")
    for i, (one, all_of_it) in enumerate(zip(adults, worms, strict=True)):
        if not_negative(f"adults.{i}", one) > all_of_it:
            raise refuse(f"adults.{i}", f"{one:g} adults are more than the {all_of_it:g} worms of this block.")
    return Earthworms(per_m2, BLOCKS_PER_M2 * math.fsum(adults) / len(adults))
