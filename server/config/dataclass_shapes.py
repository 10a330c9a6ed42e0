"""Shapes of answers that are made from the core's dataclasses, so that no field is written down twice."""

from __future__ import annotations

from typing import Any

from rest_framework.fields import Field
from rest_framework_dataclasses.serializers import DataclassSerializer


class Shape(DataclassSerializer[Any]):
    """Shows a dataclass: every field is there, whatever its default. `Meta.dataclass` names it."""

    def get_fields(self) -> dict[str, Field[Any, Any, Any, Any]]:
        fields: dict[str, Field[Any, Any, Any, Any]] = super().get_fields()
        for field in fields.values():
            field.required, field.read_only = False, True
        return fields

    @property
    def serializer_dataclass_field(self) -> type[Field[Any, Any, Any, Any]]:
        return Shape  # what is nested is shown in the same way
