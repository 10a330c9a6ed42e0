"""Shapes of answers that are made from the core's dataclasses, so that no field is written down twice."""

from __future__ import annotations

from typing import Any

from drf_spectacular.drainage import set_override
from rest_framework.fields import Field
from rest_framework_dataclasses.serializers import DataclassSerializer


class Shape(DataclassSerializer[Any]):
    """Shows a dataclass: every field is there, whatever its default. `Meta.dataclass` names it and says what it is."""

    def __init_subclass__(cls, **kwargs: Any) -> None:
        super().__init_subclass__(**kwargs)
        named = cls.__dict__.get("Meta")
        cls.__doc__ = cls.__doc__ or (named.dataclass.__doc__ if named else None)
        # Two shapes may show one dataclass, so that the schema calls them by their own names.
        set_override(cls, "component_name", cls.__name__)

    def get_fields(self) -> dict[str, Field[Any, Any, Any, Any]]:
        fields: dict[str, Field[Any, Any, Any, Any]] = super().get_fields()
        for field in fields.values():
            field.required, field.read_only = False, True
        return fields

    @property
    def serializer_dataclass_field(self) -> type[Field[Any, Any, Any, Any]]:
        return Shape  # what is nested is shown in the same way
