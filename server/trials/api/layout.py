"""The layout on the ground."""

from __future__ import annotations

from typing import Any, cast
from uuid import UUID

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from apercu_core.amounts import amounts_in
from apercu_core.errors import Refused
from apercu_core.field.geodesy import Origin
from apercu_core.field.layout import Rectangle
from apercu_core.field.surroundings import LayoutFit, outline_from_geojson
from apercu_core.units import System, shown_in
from apercu_core.words import with_unit
from config.dataclass_shapes import Shape
from config.etags import IF_MATCH, etag_of, saved_unless_changed
from config.typed_number import TypedLength, TypedNumber, TypedWhole
from crew.models import Person
from crew.page_units import system_of
from trials.api.at_site import AT_SITE, season_of
from trials.keeping_layout import keep_layout
from trials.layout import field_from, field_of, fit_of, guard_of, origin_of, plots_of
from trials.models import Season
from trials.taken_out import ALTHOUGH, although_taken_out

FAR = 100_000.0


class PointField(serializers.ListField):
    """x and y, metres from the trial's corner."""

    child = serializers.FloatField(min_value=-FAR, max_value=FAR)

    def __init__(self, **kwargs: Any) -> None:
        super().__init__(min_length=2, max_length=2, **kwargs)


class LinesShape(serializers.Serializer[Any]):
    first = serializers.FloatField(min_value=-FAR, max_value=FAR)
    spacing = serializers.FloatField()
    width = serializers.FloatField()


class ObstacleShape(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=60, allow_blank=True)
    points = serializers.ListField(child=PointField(), max_length=100)


class FieldShape(serializers.Serializer[Any]):
    """All in metres; `gradient`: the way down, degrees clockwise from north."""

    outline = serializers.ListField(child=PointField(), max_length=500, default=list)
    headland = serializers.FloatField(default=0)
    gradient = serializers.FloatField(allow_null=True, default=None, min_value=0, max_value=360)
    obstacles = serializers.ListField(child=ObstacleShape(), max_length=40, default=list)
    tracks = LinesShape(allow_null=True, default=None)
    tree_rows = LinesShape(allow_null=True, default=None)
    harvest_width = serializers.FloatField(allow_null=True, default=None)
    guard = serializers.FloatField(default=0)
    sown_width = serializers.FloatField(allow_null=True, default=None)
    sown_every = serializers.IntegerField(min_value=1, max_value=20, default=1)


class LinesIn(serializers.Serializer[Any]):
    """Lengths as typed; lines without a spacing and a width are no lines yet."""

    first = TypedLength(allow_null=True, default=0.0, least=-FAR, most=FAR)
    spacing = TypedLength(allow_null=True, default=None, least=0, most=FAR)
    width = TypedLength(allow_null=True, default=None, least=0, most=FAR)


class ObstacleIn(serializers.Serializer[Any]):
    """Its corners in metres, or the box that it fills, as typed; a box without a size is none yet."""

    name = serializers.CharField(max_length=60, allow_blank=True)
    points = serializers.ListField(child=PointField(), max_length=100, required=False)
    x = TypedLength(allow_null=True, default=None, least=-FAR, most=FAR)
    y = TypedLength(allow_null=True, default=None, least=-FAR, most=FAR)
    width = TypedLength(allow_null=True, default=None, least=0, most=FAR)
    length = TypedLength(allow_null=True, default=None, least=0, most=FAR)


class FieldIn(serializers.Serializer[Any]):
    """As `FieldShape`, with lengths and directions as typed."""

    outline = serializers.ListField(child=PointField(), max_length=500, default=list)
    headland = TypedLength(allow_null=True, default=0.0, least=0, most=FAR)
    gradient = TypedNumber(allow_null=True, default=None, least=-360, most=360)
    obstacles = serializers.ListField(child=ObstacleIn(), max_length=40, default=list)
    tracks = LinesIn(allow_null=True, default=None)
    tree_rows = LinesIn(allow_null=True, default=None)
    harvest_width = TypedLength(allow_null=True, default=None, least=0, most=FAR)
    guard = TypedLength(allow_null=True, default=0.0, least=0, most=FAR)
    sown_width = TypedLength(allow_null=True, default=None, least=0, most=FAR)
    sown_every = TypedWhole(allow_null=True, default=1, least=1, most=20)

    def validate(self, attrs: dict[str, Any]) -> dict[str, Any]:
        lines = {name: _lines(attrs[name]) for name in ("tracks", "tree_rows")}
        gradient = attrs["gradient"]
        return {
            **attrs, **lines, "headland": attrs["headland"] or 0.0, "guard": attrs["guard"] or 0.0,
            "sown_every": attrs["sown_every"] or 1,
            "gradient": None if gradient is None else gradient % 360,
            "obstacles": [shape for one in attrs["obstacles"] if (shape := _obstacle(one))],
        }  # fmt: skip


