"""The species that ship with the app. What no named public source was at hand for is left unknown.

Rates, depths, temperatures and hardiness stand here as their source prints them (lb/acre, inches, °F, USDA zone) and
are turned into metric when read.
"""

from __future__ import annotations

from collections.abc import Mapping

from apercu_core.species.record import OWN_RATING, SERVICES, Fact, Species, Value

_ZONE_LOW_F = {3: -40, 4: -30, 6: -10, 7: 0, 8: 10}
"""Lowest winter temperature of a hardiness zone, °F; 0: killed by the first frost."""

# key | name | botanical | family | life cycle | C3/C4 | nitrogen | roots | ratings in the order of SERVICES
_PLANTS = """
rye | Cereal rye | Secale cereale | Poaceae | annual | C3 | captures | fibrous | 0554335504423
triticale | Triticale | × Triticosecale | Poaceae | annual | C3 | captures | fibrous | 0444334405323
winter-wheat | Winter wheat | Triticum aestivum | Poaceae | annual | C3 | captures | fibrous | 0434334404322
winter-barley | Winter barley | Hordeum vulgare | Poaceae | annual | C3 | captures | fibrous | 0444334404412
oat | Oat | Avena sativa | Poaceae | annual | C3 | captures | fibrous | 0444423404232
black-oat | Black oat | Avena strigosa | Poaceae | annual | C3 | captures | fibrous | 0454423404332
annual-ryegrass | Annual ryegrass | Lolium multiflorum | Poaceae | annual | C3 | captures | fibrous | 0544524505233
sorghum-sudangrass | Sorghum-sudangrass | Sorghum drummondii | Poaceae | annual | C4 | captures | fibrous| 0555244405521
pearl-millet | Pearl millet | Cenchrus americanus | Poaceae | annual | C4 | captures | fibrous | 0444333305511
japanese-millet | Japanese millet | Echinochloa esculenta | Poaceae | annual | C4 | captures | fibrous | 0343323304252
buckwheat | Buckwheat | Fagopyrum esculentum | Polygonaceae | annual | C3 | neither | fibrous | 0252412251112
phacelia | Phacelia | Phacelia tanacetifolia | Boraginaceae | annual | C3 | captures | fibrous | 0343422350312
white-mustard | White mustard | Sinapis alba | Brassicaceae | annual | C3 | captures | tap | 0443323342211
brown-mustard | Brown mustard | Brassica juncea | Brassicaceae | annual | C3 | captures | tap | 0443323342211
forage-radish | Forage radish | Raphanus sativus | Brassicaceae | annual | C3 | captures | tap | 0542454323211
winter-rape | Winter rape | Brassica napus | Brassicaceae | biennial | C3 | captures | tap | 0443344434212
turnip | Turnip | Brassica rapa | Brassicaceae | biennial | C3 | captures | tap | 0432333334211
flax | Flax | Linum usitatissimum | Linaceae | annual | C3 | neither | tap | 0212222230212
sunflower | Sunflower | Helianthus annuus | Asteraceae | annual | C3 | captures | tap | 0323253252401
field-pea | Field pea | Pisum sativum | Fabaceae | annual | C3 | fixes | tap | 4132312324211
faba-bean | Faba bean | Vicia faba | Fabaceae | annual | C3 | fixes | tap | 4123233343132
hairy-vetch | Hairy vetch | Vicia villosa | Fabaceae | annual | C3 | fixes | tap | 5243323343323
woollypod-vetch | Woollypod vetch | Vicia villosa subsp. varia | Fabaceae | annual | C3 | fixes | tap | 5153323344323
common-vetch | Common vetch | Vicia sativa | Fabaceae | annual | C3 | fixes | tap | 4132312333222
crimson-clover | Crimson clover | Trifolium incarnatum | Fabaceae | annual | C3 | fixes | tap | 4133323354213
berseem-clover | Berseem clover | Trifolium alexandrinum | Fabaceae | annual | C3 | fixes | tap | 4243423345232
red-clover | Red clover | Trifolium pratense | Fabaceae | perennial | C3 | fixes | tap | 4233433455234
white-clover | White clover | Trifolium repens | Fabaceae | perennial | C3 | fixes | tap | 3132423544244
subclover | Subterranean clover | Trifolium subterraneum | Fabaceae | annual | C3 | fixes | tap | 4153413515424
sweetclover | Yellow sweetclover | Melilotus officinalis | Fabaceae | biennial | C3 | fixes | tap | 5145354453511
medic | Burr medic | Medicago polymorpha | Fabaceae | annual | C3 | fixes | tap | 4133323424523
cowpea | Cowpea | Vigna unguiculata | Fabaceae | annual | C3 | fixes | tap | 4143223244512
sunn-hemp | Sunn hemp | Crotalaria juncea | Fabaceae | annual | C3 | fixes | tap | 5145243332411
white-lupin | White lupin | Lupinus albus | Fabaceae | annual | C3 | fixes | tap | 4122243242211
"""

