"""The ground of a photograph: soil, residue and leaves, with which pixels are leaf and where each plant stands."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageDraw

Soil = Literal["sand", "silt", "clay", "peat"]
Leaf = Literal["blades", "small", "broad"]
Pixels = NDArray[np.float64]
Mask = NDArray[np.bool_]

SOILS: dict[Soil, tuple[int, int, int]] = {
    "sand": (196, 172, 134), "silt": (152, 128, 100), "clay": (130, 98, 76), "peat": (64, 53, 44),
}  # fmt: skip
STRAW = ((212, 190, 142), (176, 158, 112), (142, 140, 88))
"""Dry, weathered, and still brown-green."""
GREENS = ((88, 140, 52), (72, 124, 66), (128, 160, 70), (60, 104, 46))
WIDTHS: dict[Leaf, tuple[float, float]] = {"blades": (0.006, 0.014), "small": (0.012, 0.03), "broad": (0.05, 0.12)}
"""Of a leaf, as a share of the picture's shorter side."""
AREAS: dict[Leaf, float] = {"blades": 25, "small": 5, "broad": 3.5}
"""Of a plant, about, in squares of a leaf's width."""
MOST_PLANTS = 20_000


@dataclass(frozen=True, slots=True)
class Scene:
    """`rgb`: (h, w, 3), 0 to 255, before light and lens; `leaf`: (h, w), which pixels are leaf; `plants`: x, y of each.

    Leaves may lie over each other; a plant that others cover wholly still stands in `plants`.
    """

    rgb: Pixels
    leaf: Mask
    plants: tuple[tuple[float, float], ...]

    @property
    def cover_percent(self) -> float:
        return 100 * float(self.leaf.mean())


def scene(
    rng: np.random.Generator, size: tuple[int, int], soil: Soil, leaf: Leaf, cover: float, residue: float = 0.2
) -> Scene:
    """`size`: width and height, pixels; `cover`: share of the ground under leaves that is aimed at, 0 to 1; `residue`:
    share that is strewn with straw before the leaves grow.
    """
    width, height = size
    ground = Image.fromarray(_soil(rng, width, height, SOILS[soil]).astype(np.uint8))
    _strew(rng, ground, residue)
    mask = Image.new("L", size, 0)
    plants: list[tuple[float, float]] = []
    if cover >= 1:
        _fill(rng, ground, mask)
    short = min(size)
    while (covered := float(np.asarray(mask, dtype=bool).mean())) < cover - 1e-9 and len(plants) < MOST_PLANTS:
        # As many as would cover about half of what is missing, so that the last ones come one by one.
        of_one = AREAS[leaf] * (sum(WIDTHS[leaf]) / 2 * short) ** 2 / (width * height) * (1 - covered)
        for _ in range(max(1, int(0.5 * (cover - covered) / of_one))):
            plants.append(_plant(rng, ground, mask, leaf))
    leaves = np.asarray(mask, dtype=bool)
    pixels = np.asarray(ground, dtype=float)
    grain = 1 + 0.05 * _noise(rng, height, width, 3)
    return Scene(np.clip(pixels * grain[..., None], 0, 255), leaves, tuple(plants))


