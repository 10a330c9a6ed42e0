"""A number that a person typed: it reaches the server as text, and is read by the core's one reader."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from apercu_core.amounts import parse_temperature, shown_number, shown_temperature, stored_amount
from apercu_core.errors import Refused
from apercu_core.numbers import read_number
from apercu_core.units import parse_quantity, shown_in


@extend_schema_field({"type": "string"})
class TypedNumber(serializers.Field[float | None, Any, float | None, object]):
    """Text as typed in, a number out; empty text is None where `allow_null`.

    Numbers of JSON are taken as well, so that programs can send what they have.
    """

    default_error_messages = {
        "not-a-number": "“{typed}” isn’t a number. Type one number, for example 12.5.",
        "too-small": "{value:g} is too small: the least is {least:g}.",
        "too-large": "{value:g} is too large: the most is {most:g}.",
        "needed": "Type a number here.",
    }

    def __init__(self, *, least: float | None = None, most: float | None = None, **options: Any) -> None:
        super().__init__(**options)
        self.least, self.most = least, most

    def to_internal_value(self, data: Any) -> float | None:
        if isinstance(data, str) and not data.strip():
            if not self.allow_null:
                self.fail("needed")
            return None
        text = repr(data) if isinstance(data, int | float) and not isinstance(data, bool) else data
        value = read_number(text) if isinstance(text, str) else None
        if value is None:
            self.fail("not-a-number", typed=str(data)[:40])
        if self.least is not None and value < self.least:
            self.fail("too-small", value=value, least=self.least)
        if self.most is not None and value > self.most:
            self.fail("too-large", value=value, most=self.most)
        return value

    def to_representation(self, value: float | None) -> float | None:
        return value


class TypedUsual(TypedNumber):
    """A number out: the usual one where nothing is typed."""

    def __init__(self, usual: float, **options: Any) -> None:
        super().__init__(default=usual, **options)
        self.usual = usual

    def to_internal_value(self, data: Any) -> float | None:
        return self.usual if isinstance(data, str) and not data.strip() else super().to_internal_value(data)


@extend_schema_field({"oneOf": [{"type": "integer"}, {"type": "string"}]})
class TypedWhole(TypedNumber):
    """A whole number out."""

    def to_internal_value(self, data: Any) -> int | None:
        value = super().to_internal_value(data)
        if value is not None and value % 1:
            raise serializers.ValidationError(f"{value:g} isn’t a whole number. Type one without decimals.")
        return None if value is None else int(value)


@extend_schema_field({"oneOf": [{"type": "number"}, {"type": "string"}]})
class TypedLength(TypedNumber):
    """A length in metres out: text is in the person's unit, or in one of its own (`30 ft`).

    Numbers of JSON are metres.
    """

    default_error_messages = {
        "too-small": "{value:g} m is too small: the least is {least:g} m.",
        "too-large": "{value:g} m is too large: the most is {most:g} m.",
    }

    def to_internal_value(self, data: Any) -> float | None:
        if not isinstance(data, str) or not data.strip():
            return super().to_internal_value(data)
        unit, factor = shown_in("m", self.context["request"].user.units)
        try:
            value = stored_amount(parse_quantity(data, unit), factor)
        except Refused as refusal:
            raise serializers.ValidationError(refusal.message) from None
        return super().to_internal_value(value)


@extend_schema_field({"oneOf": [{"type": "number"}, {"type": "string"}]})
class TypedIn(TypedNumber):
    """An amount in `unit`, or a part of it, out: text is in the person's own unit for that, or in one that it names.

    Numbers of JSON are in the person's unit too, as they were shown. `per`: how many of `unit` one of what is kept is,
    such as 100 for metres that people type in centimetres.
    """

    def __init__(self, unit: str, *, per: float = 1, **options: Any) -> None:
        super().__init__(**options)
        self.unit, self.per = unit, per

    def _factor(self) -> float:
        return shown_in(self.unit, self.context["request"].user.units)[1] * self.per

    def to_internal_value(self, data: Any) -> float | None:
        if isinstance(data, str) and data.strip():
            shown = shown_in(self.unit, self.context["request"].user.units)[0]
            try:
                data = parse_quantity(data, shown)
            except Refused as refusal:
                raise serializers.ValidationError(refusal.message) from None
        value = super().to_internal_value(data)
        return None if value is None else stored_amount(value, self._factor())

    def to_representation(self, value: float | None) -> float | None:
        return None if value is None else shown_number(value, self._factor())


@extend_schema_field({"oneOf": [{"type": "number"}, {"type": "string"}]})
class TypedTemperature(TypedNumber):
    """°C kept, of a temperature in the person's unit or in one of its own; shown in the person's unit."""

    default_error_messages = {
        "too-small": "{value:g} °C is too low: the least is {least:g} °C.",
        "too-large": "{value:g} °C is too high: the most is {most:g} °C.",
    }

    def to_internal_value(self, data: Any) -> float | None:
        if isinstance(data, str) and not data.strip():
            return super().to_internal_value(data)
        try:
            value = parse_temperature(str(data), self.context["request"].user.units)
        except Refused as refusal:
            raise serializers.ValidationError(refusal.message) from None
        return super().to_internal_value(value)

    def to_representation(self, value: float | None) -> float | None:
        return None if value is None else shown_temperature(value, self.context["request"].user.units)


@extend_schema_field({"oneOf": [{"type": "number"}, {"type": "string"}, {"type": "null"}]})
class TypedAmount(serializers.Field[str, Any, Any, object]):
    """Text as typed in and out again, for an amount whose unit is known only with the rest; empty where nothing is."""

    default_error_messages = {"not-a-number": "Type one number, for example 12.5."}

    def __init__(self, **options: Any) -> None:
        super().__init__(default="", allow_null=True, **options)

    def run_validation(self, data: Any = serializers.empty) -> Any:
        return "" if data is None else super().run_validation(data)

    def to_internal_value(self, data: Any) -> str:
        if isinstance(data, bool) or not isinstance(data, str | int | float) or len(str(data)) > 400:
            self.fail("not-a-number")
        return data if isinstance(data, str) else repr(data)

    def to_representation(self, value: Any) -> Any:
        return value


@extend_schema_field({"oneOf": [{"type": "number"}, {"type": "string"}]})
class TypedOrShown(TypedNumber):
    """The same in shapes that are shown as well: a number out, text as typed in."""
