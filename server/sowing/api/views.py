"""Sow: the page of seed and rates, calibrations, bags, go or wait, and what was sown."""

from __future__ import annotations

from typing import Any, cast
from uuid import UUID

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from config.dataclass_shapes import Shape
from config.etags import IF_MATCH, saved_unless_changed
from crew.models import Person
from crew.page_units import system_of
from records.models import Visit
from sowing.actions import (
    forget_sowing,
    keep_decision,
    keep_seed_plan,
    keep_sowing,
    keep_test,
    pack_bag,
    place_bag,
)
from sowing.api import shapes
from sowing.api.calibration_shown import shown_answer
from sowing.api.shown import plan_shown, sow_json, sowing_shown
from sowing.calibration import answer_to
from sowing.models import Sowing
from sowing.standing import Standing, standing_of
from trials.api.at_site import AT_SITE, season_of
from trials.models import Season


def _read(shape: type[serializers.Serializer[Any]], request: Request, data: Any = None) -> dict[str, Any]:
    given = shape(data=request.data if data is None else data, context={"request": request})
    given.is_valid(raise_exception=True)
    return cast(dict[str, Any], given.validated_data)


class SowView(APIView):
    @extend_schema(parameters=AT_SITE, responses=shapes.SowOut)
    def get(self, request: Request, id: UUID) -> Response:
        """Seed for each plot, what to order, the drill's way, calibrations, bags, and what was sown."""
        return Response(sow_json(season_of(request, id), system_of(request), request))

    @extend_schema(parameters=[*IF_MATCH, *AT_SITE], request=shapes.SeedPlanIn, responses=shapes.SowOut)
    def put(self, request: Request, id: UUID) -> Response:
        """Keep seed lots, rates, and what is added for the drill and to spare."""
        season, person = season_of(request, id), cast(Person, request.user)
        data = _read(shapes.SeedPlanIn, request)
        lots = {one.pop("key"): one for one in data.pop("lots")}

        def save() -> Any:
            return keep_seed_plan(by=person, season=season, lots=lots, **data)

        saved_unless_changed(
            request, Season.objects.filter(pk=season.pk), lambda: plan_shown(season), save,
            lambda: sow_json(season, system_of(request), request),
        )  # fmt: skip
        return Response(sow_json(season_of(request, id), system_of(request), request))


class _Calibration(APIView):
    """What a calibration says, from what was measured so far; nothing is kept."""

    kind = ""
    shape: type[serializers.Serializer[Any]]

    def _answer(self, request: Request, id: UUID) -> Response:
        season_of(request, id)
        given = _read(shapes.MEASURED[self.kind], request)
        answer = shown_answer(self.kind, given, answer_to(self.kind, given), system_of(request))
        return Response(self.shape(answer).data)


class DrillView(_Calibration):
    kind, shape = "drill", shapes.DrillOut

    @extend_schema(parameters=AT_SITE, request=shapes.DrillIn, responses=shapes.DrillOut)
    def post(self, request: Request, id: UUID) -> Response:
        """Whether a drill delivers its rate, by what was caught; nothing is kept."""
        return self._answer(request, id)


class SpreaderView(_Calibration):
    kind, shape = "spreader", shapes.SpreaderOut

    @extend_schema(parameters=AT_SITE, request=shapes.SpreaderIn, responses=shapes.SpreaderOut)
    def post(self, request: Request, id: UUID) -> Response:
        """How even overlapping laps of a spreader lie, by trays across the swath; nothing is kept."""
        return self._answer(request, id)


class TankView(_Calibration):
    kind, shape = "tank", shapes.TankOut

    @extend_schema(parameters=AT_SITE, request=shapes.TankIn, responses=shapes.TankOut)
    def post(self, request: Request, id: UUID) -> Response:
        """What goes into each load of a tank; nothing is kept."""
        return self._answer(request, id)