def _lines(given: dict[str, Any] | None) -> dict[str, float] | None:
    if given is None or given["spacing"] is None or given["width"] is None:
        return None
    return {"first": given["first"] or 0.0, "spacing": given["spacing"], "width": given["width"]}


def _obstacle(given: dict[str, Any]) -> dict[str, Any] | None:
    if "points" in given:
        return {"name": given["name"], "points": given["points"]}
    x, y, width, length = (given[key] for key in ("x", "y", "width", "length"))
    if x is None or y is None or not width or not length:
        return None
    corners = [[x, y], [x + width, y], [x + width, y + length], [x, y + length]]
    return {"name": given["name"].strip(), "points": corners}


class LayoutIn(serializers.Serializer[Any]):
    """`shifts`: block → metres across and along that it is moved; `corner`: longitude and latitude for a new place;
    `reason`: why values that are recorded may change.
    """

    field = FieldIn()
    bearing = TypedNumber(allow_null=True, default=0.0, least=-360, most=360)
    shifts = serializers.DictField(child=PointField(), default=dict)
    corner = serializers.ListField(child=serializers.FloatField(), min_length=2, max_length=2, allow_null=True,
                                   default=None)  # fmt: skip
    reason = serializers.CharField(max_length=200, allow_blank=True, default="")


class AreaOut(Shape):
    class Meta:
        dataclass = Rectangle


class PlotFitOut(serializers.Serializer[Any]):
    label = serializers.CharField()  # type: ignore[assignment]
    wrong = serializers.ListField(child=serializers.CharField())
    tracks = serializers.IntegerField()
    harvest = AreaOut(allow_null=True)
    sample = AreaOut(allow_null=True)
    zones = serializers.DictField(child=serializers.FloatField(), help_text="Zone → its share of the plot, 0 to 1.")


class LayoutOut(serializers.Serializer[Any]):
    """`etag`: of what is kept, empty for a sketch. `usable_area`, `usable`: m² and outlines inside the headland;
    `shift`: a move that makes all fit.
    """

    etag = serializers.CharField(allow_blank=True)
    field = FieldShape()
    bearing = serializers.FloatField()
    fits = serializers.BooleanField()
    plots = PlotFitOut(many=True)
    advice = serializers.ListField(child=serializers.CharField())
    usable_area = serializers.FloatField(allow_null=True)
    usable_said = serializers.CharField(allow_null=True, help_text="The same in the person’s unit.")
    usable = serializers.ListField(child=serializers.ListField(child=PointField()))
    shift = PointField(allow_null=True)
    planted_fraction = serializers.FloatField(allow_null=True, help_text="Sown share of gross ground, 0 to 1.")


class OutlineIn(serializers.Serializer[Any]):
    """A polygon, or the width and length of a rectangle as typed."""

    geojson = serializers.JSONField(required=False)
    width = TypedLength(required=False, least=1, most=FAR)
    length = TypedLength(required=False, least=1, most=FAR)


class OutlineOut(serializers.Serializer[Any]):
    """`corner`: longitude and latitude of the trial's corner, new where the site had none."""

    outline = serializers.ListField(child=PointField())
    corner = serializers.ListField(child=serializers.FloatField(), allow_null=True)


def _area(r: Rectangle | None) -> dict[str, float] | None:
    return None if r is None else {"x": r.x, "y": r.y, "width": r.width, "length": r.length}


def _layout_json(field: Any, bearing: float, fit: LayoutFit, system: System, etag: str = "") -> Any:
    unit, factor = shown_in("ha", system)
    area = None if fit.usable_area is None else with_unit(fit.usable_area / 10_000 * factor, unit, 2)
    plots = [
        {
            "label": label, "wrong": [amounts_in(text, system) for text in fit.wrong.get(label, ())],
            "tracks": fit.crossed.get(label, 0),
            "harvest": _area(areas.harvest), "sample": _area(areas.sample),
            "zones": fit.zones.get(label, {}),
        }
        for label, areas in fit.areas.items()
    ]  # fmt: skip
    shape = {
        "etag": etag, "field": field, "bearing": bearing, "fits": fit.fits, "plots": plots,
        "advice": [amounts_in(text, system) for text in fit.advice],
        "usable_area": fit.usable_area, "usable_said": area, "usable": fit.usable, "shift": fit.shift,
        "planted_fraction": fit.planted_fraction,
    }  # fmt: skip
    return LayoutOut(shape).data


