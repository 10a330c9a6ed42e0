"""Logs that don't grow for ever: a full one is copied away and emptied, and the oldest copy goes."""

from __future__ import annotations

import shutil
from pathlib import Path

MOST_BYTES = 10_000_000
KEPT = 5


def rotate(log: Path, most: int = MOST_BYTES, kept: int = KEPT) -> None:
    """`web.log` becomes `web.log.1`, that becomes `web.log.2`, up to `kept`.

    The file itself stays, since running processes write at its end; what they write while it is copied can be lost.
    """
    if not log.exists() or log.stat().st_size <= most:
        return
    copies = [log.with_name(f"{log.name}.{n}") for n in range(1, kept + 1)]
    for older, newer in zip(reversed(copies), reversed(copies[:-1]), strict=False):
        if newer.exists():
            newer.replace(older)
    shutil.copy2(log, copies[0])
    with log.open("r+b") as file:
        file.truncate(0)
