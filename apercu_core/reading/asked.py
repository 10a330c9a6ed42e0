"""What is asked of a reading: the method in force, and each measure with its margin and its values."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from apercu_core.statistics.specification import BlockEffect, DfMethod, Method
from apercu_core.verdicts.margin import Margin
from apercu_core.verdicts.verdict import Direction

Planned = Literal["none", "equivalence", "non-inferiority"]


@dataclass(frozen=True, slots=True)
class How:
    """The method in force. Dunnett compares with the base treatment only; the others' families are all pairs."""

    method: Method = "dunnett"
    alpha: float = 0.05
    block_effect: BlockEffect = "random"
    df_method: DfMethod = "kenward_roger"

    @property
    def against_base(self) -> bool:
        return self.method == "dunnett"


@dataclass(frozen=True, slots=True)
class Asked:
    """One measure: what it is, the margin that matters, and which direction is wanted.

    `base`: the control that this question names, empty for the trial's own. `planned_for`: the treatments whose
    comparison with it is a planned test, none for all of them. `primary`: whether the question is decided by it.
    """

    name: str
    unit: str = ""
    margin: Margin | None = None
    direction: Direction = "none"
    planned: Planned = "none"
    base: str = ""
    planned_for: tuple[str, ...] = ()
    primary: bool = False


@dataclass(frozen=True, slots=True)
class Recorded:
    """Values of one measure: plot label → its samples, in order; an empty list or all None: lost.

    `failed`: plots whose treatment failed, so that their zero is what was found. `zones`: of each plot, where it was
    taken; none: of the whole plot.
    """

    asked: Asked
    samples: Mapping[str, Sequence[float | None]]
    changed: tuple[str, ...] = ()
    failed: tuple[str, ...] = ()
    zones: tuple[str, ...] = ()
