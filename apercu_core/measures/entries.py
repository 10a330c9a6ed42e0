"""From what was typed in a plot to the value of an entry.

Text goes in as it was typed; a value that can't be is refused, one that is hard to believe is questioned.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime

from apercu_core.errors import Refused
from apercu_core.measures.expressions import holds, number_or_none, value_of
from apercu_core.measures.neighbours import Expected
from apercu_core.measures.settings import made_in
from apercu_core.measures.sheet import Settings, Sheet, SheetField
from apercu_core.units import System, parse_quantity, per_area_factor, shown_in
from apercu_core.words import filled, listed, number

Typed = float | str | list[float]
"""A field's value: a number, a text or moment, or several readings."""

MESSAGES = {
    "empty": "{field} is empty. Type a value, or mark the plot as missing.",
    "whole": "{said} isn’t a whole number. A count must be a whole number.",
    "least": "{said} isn’t possible. It must be {end} or more.",
    "above": "{said} isn’t possible. It must be more than {end}.",
    "most": "{said} isn’t possible. It must be {end} or less.",
    "possible": "{said} isn’t possible. The range is {low} to {high}. Check the value and its unit.",
    "plausible": "{said} is unusual. The usual range is {low} to {high}. Check the value, or confirm it.",
    "beside": "{said} is unlike the other plots of this treatment, which have {low} to {high}. Check the decimal point "
    "and the unit, or confirm it.",
    "past": "{said} is unlike the last value of this plot, {high}. Check the decimal point and the unit, or "
    "confirm it.",
}
"""What is said of a value, with what it is filled in with; devices without a network say the same."""


@dataclass(frozen=True, slots=True)
class Entered:
    """The value of an entry in the measure's unit, what it came from, what else was derived, what makes one wonder.

    `bound`: where the value lies beyond what was measured: the end that is known of it; then there is no value.
    """

    value: float | None
    typed: dict[str, Typed]
    derived: dict[str, float]
    questions: tuple[str, ...]
    bound: float | None = None


def evaluate(
    sheet: Sheet, typed: Mapping[str, str], settings: Settings, *, unit: str = "", system: System = "metric",
    plausible: tuple[float, float] | None = None, possible: tuple[float, float] | None = None,
    expected: Expected | None = None,
) -> Entered:  # fmt: skip
    """The value of an entry. `unit`: the measure's; `plausible`, `possible`: ranges of the value in that unit;
    `expected`: what stands beside it.

    A number without a unit of its own is in the unit that `system` shows for its field. Raises `Refused` with the
    field's name when a value is missing or can't be.
    """
    found = {
        field.key: _typed(field, typed.get(field.key, ""), unit, system)
        for field in sheet.fields
        if not (field.optional and not typed.get(field.key, "").strip())
    }
    given = {**settings, **found}
    for check in sheet.checks:
        if holds(check.wrong, given):
            raise Refused("bad-value", filled(check.say, given))
    beyond = sheet.beyond if sheet.beyond and holds(sheet.beyond.when, given) else None
    value = value_of(beyond.bound if beyond else sheet.formula, given) * made_factor(sheet, unit, settings)
    bushel = settings.get("bushel") or 0.0
    if possible and not possible[0] <= value <= possible[1]:
        raise Refused("bad-value", _of_range("possible", value, possible, unit, system, bushel))
    if beyond:
        return Entered(None, found, {}, (), value)
    questions: tuple[str, ...] = ()
    if plausible and not plausible[0] <= value <= plausible[1]:
        questions = (_of_range("plausible", value, plausible, unit, system, bushel),)
    elif expected and not expected.low <= value <= expected.high:
        questions = (_of_range(expected.which, value, expected.seen, unit, system, bushel),)
    derived = {one.key: number_or_none(one.formula, given) for one in sheet.derived}
    return Entered(value, found, {key: one for key, one in derived.items() if one is not None}, questions)


