"""What the launcher prints while it works."""

from __future__ import annotations

import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager


def say(text: str = "") -> None:
    print(text, flush=True)


def warn(text: str) -> None:
    print(text, file=sys.stderr, flush=True)


@contextmanager
def step(text: str) -> Iterator[None]:
    """Say what is being done, and how long it took."""
    print(f"  · {text} … ", end="", flush=True)
    start = time.monotonic()
    try:
        yield
    except BaseException:
        say("stopped")
        raise
    say(f"done ({time.monotonic() - start:.1f} s)")
