"""The question's sentence beside the margins that it is asked with: where the two name different sizes."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from apercu_core.errors import Refused
from apercu_core.numbers import read_number
from apercu_core.units import factor_between, is_unit, same_unit
from apercu_core.words import difference_unit, number, with_unit

_SIZE = re.compile(
    r"\b(?:by|of|least|than|within|margin|under|over)\s+(?P<number>[0-9][0-9.,]*)\s*(?P<unit>%|[^\s0-9,.;:?!)]+)",
    re.IGNORECASE,
)
"""A size that the sentence names: `by 0.5 t/ha`, `at least 10 %`. A rate (`with 40 kg/ha`) isn't one."""


@dataclass(frozen=True, slots=True)
class AskedMargin:
    """A measure's margin in its own unit, or in per cent of the control where `percent`."""

    measure: str
    unit: str
    margin: float
    percent: bool = False

    @property
    def said(self) -> str:
        """As the board would print it."""
        return with_unit(self.margin, "% of the control" if self.percent else difference_unit(self.unit))


def contradictions(question: str, margins: Sequence[AskedMargin]) -> tuple[str, ...]:
    """A sentence for each size in the question that is the margin of no measure in that unit."""
    out = []
    for found, value, unit in _sizes(question):
        same = [(one, size) for one in margins if (size := _in_unit_of(value, unit, one)) is not None]
        if same and not any(_equal(size, one.margin) for one, size in same):
            one = same[0][0]
            out.append(f"The question names {found}, and the margin of {one.measure} is {one.said}.")
    return tuple(dict.fromkeys(out))


def with_margin(question: str, before: AskedMargin, after: AskedMargin) -> str:
    """The question with the old margin exchanged for the new one, where it names it in the measure's own unit."""
    if before.percent != after.percent:
        return question

    def exchanged(match: re.Match[str]) -> str:
        size = _in_unit_of(read_number(match["number"].rstrip(".,")), match["unit"], before)
        own = match["unit"] == "%" if before.percent else same_unit(match["unit"], before.unit)
        if size is None or not own or not _equal(size, before.margin):
            return match[0]
        at = match.start("number") - match.start(), match.end("number") - match.start()
        return match[0][: at[0]] + number(after.margin) + match[0][at[1] :]

    return _SIZE.sub(exchanged, question)


def _sizes(question: str) -> Iterator[tuple[str, float, str]]:
    """Each size as written, its number and its unit."""
    for match in _SIZE.finditer(question):
        value = read_number(match["number"].rstrip(".,"))
        if value is not None and (match["unit"] == "%" or is_unit(match["unit"])):
            yield f"{match['number']} {match['unit']}", value, match["unit"]


def _in_unit_of(value: float | None, unit: str, one: AskedMargin) -> float | None:
    """The size in the margin's unit; None where it measures something else."""
    if value is None:
        return None
    if one.percent or unit == "%":
        return value if one.percent == (unit == "%") or (unit == "%" and one.unit.startswith("%")) else None
    try:
        return value * factor_between(unit, one.unit)
    except Refused:
        return None


def _equal(a: float, b: float) -> bool:
    return abs(a - b) <= 1e-3 * max(abs(a), abs(b))
