"""The growing trial of the demo: sown in August, its stand half counted, the rest of the season planned."""

from __future__ import annotations

from datetime import date
from typing import Any

import numpy as np

from apercu_core.triggers.trigger import Trigger

NAME = "Covers before sugar beet"
QUESTION = "Does any cover spare the beet 10 weeds a square metre without costing yield?"
SITE: dict[str, Any] = {
    "name": "Mill Ground", "place": "Sedge Farm, Harrow Fen", "time_zone": "Europe/London",
    "soil": "mineral silt over clay", "previous_crop": "malting barley", "last_frost": "04-28", "first_frost": "10-22",
    "gradient": "drain along block A", "latitude": 52.7412, "longitude": 0.0836, "bearing_deg": 12.0,
}  # fmt: skip
TREATMENTS = {
    "Bare stubble": "BS",
    "White mustard": "WM",
    "Common vetch": "CV",
    "Phacelia": "PH",
    "Radish + vetch": "RV",
}
LOT = {"purity_percent": 98, "germination_percent": 90}
VETCH = {"species": "common-vetch", "name": "Common vetch", "cultivar": "Dene", "lot": "HF 2611",
         "purity_percent": 98, "germination_percent": 88, "tkw_g": 52.0}  # fmt: skip
COVERS: dict[str, list[dict[str, Any]]] = {
    "White mustard": [{"species": "white-mustard", "name": "White mustard", "cultivar": "Marl", "rate": "14 kg/ha",
                       **LOT, "tkw_g": 6.3}],
    "Common vetch": [{**VETCH, "rate": "70 kg/ha"}],
    "Phacelia": [{"species": "phacelia", "name": "Phacelia", "rate": "10 kg/ha", **LOT, "tkw_g": 1.9}],
    "Radish + vetch": [{"species": "forage-radish", "name": "Forage radish", "cultivar": "Sluice", "rate": "5 kg/ha",
                        **LOT, "tkw_g": 13.3},
                       {**VETCH, "rate": "35 kg/ha"}],
}  # fmt: skip
"""What was sown; nobody wrote down which phacelia."""

STARTS, ENDS = date(2026, 8, 20), date(2027, 10, 20)
SEED = 20260820
STAND = {"White mustard": 148, "Common vetch": 84, "Phacelia": 260, "Radish + vetch": 71, "Bare stubble": 14}
"""Plants per m², below the live seeds that were sown; what grows on bare stubble came by itself."""

