"""Zones inside the plots."""

from __future__ import annotations

from typing import Any, cast, get_args
from uuid import UUID

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from apercu_core.field.zones import Sown, Zone
from config.etags import IF_MATCH, etag_of, saved_unless_changed
from config.typed_number import TypedNumber
from crew.models import Person
from trials.api.at_site import AT_SITE, season_of
from trials.models import Season
from trials.zones import Zoned, keep_zones, zoned


class ZoneShape(serializers.Serializer[Any]):
    """`share`: of each plot, 0 to 1; empty for a zone that the map's lines make. `sowing`: what is sown, if other."""

    name = serializers.CharField(max_length=60)
    share = serializers.FloatField(allow_null=True, default=None)
    sown = serializers.ChoiceField(choices=get_args(Sown), default="as-plot")
    sowing = serializers.CharField(max_length=120, allow_blank=True, default="")


class ZoneIn(ZoneShape):
    """`percent`: the share as typed, in per cent of each plot; it stands before `share`."""

    percent = TypedNumber(allow_null=True, required=False, least=0, most=100)


class ZonesIn(serializers.Serializer[Any]):
    """`by_zone`: measure → the zones in which it is taken; none: of the whole plot. `reason`: why values that are
    recorded may change.
    """

    zones = serializers.ListField(child=ZoneIn(), max_length=12)
    by_zone = serializers.DictField(child=serializers.ListField(child=serializers.CharField(max_length=60)))
    reason = serializers.CharField(max_length=200, allow_blank=True, default="")


class DrawnZoneOut(serializers.Serializer[Any]):
    """A zone that the lines on the map make, with its least and largest share over the plots."""

    name = serializers.CharField()
    least = serializers.FloatField()
    most = serializers.FloatField()


class ZonesOut(serializers.Serializer[Any]):
    etag = serializers.CharField()
    zones = ZoneShape(many=True)
    by_zone = serializers.DictField(child=serializers.ListField(child=serializers.CharField()))
    drawn = DrawnZoneOut(many=True)
    sown = serializers.FloatField(allow_null=True, help_text="Share of the plots sown as the treatments say, 0 to 1.")


def _json(found: Zoned) -> Any:
    drawn = [{"name": name, "least": least, "most": most} for name, (least, most) in found.drawn.items()]
    kept = {"zones": found.zones, "by_zone": found.by_zone}
    shown = ZonesOut({**kept, "etag": "", "drawn": drawn, "sown": found.sown}).data
    return {**shown, "etag": etag_of({name: shown[name] for name in kept})}


class ZonesView(APIView):
    @extend_schema(parameters=AT_SITE, responses=ZonesOut)
    def get(self, request: Request, id: UUID) -> Response:
        """The zones in each plot, what is sown there, and which measures are taken there."""
        return Response(_json(zoned(season_of(request, id))))

    @extend_schema(parameters=[*IF_MATCH, *AT_SITE], request=ZonesIn, responses=ZonesOut)
    def put(self, request: Request, id: UUID) -> Response:
        """Keep the zones. Where a measure is taken stays once it has records."""
        season = season_of(request, id)
        given = ZonesIn(data=request.data)
        given.is_valid(raise_exception=True)
        zones = [_zone(one) for one in given.validated_data["zones"]]
        by_zone = {_id(key): names for key, names in given.validated_data["by_zone"].items()}

        def now() -> Any:
            return _json(zoned(Season.objects.select_related("trial__workspace", "site").get(pk=season.pk)))

        def shown() -> Any:
            there = now()
            return {name: there[name] for name in ("zones", "by_zone")}

        saved_unless_changed(
            request, Season.objects.filter(pk=season.pk), shown,
            lambda: keep_zones(
                by=cast(Person, request.user), season=season, zones=zones, by_zone=by_zone,
                why=given.validated_data["reason"],
            ),
            now,
        )  # fmt: skip
        return Response(now())


def _zone(given: dict[str, Any]) -> Zone:
    percent = given.pop("percent", None)
    return Zone(**{**given, "share": given["share"] if percent is None else percent / 100})


def _id(text: str) -> UUID:
    return serializers.UUIDField().to_internal_value(text)
