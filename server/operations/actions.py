"""Changes of the season's operations."""

from __future__ import annotations

import uuid
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, field
from datetime import date
from decimal import Decimal
from typing import Any

from django.db import transaction

from apercu_core.agronomy.grazing import grazing
from apercu_core.agronomy.nutrients import nutrients_per_ha
from apercu_core.errors import Place, Refused
from apercu_core.timing.chain import LONGEST_DAYS, Moved, expectations, moved
from apercu_core.timing.expected import Expected
from apercu_core.triggers.trigger import Trigger, require_possible
from config import clock
from config.client_ids import made_before
from config.turns import take_turns
from crew.models import Person
from crew.permissions import require
from operations.forecasts import CLOSING, planned_of, trigger_of
from operations.models import GrowthStage, Operation, OperationKind
from operations.plants import require_plant, season_with_plants
from operations.visit_dates import follow_visits
from trials.models import Season, Unit, UnitKind

ENDS_A_COVER = (OperationKind.KILL, OperationKind.ROLL, OperationKind.CRIMP)


@dataclass(frozen=True, slots=True)
class Done:
    """What is said of an operation beside its dates: how much, with what, who, how long, at what cost.

    `intervals`: waiting times of the label; `grazing`, `lot`: what the core's calculations take;
    `planting`: depth in cm, shares in %.
    """

    amount: str = ""
    machine: str = ""
    setting: str = ""
    exempt_quadrats: str = ""
    intervals: Mapping[str, float] = field(default_factory=dict)
    grazing: Mapping[str, Any] | None = None
    lot: Mapping[str, Any] | None = None
    planting: Mapping[str, Any] | None = None
    operator: str = ""
    hours: float | None = None
    cost: Decimal | None = None


@dataclass(frozen=True, slots=True)
class For:
    """What an operation is for: treatments, plots by number, or neither for the whole trial; without the `exempt`.

    `zones`: of each of these plots, by name; none: all of it.
    """

    treatments: Sequence[uuid.UUID] = ()
    plots: Sequence[str] = ()
    exempt: Sequence[str] = ()
    zones: Sequence[str] = ()


EVERYTHING, NOTHING = For(), Done()


@dataclass(frozen=True, slots=True)
class When:
    """`due`: set by a person; or `days` after another operation's day, before it below zero; or a `trigger`, which may
    count from that operation. `closes`: when it is too late, as `read_closing` makes it.
    """

    due: date | None = None
    after: uuid.UUID | None = None
    days: int = 0
    done: date | None = None
    trigger: Trigger | None = None
    closes: Mapping[str, Any] | None = None


@dataclass(frozen=True, slots=True)
class KillDate:
    """One date of a trial whose treatments are ended at different times."""

    id: uuid.UUID
    name: str
    when: When
    treatments: Sequence[uuid.UUID] = field(default=())


def keep_operation(
    *, by: Person, season: Season, id: uuid.UUID, kind: str, name: str, due: date | None, done: date | None, note: str,
    after: uuid.UUID | None = None, after_days: int = 0, what_for: For = EVERYTHING, said: Done = NOTHING,
    trigger: Trigger | None = None, closes: Mapping[str, Any] | None = None,
) -> Operation:  # fmt: skip
    """Plan an operation, or say that it was done; the same again is harmless, and the history keeps what was before.

    Operations that hang on it move with it. Raises `Refused` where operations would wait for each other.
    """
    require(by, "record", season)
    when = When(due, after, after_days, done, trigger, closes)
    _require_possible(season, when)
    require_said(said)
    with transaction.atomic():
        take_turns(id)
        Season.objects.select_for_update(no_key=True).get(pk=season.pk)
        operation = made_before(Operation, id, season_id=season.id) or Operation(id=id, season=season)
        _fill(operation, by, kind, name, note, when, said)
        operation.zones = _zones(season, what_for.zones)
        operation.save()
        _set_what_for(operation, season, what_for)
        _require_in_order(season, {str(id), *(one.key for one in follow(season))})
        operation.refresh_from_db()
    return operation


def mark_done(*, by: Person, operation: Operation, day: date) -> None:
    """Say that an operation was done, and leave everything else of it as it is. Within a transaction."""
    require(by, "record", operation.season)
    operation.done, operation.by = day, by
    operation.save()
    follow(operation.season)


