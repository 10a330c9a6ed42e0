"""Ranges from experience: a practitioner's figures to check against and to start from. None of them is a citation.

Kill temperatures: the lower figure for the hardier type and the best hardened stand, the higher for the tender type and
lush growth; air temperature, no snow.
"""

# key | killed, °C | germinates from, °C | 1,000-seed weight, g | drilled, kg/ha | broadcast, kg/ha | depth, cm
# | days before the first frost, at least | days after the last frost, at least | days to ground cover | roots, cm
# | C:N young | at flower | mature | height, cm | competitiveness, 1 to 5
RANGES = """
rye | -30 -20 | 1 3 | 22 38 | 60 140 | 75 210 | 1.9 5.1 | -20 10 | - | 40 60 | 100 180 | 12 20 | 25 40 | 60 90 | 120 180 | 4
triticale | -24 -16 | 1 4 | 36 50 | 80 150 | 100 225 | 2 5 | 0 20 | - | 40 60 | 100 180 | 12 20 | 25 40 | 55 80 | 100 150 | 4
winter-wheat | -22 -15 | 1 4 | 35 55 | 65 150 | 81 225 | 1.3 5 | -10 15 | - | 45 70 | 100 190 | 12 20 | 25 40 | 65 95 | 70 110 | 3
winter-barley | -16 -10 | 1 4 | 38 58 | 55 140 | 69 210 | 1.9 5.1 | 15 40 | - | 40 60 | 90 160 | 12 20 | 22 35 | 60 90 | 70 110 | 3
oat | -10 -6 | 2 5 | 28 42 | 70 130 | 88 195 | 1.3 5 | 40 60 | - | 35 50 | 80 140 | 12 20 | 22 35 | 55 85 | 80 130 | 3
black-oat | -10 -5 | 3 6 | 14 20 | 35 80 | 44 120 | 2 4 | 40 60 | - | 35 50 | 80 130 | 12 20 | 25 38 | 50 75 | 90 140 | 4
annual-ryegrass | -15 -8 | 3 6 | 1.8 4.8 | 11 30 | 14 45 | 0 1.5 | 35 50 | - | 45 70 | 60 120 | 11 18 | 20 35 | 40 65 | 50 100 | 4
sorghum-sudangrass | -2 0 | 12 18 | 22 35 | 20 50 | 25 75 | 1.3 4 | 60 75 | 14 28 | 25 40 | 120 200 | 15 25 | 30 50 | 50 80 | 150 300 | 5
pearl-millet | -2 0 | 12 18 | 5 12 | 8 25 | 10 38 | 1 3 | 60 70 | 14 28 | - | - | - | - | - | 120 250 | 4
japanese-millet | -2 0 | 12 16 | 2.8 4 | 12 30 | 15 45 | 1 3 | 50 65 | 7 21 | - | - | - | - | - | 80 150 | 4
buckwheat | -2 0 | 5 10 | 20 35 | 45 80 | 56 120 | 1.3 4 | 40 60 | 0 14 | 20 30 | 40 90 | 12 20 | 20 34 | 30 50 | 50 100 | 4
phacelia | -9 -5 | 3 7 | 1.6 2.2 | 6 12 | 8 18 | 0.8 2 | 40 60 | - | 35 55 | 50 120 | 9 14 | 15 25 | 25 45 | 50 100 | 3
white-mustard | -8 -4 | 1 5 | 5 9 | 6 20 | 8 30 | 0.6 2 | 28 45 | - | 25 40 | 90 160 | 8 14 | 16 28 | 35 60 | 80 160 | 5
brown-mustard | -9 -5 | 3 6 | 1.7 3.5 | 5 13 | 6 20 | 0.6 2 | 28 45 | - | - | - | - | - | - | 80 160 | 5
forage-radish | -8 -4 | 3 7 | 9 16 | 7 20 | 9 30 | 1 2.5 | 28 60 | - | 25 45 | 100 230 | 8 14 | 15 25 | 25 45 | 40 90 | 5
winter-rape | -18 -10 | 1 5 | 3.5 6.5 | 4 11 | 5 16 | 0.6 2 | 42 60 | - | 35 55 | 100 180 | 9 14 | 15 25 | 30 65 | 30 60 | 4
turnip | -10 -5 | 3 6 | 1.6 3.2 | 2 6 | 2 9 | 0.5 1.5 | 28 60 | - | - | - | - | - | - | 30 60 | 4
flax | -6 -2 | 3 8 | 4.5 8 | 30 60 | 38 90 | 1 2.5 | 40 55 | - | - | - | - | - | - | 50 90 | 1
sunflower | -5 -1 | 6 10 | 35 80 | 5 25 | 6 38 | 2.5 5 | 55 75 | -14 7 | - | - | - | - | - | 120 250 | 4
field-pea | -8 -4 | 2 5 | 110 220 | 55 180 | 69 270 | 3 7.6 | 40 60 | - | 40 60 | 50 100 | 9 13 | 12 18 | 22 35 | 60 150 | 3
faba-bean | -7 -3 | 2 5 | 250 700 | 100 220 | 125 330 | 4 8 | 30 60 | - | 45 65 | 60 110 | 9 13 | 13 19 | 25 45 | 80 150 | 2
hairy-vetch | -25 -15 | 2 6 | 22 42 | 17 45 | 21 68 | 1.3 4 | 30 45 | - | 60 100 | 50 100 | 8 12 | 10 15 | 15 25 | 40 80 | 3
woollypod-vetch | -12 -7 | 3 7 | 30 48 | 11 45 | 14 68 | 1.3 4 | 35 55 | - | - | - | - | - | - | 40 80 | 3
common-vetch | -12 -5 | 2 5 | 35 75 | 50 100 | 62 150 | 2 5 | 35 50 | - | 45 70 | 50 90 | 9 12 | 11 16 | 18 28 | 40 80 | 3
crimson-clover | -16 -9 | 4 7 | 2.8 4.5 | 15 25 | 19 38 | 0.6 1.3 | 42 56 | - | 50 80 | 50 100 | 10 14 | 14 20 | 20 30 | 40 80 | 2
berseem-clover | -8 -3 | 5 8 | 2.2 3.4 | 9 25 | 11 38 | 0.6 1.5 | 50 70 | - | 40 60 | 50 100 | 10 14 | 13 20 | 20 30 | 40 80 | 3
red-clover | -22 -14 | 3 6 | 1.5 2.2 | 8 15 | 10 22 | 0.6 1.3 | 42 60 | - | 60 90 | 80 150 | 10 14 | 12 18 | 18 28 | 40 80 | 2
white-clover | -20 -12 | 4 7 | 0.5 0.8 | 3 10 | 4 15 | 0.5 1.3 | 42 60 | - | 70 110 | 30 80 | 9 12 | 10 15 | 13 20 | 15 35 | 1
subclover | -12 -6 | 3 6 | 5 11 | 11 28 | 14 42 | 0.6 1.5 | 40 60 | - | - | - | - | - | - | 15 30 | 2
sweetclover | -30 -18 | 2 6 | 1.6 2.3 | 7 17 | 9 26 | 0.6 2.5 | 60 90 | - | - | - | - | - | - | 100 200 | 2
medic | -10 -5 | 4 8 | 2 4 | 9 25 | 11 38 | 0.6 1.5 | 40 60 | - | - | - | - | - | - | 20 50 | 2
cowpea | -1 0 | 10 15 | 80 220 | 34 101 | 42 152 | 2.5 5 | 60 80 | 14 28 | 30 45 | 60 120 | 10 14 | 13 20 | 20 32 | 40 80 | 3
sunn-hemp | -2 0 | 10 15 | 28 48 | 22 50 | 28 75 | 1 3 | 60 90 | 14 28 | - | - | - | - | - | 120 250 | 4
white-lupin | -10 -5 | 3 6 | 260 420 | 100 180 | 125 270 | 2 4 | 45 60 | - | - | - | - | - | - | 60 120 | 2
spring-barley | -8 -4 | 1 4 | 38 58 | 70 140 | 90 210 | 2 5 | 35 50 | - | 35 50 | 80 140 | 12 20 | 22 35 | 55 85 | 70 100 | 3
winter-oat | -15 -11 | 2 5 | 28 42 | 80 140 | 100 210 | 2 5 | 10 30 | - | 45 70 | 80 150 | 12 20 | 22 35 | 55 85 | 90 140 | 3
italian-ryegrass | -15 -8 | 3 6 | 1.8 4.8 | 20 35 | 25 50 | 0.5 1.5 | 30 45 | - | 45 70 | 60 120 | 11 18 | 20 35 | 40 65 | 50 100 | 4
perennial-ryegrass | -20 -10 | 4 7 | 1.6 3.5 | 15 30 | 20 45 | 0.5 1.5 | 42 60 | - | 60 90 | 60 120 | 11 18 | 20 35 | 40 65 | 40 80 | 3
cocksfoot | -22 -14 | 4 7 | 0.8 1.3 | 10 20 | 13 30 | 0.5 1.5 | 45 65 | - | 80 120 | 80 140 | - | - | - | 60 120 | 2
tall-fescue | -22 -14 | 4 8 | 2 2.8 | 15 30 | 20 45 | 0.5 1.5 | 45 65 | - | 80 120 | 90 150 | - | - | - | 60 120 | 2
sudangrass | -2 0 | 12 17 | 8 12 | 20 40 | 25 60 | 1.5 4 | 60 75 | 14 28 | 25 40 | 120 180 | 15 25 | 30 50 | 50 80 | 150 250 | 4
foxtail-millet | -2 0 | 10 14 | 1.8 3 | 10 25 | 13 38 | 1 2.5 | 55 70 | 14 28 | - | - | - | - | - | 70 130 | 3
proso-millet | -2 0 | 10 14 | 5 7.5 | 15 30 | 20 45 | 1.5 3 | 55 70 | 14 28 | - | - | - | - | - | 60 110 | 3
teff | -2 0 | 12 16 | 0.2 0.4 | 4 10 | 5 15 | 0.3 1 | 50 70 | 14 28 | - | - | - | - | - | 50 110 | 3
ethiopian-mustard | -9 -4 | 3 6 | 3 5 | 6 12 | 8 18 | 0.6 2 | 35 50 | - | 30 50 | 80 150 | 8 14 | - | - | 80 160 | 4
rocket | -8 -4 | 3 6 | 1.5 2.5 | 5 10 | 6 15 | 0.5 1.5 | 28 45 | - | 30 50 | - | - | - | - | 40 90 | 3
turnip-rape | -20 -12 | 1 5 | 2 4 | 4 9 | 5 14 | 0.6 2 | 35 50 | - | 35 55 | 80 150 | 9 14 | 15 25 | 30 65 | 30 60 | 4
kale | -15 -8 | 3 6 | 3 4.5 | 3 6 | 4 9 | 0.6 2 | 50 75 | - | 45 70 | 80 150 | 9 14 | - | - | 50 120 | 3
winter-camelina | -30 -20 | 1 4 | 0.8 1.4 | 4 9 | 5 14 | 0.5 1.3 | 15 35 | - | - | 50 100 | - | - | - | 10 30 | 1
niger | -2 0 | 8 12 | 3 4.5 | 6 12 | 8 18 | 1 2 | 45 60 | 7 21 | 35 55 | - | - | - | - | 80 160 | 3
french-marigold | -1 0 | 10 15 | 2.5 3.5 | 5 10 | 6 15 | 0.5 1.5 | 80 100 | 7 21 | 50 80 | - | - | - | - | 30 60 | 2
chicory | -20 -10 | 4 8 | 1.2 1.7 | 4 8 | 5 12 | 0.5 1.5 | 45 65 | - | 60 90 | 100 200 | - | - | - | 20 40 | 2
plantain | -20 -12 | 5 8 | 1.4 2.2 | 6 12 | 8 18 | 0.5 1.5 | 42 60 | - | 60 90 | 50 100 | - | - | - | 20 45 | 2
winter-field-pea | -18 -10 | 2 5 | 90 200 | 60 160 | 75 240 | 3 7 | 20 40 | - | 60 90 | 50 100 | 9 13 | 12 18 | 22 35 | 60 150 | 3
winter-faba-bean | -15 -9 | 2 5 | 350 700 | 120 240 | 150 360 | 5 10 | -20 15 | - | 70 110 | 60 110 | 9 13 | 13 19 | 25 45 | 80 150 | 2
grass-pea | -8 -4 | 3 6 | 100 220 | 70 140 | 90 210 | 3 6 | 40 60 | - | - | - | - | - | - | 40 90 | 2
persian-clover | -10 -5 | 5 8 | 0.9 1.6 | 8 15 | 10 22 | 0.5 1.3 | 45 60 | - | 45 70 | - | 10 14 | 13 20 | 20 30 | 40 80 | 3
balansa-clover | -16 -8 | 4 8 | 0.6 1.1 | 4 9 | 5 14 | 0.3 1 | 42 60 | - | 60 90 | - | 10 14 | 13 20 | 20 30 | 40 90 | 2
arrowleaf-clover | -14 -8 | 5 8 | 1.1 1.8 | 6 13 | 8 20 | 0.6 1.3 | 42 60 | - | 70 100 | - | 10 14 | 13 20 | 20 30 | 40 90 | 2
alsike-clover | -24 -15 | 3 6 | 0.6 0.9 | 5 12 | 6 18 | 0.5 1.3 | 42 60 | - | 60 90 | 40 100 | 10 14 | 12 18 | 18 28 | 40 80 | 2
lucerne | -28 -14 | 2 5 | 1.8 2.4 | 12 25 | 15 38 | 0.6 1.5 | 45 60 | - | 60 90 | 120 250 | 9 13 | 12 18 | 18 28 | 50 90 | 2
birdsfoot-trefoil | -25 -15 | 4 7 | 1 1.4 | 7 13 | 9 20 | 0.5 1.3 | 45 65 | - | 80 120 | 60 120 | - | - | - | 30 60 | 1
fenugreek | -6 -3 | 4 8 | 12 20 | 18 35 | 23 52 | 1 2.5 | 40 60 | - | - | - | - | - | - | 40 70 | 1
serradella | -8 -4 | 5 8 | 2.5 4.5 | 15 40 | 20 60 | 1 2.5 | 45 65 | - | 50 80 | 60 120 | 10 14 | - | - | 30 60 | 1
narrow-leaved-lupin | -8 -4 | 3 6 | 120 190 | 80 140 | 100 210 | 2 4 | 45 60 | - | - | - | - | - | - | 50 100 | 2
mung-bean | -2 0 | 11 15 | 35 70 | 15 30 | 20 45 | 2.5 4 | 60 75 | 14 28 | - | - | 10 14 | 13 20 | - | 40 80 | 2
lablab | -2 0 | 14 18 | 180 280 | 20 50 | 25 75 | 2.5 5 | 75 100 | 21 35 | 40 60 | - | 10 14 | 13 20 | - | 60 150 | 4
velvet-bean | -2 0 | 15 20 | 400 1200 | 30 70 | 40 105 | 3 6 | 90 120 | 21 35 | 45 65 | - | 10 14 | 12 18 | - | 60 120 | 5
pigeon-pea | -2 0 | 14 19 | 70 150 | 15 50 | 20 75 | 2.5 5 | 90 120 | 21 35 | 50 80 | 100 200 | 10 15 | 15 25 | - | 100 250 | 2
"""

