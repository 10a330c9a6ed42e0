"""Counts and lengths on a photograph: its frame's corners, the straightened picture, marks of each person."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from dataclasses import dataclass
from io import BytesIO

import numpy as np
from django.db import transaction
from PIL import Image

from apercu_core.arrays import Floats
from apercu_core.errors import Refused
from apercu_core.field.sample_places import Quadrat, quadrat_of
from apercu_core.photo_count.agreement import Agreement, agreement
from apercu_core.photo_count.frame_corners import (
    WHOLE,
    Corners,
    Point,
    frame_to_photograph,
    in_frame,
    length_in_frame,
    on_photograph,
    require_corners,
)
from apercu_core.photo_count.suggested_marks import Suggested, suggested_marks
from apercu_core.units import System, shown_in
from apercu_core.words import with_unit
from config import clock
from config.client_ids import IdInUse
from config.turns import take_turns
from crew.models import Person
from crew.permissions import require
from picture_files.reading import ABOUT_PIXELS, opened
from sample_photographs.models import PhotoCount, PhotoLength, SamplePhotograph

MOST_MARKS = 3000
MOST_LENGTHS = 200
LONGEST = 1600
"""Pixels of the longer side of a straightened picture."""
SIDES_M = (0.05, 10.0)
"""Between which the sides of a frame lie."""


@dataclass(frozen=True, slots=True)
class Frame:
    """What the picture is straightened to. `size_m`: width and length; None where nobody has said them and the measure
    has no frame of its own. `shape`: the same, or only in proportion.
    """

    corners: Corners
    straightened: bool
    size_m: tuple[float, float] | None
    shape: tuple[float, float]


def frame_of(shown: SamplePhotograph) -> Frame:
    """Without corners of its own, the whole photograph with the shape that it has, of the size that a ruler gave it."""
    if shown.corners is None:
        photograph = shown.photograph
        ruled = (shown.frame_width_m, shown.frame_length_m) if shown.frame_width_m and shown.frame_length_m else None
        return Frame(WHOLE, False, ruled, ruled or (1.0, photograph.height / photograph.width))
    corners = require_corners(shown.corners)
    if shown.frame_width_m and shown.frame_length_m:
        size = shown.frame_width_m, shown.frame_length_m
    elif usual := _usual_frame(shown):
        size = usual.width, usual.length
    else:
        return Frame(corners, True, None, (1.0, 1.0))
    return Frame(corners, True, size, size)


def _usual_frame(shown: SamplePhotograph) -> Quadrat | None:
    """The visit's frame, of a measure that is counted by area; lengths of row have none."""
    for taken in shown.visit.taken.all():
        version = taken.measure.version
        held = {key: float(value) for key, value in version.settings.items() if value is not None}
        if "area" in held and "row_length" not in held and (found := quadrat_of(held)):
            return found
    return None


AS_LARGE = 0.03
"""By which share the area of a frame may differ from that of the measure, and still be taken for it."""


def area_said(shown: SamplePhotograph, frame: Frame, system: System) -> str:
    """What a count in this frame would get wrong, since counts are divided by the measure's own area; else empty."""
    usual = _usual_frame(shown)
    if usual is None:
        return ""
    counted_as = usual.width * usual.length
    unit, factor = shown_in("m²", system)
    own = with_unit(counted_as * factor, unit)
    if frame.size_m is None:
        return f"Nobody has said how much ground the picture shows. Counts are taken as of {own}."
    area = frame.size_m[0] * frame.size_m[1]
    if abs(area - counted_as) <= AS_LARGE * counted_as:
        return ""
    return (
        f"The frame on the picture has {with_unit(area * factor, unit)}, but counts are taken as of {own}. Correct the "
        "sides of the frame, or the frame area of the measure, before you enter a count."
    )


def keep_corners(
    *, by: Person, shown: SamplePhotograph, corners: Sequence[Sequence[float]] | None, width: float | None,
    length: float | None,
) -> SamplePhotograph:  # fmt: skip
    """Where the frame lies on the photograph, and its size in metres. Marks stay where they are on the photograph."""
    require(by, "record", shown.visit)
    for side in (width, length):
        if side is not None and not SIDES_M[0] <= side <= SIDES_M[1]:
            raise Refused("bad-value", f"The side of a frame is {SIDES_M[0]:g} to {SIDES_M[1]:g} m, not {side:g} m.")
    if (width is None) != (length is None):
        raise Refused("bad-value", "Type the width and the length of the frame, or neither.")
    shown.corners = None if corners is None else [list(one) for one in require_corners(corners)]
    shown.frame_width_m, shown.frame_length_m = (None, None) if corners is None else (width, length)
    shown.save(update_fields=["corners", "frame_width_m", "frame_length_m"])
    return shown


def keep_ruler(
    *, by: Person, shown: SamplePhotograph, ends: Sequence[Point], length: float
) -> SamplePhotograph:  # fmt: skip
    """The scale of a whole photograph, from a ruler on it that is `length` metres between its ends. It holds where the
    camera looked straight down; corners of a frame are more exact.
    """
    require(by, "record", shown.visit)
    if not 0.005 <= length <= 100:
        raise Refused("bad-value", f"A ruler is 0.5 cm to 100 m long, not {length:g} m.")
    photograph = shown.photograph
    (ax, ay), (bx, by_) = ends
    pixels = float(np.hypot((ax - bx) * photograph.width, (ay - by_) * photograph.height))
    if pixels < 20:
        raise Refused("bad-value", "The ends of the ruler lie too close together on the photograph.")
    shown.corners = None
    shown.frame_width_m = length * photograph.width / pixels
    shown.frame_length_m = length * photograph.height / pixels
    shown.save(update_fields=["corners", "frame_width_m", "frame_length_m"])
    return shown


