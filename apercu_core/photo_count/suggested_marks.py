"""Plants that image analysis finds on a straightened photograph, for a person to accept or remove.

A patch of green is a plant; one that is much larger than is usual on the picture is several that touch, and is parted
where its leaves are densest. How often that is right is in docs/photo-count.md.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from apercu_core.arrays import Bools, Floats
from apercu_core.cover.green_cover import green_cover
from apercu_core.cover.greenness import Rgb

# Set on photographs of the simulated camera, seeds 1 to 3, in units of half a leaf's width.
SPECK = 3.0
"""Area below which a patch surely isn't a plant to take the usual size from."""
SMALLEST = 0.15
"""Of the usual area of a patch; what is smaller isn't marked."""
SEVERAL = 2.0
"""Times the usual area, from which on a patch is several plants."""
BLURRED, APART = 1.5, 2.0
"""How far the green is blurred to find where leaves are densest, and how far apart two plants stand at least."""
LEAST_PIXELS = 9
DENSE = 25.0
"""Green cover, %, above which plants overlap so much that marks mean little."""
ALWAYS = "Plants that touch are often taken for one, and weeds for plants of the crop. Check every mark."


@dataclass(frozen=True, slots=True)
class Suggested:
    """`marks`: (n, 2), as shares of the picture's width and height; `note`: what to look for."""

    marks: Floats
    note: str


def suggested_marks(rgb: Rgb) -> Suggested:
    """Of a picture of shape (h, w, 3), in reading order of its patches."""
    cover = green_cover(rgb)
    height, width = cover.green.shape
    places = _plants(cover.green)
    marks = (places + 0.5) / [width, height] if len(places) else np.empty((0, 2))
    dense = f" {cover.percent:.0f} % is green: so many leaves overlap that you had better count yourself."
    bare = " Hardly anything is green, so most of these may be straw or noise."
    more = dense if cover.percent > DENSE else bare if cover.how == "one_class" and len(marks) else ""
    return Suggested(marks, ALWAYS + more)


def _plants(green: Bools) -> Floats:
    """x and y of each, (n, 2), in pixels."""
    if not green.any():
        return np.empty((0, 2))
    patches, _ = ndimage.label(green, structure=np.ones((3, 3)))
    area = np.bincount(patches.ravel()).astype(np.float64)
    area[0] = 0.0
    half_leaf = max(1.0, _half_leaf(green))
    sure = area >= max(LEAST_PIXELS, SPECK * half_leaf**2)
    if not sure.any():
        return np.empty((0, 2))
    usual = float(np.median(area[sure]))
    kept = np.nonzero(area >= max(LEAST_PIXELS, SMALLEST * usual, SPECK / 2 * half_leaf**2))[0]
    centres = np.asarray(ndimage.center_of_mass(patches > 0, patches, kept)).reshape(-1, 2)
    dense = _densest(green, patches, half_leaf)
    found: list[NDArray[np.float64]] = []
    for patch, centre in zip(kept.tolist(), centres, strict=True):
        several = round(area[patch] / usual) if area[patch] >= SEVERAL * usual else 1
        own = dense.get(patch, [])[:several]
        found.extend(np.asarray(own) if several > 1 and len(own) > 1 else [centre])
    return np.asarray(found)[:, ::-1].astype(np.float64)


def _half_leaf(green: Bools) -> float:
    """Half the width of a leaf, pixels: the mean distance of leaves' middles from their rims, wide ones first."""
    depth = ndimage.distance_transform_edt(green)
    middle = depth[(depth == ndimage.maximum_filter(depth, 5)) & green]
    return float((middle**2).sum() / middle.sum()) if len(middle) else 0.0


def _densest(
    green: Bools, patches: NDArray[np.signedinteger[Any]], half_leaf: float
) -> dict[int, list[tuple[int, int]]]:
    """Patch → its places (y, x) where leaves are densest, the densest first."""
    density = ndimage.gaussian_filter(green.astype(np.float32), BLURRED * half_leaf)
    highest = ndimage.maximum_filter(density, int(2 * APART * half_leaf) | 1)
    places = np.argwhere((density == highest) & green)
    places = places[np.argsort(-density[tuple(places.T)], kind="stable")]
    found: dict[int, list[tuple[int, int]]] = {}
    for y, x in places.tolist():
        found.setdefault(int(patches[y, x]), []).append((y, x))
    return found
