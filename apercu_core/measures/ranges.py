"""Where the values of a measure can lie."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from apercu_core.errors import Refused
from apercu_core.measures.catalogue import definition
from apercu_core.measures.definition import Definition
from apercu_core.measures.expressions import value_of
from apercu_core.measures.sheets import SHEETS
from apercu_core.units import factor_between, per_area_factor
from apercu_core.words import is_percentage

Ends = tuple[float, float]
MAY_PASS_100 = (
    "relative", "change", "difference", "of control", "of the control", "increase", "index", "ratio", "recovery",
    "dry basis",
)  # fmt: skip
"""Words in the name or unit of a percentage that isn't a part of a whole."""


@dataclass(frozen=True, slots=True)
class Ranges:
    """Of a value in the measure's unit: unusual outside `plausible`, refused outside `possible`; None: not known."""

    plausible: Ends | None = None
    possible: Ends | None = None


def ranges_of(catalogue: str, sheet: str, settings: Mapping[str, float], name: str, unit: str) -> Ranges:
    """From the catalogue where the measure is one of its; else what its kind is bounded by.

    `sheet`, `settings`: how its values are entered; a score goes from its lowest to its highest grade, and a percentage
    from 0 to 100 unless its name or unit says that it is a ratio.
    """
    shipped = definition(catalogue)
    if shipped and (factor := in_unit(shipped, unit, settings)):
        (low, high), (least, most) = shipped.plausible, shipped.possible
        return Ranges((low * factor, high * factor), (least * factor, most * factor))
    known = SHEETS[sheet] if sheet in SHEETS else SHEETS["figure"]
    if known.possible:
        low, high = (value_of(end, settings) for end in known.possible)
        return Ranges(None, (low, high))
    if known.key in ("figure", "readings") and is_part_of_whole(name, unit):
        return Ranges(None, (0.0, 100.0))
    return Ranges()


def in_unit(shipped: Definition, unit: str, settings: Mapping[str, float]) -> float | None:
    """The factor from the catalogue's unit of a measure to the one that it has here; None where they don't agree."""
    if unit == shipped.unit or not unit:
        return 1.0
    if shipped.kind == "count":
        return per_area_factor(unit)
    try:
        return factor_between(shipped.unit, unit, settings.get("bushel") or 0.0)
    except Refused:
        return None


def is_part_of_whole(name: str, unit: str) -> bool:
    """Whether a measure is a percentage from 0 to 100."""
    said = f"{name} {unit}".casefold()
    return is_percentage(unit) and not any(word in said for word in MAY_PASS_100)
