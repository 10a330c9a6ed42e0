"""Waiting times from labels and rules, as the person entered them, and what would fall into one."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Literal

from apercu_core.words import day_said

IntervalKind = Literal["reentry_hours", "preharvest_days", "plantback_days", "grazing_days", "manure_days"]
INTERVALS: Mapping[IntervalKind, tuple[str, tuple[str, ...]]] = {
    "reentry_hours": ("the plot is closed for entry", ("visit",)),
    "preharvest_days": ("the pre-harvest interval runs", ("harvest",)),
    "plantback_days": ("the plant-back interval runs", ("plant", "sow")),
    "grazing_days": ("the grazing interval runs", ("graze",)),
    "manure_days": ("the time between manure and harvest runs", ("harvest",)),
}
"""Kind → what is said meanwhile, and which work may not fall into it. The figures are always the person's."""
LONGEST_DAYS = 1500


@dataclass(frozen=True, slots=True)
class Applied:
    """Work that was done, or is planned, with its waiting times. `plots`: labels it concerns."""

    key: str
    name: str
    day: date
    plots: frozenset[str]
    waits: Mapping[IntervalKind, float]


@dataclass(frozen=True, slots=True)
class Later:
    """Work or a visit on a day. `what`: visit, harvest, plant, sow, graze."""

    key: str
    name: str
    what: str
    day: date
    plots: frozenset[str]


@dataclass(frozen=True, slots=True)
class Within:
    """`later` falls into a waiting time of `applied`, which ends on `until`: the first day on which it may be done."""

    later: str
    sentence: str
    until: date


def ends_on(applied: Applied, kind: IntervalKind) -> date:
    """The first day after the waiting time. Hours count as whole days, since the hour of the work isn't known."""
    wait = applied.waits[kind]
    return applied.day + timedelta(days=math.ceil(wait / 24) if kind == "reentry_hours" else math.ceil(wait))


def within(applied: Iterable[Applied], later: Iterable[Later]) -> tuple[Within, ...]:
    """Each piece of work that falls into a waiting time, once for each such time."""
    own = list(applied)
    found = []
    for one in later:
        for work in own:
            if work.key == one.key or not work.plots & one.plots:
                continue
            for kind, (said, whats) in INTERVALS.items():
                if kind not in work.waits or one.what not in whats:
                    continue
                until = ends_on(work, kind)
                if work.day <= one.day < until:
                    sentence = (
                        f"{one.name} on {day_said(one.day)} is too early: after {work.name} on {day_said(work.day)} "
                        f"{said}. It may be done from {day_said(until)} on."
                    )
                    found.append(Within(one.key, sentence, until))
    return tuple(found)


def closed_plots(applied: Iterable[Applied], today: date) -> dict[str, date]:
    """Plot label → the first day on which it may be entered again, of plots that are closed today."""
    found: dict[str, date] = {}
    for work in applied:
        if "reentry_hours" not in work.waits or work.day > today:
            continue
        until = ends_on(work, "reentry_hours")
        if today < until:
            for label in work.plots:
                found[label] = max(until, found.get(label, until))
    return found
