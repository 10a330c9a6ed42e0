"""Green cover of a photograph that is kept, and a picture of what was counted as green."""

from __future__ import annotations

from io import BytesIO

import numpy as np
from PIL import Image

from apercu_core.cover.green_cover import GreenCover, green_cover
from photographs.models import Photograph
from picture_files.reading import ABOUT_PIXELS, opened

LONGEST = 900
"""Pixels of the longer side of the picture that is looked at."""


def cover_of(photograph: Photograph, threshold: float | None) -> GreenCover:
    """Raises `Refused` for a threshold that can't be, `FileNotFoundError` where the file is gone."""
    return green_cover(_pixels(photograph), threshold)


def overlay_of(photograph: Photograph, threshold: float | None) -> bytes:
    """JPEG of the photograph with all that wasn't counted as green turned to pale grey."""
    rgb = _pixels(photograph)
    green = green_cover(rgb, threshold).green
    grey = (rgb.mean(axis=-1, keepdims=True) * 0.45 + 130).astype(np.uint8)
    shown = Image.fromarray(np.where(green[..., None], rgb, np.repeat(grey, 3, axis=-1)).astype(np.uint8))
    shown.thumbnail((LONGEST, LONGEST))
    out = BytesIO()
    shown.save(out, "JPEG", quality=82)
    return out.getvalue()


def _pixels(photograph: Photograph) -> np.ndarray[tuple[int, int, int], np.dtype[np.uint8]]:
    with photograph.file.open("rb") as file:
        return np.asarray(opened(file.read(), about_pixels=ABOUT_PIXELS).image, dtype=np.uint8)
