"""What a named public source says, as that source prints it: lb/acre, inches, °F, seeds per gram."""

from __future__ import annotations

from collections.abc import Mapping

from apercu_core.species.record import Fact, Value

# key | germinates from, °F (-: not taken) | drilled, lb/acre | broadcast, lb/acre | depth, inches
CLARK = """
rye | 34 | 60 120 | 90 160 | .75 2
winter-wheat | 38 | 60 120 | 60 150 | .5 1.5
winter-barley | 38 | 50 100 | 80 125 | .75 2
oat | 38 | 80 110 | 110 140 | .5 1.5
annual-ryegrass | 40 | 10 20 | 20 30 | 0 .5
sorghum-sudangrass | 65 | - | - | .5 1.5
buckwheat | 50 | 48 70 | 50 90 | .5 1.5
white-mustard | 40 | 5 12 | 10 15 | .25 .75
brown-mustard | 40 | 5 12 | 10 15 | .25 .75
forage-radish | 45 | 8 13 | 10 20 | -
winter-rape | 41 | 5 10 | 8 14 | .25 .75
field-pea | 41 | 50 80 | 90 100 | 1.5 3
hairy-vetch | - | 15 20 | 25 40 | .5 1.5
woollypod-vetch | - | 10 30 | 30 60 | .5 1
crimson-clover | 42 | 15 20 | 22 30 | .25 .5
berseem-clover | 42 | 8 12 | 15 20 | .25 .5
red-clover | 41 | 8 10 | 10 12 | .25 .5
white-clover | 40 | 3 9 | 5 14 | .25 .5
subclover | 38 | 10 20 | 20 30 | .25 .5
sweetclover | 42 | 6 10 | 10 20 | .25 1
medic | 45 | 8 22 | 12 26 | .25 .5
cowpea | 58 | 30 90 | 70 120 | 1 1.5
"""

SEEDS_PER_GRAM = {
    "rye": 40, "winter-wheat": 25, "annual-ryegrass": 420, "pearl-millet": 180, "japanese-millet": 315,
    "buckwheat": 45, "white-mustard": 160, "forage-radish": 75, "winter-rape": 230, "turnip": 535, "flax": 180,
    "hairy-vetch": 35, "woollypod-vetch": 25, "common-vetch": 19, "crimson-clover": 330, "berseem-clover": 455,
    "red-clover": 600, "white-clover": 1500, "subclover": 120, "sweetclover": 570, "cowpea": 8,
}  # fmt: skip

# key → field → value; from Clark (2007), where no other source stands with it
MORE: Mapping[str, Mapping[str, Value | Fact]] = {
    "rye": {
        "cn_flower": Fact((37.0, 37.0), "nrcs-cn"), "cn_mature": Fact((82.0, 82.0), "nrcs-cn"),
        "kill_stage": Fact("crimp from full anthesis on", "mirsky"),
        "regrowth_crimped": Fact("until the kill stage", "mirsky"), "regrowth_mown": "until the kill stage",
        "inhibition_wait": (10.0, 21.0), "inhibits": "small-seeded crops; maize", "uncleaned": "cereals",
    },
    "winter-wheat": {"cn_mature": Fact((80.0, 80.0), "nrcs-cn")},
    "oat": {"sow_before_frost": (40.0, 40.0), "cn_mature": Fact((70.0, 70.0), "nrcs-cn"),
            "inhibition_wait": (14.0, 21.0), "inhibits": "small-seeded vegetables"},
    "annual-ryegrass": {"sow_before_frost": (40.0, 40.0), "regrowth_mown": "yes", "regrowth_crimped": "yes",
                        "uncleaned": "cereals", "standing_water": "yes"},
    "sorghum-sudangrass": {"regrowth_mown": "yes", "resists": "root-knot nematodes, by cultivar",
                           "inhibits": "small-seeded crops"},
    "japanese-millet": {"standing_water": "yes"},
    "buckwheat": {"regrowth_mown": "no", "kill_stage": "within 7 to 10 days of first bloom, before seed hardens"},
    "white-mustard": {"sow_before_frost": (28.0, 28.0)},
    "brown-mustard": {"sow_before_frost": (28.0, 28.0)},
    "forage-radish": {"sow_before_frost": (28.0, 28.0)},
    "turnip": {"sow_before_frost": (28.0, 28.0)},
    "field-pea": {"cn_mature": Fact((29.0, 29.0), "nrcs-cn")},
    "hairy-vetch": {
        "sow_before_frost": (30.0, 30.0), "cn_young": Fact((11.0, 11.0), "nrcs-cn"),
        "kill_stage": Fact("crimp from full flower to early pod", "mischler"),
        "regrowth_crimped": Fact("until the kill stage", "mischler"), "uncleaned": "cereals",
    },
    "woollypod-vetch": {"uncleaned": "cereals"},
    "common-vetch": {"uncleaned": "cereals"},
    "crimson-clover": {"sow_before_frost": (42.0, 42.0)},
    "berseem-clover": {"regrowth_mown": "yes"},
    "red-clover": {"regrowth_mown": "yes"},
    "white-clover": {"regrowth_mown": "yes", "standing_water": "yes"},
    "subclover": {"regrowth_mown": "yes"},
    "medic": {"regrowth_mown": "yes"},
    "cowpea": {"regrowth_mown": "yes"},
    "sunn-hemp": {"resists": "root-knot nematodes"},
}  # fmt: skip
