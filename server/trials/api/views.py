"""Trials: the list, one whole, and a measure's margin."""

from __future__ import annotations

from typing import Any, cast
from uuid import UUID

from django.db.models import Count, Exists, OuterRef, Subquery
from django.db.models.functions import Coalesce
from django.shortcuts import get_object_or_404
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import generics
from rest_framework.filters import SearchFilter
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from apercu_core.amounts import amounts_in, stored_number
from apercu_core.design.codes import codes_of_levels
from apercu_core.design.constraints import Constraint
from apercu_core.design.templates import TEMPLATES, Template
from apercu_core.field.layout import PlotSize
from apercu_core.field.machines import Machines
from apercu_core.units import System
from config.etags import IF_MATCH, saved_unless_changed
from crew.models import Person, Workspace
from trials.actions import archive, change_measure
from trials.api import serializers as shapes
from trials.api.at_site import AT_SITE, season_of
from trials.api.whole import part_of, trial_json
from trials.ask import (
    Accepted,
    Asked,
    AskedFactor,
    AskedSite,
    AskedTreatment,
    Removed,
    crossing,
    keep_ask,
    rotation_of,
)
from trials.copying import NewFactor, copy_trial
from trials.equipment import keep_machines, machines_of
from trials.measures_as_typed import measure_as_typed
from trials.models import Season, Site, Trial, TrialMeasure, Unit, UnitKind
from trials.plan import PlanChoices, draw_plan
from trials.swapping import swap_plots
from trials.taken_out import ALTHOUGH, although_taken_out


class TrialsView(generics.ListAPIView[Trial]):
    """Trials of all workspaces that the signed-in person belongs to, newest first.

    `search`: words of name, question or site; `archived`: those that were archived instead of the others.
    """

    serializer_class = shapes.TrialLine
    queryset = Trial.objects.none()
    filter_backends = (SearchFilter,)
    search_fields = ("name", "question", "seasons__site__name", "seasons__site__place")

    @extend_schema(parameters=[OpenApiParameter("archived", bool)])
    def get(self, request: Request, *args: Any, **kwargs: Any) -> Response:
        return super().get(request, *args, **kwargs)

    def get_queryset(self) -> Any:
        of_trial = Unit.objects.filter(season__trial=OuterRef("pk"), kind=UnitKind.PLOT).order_by()
        plots = Subquery(of_trial.values("season__trial").annotate(n=Count("pk")).values("n"))
        # By its visits: each is asked for its first figure, however many there are.
        recorded = Season.objects.filter(trial=OuterRef("pk"), visits__observations__isnull=False)
        waiting = Season.objects.filter(trial=OuterRef("pk"), visits__date=None, visits__due__isnull=False)
        sown = Season.objects.filter(trial=OuterRef("pk"), operations__kind="sow", operations__done__isnull=False)
        archived = self.request.query_params.get("archived") == "true"
        trials = Trial.objects.visible_to(cast(Person, self.request.user)).filter(archived_at__isnull=not archived)
        trials = trials.annotate(
            plot_count=Coalesce(plots, 0),
            has_records=Exists(recorded),
            open_visits=Exists(waiting),
            sown=Exists(sown),
        )
        return trials.prefetch_related("seasons__site").newest_first()


class TrialView(APIView):
    @extend_schema(parameters=AT_SITE, responses=shapes.TrialOut)
    def get(self, request: Request, id: UUID) -> Response:
        """A trial with its ground, treatments, measures and visits."""
        return Response(trial_json(request, id))


class ArchiveView(APIView):
    @extend_schema(request=shapes.ArchiveIn, responses={204: None})
    def put(self, request: Request, id: UUID) -> Response:
        """Keep a trial apart from those at work, or bring it back among them. Nothing of it changes."""
        trial = get_object_or_404(Trial.objects.visible_to(cast(Person, request.user)), id=id)
        given = shapes.ArchiveIn(data=request.data)
        given.is_valid(raise_exception=True)
        archive(by=cast(Person, request.user), trial=trial, archived=given.validated_data["archived"])
        return Response(status=204)


