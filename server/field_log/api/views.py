"""The field log of a trial, and whether its kills worked."""

from __future__ import annotations

from datetime import date
from typing import Any, cast
from uuid import UUID

from django.db.models import Prefetch
from django.http import Http404
from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from apercu_core.units import System, shown_in
from config import clock
from config.etags import IF_MATCH, etag_of, saved_unless_changed
from config.typed_number import TypedIn, TypedNumber
from crew.models import Person
from crew.page_units import system_of
from field_log.actions import (
    Written,
    add_photograph,
    drop_photograph,
    forget_entry,
    keep_entry,
    keep_limit,
    keep_living,
)
from field_log.kills import Check, kills_in, limit_of, plan_checks
from field_log.models import DecisionKind, EntryKind, LogEntry, TroubleEffect, TroubleKind
from operations.models import Operation
from photographs.api.shapes import PhotographIn, PhotographOut
from photographs.models import Photograph
from trials.api.at_site import AT_SITE, season_of
from trials.models import Season


class LogEntryIn(serializers.Serializer[Any]):
    kind = serializers.ChoiceField(choices=EntryKind.choices)
    day = serializers.DateField()
    text = serializers.CharField(max_length=1000, allow_blank=True, default="")
    trouble = serializers.ChoiceField(choices=TroubleKind.choices, allow_blank=True, default="")
    decision = serializers.ChoiceField(choices=DecisionKind.choices, allow_blank=True, default="")
    effect = serializers.ChoiceField(choices=TroubleEffect.choices, default=TroubleEffect.NONE)
    rule = serializers.CharField(max_length=500, allow_blank=True, default="")
    known = serializers.CharField(max_length=1000, allow_blank=True, default="")
    treatments = serializers.ListField(child=serializers.UUIDField(), max_length=200, default=list)
    plots = serializers.ListField(child=serializers.CharField(max_length=160), max_length=2000, default=list)


class LogEntryOut(LogEntryIn):
    id = serializers.UUIDField()
    etag = serializers.SerializerMethodField()
    by = serializers.CharField(source="by.name")
    treatments = serializers.SerializerMethodField()  # type: ignore[assignment]
    plots = serializers.SerializerMethodField()  # type: ignore[assignment]
    photographs = PhotographOut(many=True)

    def get_etag(self, entry: LogEntry) -> str:
        return etag_of(said_of(entry))

    def get_treatments(self, entry: LogEntry) -> list[str]:
        return [str(one.pk) for one in entry.treatments.all()]

    def get_plots(self, entry: LogEntry) -> list[str]:
        return sorted(one.label for one in entry.plots.all())


class LogOut(serializers.Serializer[Any]):
    """The newest first."""

    today = serializers.DateField()
    entries = LogEntryOut(many=True)


class LivingMeanOut(serializers.Serializer[Any]):
    treatment = serializers.UUIDField(source="treatment.pk")
    percent = serializers.FloatField()
    plots = serializers.IntegerField()
    tallest = serializers.FloatField(allow_null=True)


class LivingShareOut(serializers.Serializer[Any]):
    plot = serializers.CharField()
    percent = serializers.FloatField()
    regrowth = serializers.FloatField(allow_null=True)


class KillCheckOut(serializers.Serializer[Any]):
    day = serializers.DateField()
    means = LivingMeanOut(many=True)
    shares = LivingShareOut(many=True)


class KillOut(serializers.Serializer[Any]):
    """A kill that was done. `proposed`: days on which it should be looked at; `alive`: of which too much lives."""

    operation = serializers.UUIDField()
    name = serializers.CharField()
    done = serializers.DateField()
    treatments = serializers.ListField(child=serializers.UUIDField())
    checks = KillCheckOut(many=True)
    proposed = serializers.ListField(child=serializers.DateField())
    alive = LivingMeanOut(many=True)


class KillsOut(serializers.Serializer[Any]):
    today = serializers.DateField()
    height_unit = serializers.CharField()
    limit_percent = serializers.FloatField()
    kills = KillOut(many=True)


class KillLimitIn(serializers.Serializer[Any]):
    limit_percent = TypedNumber(least=0, most=100)


class LivingShareIn(serializers.Serializer[Any]):
    plot = serializers.CharField(max_length=160)
    percent = TypedNumber(least=0, most=100)
    regrowth = TypedIn("cm", allow_null=True, default=None, least=0, most=500)


class LivingIn(serializers.Serializer[Any]):
    shares = serializers.ListField(child=LivingShareIn(), min_length=1, max_length=2000)


def said_of(entry: LogEntry) -> dict[str, Any]:
    """What a save of an entry replaces."""
    names = ("kind", "day", "text", "trouble", "decision", "effect", "rule", "known")
    said = {name: getattr(entry, name) for name in names}
    said["treatments"] = sorted(str(one.pk) for one in entry.treatments.all())
    return said | {"plots": sorted(one.label for one in entry.plots.all())}


def log_json(season: Season) -> Any:
    photographs = Prefetch("photographs", Photograph.objects.select_related("by"))
    entries = season.log.select_related("by").prefetch_related("treatments", "plots", photographs)
    return LogOut({"today": clock.today(season.site.time_zone), "entries": entries}).data


