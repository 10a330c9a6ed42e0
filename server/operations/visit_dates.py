"""Visits whose dates follow an operation or a growth stage: planned in one act, and moved along."""

from __future__ import annotations

import uuid
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any

from django.db import transaction

from apercu_core.errors import Place, Refused
from apercu_core.measures.over_visits import OverVisits
from apercu_core.timing.chain import LONGEST_DAYS
from apercu_core.timing.expected import Expected
from apercu_core.triggers.expect import expect
from apercu_core.triggers.trigger import Trigger
from config.problems import Conflict
from crew.models import Person
from operations.forecasts import known_in, trigger_of
from operations.models import Operation
from operations.plants import plants_in, require_plant, season_with_plants
from records.models import Visit
from records.visits import SeriesDate, plan_visit_series
from trials.models import Season, TrialMeasure

MOST_VISITS = 60
"""In one act."""


@dataclass(frozen=True, slots=True)
class SeriesAsked:
    """Visits of the same measures: on `dates`, or `days` after the operation `after`, or when `plant` is at `stages`.

    `over_visits`: what the value of its measures is, where it isn't the usual.
    """

    name: str
    measures: Sequence[uuid.UUID]
    dates: Sequence[date] = ()
    after: uuid.UUID | None = None
    days: Sequence[int] = ()
    plant: str = ""
    stages: Sequence[int] = ()
    over_visits: OverVisits | None = None


def plan_series(*, by: Person, season: Season, id: uuid.UUID, asked: SeriesAsked) -> list[Visit]:
    """Raises `Refused` where no day is named, or what they follow isn't there."""
    dates = _dates(season, asked)
    if not dates:
        raise Refused("bad-value", "The visits have no dates. Say when they are.", [Place("dates", "Say when.")])
    if len(dates) > MOST_VISITS:
        raise Refused("bad-value", f"These are {len(dates)} visits. Plan at most {MOST_VISITS} in one act.")
    with transaction.atomic():
        made = plan_visit_series(by=by, season=season, id=id, measures=asked.measures, dates=dates)
        if asked.over_visits:
            _say_what_counts(season, asked.measures, asked.over_visits)
        follow_visits(season)
    return made


def _dates(season: Season, asked: SeriesAsked) -> list[SeriesDate]:
    name = asked.name.strip()
    if asked.after is not None:
        operation = season.operations.filter(pk=asked.after).first()
        if operation is None:
            what = "The operation that the visits follow isn’t there any more. Choose another, or give dates."
            raise Refused("bad-value", what, [Place("after", what)])
        if any(abs(days) > LONGEST_DAYS for days in asked.days):
            raise Refused("bad-value", f"Enter at most {LONGEST_DAYS} days.", [Place("days", "Fewer days.")])
        return [
            SeriesDate(f"{name}, day {days}", _after(operation, days), {"after": str(operation.pk), "days": days})
            for days in sorted(set(asked.days))
        ]
    if asked.stages:
        for code in asked.stages:
            require_plant(season, asked.plant, code, "plant")
        return [
            SeriesDate(
                f"{name}, stage {code}", None, {"trigger": {"kind": "stage", "value": code, "plant": asked.plant}}
            )
            for code in sorted(set(asked.stages))
        ]
    days = sorted(set(asked.dates))
    return [SeriesDate(f"{name} {n}" if len(days) > 1 else name, day) for n, day in enumerate(days, 1)]


def _after(operation: Operation, days: int) -> date | None:
    day = operation.done or operation.due
    return None if day is None else day + timedelta(days=days)


def _say_what_counts(season: Season, measures: Sequence[uuid.UUID], rule: OverVisits) -> None:
    own = TrialMeasure.objects.filter(trial=season.trial, pk__in=measures).exclude(over_visits=rule)
    if not own.exists():
        return
    if season.trial.seasons.exclude(results_opened_at=None).exists():
        raise Conflict(
            "The results were opened already, so what counts of several visits can’t be changed any more. "
            "Plan the visits without changing it."
        )
    for one in own:
        one.over_visits = rule
        one.save()


def follow_visits(season: Season) -> list[Visit]:
    """Move visits to where what they follow is expected now; those that were walked stay. Within a transaction."""
    waiting = list(season.visits.filter(date=None).exclude(timing=None))
    if not waiting:
        return []
    operations = {str(one.pk): one for one in season.operations.all()}
    known = None
    moved = []
    for visit in waiting:
        timing = visit.timing or {}
        if "trigger" in timing:
            known = known or known_in(season_with_plants(season.pk))
            due = _at_stage(season, trigger_of(timing["trigger"]), known).day
        else:
            operation = operations.get(timing["after"])
            due = visit.due if operation is None else _after(operation, timing["days"])
        if due != visit.due:
            visit.due = due
            moved.append(visit)
    Visit.objects.bulk_update(moved, ["due"])
    return moved


def _at_stage(season: Season, trigger: Trigger, known: Any) -> Expected:
    plant = plants_in(season).get(trigger.plant)
    treatments = [str(pk) for pk in plant.treatments] if plant else []
    return expect(trigger, known, treatments, None)


def hangs_on(visit: Visit, operations: Mapping[str, str]) -> str:
    """What its date follows, in words. `operations`: id → name."""
    if not visit.timing:
        return ""
    if "trigger" in visit.timing:
        return f"at stage {visit.timing['trigger']['value']}"
    days, name = visit.timing["days"], operations.get(visit.timing["after"], "")
    if not name:
        return ""
    return f"{abs(days)} {'day' if abs(days) == 1 else 'days'} {'before' if days < 0 else 'after'} {name}"
