"""Spreader tray test: how even the laps lie at a working width.

The pattern p(x) is linear between the trays and 0 outside the outermost ones. Driven the same way each lap, laps repeat
every width; driven there and back, every second lap is the pattern's mirror image, and they repeat every two widths.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Literal

from apercu_core.agronomy.given import amount, filled, not_negative, positive, refuse, whole

Mode = Literal["same_way", "there_and_back"]
Class = Literal["good", "caution", "poor"]
GOOD, POOR = 15.0, 20.0
"""CV in per cent up to which a width is good, and above which it is poor; thumb."""
LEAST_TRAYS = 5
MOST_LAPS = 200
"""Over one point; a width that needs more of them is a slip of the pen."""


@dataclass(frozen=True, slots=True)
class Pattern:
    """`positions_m`: centres of the trays from the centre line, rising; `masses_g`: mean of each tray over the passes.

    `passes_per_tray`: how often the machine drove over the trays before they were weighed.
    """

    positions_m: tuple[float, ...]
    masses_g: tuple[float, ...]
    tray_area_m2: float
    passes_per_tray: int = 1

    def at(self, x: float) -> float:
        """Seed in a tray at `x`, g."""
        places, masses = self.positions_m, self.masses_g
        if not places[0] <= x <= places[-1]:
            return 0.0
        for left, right, a, b in zip(places, places[1:], masses, masses[1:], strict=False):
            if x <= right:
                return a + (b - a) * (x - left) / (right - left)
        return masses[-1]

    @property
    def left_share(self) -> float:
        """Of all seed, what lies left of the centre line; 0.5 is balanced."""
        whole = _integral(self, self.positions_m[0], self.positions_m[-1])
        return _integral(self, self.positions_m[0], 0.0) / whole


@dataclass(frozen=True, slots=True)
class WidthFound:
    """At one working width: evenness in per cent, and its class."""

    width_m: float
    cv_percent: float

    @property
    def quality(self) -> Class:
        return "good" if self.cv_percent <= GOOD else "caution" if self.cv_percent <= POOR else "poor"


def pattern(
    positions_m: Sequence[float], masses_g: Sequence[float], tray_area_m2: float, passes_per_tray: float = 1
) -> Pattern:
    """The pattern of a test. Refused with fewer than five trays, on one side only, or a mass missing."""
    filled("positions_m", positions_m, LEAST_TRAYS)
    if len(masses_g) != len(positions_m):
        raise refuse(
            "masses_g",
            f"there are {len(masses_g)} masses for {len(positions_m)} trays. Enter the mass of each tray, 0 for an "
            "empty one.",
        )
    for i, place in enumerate(positions_m):
        amount(f"positions_m.{i}", place)
        if i and place <= positions_m[i - 1]:
            raise refuse(f"positions_m.{i}", f"{place:g} m doesn’t lie to the right of the tray before it. Sort them.")
    if not positions_m[0] < 0 < positions_m[-1]:
        raise refuse("positions_m", "all trays lie on one side. Put trays left (below 0) and right of the centre line.")
    for i, mass in enumerate(masses_g):
        not_negative(f"masses_g.{i}", mass)
    if math.fsum(masses_g) <= 0:
        raise refuse("masses_g", "all trays are empty. Enter what was caught.")
    passes = whole("passes_per_tray", passes_per_tray, least=1)
    return Pattern(tuple(positions_m), tuple(masses_g), positive("tray_area_m2", tray_area_m2), passes)


def _integral(pattern: Pattern, start: float, end: float) -> float:
    edges = sorted({start, end, *(x for x in pattern.positions_m if start < x < end)})
    return math.fsum((b - a) * (pattern.at(a) + pattern.at(b)) / 2 for a, b in pairwise(edges))


def _laps(pattern: Pattern, width: float, mode: Mode, period: float) -> Iterator[tuple[float, int]]:
    """Of all laps that reach into one period: the centre of each, and which way it was driven (1 or −1)."""
    reach = max(abs(pattern.positions_m[0]), abs(pattern.positions_m[-1]))
    for k in range(-math.ceil(reach / width) - 1, math.ceil((reach + period) / width) + 2):
        yield k * width, -1 if mode == "there_and_back" and k % 2 else 1


def overlap(pattern: Pattern, width_m: float, mode: Mode) -> list[tuple[float, float, float, float]]:
    """Seed in a tray under overlapping laps over one period, in pieces: from, to, m; at its start, at its end, g.

    Pieces are straight; where an outermost tray isn't empty the next piece starts with a step.
    """
    span = pattern.positions_m[-1] - pattern.positions_m[0]
    if positive("width_m", width_m) < span / MOST_LAPS:
        raise refuse("width_m", f"{width_m:g} m is far narrower than the {span:g} m that the trays span. Check it.")
    period = width_m if mode == "same_way" else 2 * width_m
    laps = list(_laps(pattern, width_m, mode, period))
    corners = {0.0, period}
    for centre, way in laps:
        corners |= {x for place in pattern.positions_m if 0 < (x := centre + way * place) < period}
    edges = sorted(corners)
    pieces = []
    for a, b in pairwise(edges):
        # Taken inside the piece, because at its ends the pattern may have steps.
        one, two = a + (b - a) / 3, b - (b - a) / 3
        at_one = math.fsum(pattern.at(way * (one - centre)) for centre, way in laps)
        at_two = math.fsum(pattern.at(way * (two - centre)) for centre, way in laps)
        pieces.append((a, b, 2 * at_one - at_two, 2 * at_two - at_one))
    return pieces


def width_found(pattern: Pattern, width_m: float, mode: Mode) -> WidthFound:
    return WidthFound(width_m, _evenness(pattern, width_m, mode)[0])


def achieved_kg_ha(pattern: Pattern, width_m: float, mode: Mode) -> float:
    """Rate of one pass of the machine at that width."""
    return 10 * _evenness(pattern, width_m, mode)[1] / pattern.tray_area_m2 / pattern.passes_per_tray


def _evenness(pattern: Pattern, width_m: float, mode: Mode) -> tuple[float, float]:
    """CV in per cent and mean in g over a period, from integrals."""
    pieces = overlap(pattern, width_m, mode)
    period = pieces[-1][1]
    mean = math.fsum((b - a) * (p + q) / 2 for a, b, p, q in pieces) / period
    if mean <= 0:
        raise refuse("masses_g", "all trays are empty. Enter what was caught.")
    squares = math.fsum(
        (b - a) * ((p - mean) ** 2 + (p - mean) * (q - mean) + (q - mean) ** 2) / 3 for a, b, p, q in pieces
    )
    return 100 * math.sqrt(max(0.0, squares / period)) / mean, mean


def widest(widths: Sequence[WidthFound]) -> WidthFound | None:
    """The largest width for which it and each narrower one down to half of it is good; None if there is none."""
    good = None
    for one in widths:
        down_to_half = [w for w in widths if one.width_m / 2 <= w.width_m <= one.width_m]
        if all(w.cv_percent <= GOOD for w in down_to_half):
            good = one
    return good


def least_cv(widths: Sequence[WidthFound]) -> WidthFound:
    return min(widths, key=lambda one: one.cv_percent)


def candidate_widths(pattern: Pattern, mode: Mode, widths_m: Sequence[float]) -> list[WidthFound]:
    """Each candidate width with its evenness; refused where they don't rise."""
    for i, width in enumerate(filled("widths_m", widths_m)):
        positive(f"widths_m.{i}", width)
        if i and width <= widths_m[i - 1]:
            raise refuse(f"widths_m.{i}", f"{width:g} m isn’t wider than the one before it. Sort the widths.")
    return [width_found(pattern, width, mode) for width in widths_m]