def made_factor(sheet: Sheet, unit: str, settings: Settings) -> float:
    """From what the sheet makes to the measure's unit. Counts were always per m² before units were turned, whatever
    stood beside them.
    """
    return per_area_factor(unit) or 1.0 if sheet.makes == "1/m²" else made_in(sheet, unit, settings)


def readings_in(text: str) -> list[str]:
    """Several readings in one field, parted by semicolons, else by blanks."""
    return [one.strip() for one in re.split(";" if ";" in text else r"\s+", text.strip()) if one.strip()]


def unit_of_field(field: SheetField, unit: str) -> str:
    """The unit of a field of a measure in `unit`; counts have none."""
    return field.unit or (unit if not field.bare and field.kind in ("number", "scale", "readings") else "")


def _of_range(which: str, value: float, ends: tuple[float, float], unit: str, system: System, bushel: float) -> str:
    shown, factor = shown_in(unit, system, bushel)
    said = f"{number(value * factor)} {shown}".strip()
    low, high = number(ends[0] * factor), f"{number(ends[1] * factor)} {shown}".strip()
    return filled(MESSAGES[which], {"said": said, "low": low, "high": high})


def _typed(field: SheetField, text: str, unit: str, system: System) -> Typed:
    if not text.strip():
        raise Refused("bad-value", filled(MESSAGES["empty"], {"field": field.name}))
    if field.kind == "text":
        return text.strip()
    if field.kind == "choice":
        return _choice(field, text)
    if field.kind == "moment":
        return _moment(field, text)
    if field.kind == "readings":
        return [_number(field, one, unit, system) for one in readings_in(text)]
    if field.kind == "squares":
        return _squares(field, text)
    return _number(field, text, unit, system)


def _choice(field: SheetField, text: str) -> str:
    """A choice as it is written, or the number that it begins with."""
    typed = text.strip().casefold()
    known = {choice.casefold(): choice for choice in field.choices}
    begun = [choice for choice in field.choices if choice.casefold().startswith(f"{typed} ")]
    chosen = known.get(typed) or (begun[0] if len(begun) == 1 else None)
    if chosen is None:
        raise Refused("bad-value", f"{field.name}: “{text.strip()[:40]}” isn’t one of {listed(list(field.choices))}.")
    return chosen


def _squares(field: SheetField, text: str) -> list[float]:
    """Numbers of squares in order, each once; `3-8` is all from 3 to 8."""
    found: set[int] = set()
    for one in re.split(r"[\s;,]+", text.strip()):
        ends = [int(end) for end in re.split("[-–]", one)] if re.fullmatch(r"\d{1,4}([-–]\d{1,4})?", one) else []
        if not ends or ends[0] > ends[-1] or ends[-1] > (field.most or 0):
            raise Refused("bad-value", f"{field.name}: “{one[:40]}” isn’t a square. Type numbers of squares up to "
                          f"{number(field.most or 0)}, like 3-8 14; 0 where there is none.")  # fmt: skip
        found.update(range(ends[0], ends[-1] + 1))
    return [float(one) for one in sorted(found)]


def _moment(field: SheetField, text: str) -> str:
    try:
        return datetime.fromisoformat(text.strip()).isoformat()
    except ValueError:
        raise Refused(
            "bad-value", f"{field.name}: “{text.strip()[:40]}” isn’t a date and time. Type it like 2026-04-02 14:30."
        ) from None


def _number(field: SheetField, text: str, unit: str, system: System) -> float:
    own = unit_of_field(field, unit)
    shown, factor = shown_in(own, system)
    value = parse_quantity(text, shown) / factor
    said = f"{field.name}: {number(value * factor)} {shown}".strip()
    least, most = field.least, field.most
    wrong = (
        "whole" if field.whole and value != int(value)
        else "above" if least is not None and field.above and value <= least
        else "least" if least is not None and value < least
        else "most" if most is not None and value > most
        else ""
    )  # fmt: skip
    if wrong:
        end = most if wrong == "most" else least
        raise Refused("bad-value", filled(MESSAGES[wrong], {"said": said, "end": number((end or 0.0) * factor)}))
    return value
