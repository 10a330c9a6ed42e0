"""Counting on a photograph: the frame's corners, the straightened picture, marks, and lengths."""

from __future__ import annotations

from typing import Any, cast
from uuid import UUID

from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from apercu_core.photo_count.frame_corners import require_corners
from apercu_core.units import System, shown_in
from config.files import AnyFile
from config.typed_number import TypedIn
from crew.models import Person
from sample_photographs.api.views import GONE
from sample_photographs.counting import (
    MOST_MARKS,
    Frame,
    agreement_of,
    area_said,
    carried,
    drop_length,
    ends_in_frame,
    frame_of,
    keep_corners,
    keep_count,
    keep_length,
    keep_ruler,
    length_m,
    marks_in_frame,
    straight_picture,
    suggested_on,
)
from sample_photographs.models import PhotoCount, PhotoLength, SamplePhotograph


class PointField(serializers.ListField):
    """x and y, as shares of a width and a height from the upper left."""

    child = serializers.FloatField(min_value=-1, max_value=2)

    def __init__(self, **options: Any) -> None:
        super().__init__(min_length=2, max_length=2, **options)


class CornersField(serializers.ListField):
    """Upper left, upper right, lower right, lower left of the frame on the photograph."""

    child = PointField()

    def __init__(self, **options: Any) -> None:
        super().__init__(min_length=4, max_length=4, **options)


class MarkShape(serializers.Serializer[Any]):
    """A plant that was marked: where in the frame, and whether image analysis suggested it."""

    x = serializers.FloatField(min_value=-1, max_value=2)
    y = serializers.FloatField(min_value=-1, max_value=2)
    suggested = serializers.BooleanField(default=False)


class CornersIn(serializers.Serializer[Any]):
    """`corners` null: the whole photograph. Sides of the frame as typed, in the person's unit for centimetres. `marks`:
    set in the frame as it was, `were`, and not kept yet; they come back in the frame as it is then.
    """

    corners = CornersField(allow_null=True)
    width = TypedIn("cm", per=100, allow_null=True, default=None)
    length = TypedIn("cm", per=100, allow_null=True, default=None)
    marks = serializers.ListField(child=MarkShape(), max_length=MOST_MARKS, default=list)
    were = CornersField(allow_null=True, default=None)


class RulerIn(serializers.Serializer[Any]):
    """`ends`: of a ruler, on the whole photograph; `length` between them, in the person's unit for centimetres."""

    ends = serializers.ListField(child=PointField(), min_length=2, max_length=2)
    length = TypedIn("cm", per=100)


class MarksIn(serializers.Serializer[Any]):
    """`corners`: of the frame that the marks were set in, as it was shown."""

    component = serializers.CharField(max_length=80, allow_blank=True, default="")
    corners = CornersField()
    marks = serializers.ListField(child=MarkShape(), max_length=MOST_MARKS)


class PersonCountOut(serializers.Serializer[Any]):
    """Another person's count; `number` and `agreement` are null until one has counted oneself."""

    by = serializers.CharField()
    at = serializers.DateTimeField()
    number = serializers.IntegerField(allow_null=True)
    agreement = serializers.CharField(allow_null=True)
    marks = MarkShape(many=True)


class LengthOut(serializers.Serializer[Any]):
    """`length`: in the person's unit; null where the size of the frame isn't known."""

    id = serializers.UUIDField()
    name = serializers.CharField()
    length = serializers.FloatField(allow_null=True)
    ends = serializers.ListField(child=PointField())
    by = serializers.CharField()


class PhotoCountOut(serializers.Serializer[Any]):
    """What is known of a photograph's frame and what was marked in it. `unit`: of its sides and of lengths."""

    corners = CornersField()
    straightened = serializers.BooleanField()
    width = serializers.FloatField(allow_null=True)
    length = serializers.FloatField(allow_null=True)
    unit = serializers.CharField()
    shape = serializers.FloatField(help_text="Length of the frame over its width.")
    note = serializers.CharField(allow_blank=True, help_text="Where its area isn’t that of the measure.")
    marks = MarkShape(many=True, help_text="One’s own; null: not counted yet.", allow_null=True)
    others = PersonCountOut(many=True)
    lengths = LengthOut(many=True)


