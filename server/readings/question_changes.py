"""What was changed in the questions after results were opened: each change with who, when and why."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime
from itertools import pairwise
from typing import Any

from apercu_core.words import difference_unit, number, with_unit
from trials.models import TrialMeasure

_FIELDS = ("margin", "direction", "primary", "control_id", "own_controls", "planned", "planned_for")
_DIRECTIONS = {"higher": "more is wanted", "lower": "less is wanted", "none": "neither is wanted"}


@dataclass(frozen=True, slots=True)
class Change:
    """`said`: as a doubt prints it."""

    field: str
    said: str


def question_changes(
    measures: Iterable[TrialMeasure], names: Mapping[str, str], opened: datetime
) -> dict[str, tuple[Change, ...]]:
    """Measure id → changes since results were opened, in their order. `names`: of treatments, by id."""
    out = {}
    for measure in measures:
        history = list(measure.history.select_related("history_user").order_by("history_date", "history_id"))
        found = []
        for before, after in pairwise(history):
            if after.history_date <= opened:
                continue
            for field in _FIELDS:
                then, now = (_value(row, field, measure.version.unit, names) for row in (before, after))
                if then != now:
                    name = {"control_id": "control", "own_controls": "compared with", "planned_for": "planned for"}.get(
                        field, field
                    )
                    found.append(Change(field, f"{name}: {then} became {now} ({_signed(after)})"))
        if found:
            out[str(measure.id)] = tuple(found)
    return out


def _value(row: Any, field: str, unit: str, names: Mapping[str, str]) -> str:
    """A field of the history in words."""
    value = getattr(row, field)
    match field:
        case "margin":
            if value is None:
                return "no margin"
            return f"{number(value)} %" if row.margin_kind == "percent" else with_unit(value, difference_unit(unit))
        case "direction":
            return _DIRECTIONS[value]
        case "primary":
            return "decides the question" if value else "doesn’t decide the question"
        case "control_id":
            return names.get(str(value), "the trial’s control") if value else "the trial’s control"
        case "own_controls":
            return str(value.get("said", "")) or "one control for all"
        case "planned":
            return "no planned test" if value == "none" else f"planned {value} test"
        case _:
            planned = (names.get(str(one.treatment_id), "?") for one in value.all())
            return ", ".join(planned) or "all treatments"


def _signed(row: Any) -> str:
    who = row.history_user.name if row.history_user else "unknown"
    why = row.history_change_reason or "no reason given"
    return f"{who}, {row.history_date.date().isoformat()}: {why}"
