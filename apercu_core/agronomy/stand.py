"""How many plants stand on a square metre, from plants, rows or leaves, and what share of the seed that is."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from apercu_core.agronomy.given import filled, not_negative, positive, whole


@dataclass(frozen=True, slots=True)
class Stand:
    """`se`: of the plants per m², None where fewer than two frames or plants were counted."""

    plants_m2: float
    se: float | None


def stand_from_leaves(leaves: Sequence[float], frame_area_m2: float, leaves_per_plant: Sequence[float]) -> Stand:
    """`leaves`: counted in each frame; `leaves_per_plant`: on plants of the same plot.

    The error of a quotient of two independent means, to the first order (Kendall and Stuart, 1977, *The Advanced Theory
    of Statistics* 1, section 10.6).
    """
    area = positive("frame_area_m2", frame_area_m2)
    frames = [whole(f"frames.{i}.leaves", one) for i, one in enumerate(filled("frames", leaves))]
    plants = [whole(f"leaves_per_plant.{i}", one) for i, one in enumerate(filled("leaves_per_plant", leaves_per_plant))]
    on_a_plant = positive("mean of leaves_per_plant", _mean(plants))
    in_a_frame = _mean(frames)
    found = in_a_frame / on_a_plant / area
    if len(frames) < 2 or len(plants) < 2:
        return Stand(found, None)
    if not in_a_frame:
        return Stand(found, 0.0)
    return Stand(found, found * math.sqrt(_relative_variance(frames) + _relative_variance(plants)))


def _mean(values: Sequence[float]) -> float:
    return math.fsum(values) / len(values)


def _relative_variance(values: Sequence[float]) -> float:
    """Of the mean, over its square."""
    mean, n = _mean(values), len(values)
    return math.fsum((one - mean) ** 2 for one in values) / (n - 1) / n / mean**2


def stand_from_rows(count: float, row_length_m: float, row_spacing_m: float) -> float:
    """Plants per m², from plants along one row."""
    plants = whole("count", count)
    return plants / positive("row_length_m", row_length_m) / positive("row_spacing_m", row_spacing_m)


@dataclass(frozen=True, slots=True)
class Emergence:
    """`rate_for_target_kg_ha`: what would have given the target, had the same share of seed emerged."""

    percent: float
    rate_for_target_kg_ha: float


def emergence(plants_m2: float, viable_seeds_m2: float, bulk_kg_ha: float, target_m2: float) -> Emergence:
    """`viable_seeds_m2`: sown; `bulk_kg_ha`: the rate at which they were sown."""
    stood = not_negative("plants_m2", plants_m2)
    percent = 100 * stood / positive("viable_seeds_m2", viable_seeds_m2)
    wanted = not_negative("bulk_kg_ha", bulk_kg_ha) * not_negative("target_m2", target_m2)
    return Emergence(percent, wanted / positive("plants_m2", stood))
