"""In which order plots are sown, and where the drill is cleaned on the way."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise, permutations
from typing import Literal

from apercu_core.field.layout import Rectangle
from apercu_core.field.walking import serpentine

Filling = Literal["by_plot", "by_treatment"]
"""A drill that takes each plot's bag by itself, or a hopper that is filled for a whole treatment."""
EXACT_UP_TO = 7
"""Treatments whose orders are all tried; beyond, the next one is the cheapest from where the drill stands."""


@dataclass(frozen=True, slots=True)
class Stop:
    """A plot to sow. `clean`: the drill is cleaned before it, because seed that is left doesn't belong here.
    `upwards`: driven away from the field's corner.
    """

    plot: str
    clean: bool
    upwards: bool


def drill_order(
    plots: Mapping[str, Rectangle], treatment_of: Mapping[str, str], seeds: Mapping[str, frozenset[str]],
    filling: Filling,
) -> tuple[Stop, ...]:  # fmt: skip
    """The stops of the drill. `seeds`: treatment → lots that it gets; a treatment without any is driven past.

    With a bag for each plot the drill goes row by row, there and back. With a hopper it sows one treatment after the
    other, in the order with the fewest cleanings, and of those the shortest way. Seed that is left of a cover
    whose lots are all in the next one needs no cleaning.
    """
    sown = [label for label in plots if seeds.get(treatment_of[label])]
    rows = [sown[i] for i in serpentine([plots[label] for label in sown])]
    if filling == "by_plot":
        return _stops(rows, plots, treatment_of, seeds, by_plot=True)
    groups = {
        key: [label for label in rows if treatment_of[label] == key]
        for key in dict.fromkeys(map(treatment_of.__getitem__, rows))
    }
    order = _best_order(groups, plots, seeds)
    return _stops([label for key in order for label in groups[key]], plots, treatment_of, seeds, by_plot=False)


def _stops(
    labels: Sequence[str], plots: Mapping[str, Rectangle], treatment_of: Mapping[str, str],
    seeds: Mapping[str, frozenset[str]], *, by_plot: bool,
) -> tuple[Stop, ...]:  # fmt: skip
    out: list[Stop] = []
    for i, label in enumerate(labels):
        before = treatment_of[labels[i - 1]] if i else None
        clean = not by_plot and before is not None and not seeds[before] <= seeds[treatment_of[label]]
        out.append(Stop(label, clean, _upwards(out[-1] if out else None, label, plots)))
    return tuple(out)


def _upwards(last: Stop | None, label: str, plots: Mapping[str, Rectangle]) -> bool:
    """A neighbour in the same row is driven the other way; a plot further on is entered from its near end."""
    if last is None:
        return True
    one, two = plots[last.plot], plots[label]
    if abs(one.y + one.length / 2 - two.y - two.length / 2) < min(one.length, two.length) / 2:
        return not last.upwards
    return two.y > one.y


def _distance(a: Rectangle, b: Rectangle) -> float:
    return math.hypot(a.x + a.width / 2 - b.x - b.width / 2, a.y + a.length / 2 - b.y - b.length / 2)


def _best_order(
    groups: Mapping[str, Sequence[str]], plots: Mapping[str, Rectangle], seeds: Mapping[str, frozenset[str]]
) -> tuple[str, ...]:
    def between(one: str, two: str) -> tuple[int, float]:
        return 0 if seeds[one] <= seeds[two] else 1, _distance(plots[groups[one][-1]], plots[groups[two][0]])

    def cost(order: Sequence[str]) -> tuple[int, float]:
        steps = [between(one, two) for one, two in pairwise(order)]
        return sum(clean for clean, _ in steps), math.fsum(way for _, way in steps)

    keys = tuple(groups)
    if len(keys) <= EXACT_UP_TO:
        return min(permutations(keys), key=cost, default=())
    best: tuple[str, ...] = ()
    for start in keys:
        order, left = [start], set(keys) - {start}
        while left:
            order.append(min(sorted(left), key=lambda key: between(order[-1], key)))
            left.remove(order[-1])
        if not best or cost(order) < cost(best):
            best = tuple(order)
    return best
