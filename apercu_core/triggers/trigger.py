"""A trigger as a person says it, checked."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal, get_args

from apercu_core.errors import Place, Refused

Kind = Literal["stage", "degree_days", "height", "biomass", "soil_temperature"]
KINDS: tuple[Kind, ...] = get_args(Kind)
UNITS: Mapping[Kind, str] = {
    "stage": "", "degree_days": "°C d", "height": "cm", "biomass": "kg/ha", "soil_temperature": "°C",
}  # fmt: skip
_POSSIBLE: Mapping[Kind, tuple[float, float]] = {
    "stage": (0, 99), "degree_days": (1, 6000), "height": (1, 500), "biomass": (10, 40000),
    "soil_temperature": (-5, 40),
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Trigger:
    """`value`: BBCH code, °C·d, cm, kg/ha or °C. `plant`: key of a stage's plant, as the trial calls it.

    `base_c`, `cap_c`: of degree days, which count from the day of the operation that it hangs on. `colder`, `days`: of
    soil temperature: at most instead of at least, and for how many days in a row.
    """

    kind: Kind
    value: float
    plant: str = ""
    base_c: float | None = None
    cap_c: float | None = None
    colder: bool = False
    days: int = 3


def require_possible(trigger: Trigger, *, has_start: bool) -> None:
    """Raises `Refused` with each thing that is wrong, at the field that it stands in."""
    places = []
    low, high = _POSSIBLE[trigger.kind]
    if not low <= trigger.value <= high:
        unit = UNITS[trigger.kind]
        places.append(Place("trigger.value", f"Enter a value from {low:g} to {high:g}{f' {unit}' if unit else ''}."))
    if trigger.kind == "stage" and not trigger.plant:
        places.append(Place("trigger.plant", "Choose the plant whose stage it is."))
    if trigger.kind == "degree_days":
        if trigger.base_c is None:
            places.append(Place("trigger.base_c", "Enter the base temperature above which degree days are counted."))
        elif trigger.cap_c is not None and trigger.cap_c <= trigger.base_c:
            places.append(Place("trigger.cap_c", "The cap has to lie above the base temperature."))
        if not has_start:
            places.append(
                Place("after", "Choose the operation from which degree days are counted, such as the sowing.")
            )
    if trigger.kind == "soil_temperature" and not 1 <= trigger.days <= 30:
        places.append(Place("trigger.days", "Enter 1 to 30 days in a row."))
    if places:
        raise Refused("bad-value", places[0].what, places)