class SuggestedOut(serializers.Serializer[Any]):
    marks = MarkShape(many=True)
    note = serializers.CharField()


class LengthIn(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=80)
    corners = CornersField()
    ends = serializers.ListField(child=PointField(), min_length=2, max_length=2)


COMPONENT = [OpenApiParameter("component", str, description="The species that is counted; none: the whole.")]


def _person(request: Request) -> Person:
    return cast(Person, request.user)


def _shown(request: Request, id: UUID) -> SamplePhotograph:
    own = SamplePhotograph.objects.with_role_of(_person(request))
    wanted = own.select_related("photograph", "visit__season__trial__workspace", "visit__season__site")
    return get_object_or_404(wanted, pk=id)


def photo_count_json(shown: SamplePhotograph, person: Person, component: str) -> Any:
    """Others' marks stay hidden until one has counted oneself: a second count that sees the first is none."""
    frame = frame_of(shown)
    unit, factor = shown_in("cm", cast(System, person.units))
    counts = list(shown.counts.filter(component=component).select_related("by"))
    mine = next((one for one in counts if one.by_id == person.pk), None)
    sides = [side * 100 * factor for side in frame.size_m] if frame.size_m else [None, None]
    return PhotoCountOut({
        "corners": frame.corners, "straightened": frame.straightened, "width": sides[0], "length": sides[1],
        "unit": unit, "shape": frame.shape[1] / frame.shape[0],
        "note": area_said(shown, frame, cast(System, person.units)),
        "marks": _marks(mine, frame) if mine else None,
        "others": [_other(one, mine, frame) for one in counts if one is not mine],
        "lengths": [_length(one, frame, 100 * factor) for one in shown.lengths.select_related("by")],
    }).data  # fmt: skip


def _marks(counted: PhotoCount, frame: Frame) -> list[dict[str, Any]]:
    return [{"x": x, "y": y, "suggested": suggested} for x, y, suggested in marks_in_frame(counted, frame)]


def _other(counted: PhotoCount, mine: PhotoCount | None, frame: Frame) -> dict[str, Any]:
    seen = mine is not None
    return {
        "by": counted.by.name, "at": counted.counted_at, "number": len(counted.marks) if seen else None,
        "agreement": agreement_of(mine, counted, frame).said if mine else None,
        "marks": _marks(counted, frame) if seen else [],
    }  # fmt: skip


def _length(measured: PhotoLength, frame: Frame, factor: float) -> dict[str, Any]:
    length = length_m(measured, frame)
    return {
        "id": measured.id, "name": measured.name, "length": None if length is None else length * factor,
        "ends": ends_in_frame(measured, frame), "by": measured.by.name,
    }  # fmt: skip


class PhotoCountView(APIView):
    @extend_schema(parameters=COMPONENT, responses=PhotoCountOut)
    def get(self, request: Request, id: UUID) -> Response:
        """The frame on a photograph, one's own marks, and others' once one has counted oneself."""
        component = request.query_params.get("component", "")[:80]
        return Response(photo_count_json(_shown(request, id), _person(request), component))

    @extend_schema(request=MarksIn, responses=PhotoCountOut)
    def put(self, request: Request, id: UUID) -> Response:
        """Keep one's own marks; those that were there go. Repeating is harmless."""
        shown = _shown(request, id)
        given = MarksIn(data=request.data)
        given.is_valid(raise_exception=True)
        data = given.validated_data
        marks = [(one["x"], one["y"], one["suggested"]) for one in data["marks"]]
        keep_count(
            by=_person(request), shown=shown, component=data["component"], marks=marks,
            corners=require_corners(data["corners"]),
        )  # fmt: skip
        return Response(photo_count_json(shown, _person(request), data["component"]))


