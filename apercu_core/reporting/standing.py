"""What a plot's counts come to while they are taken: against what was sown, and against a threshold for action."""

from __future__ import annotations

import math
from collections.abc import Sequence

from apercu_core.agronomy.action_threshold import AgainstThreshold, against_threshold
from apercu_core.agronomy.stand import emergence
from apercu_core.units import System, shown_in
from apercu_core.words import number, with_unit

FEWEST = 2
"""Values from which on a mean has a spread."""


def stand_said(
    counted: float, unit: str, live_seeds_m2: float | None, expected_m2: float | None, bulk_kg_ha: float | None,
    assumed: bool, system: System,
) -> str:  # fmt: skip
    """Of one plot. `counted`: the mean of its samples so far, plants/m² of all that was sown together; `expected_m2`:
    the stand that the rate was meant to give; `assumed`: some fact of the seed stands on no label. Empty where nothing
    of what was sown is known.
    """
    if not live_seeds_m2:
        return ""
    shown = _in(counted, unit, system)
    if counted <= 0 or not expected_m2 or not bulk_kg_ha:
        percent = 100 * counted / live_seeds_m2
        return f"{shown}: {number(percent)} % of the live seed stands as plants.{_assumed(assumed)}"
    found = emergence(counted, live_seeds_m2, bulk_kg_ha, expected_m2)
    rate, bulk = (_in(kg_ha, "kg/ha", system) for kg_ha in (found.rate_for_target_kg_ha, bulk_kg_ha))
    return (
        f"{shown} of {_in(expected_m2, unit, system)} expected: {number(found.percent)} % of the live seed stands as "
        f"plants. {rate} in place of {bulk} would have given what was expected.{_assumed(assumed)}"
    )


def _assumed(assumed: bool) -> str:
    return " Some facts of the seed are assumed: see Sow." if assumed else ""


def threshold_said(values: Sequence[float], threshold: float, unit: str, each: str, system: System) -> str:
    """Whether the mean lies above the threshold. `each`: what one value is of, in the plural: frames, plots."""
    limit = _in(threshold, unit, system)
    known = [value for value in values if math.isfinite(value)]
    if len(known) < FEWEST:
        return f"Threshold {limit}: count at least {FEWEST} {each} to tell."
    found = against_threshold(known, threshold)
    mean = f"{_in(found.mean, unit, system)} on average of {len(known)} {each}"
    if found.decision == "above":
        return (
            f"Above the threshold of {limit}: {mean}, at least {_in(found.lower, unit, system)} with 95 % confidence."
        )
    if found.decision == "below":
        return (
            f"Below the threshold of {limit}: {mean}, less than {_in(found.upper, unit, system)} with 95 % confidence."
        )
    return f"Can’t tell yet: {mean}, the threshold is {limit}. {_more(found, each)}"


def _more(found: AgainstThreshold, each: str) -> str:
    if found.more is None:
        return f"The mean is so near it that no reasonable number of {each} would tell."
    return f"About {found.more} more {each} would tell, if they are like these."


def _in(value: float, unit: str, system: System) -> str:
    shown, factor = shown_in(unit, system)
    return with_unit(value * factor, shown)
