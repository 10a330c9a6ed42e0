"""A doubt, and the facts that doubts are raised from."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal

from apercu_core.design.described import Described

Severity = Literal["stops", "weakens", "worth-knowing"]
Allocation = Literal["drawn", "systematic", "unknown"]


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
class PlotFacts:
    """One plot. `position`: its place along the block, from 1, where known; `block` empty in designs without.

    `whole_plot`, `row_strip`, `column_strip`, `incomplete_block`: in which larger unit of its block it lies, in designs
    that have them; with incomplete blocks the `block` is the replicate. `row`, `column`: of a Latin square.
    """

    label: str
    block: str
    treatment: str
    position: int | None = None
    whole_plot: str = ""
    row_strip: str = ""
    column_strip: str = ""
    row: str = ""
    column: str = ""
    incomplete_block: str = ""


@dataclass(frozen=True, slots=True)
class TrialFacts:
    """`allocation`: how treatments came to their plots, as the person says. `more_controls`: besides the first one.
    `own_controls`: treatment → the control at its own levels of other factors, where treatments are compared so.
    `reweighed`: shares of zones changed once values were recorded there, each with why, who and when.
    `contradictions`: sizes that the question names and no margin has.

    `described`: the treatments by their aspects, where they were described; `accepted`: (control, treatment) → why the
    person keeps that comparison though it changes several things at once; `moved`: what was changed by hand in the plan
    that chance had drawn.
    """

    plots: tuple[PlotFacts, ...]
    control: str | None
    allocation: Allocation
    described: tuple[Described, ...] = ()
    accepted: Mapping[tuple[str, str], str] = field(default_factory=dict)
    moved: tuple[str, ...] = ()
    more_controls: tuple[str, ...] = ()
    own_controls: Mapping[str, str] = field(default_factory=dict)
    reweighed: tuple[str, ...] = ()
    contradictions: tuple[str, ...] = ()


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
    `assumed`: the distribution that counts were said to have, and the degrees of freedom that could have told.
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
