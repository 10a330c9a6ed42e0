"""What a reading notes beside its verdicts: how values were made, what was assumed, what came out at zero."""

from __future__ import annotations

from apercu_core.reading.asked import How, Recorded
from apercu_core.reading.controls import Controls
from apercu_core.reading.model_words import family_in_words, unit_in_words
from apercu_core.reading.zero_counts import zero_notes
from apercu_core.statistics.fitted import FittedAnalysis
from apercu_core.statistics.scales import IDENTITY
from apercu_core.words import listed, number


def notes_of(
    recorded: Recorded, analysis: FittedAnalysis, how: How, controls: Controls, base_mean: float
) -> tuple[str, ...]:
    """`base_mean`: of the controls, in the measure's unit."""
    asked, notes = recorded.asked, []
    if len(recorded.zones) > 1:
        notes.append(
            f"A plot’s value is the mean of its zones ({', '.join(recorded.zones)}), weighted by their shares."
        )
    elif recorded.zones:
        notes.append(f"Measured in one zone of each plot: {recorded.zones[0]}.")
    if said := _blinding_said(recorded):
        notes.append(said)
    if how.method == "holm":
        notes.append("Holm’s method has no intervals of its own. Glyphs and verdicts use Bonferroni intervals.")
    if asked.margin is not None and asked.margin.kind == "percent":
        unit = f" {asked.unit}" if asked.unit else ""
        of = f"the mean of {listed(list(controls.all))}" if controls.per_level else controls.said
        fixed = ", taken as fixed" if _margin_is_fixed(analysis, controls) else ""
        notes.append(f"The margin is {asked.margin.value:g} % of {of} at {number(base_mean)}{unit}{fixed}.")
    if said := family_in_words(analysis):
        notes.append(said)
    notes += zero_notes(analysis, controls, asked.unit)
    for name in (name for name, variance in analysis.variance_components.items() if variance <= 0):
        units = unit_in_words(name, analysis.specification.design)
        notes.append(
            f"The variance between {units} was estimated at zero. {units.capitalize()} differ no more than the plots "
            "in them."
        )
    return tuple(notes)


def _margin_is_fixed(analysis: FittedAnalysis, controls: Controls) -> bool:
    """Whether the control's mean counts as known in the margin: where means on another scale have several controls."""
    return controls.per_level and analysis.scale is not IDENTITY


def _blinding_said(recorded: Recorded) -> str:
    """That names were shown is said of scores alone, which a person can bend without wanting to."""
    hidden, shown, unknown = recorded.blinding.hidden, recorded.blinding.shown, recorded.blinding.unknown
    if not hidden:
        scored = recorded.asked.kind == "score" and shown
        return "Scored with treatment names shown: whoever scored knew what grew in each plot." if scored else ""
    if not shown and not unknown:
        return "Recorded blind: treatment names were hidden for every entry."
    others = [f"shown for {shown}" if shown else "", f"for {unknown} it isn’t known" if unknown else ""]
    return f"Treatment names were hidden for {hidden} entries, {listed([one for one in others if one])}."