def kills_json(season: Season, system: System) -> Any:
    unit, factor = shown_in("cm", system)

    def height(cm: float | None) -> float | None:
        return None if cm is None else round(cm * factor, 1)

    def check(one: Check) -> dict[str, Any]:
        means = [{"treatment": m.treatment, "percent": m.percent, "plots": m.plots, "tallest": height(m.tallest_cm)}
                 for m in one.means]  # fmt: skip
        shares = [
            {"plot": plot, "percent": percent, "regrowth": height(cm)} for plot, (percent, cm) in one.shares.items()
        ]
        return {"day": one.day, "means": means, "shares": sorted(shares, key=lambda share: str(share["plot"]))}

    kills = [
        {
            "operation": kill.operation.pk, "name": kill.operation.name, "done": kill.operation.done,
            "treatments": [one.pk for one in kill.treatments], "checks": [check(one) for one in kill.checks],
            "proposed": kill.proposed,
            "alive": [
                {"treatment": m.treatment, "percent": m.percent, "plots": m.plots, "tallest": height(m.tallest_cm)}
                for m in kill.alive
            ],
        }
        for kill in kills_in(season)
    ]  # fmt: skip
    shape = {"today": clock.today(season.site.time_zone), "height_unit": unit, "limit_percent": limit_of(season)}
    return KillsOut({**shape, "kills": kills}).data


class LogView(APIView):
    @extend_schema(parameters=AT_SITE, responses=LogOut)
    def get(self, request: Request, id: UUID) -> Response:
        """Notes, troubles and decisions of the season."""
        return Response(log_json(season_of(request, id)))


class EntryView(APIView):
    @extend_schema(parameters=[*IF_MATCH, *AT_SITE], request=LogEntryIn, responses=LogOut)
    def put(self, request: Request, id: UUID, entry: UUID) -> Response:
        """Write an entry under the id that the client made, or change it."""
        season, person = season_of(request, id), cast(Person, request.user)
        given = LogEntryIn(data=request.data)
        given.is_valid(raise_exception=True)

        def shown() -> Any:
            there = season.log.filter(pk=entry).first()
            return there and said_of(there)

        saved_unless_changed(
            request, Season.objects.filter(pk=season.pk), shown,
            lambda: keep_entry(by=person, season=season, id=entry, written=Written(**given.validated_data)),
            lambda: log_json(season), made=entry,
        )  # fmt: skip
        return Response(log_json(season))

    @extend_schema(parameters=AT_SITE, responses=LogOut)
    def delete(self, request: Request, id: UUID, entry: UUID) -> Response:
        """Remove an entry."""
        season, person = season_of(request, id), cast(Person, request.user)
        own = LogEntry.objects.visible_to(person).filter(season=season)
        forget_entry(by=person, entry=get_object_or_404(own, pk=entry))
        return Response(log_json(season))


class EntryPhotographView(APIView):
    parser_classes = [MultiPartParser]

    @extend_schema(parameters=AT_SITE, request={"multipart/form-data": PhotographIn}, responses=LogOut)
    def put(self, request: Request, id: UUID, entry: UUID, photograph: UUID) -> Response:
        """Keep a photograph with an entry, under the id that the client made. Its place and camera aren't kept."""
        season, person = season_of(request, id), cast(Person, request.user)
        own = get_object_or_404(LogEntry.objects.visible_to(person).filter(season=season), pk=entry)
        given = PhotographIn(data=request.data)
        given.is_valid(raise_exception=True)
        add_photograph(by=person, entry=own, id=photograph, file=given.validated_data["file"])
        return Response(log_json(season))

    @extend_schema(parameters=AT_SITE, responses=LogOut)
    def delete(self, request: Request, id: UUID, entry: UUID, photograph: UUID) -> Response:
        """Remove a photograph of an entry."""
        season, person = season_of(request, id), cast(Person, request.user)
        own = get_object_or_404(LogEntry.objects.visible_to(person).filter(season=season), pk=entry)
        drop_photograph(by=person, entry=own, photograph=get_object_or_404(own.photographs, pk=photograph))
        return Response(log_json(season))


class KillsView(APIView):
    @extend_schema(parameters=AT_SITE, responses=KillsOut)
    def get(self, request: Request, id: UUID) -> Response:
        """Kills that were done, what lived after each, and when to look again."""
        return Response(kills_json(season_of(request, id), system_of(request)))


class KillLimitView(APIView):
    @extend_schema(parameters=AT_SITE, request=KillLimitIn, responses=KillsOut)
    def put(self, request: Request, id: UUID) -> Response:
        """Set the share that may live after a kill; above it a second pass is proposed and a doubt raised."""
        season, person = season_of(request, id), cast(Person, request.user)
        given = KillLimitIn(data=request.data)
        given.is_valid(raise_exception=True)
        keep_limit(by=person, season=season, percent=given.validated_data["limit_percent"])
        return Response(kills_json(season, system_of(request)))


class KillChecksView(APIView):
    @extend_schema(parameters=AT_SITE, request=None, responses=KillsOut)
    def put(self, request: Request, id: UUID, operation: UUID) -> Response:
        """Plan the visits after a kill that are proposed, for living share and regrowth. Again is harmless."""
        season, person = season_of(request, id), cast(Person, request.user)
        own = Operation.objects.visible_to(person).filter(season=season)
        plan_checks(by=person, season=season, operation=get_object_or_404(own, pk=operation))
        return Response(kills_json(season, system_of(request)))


class LivingView(APIView):
    @extend_schema(parameters=AT_SITE, request=LivingIn, responses=KillsOut)
    def put(self, request: Request, id: UUID, operation: UUID, day: str) -> Response:
        """How much lived in plots on a day after a kill. Plots that aren't sent keep what they have."""
        season, person = season_of(request, id), cast(Person, request.user)
        given = LivingIn(data=request.data, context={"request": request})
        given.is_valid(raise_exception=True)
        try:
            when = date.fromisoformat(day)
        except ValueError:
            raise Http404("That isn’t a date.") from None
        own = Operation.objects.visible_to(person).filter(season=season)
        shares = {one["plot"]: (one["percent"], one["regrowth"]) for one in given.validated_data["shares"]}
        keep_living(by=person, operation=get_object_or_404(own, pk=operation), day=when, shares=shares)
        return Response(kills_json(season, system_of(request)))
