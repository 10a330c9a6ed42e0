"""Dates of operations: set by a person, or so many days after another operation, as far as that chain goes."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date, timedelta

from apercu_core.errors import Place, Refused

LONGEST_DAYS = 1000
"""Between an operation and the one that it hangs on."""


@dataclass(frozen=True, slots=True)
class Planned:
    """An operation as planned. `day`: set by a person; `after`: key of the operation that it hangs on, with `days` from
    that one's day (below zero: before it). What is `done` stays where it is.
    """

    key: str
    name: str
    day: date | None = None
    after: str | None = None
    days: int = 0
    done: date | None = None


@dataclass(frozen=True, slots=True)
class Moved:
    """A date that moved along with another. `hangs_on`: names of what it hangs on, nearest first."""

    key: str
    before: date | None
    now: date | None
    hangs_on: tuple[str, ...]


def chain_of(key: str, plans: Mapping[str, Planned]) -> tuple[str, ...]:
    """Keys of what an operation hangs on, nearest first. Raises `Refused` where it hangs on itself."""
    out: list[str] = []
    at = plans[key].after
    while at is not None and at in plans:
        out.append(at)
        if at == key or out.count(at) > 1:
            names = " → ".join(plans[one].name for one in (key, *out))
            raise Refused(
                "bad-specification",
                f"These operations would wait for each other: {names}. Give one of them a date of its own.",
                [Place("after", "It would wait for itself.")],
            )
        at = plans[at].after
    return tuple(out)


def dates_of(plans: Iterable[Planned]) -> dict[str, date | None]:
    """Operation → its day: when it was done, else when it is due; None where the chain has no date.

    Raises `Refused` where operations wait for each other, or for one that isn't there.
    """
    known = {one.key: one for one in plans}
    found: dict[str, date | None] = {}
    for key, plan in known.items():
        if plan.after is not None and plan.after not in known:
            raise Refused(
                "bad-specification",
                f"{plan.name} waits for an operation that isn’t there. Choose another, or give it a date.",
                [Place("after", "This operation isn’t there.")],
            )
        if key not in found:
            for one in (*reversed(chain_of(key, known)), key):
                if one not in found:
                    found[one] = _day(known[one], found)
    return found


def _day(plan: Planned, found: Mapping[str, date | None]) -> date | None:
    if plan.done is not None:
        return plan.done
    if plan.after is None:
        return plan.day
    start = found.get(plan.after)
    return None if start is None else start + timedelta(days=plan.days)


def moved(before: Mapping[str, date | None], plans: Iterable[Planned]) -> tuple[Moved, ...]:
    """What has another date than before, with what it hangs on; operations that are new aren't among them."""
    known = {one.key: one for one in plans}
    now = dates_of(known.values())
    return tuple(
        Moved(key, before[key], day, tuple(known[one].name for one in chain_of(key, known)))
        for key, day in now.items()
        if key in before and before[key] != day
    )