RANGE_COLUMNS = (
    "kill", "germination_min", "tkw", "drilled", "broadcast", "depth", "sow_before_frost", "sow_after_frost",
    "cover_days", "root_depth", "cn_young", "cn_flower", "cn_mature", "height",
)  # fmt: skip

MEASURED_AS = {
    **dict.fromkeys(("rye", "triticale", "winter-wheat", "winter-barley", "winter-oat"),
                    "crown of hardened plants, without snow"),
    **dict.fromkeys(("winter-rape", "turnip-rape"), "rosette of 6 to 8 leaves; small or bolting plants from −8 °C on"),
    "turnip": "leaves; the bulb rots after −6 °C", "red-clover": "crown; survives more under snow",
    "white-clover": "stolons; survive more under snow", "hairy-vetch": "lots of southern origin die from −15 °C on",
    "sweetclover": "crown in the second winter; seedlings of the same autumn from about −10 °C on",
}  # fmt: skip
"""What the kill temperatures were seen on; hardened plants without snow where nothing is said."""
USUALLY_MEASURED_AS = "hardened plants in the field, without snow"

SOWN_AT_LATEST = {"rye": -45.0, "triticale": -30.0, "winter-wheat": -25.0, "winter-faba-bean": -45.0}
"""Days before the first frost; below zero: after it. For the others 14 days short of the least is too late."""

