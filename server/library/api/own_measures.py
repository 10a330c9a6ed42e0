"""Measures that people make themselves: their shapes, the workspace's list, and a try before one is kept."""

from __future__ import annotations

from typing import Any, cast
from uuid import UUID

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from apercu_core.errors import Refused
from apercu_core.measures.entries import evaluate, unit_of_field
from apercu_core.measures.over_visits import RULES
from apercu_core.measures.own import (
    OWN_FIELD_KINDS,
    OWN_KINDS,
    OwnField,
    OwnMeasure,
    OwnNumber,
    grades_from,
    grades_said,
    own_sheet,
)
from apercu_core.measures.own_checks import require_own
from apercu_core.measures.parts import PART_KINDS
from apercu_core.measures.settings import settings_for
from apercu_core.units import System, shown_in
from apercu_core.words import number
from config.typed_number import TypedNumber, TypedWhole
from crew.models import Person, Workspace
from library.actions import own_measures


class OwnFieldShape(serializers.Serializer[Any]):
    """`grades`: of a choice, one in each line, with the number that each counts as; numbers as typed or as kept."""

    name = serializers.CharField(max_length=60)
    kind = serializers.ChoiceField(choices=OWN_FIELD_KINDS, default="number")
    unit = serializers.CharField(max_length=40, allow_blank=True, default="")
    least = TypedNumber(allow_null=True, default=None)
    most = TypedNumber(allow_null=True, default=None)
    grades = serializers.CharField(max_length=2000, allow_blank=True, default="")
    optional = serializers.BooleanField(default=False)

    def validate_grades(self, text: str) -> str:
        try:
            grades_from(text)
        except Refused as refusal:
            raise serializers.ValidationError(refusal.message) from None
        return text

    def to_representation(self, field: OwnField) -> dict[str, Any]:
        return {
            "name": field.name, "kind": field.kind, "unit": field.unit, "least": field.least, "most": field.most,
            "grades": grades_said(field.grades), "optional": field.optional,
        }  # fmt: skip


class OwnNumberShape(serializers.Serializer[Any]):
    name = serializers.CharField(max_length=60)
    value = TypedNumber()
    unit = serializers.CharField(max_length=40, allow_blank=True, default="")


class OwnMeasureShape(serializers.Serializer[Any]):
    """A measure with a sheet of its own. Ends of what is usual and possible are in the measure's unit, as kept."""

    kind = serializers.ChoiceField(choices=OWN_KINDS, default="continuous")
    fields = serializers.ListField(child=OwnFieldShape(), max_length=12)  # type: ignore[assignment]
    numbers = serializers.ListField(child=OwnNumberShape(), max_length=12, default=list)
    formula = serializers.CharField(max_length=300, allow_blank=True, default="")
    parts = serializers.ChoiceField(choices=PART_KINDS, allow_blank=True, default="")
    samples = TypedWhole(default=1, least=1, most=24)
    usual_from = TypedNumber(allow_null=True, default=None)
    usual_to = TypedNumber(allow_null=True, default=None)
    possible_from = TypedNumber(allow_null=True, default=None)
    possible_to = TypedNumber(allow_null=True, default=None)
    over_visits = serializers.ChoiceField(choices=RULES, default="last")
    zero_when_failed = serializers.BooleanField(default=False)

    def to_internal_value(self, data: Any) -> OwnMeasure:
        given: dict[str, Any] = super().to_internal_value(data)
        ends: dict[str, tuple[float, float] | None] = {}
        for key, low, high in (("plausible", "usual_from", "usual_to"), ("possible", "possible_from", "possible_to")):
            low_end, high_end = given.pop(low), given.pop(high)
            if (low_end is None) != (high_end is None):
                raise serializers.ValidationError({high if high_end is None else low: "Type both ends, or none."})
            ends[key] = None if low_end is None else (low_end, high_end)
        fields = tuple(OwnField(**{**one, "grades": grades_from(one["grades"])}) for one in given.pop("fields"))
        return OwnMeasure(
            fields=fields, numbers=tuple(OwnNumber(**one) for one in given.pop("numbers")),
            plausible=ends["plausible"], possible=ends["possible"], **given,
        )  # fmt: skip

    def to_representation(self, own: OwnMeasure) -> dict[str, Any]:
        usual, possible = own.plausible or (None, None), own.possible or (None, None)
        return {
            "kind": own.kind, "fields": [OwnFieldShape().to_representation(one) for one in own.fields],
            "numbers": [{"name": one.name, "value": one.value, "unit": one.unit} for one in own.numbers],
            "formula": own.formula, "parts": own.parts, "samples": own.samples,
            "usual_from": usual[0], "usual_to": usual[1], "possible_from": possible[0], "possible_to": possible[1],
            "over_visits": own.over_visits, "zero_when_failed": own.zero_when_failed,
        }  # fmt: skip


