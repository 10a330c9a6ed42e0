"""Doubts about operations: what one treatment or plot got and another didn't, beyond what is compared."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from apercu_core.doubts.doubt import Doubt
from apercu_core.trial.facts import OperationFacts, TrialFacts
from apercu_core.words import listed

ASPECTS: Mapping[str, tuple[str, ...]] = {
    "till": ("tillage",), "plant": ("crop_date", "planting", "crop_variety"), "harvest": ("harvest_date",),
    "fertilise": ("cover_fertiliser", "crop_nitrogen", "starter"), "irrigate": ("irrigation",),
    "spray": ("herbicides", "kill_method"), "graze": ("grazing",), "graze_out": ("grazing",),
    **dict.fromkeys(("mow", "roll", "crimp", "kill"), ("kill_method", "kill_timing", "machine_pass")),
}  # fmt: skip
"""Kind of operation → what of a treatment it may be part of."""
LEFT_OUT = ("sow", "sample")
"""What is sown is held against its own records; sampling changes nothing."""
ENDS_A_COVER = ("kill", "mow", "roll", "crimp")


def unequal_operations(trial: TrialFacts) -> Iterator[Doubt]:
    """Raised where an operation was done on some treatments or plots only, and isn't part of any treatment."""
    unequal = [one for one in trial.operations if _is_unequal(one, trial)]
    if not unequal:
        return
    where = {label for one in unequal for label in _plots(one, trial)}
    yield Doubt(
        "unequal-operations",
        "weakens",
        "Operations differ",
        " ".join(_said(one) for one in unequal),
        "What differs besides the treatments may be what made the difference (confounding).",
        "Describe it as part of the treatments in Ask, if it was meant. Else report it beside the results.",
        plots=tuple(plot.label for plot in trial.plots if plot.label in where),
    )


def _is_unequal(one: OperationFacts, trial: TrialFacts) -> bool:
    if one.kind in LEFT_OUT or not (one.treatments or one.plots or one.exempt):
        return False
    aspects = {"extra_passes", *ASPECTS.get(one.kind, ())}
    meant = {aspect for treatment in trial.described for aspect in treatment.aspects}
    if aspects & meant:
        return False
    wanted = {plot.label for plot in trial.plots}
    if one.kind in ENDS_A_COVER:
        # A plot without cover has nothing to kill; that every covered treatment has its own kill is no difference.
        bare = {treatment.name for treatment in trial.described if not treatment.covered}
        killed = {label for other in trial.operations if other.kind in ENDS_A_COVER for label in _plots(other, trial)}
        return bool({p.label for p in trial.plots if p.treatment not in bare} - killed) and bool(trial.described)
    return bool(wanted - set(_plots(one, trial)))


def _plots(one: OperationFacts, trial: TrialFacts) -> list[str]:
    everywhere = not one.treatments and not one.plots
    own = [p for p in trial.plots if everywhere or p.treatment in one.treatments or p.label in one.plots]
    return [plot.label for plot in own if plot.label not in one.exempt]


def _said(one: OperationFacts) -> str:
    where = listed(list(one.treatments)) if one.treatments else f"plots {listed(list(one.plots))}" if one.plots else ""
    left_out = f"plots {listed(list(one.exempt))} were left out" if one.exempt else ""
    if not where:
        return f"Of “{one.name}” {left_out}."
    return f"“{one.name}” was done on {where} only{f', and {left_out}' if left_out else ''}."
