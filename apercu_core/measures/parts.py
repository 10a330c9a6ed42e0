"""What a measure may be told by: species, grades and other parts of one whole, and the common ones that ship.

Life cycles and forms of weeds: standard floras of temperate arable land. Visitors of flowers: the groups that can be
told apart in flight without a net.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from apercu_core.errors import Refused

LONGEST_NAME = 80
MOST_PARTS = 60
PART_KINDS = ("species", "layer", "depth", "grade", "cut")
"""What a measure may be told by."""
LAYERED = ("layer", "depth")
"""Of an amount that is told by these, the plot's value is the mean; of all else, and of counts, the sum."""


@dataclass(frozen=True, slots=True)
class Part:
    """One of them. `group`: what it is counted together with; empty: nobody has said."""

    name: str
    group: str = ""


ANNUAL_GRASS, ANNUAL_BROADLEAF = "annual grass", "annual broadleaf"
PERENNIAL_GRASS, PERENNIAL_BROADLEAF = "perennial grass", "perennial broadleaf"
VOLUNTEER, ENEMY, PEST = "volunteer", "natural enemy", "pest"
BEE, FLY, OTHER_VISITOR = "bee", "fly", "other visitor"
SOWN, SELF_SOWN = "sown", "self-sown"


def _all(group: str, *names: str) -> tuple[Part, ...]:
    return tuple(Part(name, group) for name in names)


COMMON: dict[str, tuple[Part, ...]] = {
    "weeds": (
        *_all(
            ANNUAL_BROADLEAF, "Fat hen", "Common chickweed", "Field pansy", "Shepherd’s purse", "Groundsel",
            "Scentless mayweed", "Cleavers", "Black-bindweed", "Redshank", "Knotgrass", "Common poppy", "Charlock",
            "Red dead-nettle", "Field speedwell", "Black nightshade", "Redroot pigweed", "Waterhemp", "Velvetleaf",
            "Common ragweed", "Horseweed", "Fumitory", "Annual nettle",
        ),
        *_all(ANNUAL_GRASS, "Annual meadow-grass", "Black-grass", "Wild oat", "Barren brome", "Barnyard grass",
              "Green foxtail", "Giant foxtail", "Large crabgrass", "Italian ryegrass"),
        *_all(PERENNIAL_BROADLEAF, "Creeping thistle", "Field bindweed", "Broad-leaved dock", "Dandelion",
              "Perennial sow-thistle", "Coltsfoot"),
        *_all(PERENNIAL_GRASS, "Couch grass", "Onion couch", "Johnsongrass", "Yellow nutsedge"),
        *_all(VOLUNTEER, "Volunteer cereal", "Volunteer rape", "Volunteer potato", "Self-sown cover"),
    ),
    "insects": (
        *_all(PEST, "Aphids", "Flea beetles", "Cutworms", "Armyworms", "Wireworms", "Leatherjackets", "Thrips",
              "Leafhoppers", "Stink bugs", "Colorado beetle", "Weevils", "Grasshoppers"),
        *_all(ENEMY, "Lady beetles", "Lacewings", "Hoverfly larvae", "Ground beetles", "Rove beetles", "Spiders",
              "Parasitised mummies", "Damsel bugs"),
    ),
    "visitors": (
        *_all(BEE, "Honey bees", "Bumblebees", "Solitary bees"),
        *_all(FLY, "Hoverflies", "Other flies"),
        *_all(OTHER_VISITOR, "Butterflies and moths", "Beetles", "Wasps"),
    ),
}  # fmt: skip
"""Key of the list → what is on it."""


def require_parts(parts: Iterable[tuple[str, str]], kind: str) -> tuple[Part, ...]:
    """Parts with their names trimmed, each once. Raises `Refused` for empty, long and too many names."""
    found: dict[str, Part] = {}
    for typed, group in parts:
        name = " ".join(typed.split())
        if not name or len(name) > LONGEST_NAME:
            raise Refused("bad-value", f"A {kind} needs a name of at most {LONGEST_NAME} letters.")
        found.setdefault(name.casefold(), Part(name, " ".join(group.split())[:LONGEST_NAME]))
    if len(found) > MOST_PARTS:
        raise Refused("bad-value", f"These are {len(found)}. List at most {MOST_PARTS}; put rare ones together.")
    return tuple(found.values())
