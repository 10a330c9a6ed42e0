"""Shapes of the season and of what is due."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from apercu_core.cautions import caution_for_visit
from config.etags import etag_of
from operations.models import Operation, OperationKind
from records.api.visit_shapes import ProgressOut
from records.visits import planned_of

DUE_KINDS = ("visit", "operation", "reading")
STATES = ("overdue", "due", "soon", "later", "begun", "done", "conflict")


class VisitMarkOut(serializers.Serializer[Any]):
    id = serializers.UUIDField(source="visit.id")
    etag = serializers.SerializerMethodField()
    name = serializers.CharField(source="visit.name")
    due = serializers.DateField(source="visit.due", allow_null=True)
    date = serializers.DateField(source="visit.date", allow_null=True)
    measures = serializers.SerializerMethodField()
    caution = serializers.SerializerMethodField()
    progress = ProgressOut()
    state = serializers.ChoiceField(choices=STATES)

    def get_etag(self, mark: Any) -> str:
        return etag_of(planned_of(mark.visit))

    def get_measures(self, mark: Any) -> list[str]:
        return [str(taken.measure_id) for taken in mark.visit.taken.all()]

    def get_caution(self, mark: Any) -> str:
        return caution_for_visit(taken.measure.version.catalogue for taken in mark.visit.taken.all())


class OperationIn(serializers.Serializer[Any]):
    kind = serializers.ChoiceField(choices=OperationKind.choices)
    name = serializers.CharField(max_length=120)
    due = serializers.DateField(allow_null=True, default=None)
    done = serializers.DateField(allow_null=True, default=None)
    note = serializers.CharField(max_length=500, allow_blank=True, default="")


class OperationMarkOut(serializers.Serializer[Any]):
    id = serializers.UUIDField(source="operation.id")
    etag = serializers.SerializerMethodField()
    kind = serializers.ChoiceField(choices=OperationKind.choices, source="operation.kind")
    name = serializers.CharField(source="operation.name")
    due = serializers.DateField(source="operation.due", allow_null=True)
    done = serializers.DateField(source="operation.done", allow_null=True)
    note = serializers.CharField(source="operation.note", allow_blank=True)
    caution = serializers.CharField(allow_blank=True)
    state = serializers.ChoiceField(choices=STATES)

    def get_etag(self, mark: Any) -> str:
        return etag_of(said_of(mark["operation"]))


def said_of(operation: Operation) -> dict[str, Any]:
    """What a save of an operation replaces."""
    return {name: getattr(operation, name) for name in ("kind", "name", "due", "done", "note")}


class SeasonOut(serializers.Serializer[Any]):
    """Visits and operations of a trial, each with its state today."""

    today = serializers.DateField()
    visits = VisitMarkOut(many=True)
    operations = OperationMarkOut(many=True)


class DueOut(serializers.Serializer[Any]):
    """One thing to do: a visit or an operation of a trial, or figures that nobody has read yet."""

    trial = serializers.UUIDField()
    site = serializers.UUIDField()
    trial_name = serializers.CharField()
    kind = serializers.ChoiceField(choices=DUE_KINDS)
    id = serializers.UUIDField()
    name = serializers.CharField()
    date = serializers.DateField(allow_null=True)
    state = serializers.ChoiceField(choices=STATES)
    done = serializers.IntegerField()
    of = serializers.IntegerField()


GROUPS = ("due", "begun", "new", "soon")


class TodayOut(serializers.Serializer[Any]):
    """Over all trials: what is due or overdue, what is half done, what is new to read, and what comes soon."""

    due = DueOut(many=True)
    begun = DueOut(many=True)
    new = DueOut(many=True)
    soon = DueOut(many=True)
    more = serializers.ListField(
        child=serializers.ChoiceField(choices=GROUPS), help_text="Of which there are more than are listed."
    )
