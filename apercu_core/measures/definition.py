"""What a measure of the catalogue is."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal

from apercu_core.measures.over_visits import OverVisits
from apercu_core.measures.sheet import Sheet
from apercu_core.measures.sheets import SHEETS
from apercu_core.power.effort import Effort
from apercu_core.verdicts.verdict import Direction

ValueKind = Literal["continuous", "count"]


@dataclass(frozen=True, slots=True)
class Example:
    """An entry as it is typed, and the value that it makes, worked by hand. `settings`: beside the measure's own."""

    typed: Mapping[str, str]
    value: float
    settings: Mapping[str, float] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Definition:
    """A measure. `usual`: a common value under the control, to start planning with; all ranges in `unit`.

    `spread`: lowest and highest coefficient of variation of plots in a block that is usual, %, from experience.
    `minutes`: for one plot, and for one sample in it. `depends`: why only the person can say in which direction it is
    better; `direction` is then "none". `zero_when`: what became of a plot that makes it a true zero: a failed cover, of
    what is measured on the cover itself. Weeds, soil, crop and yield of such a plot are still to be observed. `also`:
    other names that mean it beyond doubt. `frames`: per plot to start from, where the sheet's usual number is too few;
    `preset`: other settings to start from. `over_visits`: what its value is where it was taken at several;
    `common_parts`: the list that its parts are chosen from (`measures.parts`). `along`: keys of measures of which one
    has to be taken along, for its value to say anything. `group`: what it is measured on.
    """

    key: str
    name: str
    unit: str
    kind: ValueKind
    sheet_key: str
    direction: Direction
    usual: float
    cv_percent: float
    spread: tuple[float, float]
    plausible: tuple[float, float]
    possible: tuple[float, float]
    minutes: tuple[float, float]
    pitfall: str
    example: Example
    zero_when: tuple[str, ...] = ()
    depends: str = ""
    also: tuple[str, ...] = ()
    frames: int | None = None
    preset: Mapping[str, float] = field(default_factory=dict)
    over_visits: OverVisits = "last"
    common_parts: str = ""
    along: tuple[str, ...] = ()
    group: str = ""

    @property
    def sheet(self) -> Sheet:
        return SHEETS[self.sheet_key]

    @property
    def settings(self) -> dict[str, float]:
        """Settings of its sheet that it starts from, where they aren't the sheet's own usual ones."""
        return {**self.preset, **({} if self.frames is None else {"frames": float(self.frames)})}

    @property
    def effort(self) -> Effort:
        return Effort(*self.minutes)

    @property
    def spread_basis(self) -> str:
        """Where the coefficient of variation comes from, as it is said beside it."""
        low, high = self.spread
        return f"from experience, {low:g} to {high:g} % is usual"