def keep_kill_dates(*, by: Person, season: Season, dates: Sequence[KillDate]) -> tuple[Operation, ...]:
    """Plan the ends of the covers in one act, each treatment at its own date; all of them or none."""
    require(by, "record", season)
    twice = [t for one in dates for t in one.treatments]
    if len(set(twice)) < len(twice):
        raise Refused(
            "bad-value",
            "A treatment has two dates. Give each treatment one.",
            [Place("dates", "Give each treatment one date.")],
        )
    with transaction.atomic():
        return tuple(
            keep_operation(
                by=by, season=season, id=one.id, kind=OperationKind.KILL, name=one.name, due=one.when.due, done=None,
                note="", after=one.when.after, after_days=one.when.days, what_for=For(one.treatments),
                trigger=one.when.trigger, closes=one.when.closes,
            )
            for one in dates
        )  # fmt: skip


def _require_possible(season: Season, when: When) -> None:
    if when.due is None and when.done is None and when.after is None and when.trigger is None:
        raise Refused("bad-value", "The operation has no date. Say when it is due, or when it was done.")
    if when.done is not None and when.done > clock.today(season.site.time_zone):
        raise Refused("bad-value", f"{when.done.isoformat()} lies ahead. Give it as the day it is due, not as done.")
    if abs(when.days) > LONGEST_DAYS:
        what = f"Enter at most {LONGEST_DAYS} days."
        raise Refused("bad-value", what, [Place("after_days", what)])
    for where, one in (("after", when.after), ("closes.operation", (when.closes or {}).get("operation"))):
        if one is not None and not season.operations.filter(id=one).exists():
            what = "The operation that it follows isn’t there any more. Choose another, or give a date."
            raise Refused("bad-value", what, [Place(where, what)])
    if when.trigger is not None:
        require_trigger(season, when.trigger, has_start=when.after is not None)
    if when.closes is not None and when.closes["kind"] not in CLOSES_BY_DATE:
        require_trigger(season, trigger_of(dict(when.closes)), bool(when.closes.get("operation")), "closes")


def require_said(said: Done) -> None:
    """Raises `Refused` for grazing and lots that can't be worked out."""
    if said.grazing:
        grazing(**said.grazing)
    if said.lot:
        nutrients_per_ha(said.lot["rate"], said.lot["rate_unit"], said.lot["analysis"])


CLOSES_BY_DATE = ("day", "after")


def require_trigger(season: Season, trigger: Trigger, has_start: bool, where: str = "trigger") -> None:
    """Raises `Refused` for what can't be: also a stage that the plant doesn't have."""
    try:
        require_possible(trigger, has_start=has_start)
    except Refused as refusal:
        places = [Place(place.where.replace("trigger", where, 1), place.what) for place in refusal.places]
        raise Refused("bad-value", refusal.message, places) from None
    if trigger.kind == "stage":
        require_plant(season, trigger.plant, int(trigger.value), f"{where}.plant")


def _fill(operation: Operation, by: Person, kind: str, name: str, note: str, when: When, said: Done) -> None:
    operation.kind, operation.name, operation.note, operation.by = kind, name.strip(), note.strip(), by
    operation.due, operation.done = when.due, when.done
    operation.after_id, operation.after_days = when.after, when.days if when.after and not when.trigger else 0
    operation.trigger = asdict(when.trigger) if when.trigger else None
    operation.closes = dict(when.closes) if when.closes else None
    operation.amount, operation.machine = said.amount.strip(), said.machine.strip()
    operation.operator, operation.hours, operation.cost = said.operator.strip(), said.hours, said.cost
    operation.setting, operation.exempt_quadrats = said.setting.strip(), said.exempt_quadrats.strip()
    operation.intervals, operation.lot = dict(said.intervals), dict(said.lot) if said.lot else None
    operation.grazing = dict(said.grazing) if said.grazing else None
    operation.planting = dict(said.planting) if said.planting else None


def _set_what_for(operation: Operation, season: Season, what_for: For) -> None:
    own = {t.id for t in season.trial.treatments.all()}
    if strange := [id for id in what_for.treatments if id not in own]:
        raise Refused("bad-value", f"Treatment {strange[0]} isn’t one of the trial’s. Open the page again.")
    operation.treatments.set(season.trial.treatments.filter(id__in=list(what_for.treatments)))
    operation.plots.set(_plots(season, what_for.plots, "plots"))
    operation.exempt.set(_plots(season, what_for.exempt, "exempt"))


def _zones(season: Season, names: Sequence[str]) -> list[str]:
    own = [str(one["name"]) for one in season.zones]
    if gone := sorted(set(names) - set(own)):
        what = f"There is no zone {gone[0]!r} in the plots. Choose from the list."
        raise Refused("bad-value", what, [Place("zones", what)])
    return [name for name in own if name in set(names)]


