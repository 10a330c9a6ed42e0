"""Green cover in per cent, with the threshold that was taken, why, and what the method can't tell."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

import numpy as np

from apercu_core.arrays import Bools, Floats
from apercu_core.cover.greenness import Greenness, Rgb, excess_green, parted
from apercu_core.errors import Place, Refused

How = Literal["two_classes", "one_class", "by_hand"]

LEAST_APART = 0.12
"""Between the means of ground and leaf. Bare ground with straw is parted by up to 0.09. This and what follows was set
on photographs of the simulated camera, seeds 1 to 120, also with their colours faded to a third.
"""
PLAUSIBLE = (0.06, 0.36)
"""Where a threshold between ground and leaf can lie; full cover is parted above."""
FIXED = 0.12
"""Where there is one class only: above bare ground with straw, below leaves."""
HIGHEST = 0.27
"""A half-leaf pixel of the darkest soil; higher, yellow-green leaves would be lost."""
SURE = 0.06
"""Distance from the threshold beyond which a pixel is sure to be ground, or leaf."""
LEAST_SHARE = 0.003
"""Of sure ground and of sure leaf, to take their colours from."""
STEPS = 3
SAMPLED = 3
"""Every third pixel of every third row is enough for the two colours."""
DARK, BRIGHT = 45, 750
"""Sums of red, green and blue out of 765 at which colours are mostly noise, or washed out."""
TOO_MUCH = 0.02
"""Share of such pixels from which it is said."""
ALWAYS = "Weeds count as cover; flowers, dead leaves and purple leaves don’t."


@dataclass(frozen=True, slots=True)
class GreenCover:
    """`how`: the threshold was found between two classes, fixed where there seems to be one, or set by hand; `green`:
    what was counted, shape (h, w).
    """

    percent: float
    threshold: float
    how: How
    notes: tuple[str, ...]
    green: Bools = field(repr=False, compare=False)


def green_cover(rgb: Rgb, threshold: float | None = None) -> GreenCover:
    """Raises `Refused` for a threshold outside −1 to 2."""
    greenness = excess_green(rgb)
    how: How = "by_hand"
    if threshold is None:
        threshold, how = _found(rgb, greenness)
    elif not -1 <= threshold <= 2:
        what = f"{threshold:g} is not possible. Greenness runs from −1 to 2; leaves usually begin above 0.06 to 0.3."
        raise Refused("bad-value", f"threshold: {what}", [Place("threshold", what)])
    if how == "one_class":  # no leaf's rim to keep sharp, but noise that one threshold for all soils lets through
        greenness = excess_green(_smoothed(rgb))
    green: Bools = greenness > threshold
    percent = 100 * float(green.mean())
    return GreenCover(percent, threshold, how, tuple(_notes(rgb, percent, how, threshold)), green)


def _smoothed(rgb: Rgb) -> Rgb:
    """Each pixel as the mean of 3 × 3, at the rim with the rim repeated."""
    padded = np.pad(rgb.astype(np.uint16), ((1, 1), (1, 1), (0, 0)), mode="edge")
    down = padded[:-2] + padded[1:-1] + padded[2:]
    out: Rgb = ((down[:, :-2] + down[:, 1:-1] + down[:, 2:]) / 9).round().astype(np.uint8)
    return out


def _found(rgb: Rgb, greenness: Greenness) -> tuple[float, How]:
    two = parted(greenness)
    plausible = two.apart >= LEAST_APART and PLAUSIBLE[0] <= two.threshold <= PLAUSIBLE[1]
    threshold, sure = (two.threshold, min(SURE, two.apart / 4)) if plausible else (FIXED, SURE)
    how: How = "one_class"
    rgb, greenness = rgb[::SAMPLED, ::SAMPLED], greenness[::SAMPLED, ::SAMPLED]
    for _ in range(STEPS):
        ground, leaf = greenness < threshold - sure, greenness > threshold + sure
        if ground.mean() < LEAST_SHARE or leaf.mean() < LEAST_SHARE:
            break
        threshold, how = _half_leaf(np.median(rgb[ground], axis=0), np.median(rgb[leaf], axis=0)), "two_classes"
    return threshold, how


def _half_leaf(ground: Floats, leaf: Floats) -> float:
    """The greenness of a pixel that is half leaf and half ground, of whose colours each has shape (3,).

    At the rim of a leaf a lens mixes both. Bright leaves on dark soil colour the mixture most, so that the middle
    between both greennesses would count too much there, and too little on bright sand.
    """
    mixed = (ground + leaf) / 2
    return float(np.clip(3 * mixed[1] / mixed.sum() - 1, PLAUSIBLE[0], HIGHEST))


def _notes(rgb: Rgb, percent: float, how: How, threshold: float) -> list[str]:
    notes = []
    if how == "one_class":
        what = "ground" if percent < 50 else "leaf"
        notes.append(
            f"There seems to be {what} almost alone, so a fixed threshold was taken. Look at what was counted as green."
        )
    elif how == "two_classes" and threshold <= PLAUSIBLE[0]:
        notes.append("Leaves and ground hardly differ in colour. Look at what was counted as green.")
    light = rgb.sum(axis=-1, dtype=np.uint16)
    for share, what in (
        (float(np.mean(light < DARK)), "so dark that its colour is mostly noise. Shade the frame evenly"),
        (float(np.mean(light > BRIGHT)), "washed out by light. Take the photograph with less exposure"),
    ):
        if share >= TOO_MUCH:
            notes.append(f"{100 * share:.0f} % of the picture is {what}.")
    return notes
