"""The usual cautions, said where work that can hurt someone is planned. They defer to the label and local rules."""

from __future__ import annotations

_LABEL = "The product's label, local rules and a licensed applicator decide what, whether and how."
CAUTIONS: dict[str, str] = {
    "sow": "Treated seed: gloves and mask, wash before eating, keep leftovers from feed and from water. "
           "Stop the drill and its shaft before reaching in.",
    "kill": "Crimpers, mowers and shafts: stop the engine before coming near; nobody in the throw of stones. " + _LABEL,
    "spray": _LABEL + " Mind wind, water and neighbours, and the time before people may enter again.",
    "fertilise": "Manure stores give off gas that kills without warning: never climb in. Keep away from ditches. "
                 "Follow local limits of amount and date.",
    "till": "Ask for buried lines and drains before going deep. Stop the shaft before coming near.",
    "mow": "Stop the engine before coming near the blades; nobody in the throw of stones.",
    "harvest": "Stop the engine before clearing a blockage. In heat: water, shade, and never alone.",
    "plant": "Stop the planter and its shaft before reaching in.",
}  # fmt: skip


def caution_for(kind: str) -> str:
    """The caution of an operation of that kind; empty where there is none."""
    return CAUTIONS.get(kind, "")
