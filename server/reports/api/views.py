"""Telling: the words, the grower's page and the data package."""

from __future__ import annotations

import re
from typing import Any, cast
from uuid import UUID

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.negotiation import BaseContentNegotiation
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from apercu_core.errors import Refused
from crew.models import Person
from reports.labels import SHEETS, stake_labels
from reports.package import data_package
from reports.page import growers_page
from reports.stake_out import Ink, map_page, outlines, stake_out_csv
from reports.told import tell
from trials.api.at_site import AT_SITE, season_of
from trials.models import Season
from trials.taken_out import note_taken_out


class LineOut(serializers.Serializer[Any]):
    treatment = serializers.CharField()
    sentence = serializers.CharField()


class ToldMeasureOut(serializers.Serializer[Any]):
    name = serializers.CharField()
    unit = serializers.CharField(allow_blank=True)
    refusal = serializers.CharField(allow_blank=True)
    lines = LineOut(many=True)


class ToldDoubtOut(serializers.Serializer[Any]):
    title = serializers.CharField()
    finding = serializers.CharField()
    answer = serializers.CharField(allow_blank=True)


class ToldOut(serializers.Serializer[Any]):
    """What the grower's page says, word for word."""

    question = serializers.CharField(source="season.trial.question", allow_blank=True)
    where = serializers.CharField()
    short = serializers.CharField()
    measures = ToldMeasureOut(many=True)
    doubts = ToldDoubtOut(many=True)
    more_doubts = serializers.IntegerField(help_text="That the page has no room for; they stand in the full reading.")
    how = serializers.CharField()
    signed = serializers.CharField()


class AnyFile(BaseContentNegotiation):
    """A file is what it is, whatever the browser says it would rather have; errors stay problem+json."""

    def select_parser(self, request: Request, parsers: Any) -> Any:
        return parsers[0]

    def select_renderer(self, request: Request, renderers: Any, format_suffix: str | None = None) -> Any:
        return renderers[0], renderers[0].media_type


def _file(content: bytes, kind: str, season: Season, ending: str) -> HttpResponse:
    name = re.sub(r"[^A-Za-z0-9]+", "-", season.trial.name).strip("-").lower() or "trial"
    answer = HttpResponse(content, content_type=kind)
    answer["Content-Disposition"] = f'attachment; filename="{name}.{ending}"'
    answer["Cache-Control"] = "private, no-store"
    return answer


class ToldView(APIView):
    @extend_schema(parameters=AT_SITE, responses=ToldOut)
    def get(self, request: Request, id: UUID) -> Response:
        """The trial in words, in the signed-in person's units."""
        return Response(ToldOut(tell(by=cast(Person, request.user), season=season_of(request, id))).data)


class PageView(APIView):
    content_negotiation_class = AnyFile

    @extend_schema(parameters=AT_SITE, responses={(200, "application/pdf"): OpenApiTypes.BINARY})
    def get(self, request: Request, id: UUID) -> HttpResponse:
        """The grower's page: one side of A4 as PDF."""
        season = season_of(request, id)
        return _file(growers_page(by=cast(Person, request.user), season=season), "application/pdf", season, "pdf")


class PackageView(APIView):
    content_negotiation_class = AnyFile

    @extend_schema(parameters=AT_SITE, responses={(200, "application/zip"): OpenApiTypes.BINARY})
    def get(self, request: Request, id: UUID) -> HttpResponse:
        """The data package: CSV, its schema, the reading and the plan, as a ZIP that can be brought back."""
        season = season_of(request, id)
        content = data_package(by=cast(Person, request.user), season=season)
        note_taken_out(by=cast(Person, request.user), season=season, what="data package")
        return _file(content, "application/zip", season, "zip")


class StakeOutView(APIView):
    content_negotiation_class = AnyFile

    @extend_schema(parameters=AT_SITE, responses={(200, "text/csv"): OpenApiTypes.BINARY})
    def get(self, request: Request, id: UUID) -> HttpResponse:
        """The stake-out list: every plot's distances along and across from the corner, in metres."""
        season = season_of(request, id)
        content = stake_out_csv(by=cast(Person, request.user), season=season)
        note_taken_out(by=cast(Person, request.user), season=season, what="stake-out list")
        return _file(content, "text/csv; charset=utf-8", season, "stake-out.csv")


class OutlinesView(APIView):
    content_negotiation_class = AnyFile

    @extend_schema(parameters=AT_SITE, responses={(200, "application/geo+json"): OpenApiTypes.BINARY})
    def get(self, request: Request, id: UUID) -> HttpResponse:
        """The plots' outlines as GeoJSON."""
        season = season_of(request, id)
        content = outlines(by=cast(Person, request.user), season=season)
        note_taken_out(by=cast(Person, request.user), season=season, what="outlines of the plots")
        return _file(content, "application/geo+json", season, "geojson")


class LabelsView(APIView):
    content_negotiation_class = AnyFile

    @extend_schema(
        parameters=[*AT_SITE, OpenApiParameter("sheet", str, enum=list(SHEETS))],
        responses={(200, "application/pdf"): OpenApiTypes.BINARY},
    )
    def get(self, request: Request, id: UUID) -> HttpResponse:
        """Stake labels as PDF: plot, treatment's code, colour and pattern, and a QR code that opens the plot."""
        season = season_of(request, id)
        sheet = SHEETS.get(request.query_params.get("sheet", "a4-3x7"))
        if sheet is None:
            raise Refused("bad-value", f"There is no such label sheet. Known are: {', '.join(SHEETS)}.")
        address = request.build_absolute_uri("/").rstrip("/")
        content = stake_labels(by=cast(Person, request.user), season=season, sheet=sheet, address=address)
        note_taken_out(by=cast(Person, request.user), season=season, what="labels")
        return _file(content, "application/pdf", season, "labels.pdf")


class MapView(APIView):
    content_negotiation_class = AnyFile

    @extend_schema(
        parameters=[*AT_SITE, OpenApiParameter("ink", str, enum=["colour", "black"])],
        responses={(200, "application/pdf"): OpenApiTypes.BINARY},
    )
    def get(self, request: Request, id: UUID) -> HttpResponse:
        """The map on one side of A4, in colour or for a black-and-white printer."""
        season = season_of(request, id)
        ink: Ink = "black" if request.query_params.get("ink") == "black" else "colour"
        content = map_page(by=cast(Person, request.user), season=season, ink=ink)
        note_taken_out(by=cast(Person, request.user), season=season, what="printed map")
        return _file(content, "application/pdf", season, "map.pdf")
