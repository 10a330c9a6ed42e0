"""The picture of a photograph without anything else that its file holds, and a small one of it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from io import BytesIO

from PIL import Image

from picture_files.reading import opened

LONGEST_PREVIEW = 480
"""Pixels of the longer side."""


@dataclass(frozen=True, slots=True)
class Picture:
    """A picture, upright, as JPEG without its camera's notes (place, device, name), and a small one of it.

    `taken`: the camera's own moment; without a zone where the camera notes none, None where it notes no time.
    """

    jpeg: bytes
    preview: bytes
    width: int
    height: int
    taken: datetime | None


def read_picture(data: bytes) -> Picture:
    """The picture in a file. Raises `Refused` as `opened` does."""
    found = opened(data)
    upright = found.image
    small = upright.copy()
    small.thumbnail((LONGEST_PREVIEW, LONGEST_PREVIEW))
    return Picture(_jpeg(upright, 92), _jpeg(small, 80), upright.width, upright.height, found.taken)


def _jpeg(image: Image.Image, quality: int) -> bytes:
    out = BytesIO()
    image.save(out, "JPEG", quality=quality)
    return out.getvalue()
