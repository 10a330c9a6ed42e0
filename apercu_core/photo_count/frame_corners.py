"""A photograph straightened to the corners of the frame in it, so that places on it are places in the frame."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from apercu_core.arrays import Floats
from apercu_core.errors import Refused

Point = tuple[float, float]
"""On a photograph, as shares of its width and height from the upper left; in a frame, of its width and length."""
Corners = tuple[Point, Point, Point, Point]
"""Of the frame on the photograph: upper left, upper right, lower right, lower left, as the picture is looked at."""
WHOLE: Corners = ((0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0))
LEAST_AREA = 0.02
"""Share of the photograph that a frame has to fill."""
LEAST_TURN = 0.05
"""Sine of the angle at a corner, below which three corners lie nearly on one line."""


def require_corners(points: Sequence[Sequence[float]]) -> Corners:
    """Raises `Refused` unless the four go round the frame without crossing, each at a true corner."""
    if len(points) != 4 or any(len(one) != 2 for one in points):
        raise Refused("bad-value", "Mark the four corners of the frame.")
    found = np.asarray(points, dtype=np.float64)
    if not np.isfinite(found).all() or (found < -0.5).any() or (found > 1.5).any():
        raise Refused("bad-value", "A corner of the frame lies far outside the photograph.")
    sides = np.roll(found, -1, axis=0) - found
    before = np.roll(sides, 1, axis=0)
    turns = before[:, 0] * sides[:, 1] - before[:, 1] * sides[:, 0]
    lengths = np.hypot(*sides.T)
    area = abs(float(np.sum(found[:, 0] * np.roll(found[:, 1], -1) - np.roll(found[:, 0], -1) * found[:, 1]))) / 2
    if (lengths < 1e-6).any() or not (turns > LEAST_TURN * lengths * np.roll(lengths, 1)).all():
        raise Refused(
            "bad-value", "These corners don’t go round a frame. Mark upper left, upper right, lower right, lower left."
        )
    if area < LEAST_AREA:
        raise Refused(
            "bad-value", "The frame fills too little of the photograph to be counted in. Take it from nearer."
        )
    a, b, c, d = [(float(x), float(y)) for x, y in found]
    return a, b, c, d


def frame_to_photograph(corners: Corners) -> Floats:
    """The projective map, shape (3, 3), from the frame's unit square onto the photograph.

    Eight equations of four pairs of points: Hartley and Zisserman (2004), Multiple View Geometry, section 4.1.
    """
    rows, right = [], []
    for (u, v), (x, y) in zip(WHOLE, corners, strict=True):
        rows += [[u, v, 1, 0, 0, 0, -u * x, -v * x], [0, 0, 0, u, v, 1, -u * y, -v * y]]
        right += [x, y]
    found = np.linalg.solve(np.asarray(rows, dtype=np.float64), np.asarray(right, dtype=np.float64))
    return np.append(found, 1.0).reshape(3, 3)


def mapped(by: Floats, points: Floats) -> Floats:
    """Points of shape (n, 2) through a projective map; of shape (n, 2) too."""
    if not len(points):
        return np.empty((0, 2))
    homogeneous = np.column_stack([points, np.ones(len(points))]) @ by.T
    return np.asarray(homogeneous[:, :2] / homogeneous[:, 2:], dtype=np.float64)


def on_photograph(marks: Floats, corners: Corners) -> Floats:
    """Marks in the frame, (n, 2), as places on the photograph, which stay whatever becomes of the corners."""
    return mapped(frame_to_photograph(corners), marks)


def in_frame(places: Floats, corners: Corners) -> Floats:
    """Places on the photograph, (n, 2), as marks in the frame."""
    return mapped(np.linalg.inv(frame_to_photograph(corners)).astype(np.float64), places)


def length_in_frame(a: Point, b: Point, width: float, length: float) -> float:
    """Between two points in a frame of that width and length, in their unit."""
    return float(np.hypot((a[0] - b[0]) * width, (a[1] - b[1]) * length))
