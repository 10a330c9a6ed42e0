"""Bringing tables, and correcting figures."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any, cast
from uuid import UUID

from django.http import Http404
from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from apercu_core.errors import Refused
from apercu_core.measures.entries import unit_of_field
from apercu_core.tables.assemble import assemble
from apercu_core.tables.likely_control import likely_control
from apercu_core.tables.proposal import Proposal
from apercu_core.tables.questions import answer_to
from apercu_core.units import System, shown_in
from crew.models import Person, Workspace
from records import bring
from records.api import serializers as shapes
from records.api.visits import as_typed
from records.entering import correct
from records.import_job import MOST_ROWS_AT_ONCE, ask_to_import
from records.models import Observation, Upload
from records.uploads import proposal_of, receive_table
from trials.actions import NewMeasure


def _person(request: Request) -> Person:
    return cast(Person, request.user)


def _upload(request: Request, id: UUID) -> Upload:
    own = Upload.objects.select_related("workspace").visible_to(_person(request))
    return get_object_or_404(own, id=id)


MOST_CELLS_SHOWN = 400


def _assembled_out(proposal: Proposal) -> dict[str, Any]:
    table = proposal.table
    shape: dict[str, Any] = {
        "odd": proposal.odd,
        "questions": [
            {**{name: getattr(q, name) for name in ("id", "about", "column", "lines", "why", "choices", "cells")},
             "answer": answer_to(q, proposal.answers) or ""}
            for q in proposal.questions
        ],
        "settled": not proposal.open,
        "read": [
            {
                "name": name, "unit": read.unit, "more": max(0, len(table.rows) - MOST_CELLS_SHOWN),
                "cells": [
                    {"line": line, "text": text, "value": value}
                    for line, text, value in list(zip(table.lines, table.column(name), read.values, strict=True))[
                        :MOST_CELLS_SHOWN
                    ]
                ],
            }
            for name, read in proposal.values.items()
        ],
    }  # fmt: skip
    try:
        made = assemble(proposal)
    except Refused as refusal:
        return {"refusal": refusal.message, "design": "", "plots": 0, "blocks": [], "treatments": [],
                "likely_control": "", "most_samples": 0, "gaps": 0, "measures": [], **shape}  # fmt: skip
    return {
        "refusal": "",
        "design": made.design,
        "plots": len(made.plots),
        "blocks": made.blocks,
        "treatments": made.treatments,
        "likely_control": likely_control(made.treatments),
        "most_samples": made.most_samples,
        "gaps": made.gaps,
        "measures": made.measures,
        **shape,
    }


def _described_out(described: Mapping[str, Any]) -> dict[str, Any]:
    return {**described, "beyond": len({plot for plot, _ in bring.reasons_of(described)})}


def _upload_out(upload: Upload, proposal: Proposal) -> Response:
    table = proposal.table
    shape = {
        "id": upload.id,
        "name": upload.name,
        "encoding": table.encoding,
        "separator": table.separator,
        "rows": len(table.rows),
        "columns": [replace(column, role=proposal.roles[column.name]) for column in proposal.columns],
        "described": upload.described and _described_out(upload.described),
        "proposed": _assembled_out(proposal),
    }
    return Response(shapes.UploadOut(shape).data, status=status.HTTP_201_CREATED)


class UploadsView(APIView):
    parser_classes = [MultiPartParser]

    @extend_schema(request={"multipart/form-data": shapes.UploadIn}, responses={201: shapes.UploadOut})
    def post(self, request: Request) -> Response:
        """Import a table: it is kept in a private place and its columns' roles are proposed."""
        file = request.FILES.get("file")
        if file is not None and file.size == 0:
            raise Refused(
                "not-a-table", "The file is empty. Export the table as CSV with a header line, and import that."
            )
        given = shapes.UploadIn(data=request.data)
        given.is_valid(raise_exception=True)
        own = Workspace.objects.visible_to(_person(request))
        workspace = get_object_or_404(own, id=given.validated_data["workspace"])
        upload, proposal = receive_table(by=_person(request), workspace=workspace, file=given.validated_data["file"])
        return _upload_out(upload, proposal)


