"""A measure that people make themselves: which values are typed in a plot, and the formula that makes one of them.

It becomes a sheet like those that ship (`measures.sheet`), so that devices, field sheets and readings treat it alike.
"""

from __future__ import annotations

import json
import re
from collections.abc import Sequence
from dataclasses import asdict, dataclass
from typing import Any, Literal, get_args

from apercu_core.errors import Refused
from apercu_core.measures.over_visits import OverVisits
from apercu_core.measures.parts import LAYERED
from apercu_core.measures.ranges import Ends, Ranges
from apercu_core.measures.sheet import Setting, Sheet, SheetField
from apercu_core.measures.written_formulas import Named, Written, read_formula

OWN = "own"
"""The key of a sheet that its measure brings along."""
OwnKind = Literal["continuous", "percentage", "count", "score"]
OwnFieldKind = Literal["number", "whole", "choice", "readings", "text"]
OWN_KINDS: tuple[OwnKind, ...] = get_args(OwnKind)
OWN_FIELD_KINDS: tuple[OwnFieldKind, ...] = get_args(OwnFieldKind)
LARGEST = 1e9


@dataclass(frozen=True, slots=True)
class Grade:
    """One of the choices of a field, and the number that it counts as."""

    name: str
    value: float


@dataclass(frozen=True, slots=True)
class OwnField:
    """A value that is typed in each plot. `unit` empty: none, or the measure's own where nothing else makes its value;
    `grades`: what a choice is chosen from.
    """

    name: str
    kind: OwnFieldKind = "number"
    unit: str = ""
    least: float | None = 0.0
    most: float | None = None
    grades: tuple[Grade, ...] = ()
    optional: bool = False


@dataclass(frozen=True, slots=True)
class OwnNumber:
    """A number that is the same in all plots, such as an area that is cut."""

    name: str
    value: float
    unit: str = ""


@dataclass(frozen=True, slots=True)
class OwnMeasure:
    """`formula`: as written, over the names of fields and numbers; empty: its one field is the value. `parts`: what
    kind of component it is told by, if any; `samples`: per plot; ranges in the measure's unit; `zero_when_failed`: a
    plot whose cover failed counts as zero, which is so of what is measured on the cover itself.
    """

    fields: tuple[OwnField, ...]
    kind: OwnKind = "continuous"
    formula: str = ""
    numbers: tuple[OwnNumber, ...] = ()
    parts: str = ""
    samples: int = 1
    plausible: Ends | None = None
    possible: Ends | None = None
    over_visits: OverVisits = "last"
    zero_when_failed: bool = False

    @property
    def as_json(self) -> dict[str, Any]:
        kept: dict[str, Any] = json.loads(json.dumps(asdict(self)))
        return kept


def own_from(kept: dict[str, Any]) -> OwnMeasure:
    """From `OwnMeasure.as_json`."""
    fields = tuple(
        OwnField(**{**one, "grades": tuple(Grade(**grade) for grade in one.get("grades", ()))})
        for one in kept["fields"]
    )
    numbers = tuple(OwnNumber(**one) for one in kept.get("numbers", ()))
    ends = {key: tuple(kept[key]) if kept.get(key) else None for key in ("plausible", "possible")}
    return OwnMeasure(**{**kept, "fields": fields, "numbers": numbers, **ends})


def grades_from(text: str) -> tuple[Grade, ...]:
    """Grades as they are written, one in each line: a number and a name, `2 patchy`; without numbers from 1 on.

    Raises `Refused` where some lines begin with a number and others don't.
    """
    lines = [" ".join(line.split()) for line in text.splitlines() if line.strip()]
    parted = [_NUMBERED.match(line) for line in lines]
    if lines and all(parted):
        return tuple(
            Grade(one["name"], float(one["value"].replace(",", ".").replace("−", "-"))) for one in parted if one
        )
    if any(parted):
        bare = next(line for line, found in zip(lines, parted, strict=True) if not found)
        raise Refused("bad-value", f"“{bare[:40]}” has no number and a name, as other grades have. Write “2 patchy”.")
    return tuple(Grade(line, float(at)) for at, line in enumerate(lines, 1))


def grades_said(grades: Sequence[Grade]) -> str:
    """As `grades_from` reads them."""
    return "\n".join(said_grade(one) for one in grades)


def said_grade(grade: Grade) -> str:
    """Its number and its name; the number alone means it too (`measures.entries`)."""
    return f"{grade.value:.10g} {grade.name}"


_NUMBERED = re.compile(r"^(?P<value>[-−]?\d{1,9}(?:[.,]\d{1,6})?)[ :=]+(?P<name>\S.*)$")


def own_sheet(own: OwnMeasure, name: str) -> Sheet:
    """The sheet that its values are typed into. `name`: the measure's."""
    written = written_of(own)
    alone = _value_field(own)
    fields = tuple(_sheet_field(one, f"f{at}", one is alone) for at, one in enumerate(own.fields, 1))
    settings = tuple(
        Setting(f"n{at}", one.name, one.unit, one.value, -LARGEST, LARGEST) for at, one in enumerate(own.numbers, 1)
    )
    if own.samples > 1:
        settings = (*settings, Setting("frames", "Samples per plot", "", own.samples, 1, 24))
    said = own.formula.strip() or f"{alone.name if alone else name}, as typed"
    return Sheet(
        OWN, name, fields, settings, written.jsonata, said,
        values="" if own.kind == "continuous" else own.kind, sampled=own.samples > 1, parts=own.parts,
        area="1" if own.kind == "count" else "",
        possible=(repr(own.possible[0]), repr(own.possible[1])) if own.possible else None,
        parts_make="mean" if own.parts in LAYERED and own.kind != "count" else "sum",
    )  # fmt: skip


def ranges_of_own(own: OwnMeasure) -> Ranges:
    return Ranges(own.plausible, own.possible)


def written_of(own: OwnMeasure) -> Written:
    named = {
        one.name: Named(f"f{at}", one.kind == "readings", _looked_up(one, f"f{at}"))
        for at, one in enumerate(own.fields, 1)
        if one.kind != "text"
    }
    named |= {one.name: Named(f"n{at}") for at, one in enumerate(own.numbers, 1)}
    if own.formula.strip():
        return read_formula(own.formula, named)
    alone = _value_field(own)
    if alone is None:
        raise Refused("bad-value", "Only notes are typed. Add a field whose value is the measure’s.")
    return read_formula(f"mean({alone.name})" if alone.kind == "readings" else alone.name, named)


def _value_field(own: OwnMeasure) -> OwnField | None:
    """The field whose value is the measure's: the first that isn't a note, where no formula makes it."""
    return None if own.formula.strip() else next((one for one in own.fields if one.kind != "text"), None)


def _looked_up(field: OwnField, key: str) -> str:
    """The number of the grade that was chosen."""
    if field.kind != "choice":
        return ""
    return f"$lookup({json.dumps({said_grade(one): one.value for one in field.grades}, ensure_ascii=False)}, {key})"


def _sheet_field(field: OwnField, key: str, value: bool) -> SheetField:
    choices = tuple(said_grade(one) for one in field.grades)
    return SheetField(
        key, field.name, field.unit, field.least, field.most, field.kind, choices=choices, optional=field.optional,
        bare=not field.unit and not value,
    )  # fmt: skip
