"""Reading a trial, and answering doubts."""

from __future__ import annotations

from dataclasses import replace
from typing import cast
from uuid import UUID

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from apercu_core.errors import Refused
from apercu_core.field.layout import PlotSize
from apercu_core.reading.asked import How
from crew.models import Person
from jobs.api.views import JobOut
from jobs.models import Job, JobState
from readings.actions import answer_doubt, default_method, open_results, read_season
from readings.api import outlook_shapes
from readings.api import serializers as shapes
from readings.carry_over import carry_over_of
from readings.outlook import Sketch, outlook_of
from readings.rehearsals import Truth, ask_to_rehearse
from trials.api.at_site import AT_SITE, season_of
from trials.models import Season
from trials.plan import PlanChoices

_ANY_WIDTH = 100.0
"""Where nobody said how wide plots are; no machine is wider."""


class ReadingsView(APIView):
    @extend_schema(parameters=AT_SITE, request=shapes.LookIn, responses=shapes.ReadingOut)
    def post(self, request: Request, id: UUID) -> Response:
        """Read the trial as it stands. Nothing is kept; until somebody has opened the results, nobody sees them."""
        season = season_of(request, id)
        against = shapes.AgainstIn(data=request.data)
        against.is_valid(raise_exception=True)
        named = against.validated_data["against"]
        seen = read_season(by=cast(Person, request.user), season=season, how=_how(request, season), against=named)
        shape = {
            "identity": seen.identity, "opened_at": season.results_opened_at,
            "opened_by": season.results_opened_by and season.results_opened_by.name, "tried_after": seen.tried_after,
            "against": named,
            **seen.result,
        }  # fmt: skip
        return Response(shapes.ReadingOut(shape).data)


class ResultsView(APIView):
    @extend_schema(parameters=AT_SITE, request=shapes.HowIn, responses={204: None})
    def post(self, request: Request, id: UUID) -> Response:
        """Open the results: recorded with who, when and the method. Repeating it is harmless."""
        season = season_of(request, id)
        open_results(by=cast(Person, request.user), season=season, how=_how(request, season))
        return Response(status=status.HTTP_204_NO_CONTENT)


def _how(request: Request, season: Season) -> How:
    given = shapes.HowIn(data=request.data)
    given.is_valid(raise_exception=True)
    how: How = given.save()
    return how if "method" in given.initial_data else replace(how, method=default_method(season))


class AnswersView(APIView):
    @extend_schema(parameters=AT_SITE, request=shapes.AnswerIn, responses={204: None})
    def post(self, request: Request, id: UUID) -> Response:
        """Answer a doubt with a note, which every report prints."""
        given = shapes.AnswerIn(data=request.data)
        given.is_valid(raise_exception=True)
        data = given.validated_data
        answer_doubt(
            by=cast(Person, request.user), season=season_of(request, id), doubt=data["doubt"], note=data["note"]
        )
        return Response(status=status.HTTP_204_NO_CONTENT)


class OutlookView(APIView):
    @extend_schema(parameters=AT_SITE, request=outlook_shapes.OutlookIn, responses=outlook_shapes.OutlookOut)
    def post(self, request: Request, id: UUID) -> Response:
        """What a plan with this many blocks will be able to see. Nothing is kept."""
        given = outlook_shapes.OutlookIn(data=request.data, context={"request": request})
        given.is_valid(raise_exception=True)
        person = cast(Person, request.user)
        asked = dict(given.validated_data)
        share, width, hours, frame_cv = (asked.pop(key) for key in ("whole_share", "width", "hours", "frame_cv"))
        frame_cv = {id: cv for id, cv in frame_cv.items() if cv is not None}
        minutes = asked.pop("plot_minutes"), asked.pop("frame_minutes")
        length, gap, alley = (asked.pop(key) for key in ("length", "gap", "alley"))
        plan = PlanChoices(size=PlotSize(width or _ANY_WIDTH, length or 1, gap or 0, alley or 0), **asked)
        sketch = Sketch(plan, share, *minutes, hours, frame_cv, bool(width and length))
        found = outlook_of(by=person, season=season_of(request, id), sketch=sketch)
        return Response(outlook_shapes.OutlookOut(found).data)


class CarryOverView(APIView):
    @extend_schema(parameters=AT_SITE, responses=shapes.CarryOverOut)
    def get(self, request: Request, id: UUID) -> Response:
        """What the treatments have left on the plots: asked before another trial goes on there."""
        return Response(
            shapes.CarryOverOut(carry_over_of(by=cast(Person, request.user), season=season_of(request, id))).data
        )


class RehearsalsView(APIView):
    @extend_schema(parameters=AT_SITE, request=shapes.TruthIn, responses={202: JobOut})
    def post(self, request: Request, id: UUID) -> Response:
        """Invent seasons on the drawn map and read them as real ones are read, by a job. Nothing of them is kept."""
        given = shapes.TruthIn(data=request.data)
        given.is_valid(raise_exception=True)
        asked = dict(given.validated_data)
        try:
            margins = {UUID(key): value or 0.0 for key, value in asked.pop("margins").items()}
        except ValueError:
            raise Refused("bad-specification", "The truths must be given by the treatments' ids.") from None
        season = season_of(request, id)
        job = ask_to_rehearse(by=cast(Person, request.user), season=season, truth=Truth(margins, **asked))
        return Response(JobOut(job).data, status=status.HTTP_202_ACCEPTED)


class RehearsalView(APIView):
    @extend_schema(responses=shapes.RehearsalOut)
    def get(self, request: Request, id: UUID) -> Response:
        """What came of a rehearsal that is done, by its job's id."""
        done = Job.objects.visible_to(cast(Person, request.user)).filter(kind="rehearsal", state=JobState.DONE)
        return Response(shapes.RehearsalOut(get_object_or_404(done, id=id).result).data)
