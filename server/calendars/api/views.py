"""A person's calendar feeds, and the feeds themselves, which calendar programs read without signing in."""

from __future__ import annotations

from typing import Any, cast
from uuid import UUID

from django.conf import settings
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from calendars.feed import calendar_of, feed_at, make_feed, token_of
from calendars.models import CalendarFeed
from config.files import AnyFile
from crew.models import Person
from trials.models import Trial


class CalendarIn(serializers.Serializer[Any]):
    trial = serializers.UUIDField(allow_null=True, default=None, help_text="None: over all trials.")


class CalendarOut(serializers.Serializer[Any]):
    id = serializers.UUIDField()
    trial = serializers.UUIDField(source="trial_id", allow_null=True)
    address = serializers.SerializerMethodField(help_text="Private: whoever has it may read the calendar.")

    def get_address(self, feed: CalendarFeed) -> str:
        origin = settings.ORIGINS[0] if settings.ORIGINS else ""
        return f"{origin}/api/v1/calendars/{token_of(feed)}.ics"


class CalendarsOut(serializers.Serializer[Any]):
    feeds = CalendarOut(many=True)


def _own(request: Request) -> Any:
    """Of trials that the person still sees."""
    person = cast(Person, request.user)
    seen = Trial.objects.visible_to(person)
    mine = CalendarFeed.objects.filter(person=person)
    return (mine.filter(trial=None) | mine.filter(trial__in=seen)).order_by("made_at", "id")


class CalendarsView(APIView):
    @extend_schema(responses=CalendarsOut)
    def get(self, request: Request) -> Response:
        """The signed-in person's calendar feeds, with their private addresses."""
        return Response(CalendarsOut({"feeds": _own(request)}).data)

    @extend_schema(request=CalendarIn, responses=CalendarsOut)
    def post(self, request: Request) -> Response:
        """Make a feed over all trials, or of one; where there is one, it stays."""
        given = CalendarIn(data=request.data)
        given.is_valid(raise_exception=True)
        person, trial = cast(Person, request.user), None
        if given.validated_data["trial"] is not None:
            trial = get_object_or_404(Trial.objects.visible_to(person), pk=given.validated_data["trial"])
        make_feed(person=person, trial=trial)
        return Response(CalendarsOut({"feeds": _own(request)}).data)


class CalendarView(APIView):
    @extend_schema(responses=CalendarsOut)
    def delete(self, request: Request, id: UUID) -> Response:
        """Remove a feed: its address stops working at once."""
        get_object_or_404(CalendarFeed, pk=id, person=cast(Person, request.user)).delete()
        return Response(CalendarsOut({"feeds": _own(request)}).data)


class FeedView(APIView):
    authentication_classes = ()
    permission_classes = (AllowAny,)
    content_negotiation_class = AnyFile

    @extend_schema(responses={(200, "text/calendar"): OpenApiTypes.BINARY}, auth=[])
    def get(self, request: Request, token: str) -> HttpResponse:
        """What is due, as iCalendar. The address is the only key, and works until its feed is removed."""
        feed = feed_at(token)
        if feed is None:
            raise Http404("There is no such calendar.")
        answer = HttpResponse(calendar_of(feed), content_type="text/calendar; charset=utf-8")
        answer["Content-Disposition"] = 'inline; filename="apercu.ics"'
        answer["Cache-Control"] = "private, max-age=600"
        return answer
