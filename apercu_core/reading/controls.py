"""What each treatment of a measure is compared with."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from apercu_core.reading.asked import Asked
from apercu_core.trial.facts import TrialFacts


@dataclass(frozen=True, slots=True)
class Controls:
    """`said`: what heads the measure's column; `of`: treatment → its control; `without`: why a treatment has none."""

    said: str
    of: Mapping[str, str]
    without: Mapping[str, str]

    @property
    def all(self) -> tuple[str, ...]:
        """Every control once, in the order of the treatments that they are for."""
        return tuple(dict.fromkeys(self.of.values()))

    @property
    def per_level(self) -> bool:
        return len(self.all) > 1

    @property
    def named(self) -> str | Mapping[str, str]:
        """As comparisons take it: one control for all, or each treatment's own; those without one take no part."""
        return self.of if self.per_level or self.without else self.all[0]


def controls_of(trial: TrialFacts, asked: Asked, base: str) -> Controls:
    """The question's own control, or those that it names for each level, else `base`; treatments in their order."""
    treatments = list(dict.fromkeys(plot.treatment for plot in trial.plots))
    if not asked.own_controls:
        control = asked.base or base
        return Controls(control, {t: control for t in treatments if t != control}, {})
    controls = set(asked.own_controls.values())
    of = {t: asked.own_controls[t] for t in treatments if asked.own_controls.get(t) in treatments}
    why = f"There is no {asked.base} to compare it with."
    return Controls(asked.base, of, {t: why for t in treatments if t not in of and t not in controls})
