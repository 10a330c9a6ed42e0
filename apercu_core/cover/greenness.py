"""How green each pixel is, and where green begins."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from apercu_core.arrays import Bools, Floats

Rgb = NDArray[np.uint8]
"""Shape (h, w, 3), as stored in sRGB."""
Greenness = NDArray[np.float32]
BLACK = -1.0
"""Of pixels without any light: not green."""
EDGES = np.linspace(-0.4, 0.8, 601)
"""Of the histogram, always the same, so that pictures are comparable. What lies outside counts in the end bins."""


def excess_green(rgb: Rgb) -> Greenness:
    """2g − r − b of the chromatic coordinates, shape (h, w): from −1 to 2, 0 for grey.

    Woebbecke, Meyer, Von Bargen and Mortensen (1995), Transactions of the ASAE 38, 259–269. The coordinates add up to
    1, so it is 3g − 1, and light and shade fall out of it.
    """
    whole = rgb.sum(axis=-1, dtype=np.uint16).astype(np.float32)
    green = rgb[..., 1].astype(np.float32)
    with np.errstate(divide="ignore", invalid="ignore"):
        out: Greenness = (3 * green / whole - 1).astype(np.float32)
    out[whole == 0] = BLACK
    return out


@dataclass(frozen=True, slots=True)
class TwoClasses:
    """`apart`: how far the classes' means lie from each other."""

    threshold: float
    apart: float


def parted(greenness: Greenness) -> TwoClasses:
    """The threshold with the least variance within two classes: Otsu (1979), IEEE Transactions SMC 9, 62–66.

    It always parts, also bare ground and full cover: whether there are two classes is for the caller to judge.
    """
    bins = len(EDGES) - 1
    at_bin = ((greenness.ravel() - EDGES[0]) * (bins / (EDGES[-1] - EDGES[0]))).clip(0, bins - 1).astype(np.intp)
    counts: Floats = np.bincount(at_bin, minlength=bins).astype(np.float64)
    centres = (EDGES[1:] + EDGES[:-1]) / 2
    below, sums = np.cumsum(counts), np.cumsum(counts * centres)
    above, rest = below[-1] - below, sums[-1] - sums
    both: Bools = (below > 0) & (above > 0)
    if not both.any():
        return TwoClasses(float(centres[np.argmax(counts)]), 0.0)
    apart = np.where(both, rest / np.maximum(above, 1) - sums / np.maximum(below, 1), 0.0)
    at = int(np.argmax(below * above * apart**2))
    return TwoClasses(float(EDGES[at + 1]), float(apart[at]))
