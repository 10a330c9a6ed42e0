"""The rules of entries as one bundle of data, for devices that have to check values without a network.

A device evaluates the same formulas with the library of its own (`measures.expressions`); what it can't read surely
(a unit typed along, thousands parted) it leaves to the server. `tests/rules/entries.json` holds what both must answer.
"""

from __future__ import annotations

import hashlib
import json
from dataclasses import asdict, dataclass
from functools import lru_cache
from typing import Any

from apercu_core.errors import Refused
from apercu_core.measures.catalogue import CATALOGUE
from apercu_core.measures.entries import MESSAGES, made_factor, unit_of_field
from apercu_core.measures.expressions import NO_VALUE
from apercu_core.measures.ranges import Ranges
from apercu_core.measures.sheet import Settings, Sheet
from apercu_core.measures.sheets import SHEETS
from apercu_core.measures.standing import RULES as STANDING
from apercu_core.units import System, shown_in

FORMAT = 2
"""Of the bundle; it changes with what devices have to understand, not with each sheet."""
PLAIN_NUMBER = r"^[-+−]?(\d+([.,]\d+)?|[.,]\d+)$"
"""Numbers that every device reads as the server does; a comma is a decimal one."""


@lru_cache(maxsize=1)
def bundle() -> dict[str, Any]:
    """`hash`: SHA-256 over all the rest, by which a device knows whether it has these rules."""
    rules = {
        "format": FORMAT,
        "number": PLAIN_NUMBER,
        "messages": {**MESSAGES, "no_value": NO_VALUE},
        "sheets": [asdict(sheet) for sheet in SHEETS.values()],
        "standing": STANDING,
        "measures": [{k: v for k, v in asdict(one).items() if k != "example"} for one in CATALOGUE.values()],
    }
    rules = json.loads(json.dumps(rules))
    return {**rules, "hash": hashlib.sha256(json.dumps(rules, sort_keys=True).encode()).hexdigest()}


@dataclass(frozen=True, slots=True)
class ShownUnit:
    """`factor`: from the stored unit to this one."""

    unit: str
    factor: float


@dataclass(frozen=True, slots=True)
class DeviceRules:
    """What a device needs beside the bundle to check entries of one measure. `hash`: of the bundle that it goes with;
    `made`: factor from what the sheet makes to the stored unit, None where only the server can say; `shown`: how values
    are shown, and `fields` each field; `plausible`, `possible`: in the stored unit; `own`: the sheet itself where it
    isn't one of the bundle.
    """

    hash: str
    sheet: str
    settings: dict[str, float]
    made: float | None
    shown: ShownUnit
    fields: dict[str, ShownUnit]
    plausible: tuple[float, float] | None
    possible: tuple[float, float] | None
    own: Sheet | None = None


def for_device(sheet: Sheet, settings: Settings, unit: str, system: System, ranges: Ranges) -> DeviceRules:
    """`unit`: the measure's, in which values are stored; `system`: the person's."""
    try:
        made = made_factor(sheet, unit, settings)
    except Refused:
        made = None
    return DeviceRules(
        bundle()["hash"], sheet.key, dict(settings), made,
        ShownUnit(*shown_in(unit, system, settings.get("bushel") or 0.0)),
        {field.key: ShownUnit(*shown_in(unit_of_field(field, unit), system)) for field in sheet.fields},
        ranges.plausible, ranges.possible, sheet if sheet.key not in SHEETS else None,
    )  # fmt: skip