# key | germinates from °F (-: not given) | hardy through zone (0: none) | drilled lb/acre | broadcast lb/acre | inches
_CLARK = """
rye | 34 | 3 | 60 120 | 90 160 | .75 2
winter-wheat | 38 | 4 | 60 120 | 60 150 | .5 1.5
winter-barley | 38 | 7 | 50 100 | 80 125 | .75 2
oat | 38 | 8 | 80 110 | 110 140 | .5 1.5
annual-ryegrass | 40 | 6 | 10 20 | 20 30 | 0 .5
sorghum-sudangrass | 65 | 0 | 35 35 | 40 50 | .5 1.5
buckwheat | 50 | 0 | 48 70 | 50 90 | .5 1.5
white-mustard | 40 | 7 | 5 12 | 10 15 | .25 .75
brown-mustard | 40 | 7 | 5 12 | 10 15 | .25 .75
forage-radish | 45 | 6 | 8 13 | 10 20 | .25 .5
winter-rape | 41 | 7 | 5 10 | 8 14 | .25 .75
field-pea | 41 | 7 | 50 80 | 90 100 | 1.5 3
hairy-vetch | 60 | 4 | 15 20 | 25 40 | .5 1.5
woollypod-vetch | - | 7 | 10 30 | 30 60 | .5 1
crimson-clover | 42 | 7 | 15 20 | 22 30 | .25 .5
berseem-clover | 42 | 7 | 8 12 | 15 20 | .25 .5
red-clover | 41 | 4 | 8 10 | 10 12 | .25 .5
white-clover | 40 | 4 | 3 9 | 5 14 | .25 .5
subclover | 38 | 7 | 10 20 | 20 30 | .25 .5
sweetclover | 42 | 4 | 6 10 | 10 20 | .25 1
medic | 45 | 7 | 8 22 | 12 26 | .25 .5
cowpea | 58 | 0 | 30 90 | 70 120 | 1 1.5
"""

_SEEDS_PER_GRAM = {
    "rye": 40, "winter-wheat": 25, "winter-barley": 30, "annual-ryegrass": 420, "sorghum-sudangrass": 55,
    "pearl-millet": 180, "japanese-millet": 315, "buckwheat": 45, "white-mustard": 160, "brown-mustard": 625,
    "forage-radish": 75, "winter-rape": 230, "turnip": 535, "flax": 180, "field-pea": 4, "hairy-vetch": 35,
    "woollypod-vetch": 25, "common-vetch": 19, "crimson-clover": 330, "berseem-clover": 455, "red-clover": 600,
    "white-clover": 1500, "subclover": 120, "sweetclover": 570, "cowpea": 8,
}  # fmt: skip

_NO_INOCULANT = "none needed"
_RHIZOBIA = {
    "field-pea": "pea and vetch", "faba-bean": "pea and vetch", "hairy-vetch": "pea and vetch",
    "woollypod-vetch": "pea and vetch", "common-vetch": "pea and vetch", "crimson-clover": "clover",
    "berseem-clover": "clover", "red-clover": "clover", "white-clover": "clover", "subclover": "clover",
    "sweetclover": "alfalfa and sweetclover", "medic": "alfalfa and sweetclover", "cowpea": "cowpea",
    "sunn-hemp": "cowpea", "white-lupin": "lupin",
}  # fmt: skip

_CLIMB = ("field-pea", "hairy-vetch", "woollypod-vetch", "common-vetch")
_CARRY = ("rye", "triticale", "winter-wheat", "winter-barley", "oat", "black-oat", "sorghum-sudangrass", "sunflower",
          "faba-bean", "sunn-hemp")  # fmt: skip
_TALL = (*_CARRY, "pearl-millet", "white-mustard", "brown-mustard", "winter-rape", "sweetclover", "hairy-vetch")
_NO_MYCORRHIZA = ("Brassicaceae", "Polygonaceae")
_CEREAL_CARRIED = "cereals: volunteers, take-all and barley yellow dwarf virus"
_BRASSICA_CARRIED = "brassicas: clubroot, flea beetle and cabbage root fly"

