"""What is asked of a reading: the method in force, and each measure with its margin and its values."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

from apercu_core.statistics.specification import ONE_STRATUM, BlockEffect, CountModel, Design, DfMethod, Method
from apercu_core.trial.facts import OpenConflict, PlotFacts
from apercu_core.verdicts.margin import Margin
from apercu_core.verdicts.verdict import Direction, Planned

Scale = Literal["measured", "log"]
ValueKind = Literal["continuous", "count", "percentage", "score", "k-of-n"]


@dataclass(frozen=True, slots=True)
class How:
    """The method in force. Dunnett compares with the base treatment only; the others' families are all pairs.

    `block_effect`: None: as the design has it, fixed where plots are the only units that were randomised and every
    block holds every treatment, since that is exact, and for the complete replicates of incomplete blocks; random
    else. `counts`: how much counts and k of n vary, where one stratum judges them. `scale`: whether other values are
    analysed as they were measured or as logarithms.
    """

    method: Method = "dunnett"
    alpha: float = 0.05
    block_effect: BlockEffect | None = None
    df_method: DfMethod = "kenward_roger"
    counts: CountModel = "estimated"
    scale: Scale = "measured"

    @property
    def against_base(self) -> bool:
        return self.method == "dunnett"


def in_force(how: How, design: Design, plots: Sequence[PlotFacts]) -> How:
    """The method with its block effect settled by the design."""
    if how.block_effect is not None:
        return how
    treatments = {plot.treatment for plot in plots}
    blocks: dict[str, set[str]] = {}
    for plot in plots:
        blocks.setdefault(plot.block, set()).add(plot.treatment)
    complete = all(held == treatments for held in blocks.values())
    of_replicates = design in ONE_STRATUM or design == "incomplete_block"
    return replace(how, block_effect="fixed" if of_replicates and complete else "random")


@dataclass(frozen=True, slots=True)
class Asked:
    """One measure: what it is, the margin that matters, and which direction is wanted.

    `base`: the control that this question names, empty for the trial's own. `own_controls`: treatment → the control at
    its own levels of the other factors, where the question compares so; `base` then says it. `planned_for`: the
    treatments whose comparison is a planned test, none for all of them. `primary`: whether the question is decided by
    it. `kind`: counts are analysed as counts, where it is known what they were counted from.
    """

    name: str
    unit: str = ""
    margin: Margin | None = None
    direction: Direction = "none"
    planned: Planned = "none"
    base: str = ""
    planned_for: tuple[str, ...] = ()
    primary: bool = False
    kind: ValueKind = "continuous"
    own_controls: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Occasion:
    """The visit at which a measure was taken, and its date (ISO 8601), empty as long as nobody walked it."""

    visit: str
    date: str = ""


@dataclass(frozen=True, slots=True)
class Blinding:
    """How many entries were made with treatment names hidden, with them shown, and of how many it isn't known."""

    hidden: int = 0
    shown: int = 0
    unknown: int = 0


@dataclass(frozen=True, slots=True)
class Recorded:
    """Values of one measure: plot label → its samples, in order; an empty list or all None: lost.

    `failed`: plots whose treatment failed, so that their zero is what was found. `beyond`: plots without a value since
    it lies beyond what was measured, `beyond_side` of it (`more`, `less`). `lacking`: what should
    have been measured along and wasn't, by name. `zones`: of each plot, where it was
    taken; none: of the whole plot. `area`: that each sample of a count was taken from, so that value × area is the
    count; None where it isn't known. `examined`: beside `samples`, the n of each k of n, whose values are in per cent.
    `question_changed`: what was changed in the question after results were seen, each with who, when and why;
    `planned_after`: the planned test was chosen then. `occasion`: when it was taken, None where nobody has said.
    `blinding`: of the entries that the values are made of. `areas`: of plots whose samples have another area than
    `area`; `scale`: of this measure, where it isn't that of the board. `conflicts`: two people's values that wait for a
    decision; `set_aside`: plots whose values don't count since a trouble came before they were looked at.
    """

    asked: Asked
    samples: Mapping[str, Sequence[float | None]]
    changed: tuple[str, ...] = ()
    failed: tuple[str, ...] = ()
    zones: tuple[str, ...] = ()
    area: float | None = None
    examined: Mapping[str, Sequence[float | None]] = field(default_factory=dict)
    question_changed: tuple[str, ...] = ()
    planned_after: bool = False
    occasion: Occasion | None = None
    blinding: Blinding = Blinding()
    beyond: tuple[str, ...] = ()
    beyond_side: str = ""
    lacking: str = ""
    areas: Mapping[str, float] = field(default_factory=dict)
    scale: Scale | None = None
    conflicts: tuple[OpenConflict, ...] = ()
    set_aside: tuple[str, ...] = ()
