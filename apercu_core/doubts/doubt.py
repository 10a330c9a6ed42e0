"""A doubt, and the facts of a measure that doubts are raised from."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from apercu_core.trial.facts import OpenConflict, TrialFacts

Severity = Literal["stops", "weakens", "worth-knowing"]


@dataclass(frozen=True, slots=True)
class Doubt:
    """`subject`: the measure it is about, empty for the whole trial. `plots`: labels to mark on the ground."""

    id: str
    severity: Severity
    title: str
    finding: str
    why: str
    what_to_do: str
    subject: str = ""
    plots: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class MeasureFacts:
    """What is known of one measure once it is read.

    `values`: label → value of each plot, None where lost; `subsamples`: label → how many were averaged;
    `outlier_p`: label → Bonferroni p of its studentized residual; `margin`: in the measure's unit, None if not named
    or on another scale; `detectable`: smallest difference with an 80 % chance of being seen, observed σ;
    `changed`: labels of plots whose values changed after the reading that people saw; `failed`: labels of plots whose
    treatment failed, read as zero. `measures`: how many are on the board, so that more of them don't raise more false
    doubts; `spread_p`: of a variance that grows with the mean, None where it isn't tested; `unsettled`: treatments
    whose comparison isn't settled; `question_changed`: what was changed in the question after results were seen;
    `assumed`: the distribution that counts were said to have, and the degrees of freedom that could have told;
    `converged`: whether the search for the model's variances came to its end; `beyond`: labels of plots whose value
    lies beyond what was measured, `beyond_side` of it (`more`, `less`); `lacking`: what should have been measured
    along and wasn't, by name; `controls`: what others are compared with; `conflicts`: two values of
    one place that wait for a decision; `set_aside`: plots whose values a trouble set aside.
    """

    name: str
    unit: str
    trial: TrialFacts
    values: dict[str, float | None]
    subsamples: dict[str, int]
    outlier_p: dict[str, float]
    margin: float | None
    detectable: float | None
    changed: tuple[str, ...] = ()
    failed: tuple[str, ...] = ()
    measures: int = 1
    spread_p: float | None = None
    unsettled: tuple[str, ...] = ()
    question_changed: tuple[str, ...] = ()
    assumed: tuple[str, int] = ("", 0)
    converged: bool = True
    beyond: tuple[str, ...] = ()
    beyond_side: str = ""
    lacking: str = ""
    controls: tuple[str, ...] = ()
    conflicts: tuple[OpenConflict, ...] = ()
    set_aside: tuple[str, ...] = ()
