"""Why the core declines: one exception with a stable code and a sentence for people."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

Code = Literal[
    "not-built",
    "bad-specification",
    "missing-column",
    "bad-value",
    "too-few-plots",
    "no-replication",
    "no-variation",
    "not-balanced",
    "confounded",
    "bad-design",
    "not-a-table",
    "not-a-photograph",
]


@dataclass(frozen=True, slots=True)
class Place:
    """One of several things that are wrong: where it stands, and what it is."""

    where: str
    what: str


class Refused(ValueError):
    """The core can't give an honest answer. `code` is for programs, the text says what, where and what to do.

    `places`: each thing that is wrong, where there are several.
    """

    def __init__(self, code: Code, message: str, places: Sequence[Place] = ()) -> None:
        super().__init__(message)
        self.code = code
        self.message = message
        self.places = tuple(places)