MEASURES: tuple[dict[str, Any], ...] = (
    {"name": "Cover stand", "unit": "plants/m²", "catalogue": "stand", "sheet": "frame-count",
     "settings": {"area": 0.25, "frames": 3}, "margin": 50, "direction": "higher"},
    {"name": "Cover biomass", "unit": "kg/ha", "catalogue": "cover-biomass", "sheet": "figure", "margin": 800,
     "direction": "higher"},
    {"name": "Weeds", "unit": "weeds/m²", "catalogue": "weeds-by-species", "sheet": "species-count",
     "settings": {"area": 0.25, "frames": 4}, "margin": 10, "direction": "lower"},
    {"name": "Beet yield", "unit": "t/ha", "catalogue": "root-yield", "sheet": "fresh-yield", "margin": 4,
     "direction": "higher", "planned": "non-inferiority"},
)  # fmt: skip
WEEDS = (
    "Fat hen",
    "Common chickweed",
    "Scentless mayweed",
    "Black-bindweed",
    "Annual meadow-grass",
    "Creeping thistle",
)
"""Usual on Mill Ground; they are counted by species."""
VISITS = (
    ("Stand count", date(2026, 9, 17), "Cover stand"),
    ("Biomass cut", date(2026, 10, 16), "Cover biomass"),
    ("Weed count", date(2027, 4, 26), "Weeds"),
    ("Beet harvest", date(2027, 10, 6), "Beet yield"),
)
OPERATIONS: tuple[dict[str, Any], ...] = (
    {"kind": "till", "name": "Shallow tillage", "done": date(2026, 8, 22), "note": "one pass, 8 cm"},
    {"kind": "sow", "name": "Sow the covers", "due": date(2026, 8, 25), "done": date(2026, 8, 26),
     "note": "drilled at 12.5 cm rows; mustard and radish are cultivars bred as resistant to beet cyst nematode"},
    {"kind": "kill", "name": "Flail the vetch", "due": date(2027, 3, 10), "for": ("Common vetch", "Radish + vetch"),
     "note": "frost has killed the other covers by then"},
    {"kind": "till", "name": "Seedbed for the beet", "after": "Flail the vetch", "after_days": 19,
     "note": "all plots alike"},
    {"kind": "fertilise", "name": "Fertiliser for the beet", "after": "Seedbed for the beet", "after_days": 1,
     "note": "all plots alike"},
    {"kind": "plant", "name": "Drill the beet", "after": "Seedbed for the beet",
     "trigger": Trigger("soil_temperature", 8.0, days=3), "closes": {"kind": "day", "day": date(2027, 4, 25)}},
    {"kind": "spray", "name": "First spray against weeds", "trigger": Trigger("stage", 12, plant="crop:sugar beet"),
     "about": date(2027, 5, 10), "note": "after the weeds are counted"},
    {"kind": "harvest", "name": "Lift the beet", "due": date(2027, 10, 6)},
)  # fmt: skip
LOG: tuple[dict[str, Any], ...] = (
    {"kind": "note", "day": date(2026, 9, 3), "text": "Mustard up in all blocks, vetch in lines only."},
    {
        "kind": "trouble",
        "trouble": "slugs",
        "day": date(2026, 9, 10),
        "effect": "doubtful",
        "text": "Slugs along the drain; the outer rows are thinned.",
    },
    {
        "kind": "decision",
        "decision": "other",
        "day": date(2026, 9, 11),
        "text": "No pellets: all plots are left alike.",
        "known": "One plot in four thinned along the drain.",
        "rule": "Treat only if a third of the plots are hit.",
    },
)
"""What Joss and Maren wrote down; the trouble is in the first plot of block A."""
STAGES = (
    ("White mustard", "white-mustard", 14, date(2026, 9, 15)),
    ("Common vetch", "common-vetch", 13, date(2026, 9, 15)),
    ("Phacelia", "phacelia", 12, date(2026, 9, 15)),
    ("Radish + vetch", "forage-radish", 14, date(2026, 9, 15)),
    ("Radish + vetch", "common-vetch", 13, date(2026, 9, 15)),
)
"""Treatment, plant, BBCH code, when it was seen."""
BAGS: dict[str, dict[str, float]] = {
    "white-mustard/marl/": {"bag_kg": 10, "price_per_kg": 2.9},
    "common-vetch/dene/hf-2611": {"bag_kg": 25, "price_per_kg": 1.6, "emergence_percent": 80},
    "phacelia//": {"bag_kg": 5, "price_per_kg": 6.4},
    "forage-radish/sluice/": {"bag_kg": 10, "price_per_kg": 3.1},
}
"""Lots as Sow keeps them, beside what Ask has of them."""
DRILL_TEST = {
    "bulk_kg_ha": 70.0, "row_spacing_m": 0.125, "rows": 12, "distance_m": 40.0, "limit": 0.05, "setting": 34.0,
    "catches_g": [416.0, 423.0, 419.0, 421.0],
}  # fmt: skip
DELIVERED = {"White mustard": 14.6, "Common vetch": 68.0, "Phacelia": 9.6, "Radish + vetch": 41.5}
"""kg/ha, by the drill's counter."""
WALKED = 11
"""Plots that Joss had counted when the light went."""


def counts(walk: list[tuple[str, str]]) -> dict[str, list[int]]:
    """Plot label → count in each frame, for the plots that were walked; `walk`: (label, treatment) in walking order."""
    rng = np.random.default_rng(SEED)
    return {
        label: [int(n) for n in rng.poisson(STAND[treatment] * 0.25 * rng.gamma(25, 1 / 25), size=3)]
        for label, treatment in walk[:WALKED]
    }
