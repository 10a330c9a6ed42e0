"""The trial of the demo that is being planned: when to kill which cover, as a split plot."""

from __future__ import annotations

from datetime import date
from typing import Any

from apercu_core.field.machines import Machines

NAME = "When to kill covers before barley"
QUESTION = (
    "Compare killing three covers six weeks ahead and at drilling, each with bare stubble, on barley yield, where a "
    "difference of at least 0.5 t/ha would change what I do."
)
SITE: dict[str, Any] = {
    "name": "Far Twelve", "place": "Gull Farm, Harrow Fen", "time_zone": "Europe/London",
    "soil": "mineral silt over clay, drained 2019", "previous_crop": "onions from early sets", "last_frost": "04-28",
    "first_frost": "10-22", "gradient": "slope falls to the drain in the east", "latitude": 52.7625,
    "longitude": 0.1211, "bearing_deg": 96.0,
}  # fmt: skip
BARE = "bare stubble"
FACTORS = (
    ("kill", ("6 weeks ahead", "at drilling"), True, "kill_timing", ""),
    ("cover", (BARE, "vetch", "crimson clover", "camelina"), False, "species", BARE),
)
CODES = {
    "6 weeks ahead, bare stubble": "6w-BS", "6 weeks ahead, vetch": "6w-V", "6 weeks ahead, crimson clover": "6w-CC",
    "6 weeks ahead, camelina": "6w-C", "at drilling, bare stubble": "dr-BS", "at drilling, vetch": "dr-V",
    "at drilling, crimson clover": "dr-CC", "at drilling, camelina": "dr-C",
}  # fmt: skip
COVERS: dict[str, dict[str, Any]] = {
    "vetch": {"species": "hairy-vetch", "name": "Hairy vetch", "cultivar": "Sallow", "rate": "25 kg/ha"},
    "crimson clover": {"species": "crimson-clover", "name": "Crimson clover", "cultivar": "Ember", "rate": "18 kg/ha"},
    "camelina": {"species": "winter-camelina", "name": "Winter camelina", "cultivar": "Windle", "rate": "6 kg/ha"},
}  # fmt: skip
"""All three live through the winter of the district, so that there is a kill to time."""
MACHINES = Machines(drill=3.0, sprayer=12.0, combine=2.0, row_spacing=0.125, rows_caught=6)
"""The sprayer is as wide as a whole plot of four, so that the two kill dates can be sprayed apart."""
STARTS, ENDS = date(2027, 8, 18), date(2028, 8, 5)
SEED = 20261020
MEASURES: tuple[dict[str, Any], ...] = (
    {"name": "Barley yield", "unit": "t/ha", "catalogue": "grain-yield", "sheet": "moist-yield",
     "settings": {"standard": 14}, "margin": 0.5, "direction": "higher"},
    {"name": "Weeds in spring", "unit": "weeds/m²", "catalogue": "weeds", "sheet": "frame-count",
     "settings": {"area": 0.25, "frames": 4}, "margin": 12, "direction": "lower"},
)  # fmt: skip
OPERATIONS: tuple[dict[str, Any], ...] = (
    {"kind": "sow", "name": "Sow the covers", "due": date(2027, 8, 24), "for": ("vetch", "crimson clover", "camelina")},
    {"kind": "plant", "name": "Drill the barley", "due": date(2028, 3, 18)},
    {"kind": "kill", "name": "Kill 6 weeks ahead", "after": "Drill the barley", "after_days": -42,
     "for": ("6 weeks ahead",)},
    {"kind": "kill", "name": "Kill at drilling", "after": "Drill the barley", "for": ("at drilling",)},
)  # fmt: skip
"""`for`: levels of the treatments."""
