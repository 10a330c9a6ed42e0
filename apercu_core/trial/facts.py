"""What is known of a trial before anything is measured: its plots, and how treatments came to them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date
from typing import Literal

from apercu_core.trial.descriptions import TreatmentDescription

Allocation = Literal["drawn", "systematic", "unknown"]


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
class SownFacts:
    """What was sown of a treatment on a day. `off`: delivered over intended rate, minus 1; None: unknown."""

    treatment: str
    day: date
    off: float | None = None
    depth_cm: float | None = None


@dataclass(frozen=True, slots=True)
class OperationFacts:
    """An operation that was done. `treatments`, `plots`: where, if not everywhere; `exempt`: plots that it left out."""

    kind: str
    name: str
    treatments: tuple[str, ...] = ()
    plots: tuple[str, ...] = ()
    exempt: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class TroubleFacts:
    """A trouble that marked plots from its day on, as lost or as doubtful. `measures`: taken there since then."""

    name: str
    day: date
    plots: tuple[str, ...]
    lost: bool = False
    note: str = ""
    measures: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class OpenConflict:
    """Two people's values of one place, in the unit that is shown: that which stands, and the other; None: missing."""

    plot: str
    standing: float | None
    other: float | None


@dataclass(frozen=True, slots=True)
class KillFacts:
    """`living`: treatment → share of its cover that lived on `day`, the last check, 0 to 1; `limit`: the share above
    which it is too much.
    """

    name: str
    day: date
    living: Mapping[str, float]
    limit: float


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
    described: tuple[TreatmentDescription, ...] = ()
    accepted: Mapping[tuple[str, str], str] = field(default_factory=dict)
    moved: tuple[str, ...] = ()
    more_controls: tuple[str, ...] = ()
    own_controls: Mapping[str, str] = field(default_factory=dict)
    reweighed: tuple[str, ...] = ()
    contradictions: tuple[str, ...] = ()
    sown: tuple[SownFacts, ...] = ()
    operations: tuple[OperationFacts, ...] = ()
    troubles: tuple[TroubleFacts, ...] = ()
    kills: tuple[KillFacts, ...] = ()