def _kept(season: Season) -> dict[str, Any]:
    given = FieldShape(data={**season.site.field, "harvest_width": season.harvest_width_m, "guard": season.guard_m})
    given.is_valid(raise_exception=True)
    return dict(given.validated_data)


def _asked(request: Request) -> dict[str, Any]:
    given = LayoutIn(data=request.data, context={"request": request})
    given.is_valid(raise_exception=True)
    data = dict(given.validated_data)
    data["bearing"] = data["bearing"] or 0.0
    data["shifts"] = {block: (dx, dy) for block, (dx, dy) in data["shifts"].items()}
    return data


def _laid_out(season: Season) -> dict[str, Any]:
    """What a save of the layout replaces: the field, and where the plots lie."""
    places = [(label, r.x, r.y) for label, r in sorted(plots_of(season, {}).items())]
    return {"field": _kept(season), "bearing": season.site.bearing_deg, "plots": places}


def _kept_json(season: Season, system: System) -> Any:
    fit = fit_of(season, field_of(season), {}, season.site.bearing_deg)
    return _layout_json(_kept(season), season.site.bearing_deg, fit, system, etag_of(_laid_out(season)))


class LayoutView(APIView):
    @extend_schema(parameters=AT_SITE, responses=LayoutOut)
    def get(self, request: Request, id: UUID) -> Response:
        """The field around the plots as it is kept, and whether they fit."""
        season = season_of(request, id)
        return Response(_kept_json(season, system_of(request)))

    @extend_schema(parameters=[*IF_MATCH, *AT_SITE, *ALTHOUGH], request=LayoutIn, responses=LayoutOut)
    def put(self, request: Request, id: UUID) -> Response:
        """Keep the field and move blocks; also where they don't fit, which is told."""
        person = cast(Person, request.user)
        season, data = season_of(request, id), _asked(request)
        origin = Origin(*data["corner"]) if data["corner"] else None

        def now() -> Season:
            return Season.objects.select_related("site", "trial__workspace").get(pk=season.pk)

        saved_unless_changed(
            request, Season.objects.filter(pk=season.pk), lambda: _laid_out(now()),
            lambda: keep_layout(
                by=person, season=season, kept=data["field"], shifts=data["shifts"], bearing=data["bearing"],
                origin=origin, why=data["reason"], although=although_taken_out(request),
            ),
            lambda: _kept_json(now(), system_of(request)),
        )  # fmt: skip
        return Response(_kept_json(now(), system_of(request)))


class LayoutCheckView(APIView):
    @extend_schema(parameters=AT_SITE, request=LayoutIn, responses=LayoutOut)
    def post(self, request: Request, id: UUID) -> Response:
        """Whether the plots fit as they are sketched; nothing is kept."""
        season, data = season_of(request, id), _asked(request)
        fit = fit_of(
            season, field_from(data["field"] | {"side_guard": guard_of(season)}), data["shifts"], data["bearing"]
        )
        return Response(_layout_json(data["field"], data["bearing"], fit, system_of(request)))


class OutlineView(APIView):
    @extend_schema(parameters=AT_SITE, request=OutlineIn, responses=OutlineOut)
    def post(self, request: Request, id: UUID) -> Response:
        """A field's outline in metres from GeoJSON or from its size; nothing is kept."""
        season = season_of(request, id)
        given = OutlineIn(data=request.data, context={"request": request})
        given.is_valid(raise_exception=True)
        data = given.validated_data
        if "width" in data and "length" in data:
            width, length = data["width"], data["length"]
            rectangle = [[0, 0], [width, 0], [width, length], [0, length]]
            return Response(OutlineOut({"outline": rectangle, "corner": None}).data)
        geojson = data.get("geojson")
        if not isinstance(geojson, dict):
            raise Refused("bad-value", "This isn’t GeoJSON. Export the field’s outline as one polygon.")
        outline, origin = outline_from_geojson(geojson, origin_of(season.site))
        return Response(OutlineOut({"outline": outline, "corner": [origin.longitude, origin.latitude]}).data)