def _plots(season: Season, labels: Sequence[str], where: str) -> list[Unit]:
    units = list(Unit.objects.filter(season=season, kind=UnitKind.PLOT, label__in=list(labels))) if labels else []
    if gone := sorted(set(labels) - {unit.label for unit in units}):
        what = f"There is no plot {gone[0]!r}. Choose from the map."
        raise Refused("bad-value", what, [Place(where, what)])
    return units


def follow(season: Season) -> tuple[Moved, ...]:
    """Move what hangs on other operations, on stages, measurements or weather to where it is expected now, and say what
    moved. Within a transaction.
    """
    Season.objects.select_for_update(no_key=True).get(pk=season.pk)  # one follower at a time
    fresh = season_with_plants(season.pk)
    there = {str(one.id): one for one in fresh.operations.all()}
    plans = planned_of(fresh, there.values())
    found = expectations(plans)
    before = {key: one.done or one.due for key, one in there.items()}
    changed = [one for key, one in there.items() if _take(one, found[key], found.get(f"{CLOSING}{key}"))]
    Operation.objects.bulk_update(changed, FORECAST)
    follow_visits(fresh)
    return moved(before, [one for one in plans if one.key in there])


FORECAST = ("due", "early", "late", "why", "closes_day", "closes_early", "closes_why")
"""Fields that are worked out."""


def _take(operation: Operation, expected: Expected, closing: Expected | None) -> bool:
    """Put in what is expected; whether anything changed. What was done keeps the last that was expected of it."""
    if operation.done is not None:
        return False
    was = [getattr(operation, name) for name in FORECAST]
    if operation.after_id or operation.trigger:
        operation.due, operation.early, operation.late = expected.day, expected.early, expected.late
        operation.why = list(expected.why)
    else:
        operation.early, operation.late, operation.why = None, None, []
    operation.closes_day = closing.day if closing else None
    operation.closes_early = closing.early if closing else None
    operation.closes_why = list(closing.why) if closing else []
    return was != [getattr(operation, name) for name in FORECAST]


def keep_stage(
    *, by: Person, season: Season, id: uuid.UUID, treatment: uuid.UUID, plant: str, code: int, day: date,
    plots: Sequence[str] = (), note: str = "",
) -> GrowthStage:  # fmt: skip
    """A stage that somebody saw in a treatment, or in some plots of it; forecasts start anew from it.

    Raises `Refused` for a stage that the plant doesn't have, a day ahead, and plots of other treatments.
    """
    require(by, "record", season)
    found = require_plant(season, plant, code, "plant")
    if treatment not in found.treatments:
        what = f"This treatment has no {found.name}."
        raise Refused("bad-value", what, [Place("plant", what)])
    if day > clock.today(season.site.time_zone):
        what = "This day lies ahead. Enter the day on which the stage was seen."
        raise Refused("bad-value", what, [Place("day", what)])
    units = list(season.units.filter(kind=UnitKind.PLOT, label__in=list(plots), treatment=treatment))
    if gone := sorted(set(plots) - {unit.label for unit in units}):
        what = f"Plot {gone[0]!r} isn’t one of this treatment."
        raise Refused("bad-value", what, [Place("plots", what)])
    with transaction.atomic():
        take_turns(id)
        Season.objects.select_for_update(no_key=True).get(pk=season.pk)
        stage = made_before(GrowthStage, id, season_id=season.id) or GrowthStage(id=id, season=season)
        stage.treatment_id, stage.plant, stage.code, stage.day = treatment, plant, code, day
        stage.note, stage.by = note.strip(), by
        stage.save()
        stage.plots.set(units)
        follow(season)
    return stage


def forget_stage(*, by: Person, stage: GrowthStage) -> None:
    """Remove a stage that was entered by mistake; the history keeps it."""
    require(by, "record", stage.season)
    with transaction.atomic():
        season = Season.objects.select_for_update(no_key=True).get(pk=stage.season_id)
        stage.delete()
        follow(season)


def _require_in_order(season: Season, touched: set[str]) -> None:
    """No cover is ended before it was sown; of the pairs of which one was changed or has moved."""
    there = season.operations.exclude(done=None, due=None).prefetch_related("treatments")
    dated = [(one, day, {t.id for t in one.treatments.all()}) for one in there if (day := one.done or one.due)]
    for end, day, own in dated:
        for sown, start, its in dated:
            pair = end.kind in ENDS_A_COVER and sown.kind == OperationKind.SOW
            meet = not its or not own or its & own
            if pair and meet and day < start and {str(end.id), str(sown.id)} & touched:
                what = (
                    f"“{end.name}” on {day.isoformat()} would lie before the sowing “{sown.name}” on "
                    f"{start.isoformat()}. Check both dates."
                )
                raise Refused("bad-value", what, [Place("done" if end.done else "due", what)])