def straight_picture(shown: SamplePhotograph) -> bytes:
    """JPEG of what lies in the frame, seen from straight above. Raises `FileNotFoundError` where the file is gone."""
    out = BytesIO()
    _straight(shown, LONGEST).save(out, "JPEG", quality=88)
    return out.getvalue()


def suggested_on(shown: SamplePhotograph) -> Suggested:
    """Plants that image analysis finds in the frame, for a person to accept or remove."""
    return suggested_marks(np.asarray(_straight(shown, 1200), dtype=np.uint8))


def _straight(shown: SamplePhotograph, longest: int) -> Image.Image:
    with shown.photograph.file.open("rb") as file:
        image = opened(file.read(), about_pixels=4 * ABOUT_PIXELS).image
    frame = frame_of(shown)
    width_m, length_m = frame.shape
    scale = longest / max(width_m, length_m)
    width, height = max(1, round(width_m * scale)), max(1, round(length_m * scale))
    # Pillow asks, for each pixel of the new picture, where it comes from on the old one.
    to_pixels, from_pixels = np.diag([image.width, image.height, 1.0]), np.diag([1 / width, 1 / height, 1.0])
    found = to_pixels @ frame_to_photograph(frame.corners) @ from_pixels
    given = tuple((found / found[2, 2]).ravel()[:8].tolist())
    return image.transform((width, height), Image.Transform.PERSPECTIVE, given, Image.Resampling.BICUBIC)


Mark = tuple[float, float, bool]


def keep_count(
    *, by: Person, shown: SamplePhotograph, component: str, marks: Sequence[Mark], corners: Corners
) -> PhotoCount:
    """A person's marks; those that were there go. `corners`: of the frame that the marks were set in."""
    require(by, "record", shown.visit)
    if len(marks) > MOST_MARKS:
        raise Refused("bad-value", f"These are {len(marks)} marks; {MOST_MARKS} are possible. Count in smaller frames.")
    places = on_photograph(_points(marks), corners)
    kept = [[round(x, 6), round(y, 6), bool(mark[2])] for (x, y), mark in zip(places.tolist(), marks, strict=True)]
    with transaction.atomic():
        take_turns(shown.pk)
        counted, _ = PhotoCount.objects.update_or_create(
            shown=shown, component=component, by=by, defaults={"marks": kept, "counted_at": clock.now()}
        )
    return counted


def carried(marks: Sequence[Point], were: Corners, frame: Frame) -> list[list[float]]:
    """Marks that were set in a frame with other corners, in the frame as it is now."""
    found: list[list[float]] = in_frame(on_photograph(_points(marks), were), frame.corners).tolist()
    return found


def marks_in_frame(counted: PhotoCount, frame: Frame) -> list[Mark]:
    found = in_frame(_points(counted.marks), frame.corners)
    return [(x, y, bool(mark[2])) for (x, y), mark in zip(found.tolist(), counted.marks, strict=True)]


def agreement_of(first: PhotoCount, second: PhotoCount, frame: Frame) -> Agreement:
    a, b = (in_frame(_points(one.marks), frame.corners) for one in (first, second))
    return agreement(a, b, *frame.shape)


def keep_length(
    *, by: Person, shown: SamplePhotograph, id: uuid.UUID, name: str, ends: Sequence[Point], corners: Corners
) -> PhotoLength:
    """A length under the id that the client made; the same again is harmless. It needs a frame of known size."""
    require(by, "record", shown.visit)
    frame = frame_of(shown)
    if frame.size_m is None:
        raise Refused("bad-value", "Mark the corners of the frame, or a ruler, first: they give the scale.")
    with transaction.atomic():
        take_turns(id)
        there = PhotoLength.objects.filter(pk=id).first()
        if there is not None and there.shown_id != shown.pk:
            raise IdInUse
        if there is None and shown.lengths.count() >= MOST_LENGTHS:
            raise Refused("bad-value", f"This photograph has {MOST_LENGTHS} lengths, the most that one may have.")
        kept = there or PhotoLength(id=id, shown=shown, by=by)
        kept.name, kept.measured_at = name, clock.now()
        kept.ends = on_photograph(_points(ends), corners).tolist()
        kept.save()
    return kept


def drop_length(*, by: Person, measured: PhotoLength) -> None:
    require(by, "record", measured.shown.visit)
    measured.delete()


def ends_in_frame(measured: PhotoLength, frame: Frame) -> list[list[float]]:
    found: list[list[float]] = in_frame(_points(measured.ends), frame.corners).tolist()
    return found


def length_m(measured: PhotoLength, frame: Frame) -> float | None:
    """None where the size of the frame isn't known any more."""
    if frame.size_m is None:
        return None
    a, b = ends_in_frame(measured, frame)
    return length_in_frame((a[0], a[1]), (b[0], b[1]), *frame.size_m)


def _points(marks: Sequence[Sequence[float]]) -> Floats:
    return np.asarray([[one[0], one[1]] for one in marks], dtype=np.float64).reshape(-1, 2)
