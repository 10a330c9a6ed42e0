"""The usual cautions, said where work that can hurt someone is planned. They defer to the label and local rules."""

from __future__ import annotations

from collections.abc import Iterable

_LABEL = "The product’s label, local rules and a licensed applicator decide what, whether and how."
_SHAFT = "Stop the engine and the shaft before coming near."
CAUTIONS: dict[str, str] = {
    "sow": "Treated seed: gloves and mask against its dust, which also harms bees; wash before eating; keep leftovers "
           "from feed and water, in the tank too. Stop the drill and its shaft before reaching in. Put a raised drill on "
           "its locks. Lift bags together.",
    "plant": "Stop the planter and its shaft before reaching in. Put a raised planter on its locks.",
    "kill": f"{_SHAFT} Nobody walks the plots within 100 m of a mower’s throw. A roller full of water pushes on slopes: "
            "mind brakes, and block it when parked. Dry residue burns: mind hot exhausts. If the cover is sprayed, what "
            "is said of spraying holds.",
    "spray": f"{_LABEL} Wear the protective clothing that it asks for, also while mixing. Nothing on a flowering cover or "
             "flowering weeds: bees. Mind wind, water, neighbours and the plots beside. Mind what it leaves for the next "
             "crop, and whether the crop may still be used. Nobody counts in the plots until people may enter again.",
    "fertilise": "Manure gives off gas that kills without warning, most of all while it is stirred: never climb in; keep "
                 "people and stock away. Raw manure before vegetables: mind the waiting time of local food rules. Ammonia "
                 "burns eyes and skin. Keep solid fertiliser apart from fuel. Follow local limits of amount and date.",
    "till": f"Ask for buried lines and drains before going deep. Mind power lines with folded machines. {_SHAFT} Old pits, "
            "and old ammunition where there was war: stop, mark it, call.",
    "mow": f"{_SHAFT} Nobody within 100 m of the throw of stones. On slopes: roll bar and belt. From the middle outward, so "
           "that young animals can leave.",
    "graze": "Before stock goes in, ask your veterinary practice: nitrate after drought or cold, cyanide after frost, "
             "bloat on young legumes. Water and fences first. Never turn your back on a bull or a cow with a calf.",
    "irrigate": "Mind power lines with pipes, pumps that start by themselves, and water in electric boxes. Slippery ground.",
    "harvest": f"{_SHAFT} Clear no blockage with the engine running. Dust of grain, mould and legume seed: mask. Nobody in "
               "a trailer or bin while it fills or empties. Mind power lines with the unloading auger. Sickles and knives "
               "cut towards the hand that holds the stems: glove. In heat: water, shade, and never alone.",
    "cover_on": "Wind lifts a crop cover with whoever holds it: enough people, none alone, and not in a wind. Lift with the "
                "knees.",
    "sample": "Digging and probing: ask for buried lines first; lift with the knees; keep hands off the hydraulics of a "
              "probe.",
}  # fmt: skip
_ALIKE = {"roll": "kill", "crimp": "kill", "graze_out": "graze", "cover_off": "cover_on"}
"""Operations with the dangers of another."""

_EVERY_VISIT = (
    "Tell somebody where you are and when you will be back. Sun and heat: water, hat, shade. Ticks: look after."
)
_BY_MEASURE: dict[str, str] = {
    "soil-moisture": "dig", "soil-nitrate": "dig", "cover-biomass": "cut", "tuber-yield": "lift", "root-yield": "lift",
    "bulb-yield": "lift", "grain-yield": "machine",
}  # fmt: skip
_FOR_VISITS: dict[str, str] = {
    "dig": "Digging and probing: ask for buried lines first; lift with the knees; keep hands off the hydraulics of a probe; "
           "nobody in a pit deeper than the chest without a secured wall.",
    "cut": "Cutting and drying: glove on the hand that holds the stems. Ovens: nothing that burns beside them, nobody’s "
           "house overnight. Mills and mouldy samples: mask.",
    "lift": "Lifting: lift bags together; stay clear of the lifter’s moving parts.",
    "machine": "Stay clear of the plot combine while it works, and of its unloading.",
}  # fmt: skip


def caution_for(kind: str) -> str:
    """The caution of an operation of that kind; empty where there is none."""
    return CAUTIONS.get(_ALIKE.get(kind, kind), "")


def caution_for_visit(measures: Iterable[str]) -> str:
    """The caution of a field visit; `measures`: keys of the catalogue, empty ones for measures of one's own."""
    kinds = dict.fromkeys(_BY_MEASURE[key] for key in measures if key in _BY_MEASURE)
    return " ".join([*(_FOR_VISITS[kind] for kind in kinds), _EVERY_VISIT])
