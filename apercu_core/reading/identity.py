"""What a reading was made of, as one hash: two readings with the same one can't differ in anything."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping, Sequence
from dataclasses import fields, is_dataclass
from datetime import date
from typing import Any

from apercu_core import __version__
from apercu_core.reading.asked import How, Recorded, in_force
from apercu_core.statistics.specification import Design
from apercu_core.trial.facts import TrialFacts


def identity_of(trial: TrialFacts, design: Design, measures: Sequence[Recorded], how: How, base: str) -> str:
    """SHA-256 over everything that `read_trial` is given, and the version that reads it.

    Keys are sorted and numbers written so that they read back the same, so the order of a mapping or the way that a
    number was stored doesn't matter.
    """
    given = [__version__, trial, design, list(measures), in_force(how, design, trial.plots), base]
    return hashlib.sha256(json.dumps(_plain(given), sort_keys=True, allow_nan=True).encode()).hexdigest()


def _plain(value: Any) -> Any:
    """Values as JSON has them; mappings with keys that aren't text as sorted pairs."""
    if is_dataclass(value) and not isinstance(value, type):
        return {field.name: _plain(getattr(value, field.name)) for field in fields(value)}
    if isinstance(value, Mapping):
        return sorted([json.dumps(_plain(key)), _plain(own)] for key, own in value.items())
    if isinstance(value, list | tuple):
        return [_plain(one) for one in value]
    if isinstance(value, set | frozenset):
        return sorted(json.dumps(_plain(one)) for one in value)
    if isinstance(value, bool | str) or value is None:
        return value
    if isinstance(value, date):
        return value.isoformat()
    return repr(float(value))
