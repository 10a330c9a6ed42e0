"""Trials: the list, one whole, and a measure's margin."""

from __future__ import annotations

from typing import Any, cast
from uuid import UUID

from django.db.models import Count, Q
from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import generics
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from config import clock
from crew.models import Membership, Person
from crew.permissions import MAY
from trials.actions import change_measure
from trials.api import serializers as shapes
from trials.models import Trial, TrialMeasure, UnitKind


class TrialsView(generics.ListAPIView[Trial]):
    """Trials of all workspaces that the signed-in person belongs to, newest first."""

    serializer_class = shapes.TrialLine
    queryset = Trial.objects.none()

    def get_queryset(self) -> Any:
        plots = Count("seasons__units", filter=Q(seasons__units__kind=UnitKind.PLOT), distinct=True)
        trials = Trial.objects.visible_to(cast(Person, self.request.user)).annotate(plot_count=plots)
        return trials.prefetch_related("seasons__site").newest_first()


class TrialView(APIView):
    @extend_schema(responses=shapes.TrialOut)
    def get(self, request: Request, id: UUID) -> Response:
        """A trial with its ground, treatments, measures and visits."""
        person = cast(Person, request.user)
        trial = get_object_or_404(Trial.objects.visible_to(person).whole(), id=id)
        return Response(shapes.TrialOut(_whole(trial, person)).data)


def _whole(trial: Trial, person: Person) -> dict[str, Any]:
    season = trial.seasons.all()[0]
    plots = [unit for unit in season.units.all() if unit.kind == UnitKind.PLOT and unit.ground]
    role = Membership.objects.get(person=person, workspace=trial.workspace_id).role
    return {
        "id": trial.id,
        "workspace": trial.workspace_id,
        "name": trial.name,
        "question": trial.question,
        "allocation": trial.allocation,
        "design": season.design,
        "site": season.site,
        "starts": season.starts,
        "ends": season.ends,
        "today": clock.today(season.site.time_zone),
        "schematic": any(unit.ground.schematic for unit in plots if unit.ground),
        "treatments": trial.treatments.all(),
        "measures": trial.measures.all(),
        "plots": [_plot(unit) for unit in plots],
        "visits": season.visits.all(),
        "may": sorted(MAY[role]),
    }


def _plot(unit: Any) -> dict[str, Any]:
    ground = unit.ground
    return {
        "id": unit.id,
        "label": unit.label,
        "block": unit.parent.label if unit.parent and unit.parent.kind == UnitKind.BLOCK else "",
        "treatment": unit.treatment_id,
        "x": ground.x_m,
        "y": ground.y_m,
        "width": ground.width_m,
        "length": ground.length_m,
    }


class TrialMeasureView(APIView):
    @extend_schema(request=shapes.TrialMeasureChange, responses=shapes.TrialMeasureOut)
    def patch(self, request: Request, id: UUID) -> Response:
        """Change the margin that matters, the wanted direction or the planned test."""
        person = cast(Person, request.user)
        own = TrialMeasure.objects.filter(trial__workspace__memberships__person=person)
        measure = get_object_or_404(own.select_related("trial__workspace", "version__measure"), id=id)
        given = shapes.TrialMeasureChange(data=request.data)
        given.is_valid(raise_exception=True)
        changes = dict(given.validated_data)
        changed = change_measure(by=person, measure=measure, changes=changes, reason=changes.pop("reason", ""))
        return Response(shapes.TrialMeasureOut(changed).data)
