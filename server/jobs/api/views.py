"""How far a job is, and that it isn't wanted any more."""

from __future__ import annotations

from typing import Any, cast
from uuid import UUID

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from apercu_core.errors import Place
from config.dataclass_shapes import Shape
from config.files import AnyFile
from crew.models import Person
from jobs.models import Job, JobFile, JobState
from jobs.running import stop


class JobPlaceOut(Shape):
    class Meta:
        dataclass = Place


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
    has_file = serializers.SerializerMethodField(help_text="Whether it made a file that can be fetched.")

    def get_has_file(self, job: Job) -> bool:
        return JobFile.objects.filter(job=job).exists()


class JobView(APIView):
    @extend_schema(responses=JobOut)
    def get(self, request: Request, id: UUID) -> Response:
        """How far the job is, and what went wrong."""
        return Response(JobOut(_job(request, id)).data)

    @extend_schema(responses=JobOut)
    def delete(self, request: Request, id: UUID) -> Response:
        """Stop it. What would be saved isn't; a rehearsal keeps the seasons that it has read."""
        return Response(JobOut(stop(by=cast(Person, request.user), job=_job(request, id))).data)


class JobFileView(APIView):
    content_negotiation_class = AnyFile

    @extend_schema(responses={(200, "application/octet-stream"): OpenApiTypes.BINARY})
    def get(self, request: Request, id: UUID) -> HttpResponse:
        """The file that the job made; it is kept for a day."""
        made = get_object_or_404(JobFile, job=_job(request, id))
        answer = HttpResponse(bytes(made.content), content_type=made.media)
        answer["Content-Disposition"] = f'attachment; filename="{made.name}"'
        answer["Cache-Control"] = "private, no-store"
        return answer


def _job(request: Request, id: UUID) -> Job:
    found: Job = get_object_or_404(Job.objects.visible_to(cast(Person, request.user)).select_related("by"), id=id)
    return found