class FrameCornersView(APIView):
    @extend_schema(request=CornersIn, parameters=COMPONENT, responses=PhotoCountOut)
    def put(self, request: Request, id: UUID) -> Response:
        """Say where the frame lies on the photograph and how large it is. Marks stay where they are on it."""
        shown = _shown(request, id)
        given = CornersIn(data=request.data, context={"request": request})
        given.is_valid(raise_exception=True)
        data = given.validated_data
        size = {key: data[key] for key in ("width", "length")}
        keep_corners(by=_person(request), shown=shown, corners=data["corners"], **size)
        shape = photo_count_json(shown, _person(request), request.query_params.get("component", "")[:80])
        if data["marks"] and data["were"]:
            places = carried([(m["x"], m["y"]) for m in data["marks"]], require_corners(data["were"]), frame_of(shown))
            shape["marks"] = [m | {"x": x, "y": y} for m, (x, y) in zip(data["marks"], places, strict=True)]
        return Response(shape)


class RulerView(APIView):
    @extend_schema(request=RulerIn, responses=PhotoCountOut)
    def put(self, request: Request, id: UUID) -> Response:
        """Say how long a ruler on the photograph is, which gives the scale of all of it."""
        shown = _shown(request, id)
        given = RulerIn(data=request.data, context={"request": request})
        given.is_valid(raise_exception=True)
        data = given.validated_data
        ends = [(one[0], one[1]) for one in data["ends"]]
        keep_ruler(by=_person(request), shown=shown, ends=ends, length=data["length"])
        return Response(photo_count_json(shown, _person(request), ""))


class StraightPictureView(APIView):
    content_negotiation_class = AnyFile

    @extend_schema(responses={(200, "image/jpeg"): OpenApiTypes.BINARY})
    def get(self, request: Request, id: UUID) -> HttpResponse:
        """What lies in the frame, straightened to its corners."""
        shown = _shown(request, id)
        try:
            answer = HttpResponse(straight_picture(shown), content_type="image/jpeg")
        except FileNotFoundError:
            raise Http404(GONE) from None
        answer["Cache-Control"] = "private, no-cache"
        return answer


class SuggestedMarksView(APIView):
    @extend_schema(responses=SuggestedOut)
    def get(self, request: Request, id: UUID) -> Response:
        """Plants that image analysis finds in the frame; nothing is kept."""
        try:
            found = suggested_on(_shown(request, id))
        except FileNotFoundError:
            raise Http404(GONE) from None
        marks = [{"x": x, "y": y, "suggested": True} for x, y in found.marks[:MOST_MARKS].tolist()]
        return Response(SuggestedOut({"marks": marks, "note": found.note}).data)


class PhotoLengthView(APIView):
    @extend_schema(request=LengthIn, responses=PhotoCountOut)
    def put(self, request: Request, id: UUID, length: UUID) -> Response:
        """Keep a length, measured in the frame, under the id that the client made."""
        shown = _shown(request, id)
        given = LengthIn(data=request.data)
        given.is_valid(raise_exception=True)
        data = given.validated_data
        ends = [(one[0], one[1]) for one in data["ends"]]
        keep_length(
            by=_person(request), shown=shown, id=length, name=data["name"], ends=ends,
            corners=require_corners(data["corners"]),
        )  # fmt: skip
        return Response(photo_count_json(shown, _person(request), ""))

    @extend_schema(responses={200: PhotoCountOut})
    def delete(self, request: Request, id: UUID, length: UUID) -> Response:
        """Remove a length."""
        shown = _shown(request, id)
        drop_length(by=_person(request), measured=get_object_or_404(PhotoLength, shown=shown, pk=length))
        return Response(photo_count_json(shown, _person(request), ""))