class TestView(APIView):
    @extend_schema(parameters=AT_SITE, request=shapes.SowingTestIn, responses=shapes.SowOut)
    def put(self, request: Request, id: UUID, test: UUID) -> Response:
        """Keep a calibration under the id that the client made."""
        season, said = season_of(request, id), _read(shapes.SowingTestIn, request)
        given = _read(shapes.MEASURED[said["kind"]], request, said["given"])
        person = cast(Person, request.user)
        keep_test(by=person, season=season, id=test, kind=said["kind"], about=said["about"], given=given)
        return Response(sow_json(season, system_of(request), request))


class BagView(APIView):
    @extend_schema(parameters=AT_SITE, request=shapes.BagIn, responses=shapes.SowOut)
    def put(self, request: Request, id: UUID, plot: str) -> Response:
        """Tick that the plot's bag is packed, or take that back."""
        season, data = season_of(request, id), _read(shapes.BagIn, request)
        pack_bag(by=cast(Person, request.user), season=season, plot=plot, packed=data["packed"])
        return Response(sow_json(season, system_of(request), request))


class PlacedView(APIView):
    @extend_schema(parameters=AT_SITE, request=shapes.PlacedIn, responses=shapes.SowOut)
    def put(self, request: Request, id: UUID, plot: str) -> Response:
        """Tick that a bag is at the plot. A bag that holds something else is refused (409, `wrong-bag`)."""
        season, data = season_of(request, id), _read(shapes.PlacedIn, request)
        person = cast(Person, request.user)
        place_bag(by=person, season=season, plot=plot, bag=data["bag"].strip(), placed=data["placed"])
        return Response(sow_json(season, system_of(request), request))


class DecisionView(APIView):
    @extend_schema(parameters=AT_SITE, request=shapes.SowingDecisionIn, responses=shapes.SowOut)
    def put(self, request: Request, id: UUID, decision: UUID) -> Response:
        """Keep that one goes or waits, with what was seen."""
        season, data = season_of(request, id), _read(shapes.SowingDecisionIn, request)
        keep_decision(by=cast(Person, request.user), season=season, id=decision, **data)
        return Response(sow_json(season, system_of(request), request))


class SowingView(APIView):
    @extend_schema(parameters=[*IF_MATCH, *AT_SITE], request=shapes.SowingIn, responses=shapes.SowOut)
    def put(self, request: Request, id: UUID, sowing: UUID) -> Response:
        """Keep what was really sown on some plots."""
        season, data = season_of(request, id), _read(shapes.SowingIn, request)

        def shown() -> Any:
            there = Sowing.objects.filter(season=season, id=sowing).first()
            return there and sowing_shown(there)

        saved_unless_changed(
            request, Season.objects.filter(pk=season.pk), shown,
            lambda: keep_sowing(by=cast(Person, request.user), season=season, id=sowing, **data),
            lambda: sow_json(season, system_of(request), request),
            made=sowing,
        )  # fmt: skip
        return Response(sow_json(season, system_of(request), request))

    @extend_schema(parameters=AT_SITE, responses=shapes.SowOut)
    def delete(self, request: Request, id: UUID, sowing: UUID) -> Response:
        """Take an entry of what was sown back."""
        season = season_of(request, id)
        forget_sowing(by=cast(Person, request.user), season=season, id=sowing)
        return Response(sow_json(season, system_of(request), request))


class StandingOut(Shape):
    class Meta:
        dataclass = Standing


class StandingView(APIView):
    @extend_schema(responses=StandingOut(many=True))
    def get(self, request: Request, id: UUID) -> Response:
        """What a device needs to say how the counts of a plot stand against what was sown and against thresholds."""
        person = cast(Person, request.user)
        visits = Visit.objects.visible_to(person).select_related("season__trial__workspace", "season__site")
        found = standing_of(by=person, visit=get_object_or_404(visits, pk=id))
        return Response(StandingOut(found, many=True).data)
