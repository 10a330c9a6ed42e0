"""What stock took from a cover."""

from __future__ import annotations

from dataclasses import dataclass

from apercu_core.agronomy.given import not_negative, positive


@dataclass(frozen=True, slots=True)
class Grazed:
    """`offtake_kg_ha`: dry matter eaten and trodden, None without cuts; `utilised`: its share of what grew, 0 to 1.
    `in_cages`: whether cuts in cages told what would have grown; `dung_kg_ha`: dry matter left behind, where weighed.
    """

    head_days_per_ha: float
    offtake_kg_ha: float | None
    utilised: float | None
    in_cages: bool
    dung_kg_ha: float | None = None


def grazing(
    head: float, days: float, area_ha: float, before_kg_ha: float | None = None, after_kg_ha: float | None = None,
    caged_kg_ha: float | None = None, dung_kg_ha: float | None = None,
) -> Grazed:  # fmt: skip
    """Offtake is what stood in cages at the end minus what stands outside. Without cages it is what stood before minus
    after, which leaves out what grew meanwhile. It can't be below zero.
    """
    stocked = not_negative("head", head) * not_negative("days", days) / positive("area_ha", area_ha)
    weighed = {"before_kg_ha": before_kg_ha, "after_kg_ha": after_kg_ha, "caged_kg_ha": caged_kg_ha,
               "dung_kg_ha": dung_kg_ha}  # fmt: skip
    for name, value in weighed.items():
        if value is not None:
            not_negative(name, value)
    grown = caged_kg_ha if caged_kg_ha is not None else before_kg_ha
    if grown is None or after_kg_ha is None:
        return Grazed(stocked, None, None, False, dung_kg_ha)
    offtake = max(0.0, grown - after_kg_ha)
    return Grazed(stocked, offtake, offtake / grown if grown > 0 else None, caged_kg_ha is not None, dung_kg_ha)
