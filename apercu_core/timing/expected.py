"""When something is expected, between which days, and by what."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date, timedelta


@dataclass(frozen=True, slots=True)
class Expected:
    """`day` None: nobody can say yet, and `why` says what is missing. `early`, `late`: its range, None where open.

    `known`: it is so already, or a person has set it. `why`: what it hangs on, a sentence each.
    """

    day: date | None
    early: date | None = None
    late: date | None = None
    known: bool = False
    why: tuple[str, ...] = ()

    def later(self, days: int) -> Expected:
        """All of it moved by whole days."""

        def moved(day: date | None) -> date | None:
            return None if day is None else day + timedelta(days=days)

        return replace(self, day=moved(self.day), early=moved(self.early), late=moved(self.late))


def on(day: date) -> Expected:
    """A day that is set or past."""
    return Expected(day, day, day, known=True)


def unknown(why: str) -> Expected:
    return Expected(None, why=(why,))


def last_of(parts: list[Expected]) -> Expected:
    """When all of them have come: the latest of each; unknown as long as one is."""
    for part in parts:
        if part.day is None:
            return part
    ends = [part.late for part in parts]
    return Expected(
        max(part.day for part in parts if part.day),
        max((part.early for part in parts if part.early), default=None),
        None if None in ends else max(end for end in ends if end),
        all(part.known for part in parts),
        tuple(dict.fromkeys(why for part in parts for why in part.why)),
    )