# key → field → value; from Clark (2007), where no other source stands with it
_MORE: Mapping[str, Mapping[str, Value | Fact]] = {
    "rye": {
        "cold_need": "yes", "cn_young": Fact(26.0, "nrcs-cn"), "cn_flower": Fact(37.0, "nrcs-cn"),
        "cn_mature": Fact(82.0, "nrcs-cn"), "kill_stage": Fact("crimp from full anthesis on", "mirsky"),
        "inhibition_wait": (10.0, 21.0), "inhibits": "small-seeded crops and maize",
        "uncleaned": "wheat and other small grains", "hosts": _CEREAL_CARRIED,
        "stock_danger": "ergot in the ears", "seed_risk": "some",
        "partners": "hairy-vetch, crimson-clover, field-pea", "regrowth_mown": "yes",
        "regrowth_crimped": Fact("no", "mirsky"),
    },
    "triticale": {"hosts": _CEREAL_CARRIED, "cold_need": Fact("yes", "botany"),
                  "partners": "hairy-vetch, field-pea"},
    "winter-wheat": {"cold_need": "yes", "cn_mature": Fact(80.0, "nrcs-cn"), "hosts": _CEREAL_CARRIED,
                     "partners": "crimson-clover, red-clover, hairy-vetch"},
    "winter-barley": {"cold_need": "yes", "hosts": _CEREAL_CARRIED, "salt": "yes",
                      "partners": "crimson-clover, field-pea, hairy-vetch"},
    "oat": {"cold_need": "no", "sow_before_frost": 40.0, "cn_mature": Fact(70.0, "nrcs-cn"),
            "hosts": _CEREAL_CARRIED, "inhibition_wait": (14.0, 21.0),
            "inhibits": "small-seeded vegetables", "stock_danger": "nitrate after cold or drought",
            "partners": "field-pea, hairy-vetch, crimson-clover, berseem-clover"},
    "black-oat": {"partners": "common-vetch, hairy-vetch"},
    "annual-ryegrass": {"sow_before_frost": 40.0, "seed_risk": "high",
                        "regrowth_mown": "yes", "regrowth_crimped": "yes",
                        "uncleaned": "wheat and other small grains", "standing_water": "yes",
                        "hosts": _CEREAL_CARRIED, "partners": "crimson-clover, berseem-clover"},
    "sorghum-sudangrass": {
        "stock_danger": "cyanide in young, frosted or wilted growth; nitrate in drought",
        "regrowth_mown": "yes", "resists": "root-knot nematodes",
        "inhibits": "small-seeded crops", "partners": "cowpea, buckwheat, sunn-hemp",
    },
    "pearl-millet": {"stock_danger": "nitrate in drought", "partners": "cowpea, sunn-hemp"},
    "japanese-millet": {"standing_water": "yes", "seed_risk": "some"},
    "buckwheat": {"bloom": 21.0, "seed_risk": "high", "regrowth_mown": "no",
                  "kill_stage": "within 7 to 10 days of first bloom, before seed hardens",
                  "partners": "cowpea, sorghum-sudangrass"},
    "white-mustard": {"sow_before_frost": 28.0, "hosts": _BRASSICA_CARRIED,
                      "resists": "nematodes, where fresh tops are worked in", "seed_risk": "high"},
    "brown-mustard": {"sow_before_frost": 28.0, "hosts": _BRASSICA_CARRIED,
                      "resists": "nematodes, where fresh tops are worked in", "seed_risk": "high"},
    "forage-radish": {"sow_before_frost": 28.0, "hosts": _BRASSICA_CARRIED,
                      "seed_risk": "some", "stock_danger": "nitrate; bloat on pure stands",
                      "partners": "oat, rye, crimson-clover"},
    "winter-rape": {"sow_before_frost": 28.0, "hosts": _BRASSICA_CARRIED,
                    "seed_risk": "some", "stock_danger": "nitrate; bloat on pure stands",
                    "partners": "winter-wheat, crimson-clover"},
    "turnip": {"sow_before_frost": 28.0, "hosts": _BRASSICA_CARRIED},
    "field-pea": {"cn_mature": Fact(29.0, "nrcs-cn"), "regrowth_mown": "no",
                  "hosts": "peas, beans, rape and sunflower: Sclerotinia",
                  "partners": "oat, rye, winter-barley, triticale"},
    "faba-bean": {"partners": "oat"},
    "hairy-vetch": {
        "sow_before_frost": 30.0, "cn_young": Fact(11.0, "nrcs-cn"), "hard_seed": "yes",
        "kill_stage": Fact("crimp from full flower to early pod", "mischler"), "seed_risk": "high",
        "uncleaned": "wheat and other small grains", "regrowth_mown": "no",
        "hosts": "soybean: cyst nematode; many crops: root-knot nematodes",
        "partners": "rye, oat, triticale, winter-wheat, winter-barley", "regrowth_crimped": Fact("no", "mischler"),
        "stock_danger": Fact("a disease of skin and organs in cattle that graze it", "panciera"),
    },
    "woollypod-vetch": {"hard_seed": "yes", "seed_risk": "high", "partners": "oat, rye",
                        "uncleaned": "wheat and other small grains"},
    "common-vetch": {"uncleaned": "wheat and other small grains", "partners": "oat, black-oat"},
    "crimson-clover": {"sow_before_frost": 42.0, "hard_seed": "no",
                       "seed_risk": "some", "regrowth_mown": "no",
                       "stock_danger": "bloat; mouth balls from ripe heads",
                       "hosts": "many crops: root-knot nematodes",
                       "partners": "rye, oat, annual-ryegrass, winter-barley"},
    "berseem-clover": {"regrowth_mown": "yes", "seed_risk": "low",
                       "partners": "oat, annual-ryegrass"},
    "red-clover": {"regrowth_mown": "yes", "hard_seed": "yes", "stock_danger": "bloat",
                   "hosts": "legumes: Sclerotinia and root rots",
                   "partners": "winter-wheat, winter-barley, oat"},
    "white-clover": {"regrowth_mown": "yes", "hard_seed": "yes", "stock_danger": "bloat",
                     "standing_water": "yes", "partners": "annual-ryegrass"},
    "subclover": {"hard_seed": "yes", "regrowth_mown": "yes", "seed_risk": "high",
                  "partners": "oat, annual-ryegrass"},
    "sweetclover": {"hard_seed": "yes", "seed_risk": "some", "cold_need": "yes",
                    "stock_danger": "bleeding from mouldy hay; bloat", "partners": "oat, red-clover"},
    "medic": {"hard_seed": "yes", "seed_risk": "high", "regrowth_mown": "yes",
              "partners": "oat, winter-barley"},
    "cowpea": {"partners": "sorghum-sudangrass, pearl-millet, buckwheat", "regrowth_mown": "yes"},
    "sunn-hemp": {"resists": "root-knot nematodes", "partners": "sorghum-sudangrass, pearl-millet",
                  "kill": 0.0},
}  # fmt: skip


