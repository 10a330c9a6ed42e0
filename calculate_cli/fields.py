"""The fields of a case's input: there, of the right kind, and none that nobody asked for."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from datetime import date
from typing import Any

from apercu_core.agronomy.given import refuse
from apercu_core.errors import Refused


class Fields:
    """Reads one JSON object. `at`: the way to it from the input, for messages (`components.0`)."""

    def __init__(self, given: object, at: str = "") -> None:
        self._at = at
        if not isinstance(given, Mapping):
            raise refuse(at or "input", "this must be an object with the calculation’s fields.")
        self._given = given
        self._asked: set[str] = set()

    def _name(self, field: str) -> str:
        return f"{self._at}.{field}" if self._at else field

    def _value(self, field: str) -> Any:
        self._asked.add(field)
        if field not in self._given:
            raise refuse(self._name(field), "it is missing. Enter it.")
        return self._given[field]

    def has(self, field: str) -> bool:
        self._asked.add(field)
        return field in self._given

    def number(self, field: str) -> float:
        return _number(self._name(field), self._value(field))

    def number_or(self, field: str, default: float) -> float:
        return self.number(field) if self.has(field) else default

    def number_or_none(self, field: str) -> float | None:
        return self.number(field) if self.has(field) else None

    def truth_or(self, field: str, default: bool) -> bool:
        if not self.has(field):
            return default
        value = self._value(field)
        if not isinstance(value, bool):
            raise refuse(self._name(field), f"{value!r} is neither true nor false.")
        return value

    def text(self, field: str) -> str:
        value = self._value(field)
        if not isinstance(value, str):
            raise refuse(self._name(field), f"{value!r} is not a text.")
        return value

    def choice(self, field: str, choices: Sequence[str]) -> str:
        value = self.text(field)
        if value not in choices:
            raise refuse(self._name(field), f"“{value}” is not one of {', '.join(choices)}.")
        return value

    def listed(self, field: str) -> list[Any]:
        value = self._value(field)
        if not isinstance(value, list):
            raise refuse(self._name(field), "this must be a list.")
        return value

    def numbers(self, field: str) -> list[float]:
        return [_number(f"{self._name(field)}.{i}", one) for i, one in enumerate(self.listed(field))]

    def numbers_or_null(self, field: str) -> list[float | None]:
        given = self.listed(field)
        return [None if one is None else _number(f"{self._name(field)}.{i}", one) for i, one in enumerate(given)]

    def lists_of_numbers_or_null(self, field: str) -> list[list[float | None]]:
        found = []
        for i, one in enumerate(self.listed(field)):
            at = f"{self._name(field)}.{i}"
            if not isinstance(one, list):
                raise refuse(at, "this must be a list.")
            found.append([None if value is None else _number(f"{at}.{k}", value) for k, value in enumerate(one)])
        return found

    def lists_of_numbers(self, field: str) -> list[list[float]]:
        found: list[list[float]] = []
        for i, one in enumerate(self.lists_of_numbers_or_null(field)):
            if None in one:
                raise refuse(f"{self._name(field)}.{i}", "a value is missing. Enter each.")
            found.append([value for value in one if value is not None])
        return found

    def objects(self, field: str) -> list[Fields]:
        return [Fields(one, f"{self._name(field)}.{i}") for i, one in enumerate(self.listed(field))]

    def day(self, field: str) -> date:
        return _day(self._name(field), self.text(field))

    def by_day(self, field: str) -> dict[date, float | None]:
        value = self._value(field)
        if not isinstance(value, Mapping):
            raise refuse(self._name(field), "this must be an object of dates and values.")
        at = self._name(field)
        return {_day(at, day): None if one is None else _number(f"{at}.{day}", one) for day, one in value.items()}

    def nothing_else(self) -> None:
        """Refused where a field was given that the calculation doesn’t have: a slip of the pen would go unnoticed."""
        if unknown := sorted(set(self._given) - self._asked):
            raise refuse(
                self._name(unknown[0]), f"there is no such field. The fields are: {', '.join(sorted(self._asked))}."
            )


def _number(name: str, value: object) -> float:
    if isinstance(value, bool) or not isinstance(value, int | float):
        raise refuse(name, f"{value!r} is not a number.")
    try:
        number = float(value)
    except OverflowError:
        raise refuse(name, "this number is too large.") from None
    if not math.isfinite(number):
        raise refuse(name, f"{value!r} is not a number that can be used.")
    return number


def _day(name: str, text: object) -> date:
    try:
        if not isinstance(text, str) or len(text) != 10:
            raise ValueError
        return date.fromisoformat(text)
    except ValueError:
        raise refuse(name, f"{text!r} is not a date. Write it as 2030-09-25.") from None


def object_of(case: object) -> tuple[str, Fields]:
    """The calculation that a case asks for, and its input."""
    if not isinstance(case, Mapping):
        raise Refused("bad-value", "The case must be a JSON object with “calculation” and “input”.")
    name = case.get("calculation")
    if not isinstance(name, str):
        raise refuse("calculation", "it is missing. Name the calculation, such as seed_rate.")
    return name, Fields(case.get("input"))
