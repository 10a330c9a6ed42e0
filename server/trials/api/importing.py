"""A layout that is brought as a file."""

from __future__ import annotations

from typing import Any, cast
from uuid import UUID

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from apercu_core.amounts import stored_amount
from apercu_core.errors import Refused
from apercu_core.field.layout import PlotSize
from apercu_core.units import System, parse_quantity, shown_in
from crew.models import Person
from trials.api.at_site import AT_SITE, season_of
from trials.api.serializers import TrialOut
from trials.api.whole import trial_json
from trials.importing import import_layout
from trials.models import Allocation, Design
from trials.taken_out import ALTHOUGH, although_taken_out

MOST_BYTES = 5_000_000


class LayoutFileIn(serializers.Serializer[Any]):
    """`design`: empty where the file says it. `width`, `length`: of plots as typed, for a table that doesn't give
    them; empty: not known.
    """

    file = serializers.FileField()
    allocation = serializers.ChoiceField(choices=Allocation.choices)
    design = serializers.ChoiceField(choices=Design.choices, allow_blank=True, default="")
    width = serializers.CharField(max_length=20, allow_blank=True, default="")
    length = serializers.CharField(max_length=20, allow_blank=True, default="")
    gap = serializers.CharField(max_length=20, allow_blank=True, default="")
    alley = serializers.CharField(max_length=20, allow_blank=True, default="")


class LayoutFileView(APIView):
    parser_classes = (MultiPartParser,)

    @extend_schema(parameters=[*AT_SITE, *ALTHOUGH], request={"multipart/form-data": LayoutFileIn}, responses=TrialOut)
    def post(self, request: Request, id: UUID) -> Response:
        """Take a CSV or GeoJSON of plots as the map: all of it, or nothing and every row that is wrong."""
        person = cast(Person, request.user)
        season = season_of(request, id)
        given = LayoutFileIn(data=request.data)
        given.is_valid(raise_exception=True)
        data = given.validated_data
        if data["file"].size > MOST_BYTES:
            raise Refused(
                "not-a-table", f"The file has more than {MOST_BYTES // 1_000_000} MB: too large for a layout."
            )
        size = _size(data, cast(System, person.units))
        import_layout(
            by=person,
            season=season,
            data=data["file"].read(),
            allocation=data["allocation"],
            size=size,
            design=data["design"],
            although=although_taken_out(request),
        )
        return Response(trial_json(request, id))


def _size(typed: dict[str, Any], system: System) -> PlotSize | None:
    if not (typed["width"].strip() and typed["length"].strip()):
        return None
    unit, factor = shown_in("m", system)
    sizes = (parse_quantity(typed[key] or "0", unit) for key in ("width", "length", "gap", "alley"))
    return PlotSize(*(stored_amount(size, factor) for size in sizes))