class AskView(APIView):
    @extend_schema(parameters=[*IF_MATCH, *ALTHOUGH], request=shapes.AskIn, responses=shapes.TrialOut)
    def put(self, request: Request, id: UUID) -> Response:
        """Keep the page of Ask: makes the trial, or brings it in line. Sending it twice is harmless."""
        person = cast(Person, request.user)
        given = shapes.AskIn(data=request.data, context={"request": request})
        given.is_valid(raise_exception=True)
        data = given.validated_data
        workspace = get_object_or_404(Workspace.objects.visible_to(person), id=data["workspace"])
        system = cast(System, person.units)
        known = {m.id: m for m in TrialMeasure.objects.filter(trial=id).select_related("version__measure")}
        asked = Asked(
            data["name"], data["question"], [AskedSite(**site) for site in data["sites"]],
            [AskedTreatment(**t) for t in data["treatments"]],
            [measure_as_typed(m, at, known.get(m["id"]), system) for at, m in enumerate(data["measures"])],
            data["starts"], data["ends"],
            [AskedFactor(**f) for f in data["factors"]], [Removed(**r) for r in data["removed"]],
            [Accepted(**a) for a in data["accepted"]], data["reason"],
        )  # fmt: skip
        saved_unless_changed(
            request, Trial.objects.filter(id=id, workspace=workspace), lambda: part_of(request, id, "ask"),
            lambda: keep_ask(
                by=person, workspace=workspace, id=id, asked=asked, although=although_taken_out(request)
            ), lambda: trial_json(request, id),
            made=id,
        )  # fmt: skip
        return Response(trial_json(request, id))


class TemplatesView(APIView):
    @extend_schema(responses=shapes.TemplateOut(many=True))
    def get(self, request: Request) -> Response:
        """Common trials to start from."""
        system = cast(System, cast(Person, request.user).units)
        return Response(shapes.TemplateOut([_template(one, system) for one in TEMPLATES.values()], many=True).data)


def _template(one: Template, system: System) -> dict[str, Any]:
    factors = [
        {
            "name": n,
            "levels": list(ls),
            "whole_strips": n in one.strips,
            "kind": one.kinds.get(n, ""),
            "control": one.control_levels.get(n, ""),
        }
        for n, ls in one.factors.items()
    ]
    treatments = [
        {"name": t.name, "is_control": t.name == one.control, "levels": dict(t.levels)} for t in one.treatments
    ]
    return {
        "key": one.key, "name": one.name, "what": amounts_in(one.what, system), "question": one.question,
        "measures": one.measures,
        "factors": factors, "treatments": treatments,
        "removed": [{"levels": dict(levels), "why": why} for levels, why in one.removed],
    }  # fmt: skip


class SwapView(APIView):
    @extend_schema(parameters=[*AT_SITE, *ALTHOUGH], request=shapes.SwapIn, responses=shapes.TrialOut)
    def post(self, request: Request, id: UUID) -> Response:
        """Two plots change places by hand; it is kept, and becomes a doubt."""
        person = cast(Person, request.user)
        given = shapes.SwapIn(data=request.data)
        given.is_valid(raise_exception=True)
        although = although_taken_out(request)
        swap_plots(by=person, season=season_of(request, id), although=although, **given.validated_data)
        return Response(trial_json(request, id))


class CopyView(APIView):
    @extend_schema(request=shapes.CopyIn, responses={201: shapes.TrialOut})
    def post(self, request: Request, id: UUID) -> Response:
        """The trial again, a year later: without its layout, with it, or carried on on the same plots."""
        person = cast(Person, request.user)
        old = season_of(request, id).trial
        given = shapes.CopyIn(data=request.data)
        given.is_valid(raise_exception=True)
        data = dict(given.validated_data)
        new = data.pop("factor")
        factor = NewFactor(new["name"], new["levels"], new["kind"]) if new else None
        made = copy_trial(by=person, old=old, factor=factor, **data)
        return Response(trial_json(request, made.id), status=201)


class CrossingView(APIView):
    @extend_schema(request=shapes.CrossingIn, responses=shapes.CrossingOut)
    def post(self, request: Request) -> Response:
        """The treatments that these factors make, without the combinations that can't be. Nothing is kept."""
        given = shapes.CrossingIn(data=request.data)
        given.is_valid(raise_exception=True)
        factors = [AskedFactor(**f) for f in given.validated_data["factors"]]
        made = crossing(factors, [Removed(**r) for r in given.validated_data["removed"]])
        codes = codes_of_levels({f.name: f.levels for f in factors}, [dict(one.levels) for one in made])
        found = [
            {"name": one.name, "code": code, "levels": dict(one.levels)} for one, code in zip(made, codes, strict=True)
        ]
        return Response(shapes.CrossingOut({"treatments": found, "rotation": rotation_of(factors)}).data)


