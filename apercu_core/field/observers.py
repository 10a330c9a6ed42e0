"""Who counts which plots: whole blocks to one person each."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

WHY = (
    "Each person takes whole blocks: what one counts higher than another then lies between blocks, "
    "and not between treatments."
)
WHY_ALONE = "One person takes all plots, so that all are counted alike."
WHY_SHARED = (
    "There are more people than blocks. Each block has one person only; the others have none, since two people in one "
    "block would bring their difference between its treatments."
)


@dataclass(frozen=True, slots=True)
class Allotment:
    """Blocks of each person, in walking order, and why."""

    blocks: Mapping[str, tuple[str, ...]]
    why: str


def allot(people: Sequence[str], blocks: Mapping[str, int]) -> Allotment:
    """Neighbouring blocks to one person, as near to the same number of plots as whole blocks allow.

    `blocks`: number of plots of each, in walking order.
    """
    if not people:
        return Allotment({}, "")
    names, total = list(blocks), sum(blocks.values())
    given: dict[str, tuple[str, ...]] = {}
    start, passed = 0, 0
    for i, person in enumerate(people):
        wanted, end = total * (i + 1) / len(people), start
        while end < len(names) and (
            i == len(people) - 1 or abs(passed + blocks[names[end]] - wanted) <= abs(passed - wanted)
        ):
            passed += blocks[names[end]]
            end += 1
        given[person] = tuple(names[start:end])
        start = end
    why = WHY_ALONE if len(people) == 1 else WHY_SHARED if len(people) > len(names) else WHY
    return Allotment(given, why)
