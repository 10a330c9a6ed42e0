"""The trial of the demo that is being planned: when to kill which cover, as a split plot."""

from __future__ import annotations

from datetime import date
from typing import Any

from apercu_core.design.machines import Machines

NAME = "When to kill covers before barley"
QUESTION = (
    "Compare early and late kill of three covers against bare stubble on barley yield, where a difference of at least "
    "0.5 t/ha would change what I do."
)
SITE: dict[str, Any] = {
    "name": "Far Twelve", "place": "Gull Farm, Harrow Fen", "time_zone": "Europe/London",
    "soil": "mineral silt over clay, drained 2019", "previous_crop": "bulb onion", "last_frost": "04-28",
    "first_frost": "10-22", "gradient": "slope falls to the drain in the east", "latitude": 52.7625,
    "longitude": 0.1211, "bearing_deg": 96.0,
}  # fmt: skip
FACTORS = (
    ("kill", ("early", "late"), True, "kill_timing"),
    ("cover", ("vetch", "black oat", "phacelia"), False, "species"),
)
CONTROL = "Bare stubble"
CODES = {
    "Bare stubble": "BS", "early, vetch": "EV", "early, black oat": "EO", "early, phacelia": "EP", "late, vetch": "LV",
    "late, black oat": "LO", "late, phacelia": "LP",
}  # fmt: skip
COVERS: dict[str, dict[str, Any]] = {
    "vetch": {"species": "common-vetch", "name": "Common vetch", "cultivar": "Dene", "rate": "70 kg/ha"},
    "black oat": {"species": "black-oat", "name": "Black oat", "cultivar": "Windle", "rate": "60 kg/ha"},
    "phacelia": {"species": "phacelia", "name": "Phacelia", "rate": "10 kg/ha"},
}  # fmt: skip
MACHINES = Machines(drill=3.0, sprayer=24.0, combine=2.0, row_spacing=0.125, rows_caught=6)
STARTS, ENDS = date(2027, 8, 18), date(2028, 8, 5)
SEED = 20261020
MEASURES: tuple[dict[str, Any], ...] = (
    {"name": "Barley yield", "unit": "t/ha", "catalogue": "grain-yield", "sheet": "moist-yield",
     "settings": {"standard": 14}, "margin": 0.5, "direction": "higher"},
    {"name": "Weeds in spring", "unit": "weeds/m²", "catalogue": "weeds", "sheet": "frame-count",
     "settings": {"area": 0.25, "frames": 4}, "margin": 12, "direction": "lower"},
)  # fmt: skip
