"""Entries of a JSON object that are known: one that isn't is refused with the nearest that is."""

from __future__ import annotations

import difflib
from collections.abc import Iterable, Sequence

from apercu_core.errors import Code, Refused


def require_known(entries: Iterable[object], known: Sequence[str], what: str, code: Code = "bad-specification") -> None:
    """Raises `Refused` with `code` at the first entry that isn't known; `what` begins the sentence."""
    for entry in entries:
        if entry not in known:
            near = difflib.get_close_matches(str(entry), known, 1)
            hint = f" Did you mean {near[0]!r}?" if near else f" Known entries: {', '.join(known)}."
            raise Refused(code, f"{what} {entry!r}.{hint}")