def _kg_ha(pair: str) -> tuple[float, float]:
    low, high = (round(float(lb) * 1.12085) for lb in pair.split())
    return float(low), float(high)


def _cm(pair: str) -> tuple[float, float]:
    low, high = (round(float(inch) * 2.54, 1) for inch in pair.split())
    return low, high


def _celsius(fahrenheit: float) -> float:
    return float(round((fahrenheit - 32) / 1.8))


def _plant(line: str) -> tuple[str, dict[str, Fact]]:
    key, name, botanical, family, cycle, pathway, nitrogen, roots, ratings = (part.strip() for part in line.split("|"))
    values = {
        "common": name, "botanical": botanical, "family": family, "life_cycle": cycle, "pathway": pathway,
        "nitrogen": nitrogen, "rooting": roots,
    }  # fmt: skip
    facts = {field: Fact(value, "botany") for field, value in values.items()}
    facts["mycorrhiza"] = Fact("no" if family in _NO_MYCORRHIZA else "yes", "brundrett")
    facts["climbing"] = Fact("yes" if key in _CLIMB else "no", "botany")
    facts["supports"] = Fact("yes" if key in _CARRY else "no", OWN_RATING)
    facts["frost_risk"] = Fact("yes" if key in _TALL else "no", OWN_RATING)
    facts |= {field: Fact(float(digit), OWN_RATING) for field, digit in zip(SERVICES, ratings, strict=True)}
    return key, facts


def _clark(line: str) -> tuple[str, dict[str, Fact]]:
    key, germination, zone, drilled, broadcast, depth = (part.strip() for part in line.split("|"))
    low_f = _ZONE_LOW_F.get(int(zone), 32)
    facts = {
        "kill": Fact(_celsius(low_f), "clark-zone" if low_f != 32 else "clark"),
        "drilled": Fact(_kg_ha(drilled), "clark"),
        "broadcast": Fact(_kg_ha(broadcast), "clark"),
        "depth": Fact(_cm(depth), "clark"),
    }
    if germination != "-":
        facts["germination_min"] = Fact(_celsius(float(germination)), "clark")
    return key, facts


def _lines(table: str) -> list[str]:
    return table.strip().split("\n")


def _all() -> dict[str, Species]:
    found = dict(_plant(line) for line in _lines(_PLANTS))
    for line in _lines(_CLARK):
        key, facts = _clark(line)
        found[key] |= facts
    for key, seeds in _SEEDS_PER_GRAM.items():
        found[key]["tkw"] = Fact(round(1000 / seeds, 2 if seeds > 100 else 1), "seed-act")
    for key, facts in found.items():
        facts["inoculant"] = Fact(_RHIZOBIA[key], "clark") if key in _RHIZOBIA else Fact(_NO_INOCULANT, "botany")
    for key, more in _MORE.items():
        found[key] |= {f: v if isinstance(v, Fact) else Fact(v, "clark") for f, v in more.items()}
    return {key: Species(key, facts) for key, facts in found.items()}


SHIPPED: Mapping[str, Species] = _all()
