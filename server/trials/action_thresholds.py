"""The value of a measure from which on something is to be done."""

from __future__ import annotations

import math
from typing import cast

from apercu_core.errors import Refused
from apercu_core.units import System, parse_quantity
from crew.models import Person
from crew.permissions import require
from trials.models import TrialMeasure


def keep_action_threshold(*, by: Person, measure: TrialMeasure, typed: str) -> TrialMeasure:
    """Keep it as it was typed in the person's units; empty: there is none. Raises `Refused` for what is no number."""
    require(by, "record", measure)
    unit, factor = measure.version.shown_in(cast(System, by.units))
    value = parse_quantity(typed, unit) / factor if typed.strip() else None
    if value is not None and not math.isfinite(value):
        raise Refused("bad-value", f"“{typed.strip()[:40]}” isn’t a number. Type one number, for example 12.5.")
    measure.action_threshold = value
    measure.save(update_fields=["action_threshold"])
    return measure
