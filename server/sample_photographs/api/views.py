"""Photographs of a visit's samples, and the green cover of each."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any, cast
from uuid import UUID

from django.db.models import prefetch_related_objects
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from apercu_core.cover.green_cover import ALWAYS
from config.files import AnyFile
from crew.models import Person
from photographs.models import Photograph
from records.models import Visit
from records.progress import taken_with_measures
from sample_photographs.actions import drop_sample_photograph, photograph_sample
from sample_photographs.counting import frame_of
from sample_photographs.cover import cover_of, overlay_of
from sample_photographs.models import SamplePhotograph
from trials.models import Trial

GONE = "The photograph’s file isn’t on the server any more."


class SamplePhotographIn(serializers.Serializer[Any]):
    file = serializers.FileField(help_text="JPEG, PNG or WebP.")
    unit = serializers.UUIDField()
    zone = serializers.CharField(max_length=80, allow_blank=True, default="")
    sample = serializers.IntegerField(min_value=0, max_value=200, default=1, help_text="0: the plot as a whole.")


class SamplePhotographOut(serializers.Serializer[Any]):
    """A photograph and what it shows. `taken`: by the camera's clock; null where it said none."""

    id = serializers.UUIDField(source="photograph_id")
    unit = serializers.UUIDField(source="unit_id")
    zone = serializers.CharField(allow_blank=True)
    sample = serializers.IntegerField()
    width = serializers.IntegerField(source="photograph.width")
    height = serializers.IntegerField(source="photograph.height")
    taken = serializers.DateTimeField(source="photograph.taken", allow_null=True)
    by = serializers.CharField(source="photograph.by.name")
    straightened = serializers.BooleanField(source="frame.straightened")
    corners = serializers.ListField(source="frame.corners", child=serializers.ListField(child=serializers.FloatField()))
    size_m = serializers.ListField(
        source="frame.size_m", child=serializers.FloatField(), allow_null=True,
        help_text="Width and length of the straightened picture, metres; null where no frame or ruler says it.",
    )  # fmt: skip
    visit = serializers.UUIDField(source="visit_id")
    visit_name = serializers.CharField(source="visit.name")
    visit_date = serializers.DateField(source="visit.date", allow_null=True)


class CoverOut(serializers.Serializer[Any]):
    percent = serializers.FloatField()
    threshold = serializers.FloatField(help_text="Greenness above which a pixel counts.")
    notes = serializers.ListField(child=serializers.CharField())


class ThresholdIn(serializers.Serializer[Any]):
    threshold = serializers.FloatField(allow_null=True, default=None)


THRESHOLD = [OpenApiParameter("threshold", float, description="Set by hand, −1 to 2; none: it is found.")]


def _person(request: Request) -> Person:
    return cast(Person, request.user)


def _visit(request: Request, id: UUID) -> Visit:
    own = Visit.objects.visible_to(_person(request)).select_related("season__trial__workspace", "season__site")
    return get_object_or_404(own, pk=id)


def _threshold(request: Request) -> float | None:
    given = ThresholdIn(data={k: v for k, v in request.query_params.items() if k == "threshold"})
    given.is_valid(raise_exception=True)
    threshold: float | None = given.validated_data["threshold"]
    return threshold


def _photograph(request: Request, id: UUID) -> Photograph:
    return get_object_or_404(Photograph.objects.visible_to(_person(request)), pk=id)


_TOLD = ("photograph__by", "visit")


def with_frames(photographs: Iterable[SamplePhotograph]) -> list[SamplePhotograph]:
    """Each with the frame on it; the usual size of one is looked up once for each visit."""
    found = list(photographs)
    prefetch_related_objects([one.visit for one in found], taken_with_measures())
    for one in found:
        one.frame = frame_of(one)  # type: ignore[attr-defined]
    return found


class VisitPhotographsView(APIView):
    @extend_schema(responses=SamplePhotographOut(many=True))
    def get(self, request: Request, id: UUID) -> Response:
        """The photographs of a visit's samples, plot by plot."""
        shown = SamplePhotograph.objects.filter(visit=_visit(request, id)).select_related(*_TOLD)
        return Response(SamplePhotographOut(with_frames(shown), many=True).data)


class PlotPhotographsView(APIView):
    @extend_schema(responses=SamplePhotographOut(many=True))
    def get(self, request: Request, id: UUID, plot: UUID) -> Response:
        """The photographs of one plot through the season, oldest visit first."""
        trial = get_object_or_404(Trial.objects.visible_to(_person(request)), pk=id)
        shown = SamplePhotograph.objects.filter(visit__season__trial=trial, unit=plot).select_related(*_TOLD)
        ordered = shown.order_by("visit__date", "visit__due", "visit__order", "zone", "sample", "photograph")
        return Response(SamplePhotographOut(with_frames(ordered), many=True).data)


class VisitPhotographView(APIView):
    parser_classes = [MultiPartParser]

    @extend_schema(request={"multipart/form-data": SamplePhotographIn}, responses=SamplePhotographOut)
    def put(self, request: Request, id: UUID, photograph: UUID) -> Response:
        """Keep a photograph of a sample, under the id that the client made. Its place and camera aren't kept."""
        visit = _visit(request, id)
        given = SamplePhotographIn(data=request.data)
        given.is_valid(raise_exception=True)
        kept = photograph_sample(by=_person(request), visit=visit, id=photograph, **given.validated_data)
        return Response(SamplePhotographOut(with_frames([kept])[0]).data)

    @extend_schema(responses={204: None})
    def delete(self, request: Request, id: UUID, photograph: UUID) -> Response:
        """Remove a photograph of a sample; values that were taken from it stay."""
        shown = get_object_or_404(SamplePhotograph, visit=_visit(request, id), photograph=photograph)
        drop_sample_photograph(by=_person(request), shown=shown)
        return Response(status=204)


class CoverView(APIView):
    @extend_schema(parameters=THRESHOLD, responses=CoverOut)
    def get(self, request: Request, id: UUID) -> Response:
        """Share of the photograph that is green, %, by a threshold that is found or set."""
        photograph = _photograph(request, id)
        try:
            found = cover_of(photograph, _threshold(request))
        except FileNotFoundError:
            raise Http404(GONE) from None
        notes = [ALWAYS, *found.notes]
        return Response(CoverOut({"percent": found.percent, "threshold": found.threshold, "notes": notes}).data)


class CoverPictureView(APIView):
    content_negotiation_class = AnyFile

    @extend_schema(parameters=THRESHOLD, responses={(200, "image/jpeg"): OpenApiTypes.BINARY})
    def get(self, request: Request, id: UUID) -> HttpResponse:
        """The photograph with all that wasn't counted as green turned to grey."""
        photograph = _photograph(request, id)
        try:
            answer = HttpResponse(overlay_of(photograph, _threshold(request)), content_type="image/jpeg")
        except FileNotFoundError:
            raise Http404(GONE) from None
        answer["Cache-Control"] = "private, max-age=86400"
        return answer
