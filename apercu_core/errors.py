"""Why the core declines: one exception with a stable code and a sentence for people."""

from __future__ import annotations

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
]


class Refused(ValueError):
    """The core can't give an honest answer. `code` is for programs, the text says what, where and what to do."""

    def __init__(self, code: Code, message: str) -> None:
        super().__init__(message)
        self.code = code
        self.message = message
