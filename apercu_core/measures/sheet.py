"""The shape of a sheet: which values a person types in a plot, how they are checked, and the value that they make.

Formulas and conditions are written in JSONata (`measures.expressions`), over the sheet's fields and settings by their
keys, so that a device without a network works them out as the server does.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

Settings = Mapping[str, float]
FieldKind = Literal["number", "whole", "choice", "scale", "text", "moment", "readings", "squares"]
"""`whole`: counted; `choice`: one of `choices`; `scale`: a grade, between ends that the sheet names; `moment`: date and
time of day; `readings`: several numbers in one field, parted by blanks or semicolons; `squares`: an area drawn on the
plot, kept as the numbers of squares of the visit’s grid (settings `across` and `along`), as in `3-8 14`. They are
numbered from the plot’s corner, first across the plot; 0 is none of them.
"""


@dataclass(frozen=True, slots=True)
class Spaced:
    """Several readings of one field lie one below the other: keys of the settings that say where the first lies, how
    far apart they are, and at which value a line is drawn, if any.
    """

    first: str
    step: str
    limit: str = ""


@dataclass(frozen=True, slots=True)
class SheetField:
    """One value of a sheet. `least`, `most`: its limits, None where there is none; `above`: it must be more than
    `least`, not just reach it. `optional`: it may be left empty, and the formula does without it. `bare`: it has no
    unit, where others without one of their own are typed in that of the measure. `spaced`: where several readings lie.
    """

    key: str
    name: str
    unit: str
    least: float | None = 0.0
    most: float | None = None
    kind: FieldKind = "number"
    above: bool = False
    choices: tuple[str, ...] = ()
    optional: bool = False
    bare: bool = False
    spaced: Spaced | None = None

    @property
    def whole(self) -> bool:
        return self.kind == "whole"

    @property
    def timed(self) -> bool:
        """It is a time that can be taken with a watch, one or several."""
        return self.unit in ("s", "min") and self.kind in ("number", "readings")


@dataclass(frozen=True, slots=True)
class Setting:
    """A value that holds for the whole visit, such as the area of the quadrat. `usual` None: it has to be said, unless
    it is `optional`: then it isn't kept where nobody says it.

    `hint`: what is common, in words.
    """

    key: str
    name: str
    unit: str
    usual: float | None
    least: float
    most: float
    hint: str = ""
    optional: bool = False


@dataclass(frozen=True, slots=True)
class Check:
    """What can't be. `wrong`: the condition under which it is refused; `say`: the message, with values in braces."""

    wrong: str
    say: str


@dataclass(frozen=True, slots=True)
class Beyond:
    """When the value lies beyond what was measured, so that only an end of it is known. `when`: the condition; `bound`:
    the formula of that end, in what the sheet makes; `side`: whether the value is more or less than it.
    """

    when: str
    bound: str
    side: Literal["more", "less"]


@dataclass(frozen=True, slots=True)
class Derived:
    """A further value that is worked out and shown beside the entry's own, where it can be."""

    key: str
    name: str
    unit: str
    formula: str


SAMPLE_NAMES = {"Frames per plot": "frame", "Lengths of row per plot": "length of row"}
"""The setting that says how many there are → one of them; else it is a sample."""


@dataclass(frozen=True, slots=True)
class Sheet:
    """`formula`: makes the value; `said`: the same in words; `makes`: the unit that it comes out in, `1/m²` for things
    counted, empty where it is that of what is typed. `sampled`: several entries per plot are wanted, whose mean is the
    plot's value. `values`: what they are (`count`, `percentage`, `score`, `k-of-n`), where the sheet settles it; else
    name and unit do. `parts`: what kind of component an entry is told by, if any (`species`, `grade`); `parts_make`:
    what those of one sample make together. `area`: what one sample of a count is taken from, m². `watched`: the
    setting that says for how long one watches and counts, min. `possible`: ends of what the value can be, None where
    there are none. `beyond`: when there is no value but only an end of it. `disturbs`: the ground that it is taken from
    is cut or dug; nothing else is taken there later.
    """

    key: str
    name: str
    fields: tuple[SheetField, ...]
    settings: tuple[Setting, ...]
    formula: str
    said: str
    makes: str = ""
    values: str = ""
    sampled: bool = False
    disturbs: bool = False
    parts: str = ""
    parts_make: Literal["sum", "mean"] = "sum"
    area: str = ""
    watched: str = ""
    possible: tuple[str, str] | None = None
    beyond: Beyond | None = None
    checks: tuple[Check, ...] = ()
    setting_checks: tuple[Check, ...] = ()
    derived: tuple[Derived, ...] = ()

    @property
    def sample_name(self) -> str:
        """What one of several samples of a plot is called."""
        return next((SAMPLE_NAMES.get(s.name, "sample") for s in self.settings if s.key == "frames"), "sample")

    @property
    def beyond_side(self) -> str:
        """On which side of its bound a value lies that is beyond what was measured; empty where values have none."""
        return self.beyond.side if self.beyond else ""
