"""Which stages a plant has."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from apercu_core.errors import Place, Refused
from apercu_core.species.crops import crop_named
from apercu_core.species.record import Species
from apercu_core.stages import tables
from apercu_core.words import listed


@dataclass(frozen=True, slots=True)
class Stage:
    """`code`: BBCH. `older`: the figure of the older cereal scale, empty where there is none."""

    code: int
    seen: str
    older: str = ""

    @property
    def name(self) -> str:
        return f"BBCH {self.code:02d}"


@dataclass(frozen=True, slots=True)
class StageScale:
    """`stages`: in the order of their codes."""

    key: str
    stages: tuple[Stage, ...]

    def stage(self, code: int) -> Stage | None:
        return next((one for one in self.stages if one.code == code), None)


def _read(table: str) -> tuple[Stage, ...]:
    rows = [[part.strip() for part in line.split("|")] for line in table.strip().split("\n")]
    return tuple(Stage(int(code), seen, older) for code, seen, older in rows)


SCALES: Mapping[str, StageScale] = {
    key: StageScale(key, _read(table))
    for key, table in (
        ("cereal", tables.CEREAL), ("pulse", tables.PULSE), ("clover", tables.CLOVER), ("brassica", tables.BRASSICA),
        ("broadleaf", tables.BROADLEAF), ("potato", tables.POTATO), ("beet", tables.BEET), ("bulb", tables.BULB),
        ("maize", tables.MAIZE),
    )
}  # fmt: skip
OLDER_SCALE = "Large 1954"
_BY_FAMILY = {"Poaceae": "cereal", "Brassicaceae": "brassica"}
_PULSES = ("Pisum", "Vicia", "Lathyrus", "Lupinus", "Vigna", "Lablab", "Mucuna", "Cajanus", "Crotalaria")
_BY_CROP = {
    "maize": "maize", "sorghum": "maize", "potato": "potato", "sugar beet": "beet", "beetroot": "beet",
    "onion": "bulb", "clovers": "clover", "lucerne": "clover",
}  # fmt: skip


def scale_of(species: Species) -> StageScale:
    """By family, legumes by genus; plants of other families have the general scale."""
    family = species.text("family")
    if family == "Fabaceae":
        pulse = species.text("botanical").split(" ")[0] in _PULSES
        return SCALES["pulse" if pulse else "clover"]
    return SCALES[_BY_FAMILY.get(family, "broadleaf")]


def scale_of_crop(name: str) -> StageScale | None:
    """Of a cash crop by its name, or the last word of it (`bulb onion`).

    None where it isn't known, or has no stages here (trees, vines).
    """
    crop = crop_named(name) or crop_named(name.strip().split(" ")[-1])
    if crop is None or crop.family in ("", "Vitaceae"):
        return None
    if crop.name in _BY_CROP:
        return SCALES[_BY_CROP[crop.name]]
    if crop.family == "Fabaceae":
        return SCALES["pulse"]
    return SCALES[_BY_FAMILY.get(crop.family, "broadleaf")]


def require_stage(scale: StageScale, code: int, plant: str) -> Stage:
    """Raises `Refused` for a stage that the plant doesn't have, with those near it."""
    found = scale.stage(code)
    if found is None:
        nearest = sorted(scale.stages, key=lambda one: abs(one.code - code))[:4]
        near = sorted(nearest, key=lambda one: one.code)
        what = (
            f"{plant} has no stage {code} here. The nearest are "
            f"{listed([f'{one.code} ({one.seen})' for one in near])}. Choose one of its stages."
        )
        raise Refused("bad-value", what, [Place("stage", what)])
    return found