def _noise(rng: np.random.Generator, height: int, width: int, cell: int) -> Pixels:
    """Smooth noise with about one wave in each cell of pixels; mean 0, about −2 to 2."""
    small = rng.normal(size=(height // cell + 2, width // cell + 2)).astype(np.float32)
    grown = Image.fromarray(small).resize((width, height), Image.Resampling.BICUBIC)
    return np.asarray(grown, dtype=float)


def _soil(rng: np.random.Generator, width: int, height: int, colour: tuple[int, int, int]) -> Pixels:
    lightness = 1 + 0.10 * _noise(rng, height, width, 60) + 0.10 * _noise(rng, height, width, 14)
    lightness = lightness + 0.06 * _noise(rng, height, width, 4)
    hue = 0.02 * _noise(rng, height, width, 90)
    base = np.array(colour, dtype=float)
    warm = np.stack([1 + hue, np.ones_like(hue), 1 - hue], axis=-1)
    return np.clip(base * np.clip(lightness, 0.35, 1.6)[..., None] * warm, 0, 255)


def _strew(rng: np.random.Generator, ground: Image.Image, share: float) -> None:
    width, height = ground.size
    pen, short = ImageDraw.Draw(ground), min(ground.size)
    covered = 0.0
    while covered < share * width * height:
        length, thick = short * rng.uniform(0.08, 0.3), max(1, int(short * rng.uniform(0.003, 0.008)))
        x, y, angle = rng.uniform(0, width), rng.uniform(0, height), rng.uniform(0, 2 * math.pi)
        colour = np.array(STRAW[rng.choice(3, p=(0.5, 0.35, 0.15))]) * rng.uniform(0.8, 1.1)
        end = (x + length * math.cos(angle), y + length * math.sin(angle))
        pen.line((x, y, *end), fill=_rgb(colour), width=thick)
        covered += length * thick


def _rgb(colour: object) -> tuple[int, int, int]:
    red, green, blue = np.clip(np.asarray(colour, dtype=float), 0, 255).astype(int).tolist()
    return red, green, blue


def _fill(rng: np.random.Generator, ground: Image.Image, mask: Image.Image) -> None:
    """Leaves over all of it, those below in their own shade."""
    dark = np.array(GREENS[0]) * 0.55
    ImageDraw.Draw(ground).rectangle((0, 0, *ground.size), fill=_rgb(dark))
    ImageDraw.Draw(mask).rectangle((0, 0, *mask.size), fill=255)
    for _ in range(140):
        _plant(rng, ground, mask, "broad")


def _plant(rng: np.random.Generator, ground: Image.Image, mask: Image.Image, leaf: Leaf) -> tuple[float, float]:
    """Draw one plant into both; returns where it stands."""
    width, height = ground.size
    x, y = float(rng.uniform(0, width)), float(rng.uniform(0, height))
    size = min(ground.size) * float(rng.uniform(*WIDTHS[leaf]))
    colour = np.array(GREENS[rng.integers(len(GREENS))]) * rng.uniform(0.85, 1.15)
    leaves = {"blades": rng.integers(2, 5), "small": rng.integers(2, 7), "broad": rng.integers(2, 5)}[leaf]
    turn = float(rng.uniform(0, 2 * math.pi))
    pens = ImageDraw.Draw(ground), ImageDraw.Draw(mask)
    for k in range(int(leaves)):
        angle = turn + 2 * math.pi * k / int(leaves) + float(rng.normal(0, 0.25))
        outline = _blade(rng, x, y, size, angle) if leaf == "blades" else _round(x, y, size, angle)
        shade = colour * rng.uniform(0.9, 1.1)
        pens[0].polygon(outline, fill=_rgb(shade))
        pens[1].polygon(outline, fill=255)
        if leaf != "blades":  # the rib of one that bends would lie beside it
            pens[0].line((x, y, *outline[12]), fill=_rgb(shade * 1.12), width=max(1, int(size / 14)))
    return x, y


def _blade(rng: np.random.Generator, x: float, y: float, size: float, angle: float) -> list[tuple[float, float]]:
    """A long leaf that tapers and bends."""
    length, bend = size * float(rng.uniform(9, 16)), float(rng.normal(0, 0.5))
    left, right = [], []
    for step in np.linspace(0, 1, 9):
        at = angle + bend * step
        cx, cy = x + length * step * math.cos(at), y + length * step * math.sin(at)
        half = size / 2 * (1 - step**2)
        across = (-math.sin(at) * half, math.cos(at) * half)
        left.append((cx + across[0], cy + across[1]))
        right.append((cx - across[0], cy - across[1]))
    return [*left, *reversed(right)]


def _round(x: float, y: float, size: float, angle: float) -> list[tuple[float, float]]:
    """A leaf like a drop, from the plant outwards."""
    points = []
    for step in np.linspace(0, 2 * math.pi, 24, endpoint=False):
        along, across = size * (1 + math.cos(step)) * 0.75, size * math.sin(step) * 0.5
        points.append((x + along * math.cos(angle) - across * math.sin(angle),
                       y + along * math.sin(angle) + across * math.cos(angle)))  # fmt: skip
    return points[12:] + points[:12]