RECOMMENDED_SOIL = {
    "sorghum-sudangrass": (18, 30), "sudangrass": (18, 30), "pearl-millet": (18, 30), "japanese-millet": (18, 28),
    "foxtail-millet": (18, 28), "proso-millet": (18, 28), "teff": (18, 28), "buckwheat": (10, 25),
    "sunflower": (10, 25), "niger": (14, 25), "french-marigold": (18, 25), "cowpea": (18, 30), "mung-bean": (18, 30),
    "lablab": (20, 30), "velvet-bean": (20, 30), "pigeon-pea": (20, 30), "sunn-hemp": (20, 30), "rye": (5, 20),
    "oat": (7, 20), "white-mustard": (7, 22), "forage-radish": (8, 22), "field-pea": (6, 18), "hairy-vetch": (8, 20),
    "crimson-clover": (8, 20), "red-clover": (7, 20),
}  # fmt: skip
"""°C in which a crop comes up well, not only just."""

DEGREE_DAYS = {
    "buckwheat": (300, 480, "base 5 °C, (maximum + minimum) / 2; sown in spring or summer to first flower"),
    "white-mustard": (450, 700, "base 4 °C, (maximum + minimum) / 2; sown in spring to August to first flower"),
    "field-pea": (500, 800, "base 4 °C, (maximum + minimum) / 2; sown in spring to first flower"),
    "faba-bean": (830, 1050, "base 0 °C, (maximum + minimum) / 2; sown in spring to first flower"),
    "oat": (950, 1300, "base 0 °C, (maximum + minimum) / 2; sown in spring or summer to anthesis; long days hasten it"),
    "cowpea": (450, 750, "base 9 °C, (maximum + minimum) / 2; sown in early summer to first flower; late types need short days"),
    "sorghum-sudangrass": (800, 1150, "base 10 °C, (maximum + minimum) / 2; sown in early summer to heading; late types never head"),
}  # fmt: skip
"""°C d to flower; the others need cold or day length, so that their stage says more."""
DEGREE_DAYS_WHERE = "about 40 to 55° of latitude"

