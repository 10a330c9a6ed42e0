"""Weeds over a season, and how many kinds share the ground."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from itertools import pairwise
from typing import Literal

from apercu_core.agronomy.given import filled, not_negative, positive, refuse, whole

WeedKind = Literal["pulled", "standing"]


@dataclass(frozen=True, slots=True)
class WeedVisit:
    """Weeds in each frame on a day."""

    day: date
    counts: Sequence[float]


@dataclass(frozen=True, slots=True)
class WeedsOverSeason:
    """`per_m2`: of each visit. Weeds that were pulled add up to `total_m2`; those that stand are the same ones again:
    they have a mean, a maximum, and an area under the curve in plants · days per m².
    """

    per_m2: tuple[float, ...]
    total_m2: float | None = None
    mean_m2: float | None = None
    max_m2: float | None = None
    auc: float | None = None


def weeds_over_season(kind: WeedKind, frame_area_m2: float, visits: Sequence[WeedVisit]) -> WeedsOverSeason:
    area = positive("frame_area_m2", frame_area_m2)
    found = []
    for i, visit in enumerate(filled("visits", visits)):
        if i and visit.day <= visits[i - 1].day:
            raise refuse(f"visits.{i}.date", f"{visit.day} doesn’t come after {visits[i - 1].day}. Enter the visits in "
                         "order, each day once.")  # fmt: skip
        at = f"visits.{i}.counts"
        counts = [whole(f"{at}.{k}", one) for k, one in enumerate(filled(at, visit.counts))]
        found.append(math.fsum(counts) / len(counts) / area)
    if kind == "pulled":
        return WeedsOverSeason(tuple(found), total_m2=math.fsum(found))
    days = [(b.day - a.day).days for a, b in pairwise(visits)]
    under = math.fsum(n * (a + b) / 2 for n, (a, b) in zip(days, pairwise(found), strict=True))
    return WeedsOverSeason(tuple(found), None, math.fsum(found) / len(found), max(found), under)


@dataclass(frozen=True, slots=True)
class Diversity:
    """`shannon`: H′ by natural logarithms, None where nothing was counted."""

    shannon: float | None
    species: int


def diversity(counts: Sequence[float]) -> Diversity:
    """Shannon's index (Shannon, 1948, Bell System Technical Journal 27, 379–423), `counts` by species."""
    given = [not_negative(f"counts.{i}", one) for i, one in enumerate(filled("counts", counts))]
    total = math.fsum(given)
    there = [one for one in given if one > 0]
    if not total:
        return Diversity(None, 0)
    return Diversity(math.fsum(-one / total * math.log(one / total) for one in there), len(there))
