"""Dates of operations: set by a person, so many days after another one, or by what is seen and forecast."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field
from datetime import date

from apercu_core.errors import Place, Refused
from apercu_core.timing.expected import Expected, on, unknown

LONGEST_DAYS = 1000
"""Between an operation and the one that it hangs on."""


@dataclass(frozen=True, slots=True)
class Planned:
    """An operation as planned. `day`: set by a person; `after`: key of the operation that it hangs on, with `days` from
    that one's day (below zero: before it). `rule`: what says the day instead, given when the operation that it hangs on
    is expected, or None where it hangs on none. What is `done` stays where it is.
    """

    key: str
    name: str
    day: date | None = None
    after: str | None = None
    days: int = 0
    done: date | None = None
    rule: Callable[[Expected | None], Expected] | None = field(default=None, compare=False)


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


def expectations(plans: Iterable[Planned]) -> dict[str, Expected]:
    """Operation → when it was done, else when it is expected, with its range.

    Raises `Refused` where operations wait for each other, or for one that isn't there.
    """
    known = {one.key: one for one in plans}
    found: dict[str, Expected] = {}
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
                    found[one] = _expected(known[one], found)
    return found


def dates_of(plans: Iterable[Planned]) -> dict[str, date | None]:
    """The same without ranges; None where nobody can say."""
    return {key: expected.day for key, expected in expectations(plans).items()}


def _expected(plan: Planned, found: Mapping[str, Expected]) -> Expected:
    if plan.done is not None:
        return on(plan.done)
    start = None if plan.after is None else found.get(plan.after)
    if plan.rule is not None:
        return plan.rule(start)
    if plan.after is None:
        return on(plan.day) if plan.day is not None else unknown("It has no date.")
    return unknown("What it follows has no date.") if start is None or start.day is None else start.later(plan.days)


def moved(before: Mapping[str, date | None], plans: Iterable[Planned]) -> tuple[Moved, ...]:
    """What has another date than before, with what it hangs on; operations that are new aren't among them."""
    known = {one.key: one for one in plans}
    now = dates_of(known.values())
    return tuple(
        Moved(key, before[key], day, tuple(known[one].name for one in chain_of(key, known)))
        for key, day in now.items()
        if key in before and before[key] != day
    )