FIRST_BLOOM = {
    "buckwheat": (21, 35), "white-mustard": (35, 55), "brown-mustard": (40, 60), "phacelia": (45, 65),
    "forage-radish": (45, 75), "niger": (70, 100), "sunflower": (60, 85), "rocket": (40, 60), "flax": (50, 70),
    "field-pea": (45, 70), "faba-bean": (45, 70), "common-vetch": (60, 100), "berseem-clover": (60, 90),
    "persian-clover": (60, 90), "cowpea": (45, 75), "sunn-hemp": (55, 90), "french-marigold": (55, 80),
    "serradella": (60, 90), "fenugreek": (40, 60), "mung-bean": (40, 60),
}  # fmt: skip
"""Days from sowing in the warm half of the year; autumn sowings of the others flower in spring."""

COLD_NEED = {
    "yes": ("rye", "triticale", "winter-wheat", "winter-barley", "winter-oat", "winter-rape", "turnip-rape", "turnip",
            "kale", "winter-camelina", "sweetclover", "perennial-ryegrass", "italian-ryegrass", "cocksfoot",
            "tall-fescue", "chicory"),
    "no": ("oat", "spring-barley", "black-oat", "white-mustard", "brown-mustard", "forage-radish", "phacelia",
           "buckwheat", "hairy-vetch", "red-clover", "annual-ryegrass", "niger", "sunflower"),
}  # fmt: skip
DAY_LENGTH = {
    "long": ("white-mustard", "forage-radish", "phacelia", "hairy-vetch", "crimson-clover", "oat", "rocket",
             "red-clover", "berseem-clover"),
    "short": ("cowpea", "sunn-hemp", "sorghum-sudangrass", "lablab", "velvet-bean", "pigeon-pea", "niger"),
    "neutral": ("buckwheat",),
}  # fmt: skip
SALT = {
    "yes": ("winter-barley", "spring-barley"),
    "moderate": ("rye", "triticale", "winter-wheat", "oat", "winter-oat", "annual-ryegrass", "italian-ryegrass",
                 "perennial-ryegrass", "tall-fescue", "sweetclover", "winter-rape", "turnip-rape", "berseem-clover",
                 "sunflower", "lucerne", "kale"),
    "no": ("field-pea", "winter-field-pea", "faba-bean", "winter-faba-bean", "white-clover", "red-clover",
           "alsike-clover", "crimson-clover", "subclover", "buckwheat", "flax", "mung-bean", "white-lupin",
           "narrow-leaved-lupin"),
}  # fmt: skip
FROST_SEEDED = ("red-clover", "white-clover", "alsike-clover", "sweetclover", "birdsfoot-trefoil")
"""Broadcast on frozen ground in late winter, so that frost works the seed in."""
SEED_SHAPE = {
    "long": ("rye", "triticale", "winter-wheat", "winter-barley", "spring-barley", "oat", "winter-oat", "black-oat",
             "sunflower", "niger", "annual-ryegrass", "italian-ryegrass", "perennial-ryegrass"),
    "chaffy": ("cocksfoot", "tall-fescue", "french-marigold", "serradella"),
    "round": ("white-mustard", "brown-mustard", "ethiopian-mustard", "rocket", "forage-radish", "winter-rape",
              "turnip-rape", "turnip", "kale", "field-pea", "winter-field-pea", "hairy-vetch", "woollypod-vetch",
              "common-vetch", "pearl-millet", "foxtail-millet", "proso-millet", "japanese-millet", "mung-bean"),
    "flat": ("flax",),
}  # fmt: skip
COATED = ("red-clover", "white-clover", "crimson-clover", "lucerne", "balansa-clover", "persian-clover")
"""Often sold with a coat, which is 30 to 50 % of the mass: ask whether the label's purity counts it."""
HARD_SEED = {
    "yes": ("hairy-vetch", "woollypod-vetch", "red-clover", "white-clover", "subclover", "sweetclover", "medic",
            "balansa-clover", "arrowleaf-clover", "alsike-clover", "birdsfoot-trefoil", "lucerne"),
    "some": ("common-vetch", "crimson-clover", "persian-clover", "serradella"),
}  # fmt: skip
SEED_RISK = {
    "high": ("annual-ryegrass", "italian-ryegrass", "buckwheat", "white-mustard", "brown-mustard", "hairy-vetch",
             "woollypod-vetch", "subclover", "medic", "turnip-rape", "balansa-clover"),
    "some": ("rye", "japanese-millet", "foxtail-millet", "proso-millet", "forage-radish", "winter-rape", "rocket",
             "crimson-clover", "sweetclover", "phacelia", "teff", "niger", "winter-camelina", "common-vetch"),
    "low": ("berseem-clover",),
}  # fmt: skip
KILL_STAGE = {
    "triticale": "crimp from anthesis to milk; hard to kill before", "winter-barley": "crimp from anthesis to milk",
    "winter-wheat": "crimp from anthesis to milk", "oat": "crimp from milk to dough; anthesis is too early; or frost",
    "black-oat": "crimp from milk to dough; or frost", "crimson-clover": "mow or crimp at full flower",
    "field-pea": "mow or crimp from full flower to flat pod; easy",
    "winter-field-pea": "mow or crimp from full flower to flat pod; easy",
    "annual-ryegrass": "not by crimping; tillage or other ways, before it heads",
    "italian-ryegrass": "not by crimping; tillage or other ways, before it heads",
    "phacelia": "roll in frost, or mow; easy from flower on", "white-mustard": "roll in frost, or mow before it sets pods",
    "brown-mustard": "roll in frost, or mow before it sets pods",
    "sorghum-sudangrass": "grows again after mowing until frost kills it",
    "sudangrass": "grows again after mowing until frost kills it",
    "common-vetch": "mow or crimp from full flower to early pod",
}  # fmt: skip
UNTIL_THE_STAGE = {"mown": ("hairy-vetch", "woollypod-vetch", "common-vetch", "crimson-clover", "field-pea")}
"""Grow again when they are mown before the stage for mechanical kill, hardly from it on."""
