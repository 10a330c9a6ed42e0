"""How far a job is, and that it isn't wanted any more."""

from __future__ import annotations

from typing import Any, cast
from uuid import UUID

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from crew.models import Person
from jobs.models import Job, JobState
from jobs.running import stop


class JobPlaceOut(serializers.Serializer[Any]):
    where = serializers.CharField()
    what = serializers.CharField()


class JobErrorOut(serializers.Serializer[Any]):
    code = serializers.CharField()
    detail = serializers.CharField()
    errors = JobPlaceOut(many=True)  # type: ignore[assignment]


class JobOut(serializers.Serializer[Any]):
    id = serializers.UUIDField()
    kind = serializers.CharField()
    state = serializers.ChoiceField(choices=JobState.choices)
    done = serializers.IntegerField()
    of = serializers.IntegerField(help_text="Steps in all; 0 while nobody knows.")
    by = serializers.CharField(source="by.name")
    error = JobErrorOut(allow_null=True)


class JobView(APIView):
    @extend_schema(responses=JobOut)
    def get(self, request: Request, id: UUID) -> Response:
        """How far the job is, and what went wrong."""
        return Response(JobOut(_job(request, id)).data)

    @extend_schema(responses=JobOut)
    def delete(self, request: Request, id: UUID) -> Response:
        """Stop it; nothing of it is kept."""
        return Response(JobOut(stop(by=cast(Person, request.user), job=_job(request, id))).data)


def _job(request: Request, id: UUID) -> Job:
    found: Job = get_object_or_404(Job.objects.visible_to(cast(Person, request.user)).select_related("by"), id=id)
    return found