class CheckView(APIView):
    @extend_schema(request=shapes.RolesIn, responses=shapes.AssembledOut)
    def post(self, request: Request, id: UUID) -> Response:
        """What the table would become with these roles and answers. Nothing is kept."""
        given = shapes.RolesIn(data=request.data)
        given.is_valid(raise_exception=True)
        data = given.validated_data
        proposal = proposal_of(_upload(request, id), data["roles"], data["answers"])
        return Response(shapes.AssembledOut(_assembled_out(proposal)).data)


class AcceptView(APIView):
    @extend_schema(request=shapes.AcceptIn, responses={201: shapes.AcceptedOut, 202: shapes.AcceptedOut})
    def post(self, request: Request, id: UUID) -> Response:
        """Make a trial of the table, by a job (202) where it is large. The same trial id again gives the same trial."""
        given = shapes.AcceptIn(data=request.data)
        given.is_valid(raise_exception=True)
        brought = _brought_of(given.validated_data)
        upload = Upload.objects.visible_to(_person(request)).select_related("workspace").filter(id=id).first()
        if upload is not None and upload.rows > MOST_ROWS_AT_ONCE:
            job = ask_to_import(by=_person(request), upload=upload, brought=brought)
            return Response(shapes.AcceptedOut({"trial": brought.id, "job": job.id}).data, status=202)
        try:
            trial = bring.accept(by=_person(request), upload=id, brought=brought)
        except Upload.DoesNotExist as error:
            raise Http404 from error
        return Response(shapes.AcceptedOut({"trial": trial.id, "job": None}).data, status=status.HTTP_201_CREATED)


def _brought_of(data: Mapping[str, Any]) -> bring.Brought:
    measures = [
        NewMeasure(m["column"], m["name"], m["unit"], m["margin"], m["margin_kind"], m["direction"], m["planned"])
        for m in data["measures"]
    ]
    return bring.Brought(
        data["id"], data["name"], data["roles"], data["answers"], data["control"], data["allocation"], measures,
        data["question"],
    )  # fmt: skip


def _observation(request: Request, id: UUID) -> Observation:
    own = Observation.objects.select_related("visit__season__trial__workspace", "unit", "version__measure")
    return get_object_or_404(own.visible_to(_person(request)), id=id)


class ObservationSheetView(APIView):
    @extend_schema(responses=shapes.ObservationOut)
    def get(self, request: Request, id: UUID) -> Response:
        """What was typed in a place, by the fields of its sheet, to be corrected there."""
        row = _observation(request, id)
        system = cast(System, _person(request).units)
        typed = as_typed(row, system)
        fields = [
            {"key": f.key, "name": f.name, "unit": shown_in(unit_of_field(f, row.version.unit), system)[0],
             "typed": typed.get(f.key, "")}
            for f in row.version.entry_sheet.fields
        ]  # fmt: skip
        return Response(shapes.ObservationOut({"id": row.id, "fields": fields}).data)


class ObservationView(APIView):
    @extend_schema(request=shapes.CorrectionIn, responses=shapes.CorrectionOut)
    def put(self, request: Request, id: UUID) -> Response:
        """Correct a value: a further row with the id that the client made, by the sheet's rules. Repeating it is
        harmless."""
        given = shapes.CorrectionIn(data=request.data)
        given.is_valid(raise_exception=True)
        data = given.validated_data
        outcome = correct(
            by=_person(request), old=_observation(request, data["replaces"]), id=id, fields=data["fields"],
            why=data["why"], confirmed=data["confirmed"],
        )  # fmt: skip
        if outcome.state == "refused":
            raise Refused("bad-value", outcome.message)
        return Response(shapes.CorrectionOut(outcome).data)
