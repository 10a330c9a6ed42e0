"""One value of a plot where its measure was taken at several visits: the last one's, their mean or their sum."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Literal, get_args

from apercu_core.words import day_said

OverVisits = Literal["last", "mean", "sum"]
RULES: tuple[OverVisits, ...] = get_args(OverVisits)
Samples = Mapping[str, Sequence[float | None]]
"""Plot → its samples at a visit; no entry: nothing is recorded there; None: missing, with a reason."""


@dataclass(frozen=True, slots=True)
class VisitValues:
    """What a measure has at one visit. `key`: of the visit; `day`: on which it was walked, if that is known."""

    key: str
    name: str
    day: date | None
    samples: Samples


@dataclass(frozen=True, slots=True)
class Combined:
    """`used`: keys of the visits that the values come from; `taken`: how many each value adds up or averages."""

    samples: dict[str, list[float | None]]
    used: tuple[str, ...]
    said: str
    day: date | None

    @property
    def taken(self) -> int:
        return len(self.used)


def over_visits(rule: OverVisits, visits: Sequence[VisitValues]) -> Combined:
    """`visits`: with something recorded, oldest first, at least one.

    Only whole visits count, in which every plot has a value or a reason that has any at some visit. Where none is
    whole, the last value is that of the fullest, and all are added up or averaged. A plot that is missing at one of the
    visits that are added up or averaged is missing: a sum over fewer visits would be less by that alone.
    """
    plots = {label for visit in visits for label, values in visit.samples.items() if values}
    whole = [visit for visit in visits if all(visit.samples.get(label) for label in plots)]
    used = whole or list(visits)
    if rule == "last":
        used = [max(reversed(used), key=lambda visit: sum(bool(values) for values in visit.samples.values()))]
    samples = {label: _joined(rule, [visit.samples.get(label, ()) for visit in used]) for label in sorted(plots)}
    return Combined(
        samples, tuple(visit.key for visit in used), _said(rule, used, len(visits), bool(whole)), used[-1].day
    )


def _joined(rule: OverVisits, found: Sequence[Sequence[float | None]]) -> list[float | None]:
    if rule == "last" or len(found) == 1:
        return list(found[-1])
    known = [[value for value in values if value is not None] for values in found]
    if not all(known):
        return [None] if any(found) else []
    divided = len(known) if rule == "mean" else 1
    if len({len(values) for values in known}) == 1:
        return [sum(values) / divided for values in zip(*known, strict=True)]
    return [sum(sum(values) / len(values) for values in known) / divided]


def _said(rule: OverVisits, used: Sequence[VisitValues], of: int, whole: bool) -> str:
    """How the value comes about, for a heading; of one visit alone its name."""
    if of == 1:
        return used[0].name
    if rule == "last" or len(used) == 1:
        return f"{used[-1].name}, the {'last whole' if whole else 'fullest'} one of {of} visits"
    days = [visit.day for visit in used if visit.day is not None]
    span = f", {day_said(days[0])} to {day_said(days[-1])}" if len(days) > 1 else ""
    return f"{'Mean' if rule == 'mean' else 'Sum'} of {len(used)} visits{span}"
