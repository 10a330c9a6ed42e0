"""Light and lens: a scene becomes the photograph that a phone would save of it."""

from __future__ import annotations

import math
from dataclasses import dataclass
from io import BytesIO

import numpy as np
from PIL import Image, ImageFilter

from standins.camera.scene import Leaf, Scene, Soil, scene

GAMMA = 2.2


@dataclass(frozen=True, slots=True)
class Conditions:
    """`gradient`: by how much light falls off across the picture, 0 to 1; `shadow`: the light that is left in a shadow
    over part of it, None without one; `blur`: radius, pixels at 800 × 600; `noise`: of the sensor, standard deviation
    of 255; `quality`: of the JPEG.
    """

    gradient: float = 0.0
    shadow: float | None = None
    blur: float = 0.4
    noise: float = 2.0
    quality: int = 88


@dataclass(frozen=True, slots=True)
class Photograph:
    jpeg: bytes
    scene: Scene


def photograph(
    seed: int, soil: Soil, leaf: Leaf, cover: float, *, residue: float = 0.2, size: tuple[int, int] = (800, 600),
    conditions: Conditions | None = None,
) -> Photograph:  # fmt: skip
    """The same seed gives the same photograph."""
    rng = np.random.default_rng(seed)
    seen = scene(rng, size, soil, leaf, cover, residue)
    return Photograph(_developed(rng, seen, conditions or Conditions()), seen)


def any_conditions(seed: int) -> Conditions:
    """As they come on a day in the field, of a phone held still."""
    rng = np.random.default_rng(seed + 10_000)
    shadow = float(rng.uniform(0.3, 0.6)) if rng.random() < 0.4 else None
    gradient, blur, noise = float(rng.uniform(0, 0.5)), float(rng.uniform(0, 1)), float(rng.uniform(1, 4))
    return Conditions(gradient, shadow, blur, noise, int(rng.integers(75, 95)))


def _developed(rng: np.random.Generator, seen: Scene, conditions: Conditions) -> bytes:
    height, width = seen.leaf.shape
    light = (seen.rgb / 255) ** GAMMA
    y, x = np.mgrid[0:height, 0:width]
    turn = rng.uniform(0, 2 * math.pi)
    across = ((x / width - 0.5) * math.cos(turn) + (y / height - 0.5) * math.sin(turn)) * 2 / math.sqrt(2)
    light = light * (1 - conditions.gradient * (0.5 + across / 2))[..., None]
    if conditions.shadow is not None:
        edge = 1 / (1 + np.exp(-(across - rng.uniform(-0.4, 0.4)) * rng.uniform(20, 120)))
        tint = np.array([0.94, 1.0, 1.10])  # the sky alone lights a shadow
        light = light * (1 - edge[..., None] * (1 - conditions.shadow * tint))
    out = 255 * np.clip(light, 0, 1) ** (1 / GAMMA)
    picture = Image.fromarray(np.clip(out, 0, 255).astype(np.uint8))
    if conditions.blur:
        picture = picture.filter(ImageFilter.GaussianBlur(conditions.blur * width / 800))
    noisy = np.asarray(picture, dtype=float) + rng.normal(0, conditions.noise, (height, width, 3))
    saved = BytesIO()
    Image.fromarray(np.clip(noisy, 0, 255).astype(np.uint8)).save(saved, "JPEG", quality=conditions.quality)
    return saved.getvalue()
