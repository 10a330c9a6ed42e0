"""A photograph's file, opened with care: kinds, sizes and damage first, then turned upright."""

from __future__ import annotations

import math
import re
import struct
import warnings
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta, timezone
from io import BytesIO
from typing import Any

from PIL import ExifTags, Image, ImageFile, UnidentifiedImageError

from apercu_core.errors import Refused

FORMATS = ("JPEG", "PNG", "WEBP")
MOST_PIXELS = 60_000_000
"""A camera of 48 megapixels fits; what claims more isn't opened, however small its file is."""

ABOUT_PIXELS = 1_500_000
"""For green cover a larger photograph is averaged down to about as many: leaves of a few pixels stay, and it takes a
fraction of the time.
"""


_ODD_NOTES = (struct.error, TypeError, KeyError, IndexError, OverflowError)
"""What a camera's notes of another type than they should have can raise."""

_TURNS = Image.Transpose
_UPRIGHT: Mapping[Any, Image.Transpose] = {
    2: _TURNS.FLIP_LEFT_RIGHT, 3: _TURNS.ROTATE_180, 4: _TURNS.FLIP_TOP_BOTTOM, 5: _TURNS.TRANSPOSE,
    6: _TURNS.ROTATE_270, 7: _TURNS.TRANSVERSE, 8: _TURNS.ROTATE_90,
}  # fmt: skip
"""What brings a picture upright, by the orientation that the camera notes (Exif 2.3, tag 274)."""


@dataclass(frozen=True, slots=True)
class OpenedPicture:
    """`taken`: the camera's own moment; without a zone where the camera notes none, None where it notes no time."""

    image: Image.Image
    taken: datetime | None


def opened(data: bytes, *, about_pixels: int | None = None) -> OpenedPicture:
    """The picture in a file, upright, in red, green and blue.

    `about_pixels`: a larger one is averaged down to about as many, by whole steps, which takes much less time.
    Raises `Refused` for what isn't a picture, is of another format, damaged, or larger than `MOST_PIXELS`.
    """
    ImageFile.LOAD_TRUNCATED_IMAGES = False  # the printer lets half pictures through once it is loaded, for all of us
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")  # of sizes, whose limit below is ours, and of odd notes of cameras
        try:
            with Image.open(BytesIO(data), formats=FORMATS) as found:
                _require_size(found.width * found.height)
                _require_8_bits(found)
                taken, turn = _taken(found), _UPRIGHT.get(_notes(found).get(ExifTags.Base.Orientation, 1))
                shown = _smaller(found, about_pixels).convert("RGB")
                return OpenedPicture(shown if turn is None else shown.transpose(turn), taken)
        except Refused:
            raise
        except Image.DecompressionBombError:
            raise _too_large("far more megapixels than a camera takes") from None
        except UnidentifiedImageError:
            raise _refused(_of_other_format(data)) from None
        except (OSError, SyntaxError, ValueError, EOFError, MemoryError, *_ODD_NOTES) as fault:
            raise _refused("The photograph can’t be read to its end: its file is damaged. Take it again, or copy the "
                           "file from the camera once more.") from fault  # fmt: skip


def _smaller(image: Image.Image, about_pixels: int | None) -> Image.Image:
    if about_pixels is None:
        return image
    step = math.sqrt(image.width * image.height / about_pixels)
    if step >= 2:  # a JPEG is decoded smaller at once
        image.draft("RGB", (int(image.width / step), int(image.height / step)))
    left = int(math.sqrt(image.width * image.height / about_pixels))
    return image.convert("RGB").reduce(left) if left >= 2 else image


def _refused(why: str) -> Refused:
    return Refused("not-a-photograph", why)


def _require_size(pixels: int) -> None:
    if pixels > MOST_PIXELS:
        raise _too_large(f"{pixels / 1e6:.0f} megapixels")


def _too_large(size: str) -> Refused:
    return _refused(
        f"The photograph has {size}. The most is {MOST_PIXELS / 1e6:.0f} megapixels: make it smaller, then add it "
        "again."
    )


def _of_other_format(data: bytes) -> str:
    if data[4:8] == b"ftyp" and data[8:12] in (b"heic", b"heix", b"mif1", b"msf1", b"hevc"):
        return (
            "The photograph is in the format HEIC, which can’t be shown. Set the camera to JPEG (on phones often "
            "called most compatible), or save the photograph as JPEG."
        )
    return "The file isn’t a photograph. Photographs are JPEG, PNG or WebP files."


def _require_8_bits(image: Image.Image) -> None:
    if image.mode.startswith(("I", "F")):
        raise _refused(
            "The picture has more than 8 bits per colour, so its colours can’t be compared. Save it as JPEG."
        )


def _notes(image: Image.Image) -> Mapping[int, Any]:
    """What the camera noted beside the picture; nothing where that can't be read: the picture may be whole."""
    try:
        return image.getexif()
    except (SyntaxError, ValueError, OSError, *_ODD_NOTES):
        return {}


def _taken(image: Image.Image) -> datetime | None:
    """When the camera says that it was taken: text of its exif notes, of which some cameras leave zeros."""
    notes = _notes(image)
    try:
        inner: Mapping[int, Any] = notes.get_ifd(ExifTags.IFD.Exif) if isinstance(notes, Image.Exif) else {}
    except (SyntaxError, ValueError, OSError, *_ODD_NOTES):
        inner = {}
    said = str(inner.get(ExifTags.Base.DateTimeOriginal) or notes.get(ExifTags.Base.DateTime) or "")
    try:
        moment = datetime.strptime(said[:19], "%Y:%m:%d %H:%M:%S")
    except ValueError:
        return None
    zone = re.fullmatch(r"([+-])(\d\d):(\d\d)", str(inner.get(ExifTags.Base.OffsetTimeOriginal) or ""))
    if zone is None:
        return moment
    ahead = timedelta(hours=int(zone[2]), minutes=int(zone[3]))
    if ahead >= timedelta(hours=24):
        return moment
    return moment.replace(tzinfo=timezone(ahead if zone[1] == "+" else -ahead))
