"""Which treatment of a table is likely the control, by its name. A person is shown it and decides."""

from __future__ import annotations

import re
from collections.abc import Iterable

_CALLED_SO = re.compile(
    r"\b(bare|control|check|untreated|fallow|stubble|none|no cover|kontrolle|brache|zero)\b", re.IGNORECASE
)


def likely_control(treatments: Iterable[str]) -> str:
    """The one treatment that is called like a control; empty where none is, or several are."""
    found = [name for name in treatments if _CALLED_SO.search(name)]
    return found[0] if len(found) == 1 else ""
