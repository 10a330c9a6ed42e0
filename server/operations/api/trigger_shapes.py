"""Triggers and closings as they are sent and shown, in the reader's units."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from rest_framework import serializers

from apercu_core.amounts import parse_temperature, shown_number, shown_temperature, stored_amount, temperature_unit
from apercu_core.errors import Refused
from apercu_core.triggers.trigger import KINDS, UNITS, Trigger
from apercu_core.units import System, parse_quantity, shown_in
from config.typed_number import TypedAmount, TypedWhole
from operations.actions import CLOSES_BY_DATE

CLOSING_KINDS = (*CLOSES_BY_DATE, *KINDS)


class TriggerIn(serializers.Serializer[Any]):
    """`value`: a stage's BBCH code, or an amount as typed."""

    kind = serializers.ChoiceField(choices=KINDS)
    value = TypedAmount()
    plant = serializers.CharField(max_length=120, allow_blank=True, default="")
    base = TypedAmount()
    cap = TypedAmount()
    colder = serializers.BooleanField(default=False)
    days = TypedWhole(default=3)


class ClosingIn(TriggerIn):
    """When it is too late: a `day`, `days_after` another operation, or a trigger."""

    kind = serializers.ChoiceField(choices=CLOSING_KINDS)
    day = serializers.DateField(allow_null=True, default=None)
    operation = serializers.UUIDField(allow_null=True, default=None)
    days_after = TypedWhole(default=0)


class TriggerOut(serializers.Serializer[Any]):
    kind = serializers.ChoiceField(choices=KINDS)
    value = serializers.FloatField()
    unit = serializers.CharField(allow_blank=True)
    plant = serializers.CharField(allow_blank=True)
    base = serializers.FloatField(allow_null=True)
    cap = serializers.FloatField(allow_null=True)
    colder = serializers.BooleanField()
    days = serializers.IntegerField()
    said = serializers.CharField(help_text="The trigger in words.")


class ClosingOut(TriggerOut):
    kind = serializers.ChoiceField(choices=CLOSING_KINDS)
    day = serializers.DateField(allow_null=True)
    operation = serializers.UUIDField(allow_null=True)
    days_after = serializers.IntegerField()


def read_trigger(data: Mapping[str, Any], system: System, where: str = "trigger") -> Trigger:
    """Raises a validation error at the field that can't be read."""
    kind = data["kind"]
    faults: dict[str, list[str]] = {}

    def temperature(name: str) -> float | None:
        if not data[name].strip():
            return None
        try:
            return parse_temperature(data[name], system)
        except Refused as refusal:
            faults[name] = [refusal.message]
            return None

    value = 0.0
    try:
        if kind == "soil_temperature":
            value = parse_temperature(data["value"], system)
        elif kind == "degree_days":
            value = parse_quantity(data["value"], "") / _degrees(system)
        else:
            shown, factor = shown_in(UNITS[kind], system)
            value = stored_amount(parse_quantity(data["value"], shown), factor)
    except Refused as refusal:
        faults["value"] = [refusal.message]
    if kind == "stage" and value % 1:
        faults["value"] = ["Enter a stage of the scale, without decimals."]
    trigger = Trigger(
        kind, value, data["plant"], temperature("base"), temperature("cap"), data["colder"], data["days"] or 0
    )
    if faults:
        raise serializers.ValidationError({where: faults})
    return trigger


def _degrees(system: System) -> float:
    return 1.0 if system == "metric" else 1.8


def read_closing(data: Mapping[str, Any] | None, system: System) -> dict[str, Any] | None:
    """A closing as it is kept; None: it stays open."""
    if data is None:
        return None
    operation = str(data["operation"]) if data["operation"] else None
    if data["kind"] == "day":
        if data["day"] is None:
            raise serializers.ValidationError({"closes": {"day": ["Enter the last day."]}})
        return {"kind": "day", "day": data["day"].isoformat()}
    if data["kind"] == "after":
        if operation is None:
            raise serializers.ValidationError({"closes": {"operation": ["Choose the operation."]}})
        return {"kind": "after", "operation": operation, "days_after": data["days_after"] or 0}
    trigger = read_trigger(data, system, "closes")
    return {**{name: getattr(trigger, name) for name in Trigger.__slots__}, "operation": operation}


def shown_trigger(said: Mapping[str, Any] | None, names: Mapping[str, str], system: System) -> dict[str, Any] | None:
    """`names`: plant → how people call it."""
    if said is None:
        return None
    kind = said["kind"]
    by_date = kind in CLOSES_BY_DATE
    value = 0.0 if by_date else _shown_value(kind, said["value"], system)
    unit = "" if by_date else _unit(kind, system)

    def warm(name: str) -> float | None:
        stored = said.get(name)
        return None if stored is None else shown_temperature(stored, system)

    return {
        "kind": kind, "value": value, "unit": unit, "plant": said.get("plant", ""), "base": warm("base_c"),
        "cap": warm("cap_c"), "colder": said.get("colder", False), "days": said.get("days", 3),
        "day": said.get("day"), "operation": said.get("operation"), "days_after": said.get("days_after", 0),
        "said": "" if by_date else _in_words(said, value, unit, warm("base_c"), names, system),
    }  # fmt: skip


def trigger_units(system: System) -> dict[str, str]:
    """In which each kind's amount is typed, and temperatures."""
    area = shown_in("ha", system)[0]
    return {
        "temperature": temperature_unit(system),
        "area": area,
        **{kind: _unit(kind, system) for kind in KINDS if UNITS[kind]},
    }


def _unit(kind: Any, system: System) -> str:
    if kind == "soil_temperature":
        return temperature_unit(system)
    if kind == "degree_days":
        return f"{temperature_unit(system)} d"
    return shown_in(UNITS[kind], system)[0]


def _shown_value(kind: Any, value: float, system: System) -> float:
    if kind == "soil_temperature":
        return shown_temperature(value, system)
    if kind == "degree_days":
        return shown_number(value, _degrees(system))
    return shown_number(value, shown_in(UNITS[kind], system)[1])


def _in_words(
    said: Mapping[str, Any], value: float, unit: str, base: float | None, names: Mapping[str, str], system: System
) -> str:
    match said["kind"]:
        case "stage":
            plant = said["plant"]
            return f"{names.get(plant, plant.removeprefix('crop:'))} at stage {value:g}"
        case "degree_days":
            return f"{value:g} {unit} above {base:g} {temperature_unit(system)}"
        case "height":
            return f"height {value:g} {unit}"
        case "biomass":
            return f"biomass {value:g} {unit}"
        case _:
            limit = "at most" if said.get("colder") else "at least"
            return f"soil {limit} {value:g} {unit} for {said.get('days', 3)} days"
