"""A measure's controls at the same levels of other factors, kept with it as ids."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from apercu_core.protocol.own_controls import controls_at_same_levels, said_of_controls
from trials.models import Treatment


def control_factor(factors: Sequence[Mapping[str, Any]]) -> tuple[str, str] | None:
    """The factor one of whose levels is what the others are compared with, and that level; None where there is none."""
    return next(((str(f["name"]), str(f["control"])) for f in factors if f.get("control")), None)


def own_controls_of(
    factors: Sequence[Mapping[str, Any]], treatments: Sequence[Treatment], control: Treatment | None
) -> dict[str, Any]:
    """As a measure keeps them; `control`: the treatment that the question names, whose level is then the control."""
    found = control_factor(factors)
    if found is None:
        return {}
    factor, level = found
    if control is not None:
        level = control.levels.get(factor, "")
        if not level:  # a control outside the crossing is one for all
            return {}
    levels = {t.name: t.levels for t in treatments}
    ids = {t.name: str(t.id) for t in treatments}
    of = controls_at_same_levels(levels, factor, level)
    return {"said": said_of_controls(levels, factor, level), "of": {ids[a]: ids[b] for a, b in of.items()}}


def own_controls(levels: Mapping[str, Mapping[str, str]], factors: Sequence[Mapping[str, Any]]) -> dict[str, str]:
    """Treatment → its control, as the factors have it; empty where one control is for all.

    `levels`: of each treatment.
    """
    found = control_factor(factors)
    if found is None or not any(own.get(found[0]) == found[1] for own in levels.values()):
        return {}
    return controls_at_same_levels(levels, *found)


def named_controls(kept: Mapping[str, Any], names: Mapping[str, str]) -> dict[str, str]:
    """Kept controls by name, but for treatments that aren't in `names`."""
    pairs = kept.get("of", {}).items()
    return {names[a]: names[b] for a, b in pairs if a in names and b in names}
