"""Photographs, to be looked at by those who may see their trial."""

from __future__ import annotations

from typing import cast
from uuid import UUID

from django.db.models.fields.files import FieldFile
from django.http import FileResponse, Http404
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.views import APIView

from config.files import AnyFile
from crew.models import Person
from photographs.models import Photograph

_FILE = {(200, "image/jpeg"): OpenApiTypes.BINARY}


def _own(request: Request, id: UUID) -> Photograph:
    return get_object_or_404(Photograph.objects.visible_to(cast(Person, request.user)), pk=id)


def _answer(file: FieldFile) -> FileResponse:
    try:
        answer = FileResponse(file.open("rb"), content_type="image/jpeg")
    except FileNotFoundError:
        raise Http404("The photograph’s file isn’t on the server any more.") from None
    answer["Cache-Control"] = "private, max-age=31536000, immutable"
    return answer


class PhotographView(APIView):
    content_negotiation_class = AnyFile

    @extend_schema(responses=_FILE)
    def get(self, request: Request, id: UUID) -> FileResponse:
        """The photograph, upright, as JPEG."""
        return _answer(_own(request, id).file)


class PreviewView(APIView):
    content_negotiation_class = AnyFile

    @extend_schema(responses=_FILE)
    def get(self, request: Request, id: UUID) -> FileResponse:
        """A small picture of it."""
        return _answer(_own(request, id).preview)
