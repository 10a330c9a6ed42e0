"""What a photograph says of itself, and the picture without anything else that its file holds."""

from __future__ import annotations

import re
import warnings
from dataclasses import dataclass
from datetime import datetime, timedelta, timezone
from io import BytesIO

from PIL import ExifTags, Image, ImageOps, UnidentifiedImageError

from apercu_core.errors import Refused

FORMATS = ("JPEG", "PNG", "WEBP")
MOST_PIXELS = 60_000_000
"""A camera of 48 megapixels fits; what claims more isn't opened, however small its file is."""
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
    """The picture in a file.

    Raises `Refused` for what isn't a picture, is of another format, damaged, or larger than `MOST_PIXELS`.
    """
    with warnings.catch_warnings():
        warnings.simplefilter("ignore", Image.DecompressionBombWarning)  # the limit below is ours
        try:
            with Image.open(BytesIO(data), formats=FORMATS) as found:
                _require_size(found.width * found.height)
                taken = _taken(found)
                upright = ImageOps.exif_transpose(found).convert("RGB")
        except Refused:
            raise
        except Image.DecompressionBombError:
            raise _too_large("far more megapixels than a camera takes") from None
        except UnidentifiedImageError:
            raise _refused(_of_other_format(data)) from None
        except (OSError, SyntaxError, ValueError, EOFError) as fault:
            raise _refused("The photograph can’t be read to its end: its file is damaged. Take it again, or copy the "
                           "file from the camera once more.") from fault  # fmt: skip
    small = upright.copy()
    small.thumbnail((LONGEST_PREVIEW, LONGEST_PREVIEW))
    return Picture(_jpeg(upright, 92), _jpeg(small, 80), upright.width, upright.height, taken)


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


def _jpeg(image: Image.Image, quality: int) -> bytes:
    out = BytesIO()
    image.save(out, "JPEG", quality=quality)
    return out.getvalue()


def _of_other_format(data: bytes) -> str:
    if data[4:8] == b"ftyp" and data[8:12] in (b"heic", b"heix", b"mif1", b"msf1", b"hevc"):
        return (
            "The photograph is in the format HEIC, which can’t be shown. Set the camera to JPEG (on phones often "
            "called most compatible), or save the photograph as JPEG."
        )
    return "The file isn’t a photograph. Photographs are JPEG, PNG or WebP files."


def _taken(image: Image.Image) -> datetime | None:
    """When the camera says that it was taken: text of its exif notes, of which some cameras leave zeros."""
    notes = image.getexif()
    inner = notes.get_ifd(ExifTags.IFD.Exif)
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