class EquipmentView(APIView):
    @extend_schema(parameters=IF_MATCH, request=shapes.EquipmentIn, responses=shapes.EquipmentOut)
    def put(self, request: Request, id: UUID) -> Response:
        """Keep how wide the workspace's machines work."""
        person = cast(Person, request.user)
        workspace = get_object_or_404(Workspace.objects.visible_to(person), id=id)
        given = shapes.EquipmentIn(data=request.data, context={"request": request})
        given.is_valid(raise_exception=True)
        machines = Machines(**given.validated_data)

        def shown() -> Any:
            return {"equipment": shapes.EquipmentOut(machines_of(workspace)).data}

        saved_unless_changed(
            request, Workspace.objects.filter(id=workspace.id), shown,
            lambda: keep_machines(by=person, workspace=workspace, machines=machines),
        )  # fmt: skip
        return Response(shapes.EquipmentOut(machines).data)


class PlanView(APIView):
    @extend_schema(parameters=[*IF_MATCH, *AT_SITE, *ALTHOUGH], request=shapes.PlanIn, responses=shapes.TrialOut)
    def post(self, request: Request, id: UUID) -> Response:
        """Draw the map by chance. Free before the first record, refused with the reason after it."""
        person = cast(Person, request.user)
        season = season_of(request, id)
        given = shapes.PlanIn(data=request.data, context={"request": request})
        given.is_valid(raise_exception=True)
        data = dict(given.validated_data)
        size = PlotSize(*(data.pop(key) or 0.0 for key in ("width", "length", "gap", "alley")))
        constraints = tuple(
            Constraint(one["kind"], tuple(one["treatments"]), one["most"]) for one in data.pop("constraints")
        )
        plan = PlanChoices(size=size, constraints=constraints, **data)
        saved_unless_changed(
            request, Trial.objects.filter(id=id), lambda: part_of(request, id, "plan"),
            lambda: draw_plan(by=person, season=season, plan=plan, although=although_taken_out(request)),
            lambda: trial_json(request, id),
        )  # fmt: skip
        return Response(trial_json(request, id))


class SitesView(generics.ListAPIView[Site]):
    """Sites of all workspaces that the signed-in person belongs to."""

    serializer_class = shapes.SiteShape
    queryset = Site.objects.none()

    def get_queryset(self) -> Any:
        own = Site.objects.visible_to(cast(Person, self.request.user))
        return own.order_by("name", "id")


class TrialMeasureView(APIView):
    @extend_schema(parameters=IF_MATCH, request=shapes.TrialMeasureChange, responses=shapes.TrialMeasureOut)
    def patch(self, request: Request, id: UUID) -> Response:
        """Change the margin that matters, in the unit that the person is shown, the wanted direction, the test."""
        person = cast(Person, request.user)
        own = TrialMeasure.objects.visible_to(person)
        measure = get_object_or_404(own.select_related("trial__workspace", "version__measure"), id=id)
        given = shapes.TrialMeasureChange(data=request.data)
        given.is_valid(raise_exception=True)
        changes = dict(given.validated_data)
        if changes.get("margin") is not None and changes.get("margin_kind", measure.margin_kind) == "absolute":
            factor = measure.version.shown_in(cast(System, person.units))[1]
            changes["margin"] = stored_number(changes["margin"], factor, measure.margin)
        reason = changes.pop("reason", "")

        def now() -> TrialMeasure:
            return own.select_related("trial__workspace", "version__measure").get(id=id)

        changed = saved_unless_changed(
            request, Trial.objects.filter(id=measure.trial_id), lambda: shapes.margin_of(now()),
            lambda: change_measure(by=person, measure=now(), changes=changes, reason=reason),
            lambda: shapes.TrialMeasureOut(now(), context={"request": request}).data,
        )  # fmt: skip
        return Response(shapes.TrialMeasureOut(changed, context={"request": request}).data)
