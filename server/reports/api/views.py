"""Tell: the words, and the files that people take away."""

from __future__ import annotations

from typing import Any, cast
from uuid import UUID

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from apercu_core.reporting.sentences import Line, MeasureReport
from config.dataclass_shapes import Shape
from config.files import AnyFile
from crew.models import Person
from jobs.api.views import JobOut
from reports.files import FILES, ask_for_file, file_name
from reports.labels import SHEETS
from reports.season_report import season_report
from reports.stake_out import outlines, stake_out_csv
from trials.api.at_site import AT_SITE, season_of
from trials.models import Season
from trials.taken_out import note_taken_out


class LineOut(Shape):
    class Meta:
        dataclass = Line
        exclude = ("verdict",)


class ToldMeasureOut(Shape):
    lines = LineOut(many=True)

    class Meta:
        dataclass = MeasureReport


class ToldDoubtOut(serializers.Serializer[Any]):
    title = serializers.CharField()
    finding = serializers.CharField()
    answer = serializers.CharField(allow_blank=True)


class SeasonReportOut(serializers.Serializer[Any]):
    """What the grower's page says, word for word."""

    question = serializers.CharField(source="season.trial.question", allow_blank=True)
    where = serializers.CharField()
    short = serializers.CharField()
    measures = ToldMeasureOut(many=True)
    doubts = ToldDoubtOut(many=True)
    more_doubts = serializers.IntegerField(help_text="That the page has no room for; they stand in the full reading.")
    how = serializers.CharField()
    signed = serializers.CharField()


def _file(content: bytes, kind: str, season: Season, ending: str) -> HttpResponse:
    answer = HttpResponse(content, content_type=kind)
    answer["Content-Disposition"] = f'attachment; filename="{file_name(season, ending)}"'
    answer["Cache-Control"] = "private, no-store"
    return answer


class SeasonReportView(APIView):
    @extend_schema(parameters=AT_SITE, responses=SeasonReportOut)
    def get(self, request: Request, id: UUID) -> Response:
        """The trial in words, in the signed-in person's units."""
        return Response(
            SeasonReportOut(season_report(by=cast(Person, request.user), season=season_of(request, id))).data
        )


class FileIn(serializers.Serializer[Any]):
    file = serializers.ChoiceField(choices=FILES)
    sheet = serializers.CharField(default="a4-3x7", max_length=20, help_text="Of labels.")
    ink = serializers.ChoiceField(choices=("colour", "black"), default="colour", help_text="Of the map.")
    visit = serializers.UUIDField(allow_null=True, default=None, help_text="Of a field sheet.")

    def validate_sheet(self, value: str) -> str:
        if value not in SHEETS:
            raise serializers.ValidationError(f"There is no such label sheet. Choose one of: {', '.join(SHEETS)}.")
        return value

    def validate(self, attrs: dict[str, Any]) -> dict[str, Any]:
        if attrs["file"] == "field-sheet.pdf" and attrs["visit"] is None:
            raise serializers.ValidationError({"visit": "Say of which visit."})
        return attrs


class FilesView(APIView):
    @extend_schema(parameters=AT_SITE, request=FileIn, responses={202: JobOut})
    def post(self, request: Request, id: UUID) -> Response:
        """Make the grower's page, the map, labels or the data package; the job's file is then fetched.

        The page is one side of A4. Labels carry plot, treatment's code, colour and pattern, and a QR code that opens
        the plot. The package holds CSV, its schema, the reading and the plan, and can be brought back.
        """
        season, person = season_of(request, id), cast(Person, request.user)
        given = FileIn(data=request.data)
        given.is_valid(raise_exception=True)
        asked = dict(given.validated_data)
        file = asked.pop("file")
        options = {"labels.pdf": ("sheet",), "bags.pdf": ("sheet",), "map.pdf": ("ink",)}.get(file, ())
        said = {key: asked[key] for key in options}
        if file == "field-sheet.pdf":
            said["visit"] = str(asked["visit"])
        if file in ("labels.pdf", "bags.pdf"):
            said["address"] = request.build_absolute_uri("/").rstrip("/")
        return Response(JobOut(ask_for_file(by=person, season=season, file=file, asked=said)).data, status=202)


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
