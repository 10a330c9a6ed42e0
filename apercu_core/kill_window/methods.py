"""What each way to end a cover would do to a plant at a stage, and why."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from apercu_core.species.record import Species
from apercu_core.stages.scales import scale_of

Effect = Literal["kills", "partly", "fails", "unknown"]
Way = Literal["mow", "crimp", "till", "spray"]
WAYS: tuple[Way, ...] = ("mow", "crimp", "till", "spray")


@dataclass(frozen=True, slots=True)
class Outcome:
    way: Way
    effect: Effect
    why: str


@dataclass(frozen=True, slots=True)
class Crimping:
    """From stage to stage; after the last it sheds seed."""

    first: int
    last: int
    said: str


_CEREALS = Crimping(61, 75, "from early flowering to milk")
_OATS = Crimping(75, 85, "from milk to dough")
_VETCH = Crimping(65, 71, "from full flower to early pod")
_PEAS = Crimping(65, 75, "from full flower to flat pods")
_CLOVERS = Crimping(65, 69, "at full flower")
CRIMPED: Mapping[str, Crimping] = {
    **dict.fromkeys(("rye", "triticale", "winter-wheat", "winter-barley", "spring-barley"), _CEREALS),
    **dict.fromkeys(("oat", "black-oat", "winter-oat"), _OATS),
    **dict.fromkeys(("hairy-vetch", "woollypod-vetch", "common-vetch"), _VETCH),
    **dict.fromkeys(("field-pea", "winter-field-pea"), _PEAS),
    **dict.fromkeys(("crimson-clover", "balansa-clover", "arrowleaf-clover", "persian-clover"), _CLOVERS),
}  # fmt: skip
"""Windows after Mirsky et al. 2009 (rye), Mischler et al. 2010 (vetch); the others from experience."""
NOT_CRIMPED = ("annual-ryegrass", "italian-ryegrass", "perennial-ryegrass")
NODES, FLOWER = 31, 61
"""A grass's growing point rises above the mower from the first; most plants have spent their reserves by the second."""


def outcomes(species: Species, code: int) -> tuple[Outcome, ...]:
    """Of each way, at a BBCH stage."""
    return tuple(_OF_WAY[way](species, code) for way in WAYS)


def _mow(species: Species, code: int) -> Outcome:
    regrowth = species.text("regrowth_mown")
    if regrowth == "yes":
        return Outcome("mow", "fails", "It grows again after mowing at any stage. Plan a second pass or another way.")
    if scale_of(species).key == "cereal" and code < FLOWER:
        if code < NODES:
            return Outcome("mow", "fails", "The growing point is still at the base, below the mower: it grows again.")
        return Outcome(
            "mow", "partly", "The growing point is in the stem: cut below the lowest node. Side shoots may grow again."
        )
    if regrowth == "no":
        return Outcome("mow", "kills", "It doesn’t grow again after mowing.")
    window = CRIMPED.get(species.key)
    ready = window.first if window else FLOWER
    if regrowth == "until the kill stage":
        if code >= ready:
            return Outcome("mow", "kills", f"From stage {ready} on it hardly grows again.")
        return Outcome("mow", "fails", f"It grows again when it is mown before stage {ready}.")
    if code >= FLOWER:
        return Outcome(
            "mow", "partly", "Most plants die when they are mown in flower; whether this one does isn’t known."
        )
    return Outcome("mow", "unknown", "Whether it grows again after mowing isn’t known for this species.")


def _crimp(species: Species, code: int) -> Outcome:
    if species.key in NOT_CRIMPED or species.text("regrowth_crimped") == "yes":
        return Outcome("crimp", "fails", "It grows again after crimping at any stage.")
    window = CRIMPED.get(species.key)
    if window is None:
        return Outcome("crimp", "unknown", "No stage for crimping is known for this species.")
    if code < window.first:
        return Outcome("crimp", "fails", f"Too early: it stands up again. Crimping works {window.said}.")
    if code > window.last:
        return Outcome("crimp", "kills", f"It dies, but later than {window.said}, and ripe seed may fall.")
    return Outcome("crimp", "kills", f"Crimping works {window.said}.")


def _till(species: Species, code: int) -> Outcome:
    if species.is_one_of("life_cycle", "perennial"):
        return Outcome("till", "partly", "A perennial grows again from pieces: it takes two passes in dry weather.")
    return Outcome("till", "kills", "Buried or uprooted annual plants die, best in dry weather.")


def _spray(species: Species, code: int) -> Outcome:
    return Outcome(
        "spray", "unknown", "Apercu doesn’t judge products. The label, local rules and licensed practice decide."
    )


_OF_WAY = {"mow": _mow, "crimp": _crimp, "till": _till, "spray": _spray}