class OwnMeasureLine(serializers.Serializer[Any]):
    """The newest version of a measure that the workspace made itself."""

    name = serializers.CharField(source="measure.name")
    unit = serializers.CharField()
    own = OwnMeasureShape(source="own_measure")


class OwnMeasuresView(APIView):
    @extend_schema(responses=OwnMeasureLine(many=True))
    def get(self, request: Request, id: UUID) -> Response:
        """Measures that the workspace made itself, to be taken in further trials."""
        workspace = get_object_or_404(Workspace.objects.visible_to(cast(Person, request.user)), id=id)
        return Response(OwnMeasureLine(own_measures(workspace), many=True).data)


class TriedIn(serializers.Serializer[Any]):
    """`typed`: field's key → as in a plot; without any, only the measure itself is checked."""

    name = serializers.CharField(max_length=120)
    unit = serializers.CharField(max_length=40, allow_blank=True)
    own = OwnMeasureShape()
    typed = serializers.DictField(child=serializers.CharField(max_length=80, allow_blank=True), default=dict)


class TriedField(serializers.Serializer[Any]):
    key = serializers.CharField()
    name = serializers.CharField()
    unit = serializers.CharField(allow_blank=True)
    kind = serializers.ChoiceField(choices=OWN_FIELD_KINDS)
    choices = serializers.ListField(child=serializers.CharField())


class TriedOut(serializers.Serializer[Any]):
    """What is typed in a plot and, where something was, the value that it makes; `message`: why it makes none, or what
    would be asked.
    """

    fields = TriedField(many=True)  # type: ignore[assignment]
    value = serializers.CharField(allow_blank=True)
    message = serializers.CharField(allow_blank=True)


class TryMeasureView(APIView):
    @extend_schema(request=TriedIn, responses=TriedOut)
    def post(self, request: Request) -> Response:
        """Check a measure before it is kept, and try it with an entry. Nothing is stored."""
        given = TriedIn(data=request.data)
        given.is_valid(raise_exception=True)
        data = given.validated_data
        return Response(tried(data["name"], data["unit"], data["own"], data["typed"], _system(request)))


def tried(name: str, unit: str, own: OwnMeasure, typed: dict[str, str], system: System) -> dict[str, Any]:
    own = require_own(own)
    sheet = own_sheet(own, name)
    fields = [
        {"key": f.key, "name": f.name, "unit": shown_in(unit_of_field(f, unit), system)[0], "kind": f.kind,
         "choices": f.choices} for f in sheet.fields
    ]  # fmt: skip
    shown, factor = shown_in(unit, system)
    value = message = ""
    if any(text.strip() for text in typed.values()):
        try:
            made = evaluate(
                sheet, typed, settings_for(sheet, {}), unit=unit, system=system, plausible=own.plausible,
                possible=own.possible,
            )  # fmt: skip
            assert made.value is not None  # the sheets of own measures have no end beyond which nothing is measured
            value, message = f"{number(made.value * factor)} {shown}".strip(), " ".join(made.questions)
        except Refused as refusal:
            message = refusal.message
    return {"fields": fields, "value": value, "message": message}


def _system(request: Request) -> System:
    return cast(System, cast(Person, request.user).units)
