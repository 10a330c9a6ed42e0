"""A photograph's file, opened with care: kinds, sizes and damage first, then turned upright."""

from __future__ import annotations

import math
import re
import warnings
from dataclasses import dataclass
from datetime import datetime, timedelta, timezone
from io import BytesIO

from PIL import ExifTags, Image, ImageFile, ImageOps, UnidentifiedImageError

from apercu_core.errors import Refused

FORMATS = ("JPEG", "PNG", "WEBP")
MOST_PIXELS = 60_000_000
"""A camera of 48 megapixels fits; what claims more isn't opened, however small its file is."""

ABOUT_PIXELS = 1_500_000
"""For green cover a larger photograph is averaged down to about as many: leaves of a few pixels stay, and it takes a
fraction of the time.
"""


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
        warnings.simplefilter("ignore", Image.DecompressionBombWarning)  # the limit below is ours
        try:
            with Image.open(BytesIO(data), formats=FORMATS) as found:
                _require_size(found.width * found.height)
                taken = _taken(found)
                return OpenedPicture(ImageOps.exif_transpose(_smaller(found, about_pixels)).convert("RGB"), taken)
        except Refused:
            raise
        except Image.DecompressionBombError:
            raise _too_large("far more megapixels than a camera takes") from None
        except UnidentifiedImageError:
            raise _refused(_of_other_format(data)) from None
        except (OSError, SyntaxError, ValueError, EOFError) as fault:
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
