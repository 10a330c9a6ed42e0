"""Changes of the season's operations."""

from __future__ import annotations

import uuid
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal
from typing import Any

from django.db import transaction

from apercu_core.errors import Place, Refused
from apercu_core.timing.chain import LONGEST_DAYS, Moved, Planned, dates_of, moved
from config import clock
from config.client_ids import made_before
from config.turns import take_turns
from crew.models import Person
from crew.permissions import require
from operations.models import Operation, OperationKind
from trials.models import Season, Unit, UnitKind

ENDS_A_COVER = (OperationKind.KILL, OperationKind.ROLL, OperationKind.CRIMP)


@dataclass(frozen=True, slots=True)
class Done:
    """What is said of an operation beside its dates: how much, with what, who, how long, at what cost."""

    amount: str = ""
    machine: str = ""
    operator: str = ""
    hours: float | None = None
    cost: Decimal | None = None


@dataclass(frozen=True, slots=True)
class For:
    """What an operation is for: treatments, single plots by number, neither for the whole trial."""

    treatments: Sequence[uuid.UUID] = ()
    plots: Sequence[str] = ()


EVERYTHING, NOTHING = For(), Done()


@dataclass(frozen=True, slots=True)
class When:
    """`due`: set by a person; or `days` after another operation's day, before it below zero."""

    due: date | None = None
    after: uuid.UUID | None = None
    days: int = 0
    done: date | None = None


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
) -> Operation:  # fmt: skip
    """Plan an operation, or say that it was done; the same again is harmless, and the history keeps what was before.

    Operations that hang on it move with it. Raises `Refused` where operations would wait for each other.
    """
    require(by, "record", season)
    when = When(due, after, after_days, done)
    _require_possible(season, when)
    with transaction.atomic():
        take_turns(id)
        Season.objects.select_for_update(no_key=True).get(pk=season.pk)
        operation = made_before(Operation, id, season_id=season.id) or Operation(id=id, season=season)
        _fill(operation, by, kind, name, note, when, said)
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
            )
            for one in dates
        )  # fmt: skip


def _require_possible(season: Season, when: When) -> None:
    if when.due is None and when.done is None and when.after is None:
        raise Refused("bad-value", "The operation has no date. Say when it is due, or when it was done.")
    if when.done is not None and when.done > clock.today(season.site.time_zone):
        raise Refused("bad-value", f"{when.done.isoformat()} lies ahead. Give it as the day it is due, not as done.")
    if abs(when.days) > LONGEST_DAYS:
        what = f"Enter at most {LONGEST_DAYS} days."
        raise Refused("bad-value", what, [Place("after_days", what)])
    if when.after is not None and not season.operations.filter(id=when.after).exists():
        what = "The operation that it follows isn’t there any more. Choose another, or give a date."
        raise Refused("bad-value", what, [Place("after", what)])


def _fill(operation: Operation, by: Person, kind: str, name: str, note: str, when: When, said: Done) -> None:
    operation.kind, operation.name, operation.note, operation.by = kind, name.strip(), note.strip(), by
    operation.due, operation.done = when.due, when.done
    operation.after_id, operation.after_days = when.after, when.days if when.after else 0
    operation.amount, operation.machine = said.amount.strip(), said.machine.strip()
    operation.operator, operation.hours, operation.cost = said.operator.strip(), said.hours, said.cost


def _set_what_for(operation: Operation, season: Season, what_for: For) -> None:
    own = {t.id for t in season.trial.treatments.all()}
    if strange := [id for id in what_for.treatments if id not in own]:
        raise Refused("bad-value", f"Treatment {strange[0]} isn’t one of the trial’s. Open the page again.")
    units = list(Unit.objects.filter(season=season, kind=UnitKind.PLOT, label__in=list(what_for.plots)))
    if gone := sorted(set(what_for.plots) - {unit.label for unit in units}):
        what = f"There is no plot {gone[0]!r}. Choose from the map."
        raise Refused("bad-value", what, [Place("plots", what)])
    operation.treatments.set(season.trial.treatments.filter(id__in=list(what_for.treatments)))
    operation.plots.set(units)


def planned_in(season: Season) -> list[Planned]:
    return [
        Planned(
            str(one.id), one.name, None if one.after_id else one.due, str(one.after_id) if one.after_id else None,
            one.after_days, one.done,
        )
        for one in season.operations.all()
    ]  # fmt: skip


def follow(season: Season) -> tuple[Moved, ...]:
    """Move what hangs on other operations to where they are now, and say what moved. Within a transaction."""
    there: Mapping[str, Any] = {str(one.id): one for one in season.operations.all()}
    plans = planned_in(season)
    found = dates_of(plans)
    before = {key: one.done or one.due for key, one in there.items()}
    changed = moved(before, plans)
    for key, day in found.items():
        one = there[key]
        if one.after_id and one.due != day and one.done is None:
            one.due = day
            one.save(update_fields=["due"])
    return changed


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
