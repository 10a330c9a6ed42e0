"""What can't be in a measure that people make themselves, told at its place, `fields.0.name`."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

from apercu_core.errors import Place, Refused
from apercu_core.measures.over_visits import RULES
from apercu_core.measures.own import LARGEST, OWN_KINDS, Grade, OwnField, OwnMeasure, written_of
from apercu_core.measures.parts import PART_KINDS
from apercu_core.measures.ranges import Ends
from apercu_core.measures.written_formulas import OF_NUMBERS, OF_READINGS, Written

MOST_FIELDS = 12
MOST_GRADES = 20
LONGEST_NAME = 60


def require_own(own: OwnMeasure) -> OwnMeasure:
    """The measure with what follows from it: ends of a percentage and of grades. Raises `Refused` with each place,
    `fields.0.name`, that something is wrong at.
    """
    wrong = [*_wrong_fields(own.fields), *_wrong_numbers(own), *_wrong_whole(own)]
    if not wrong:
        own = _with_ends(own)
        try:
            written = written_of(own)
            wrong = [*_wrong_formula(own, written), *_wrong_ends(own)]
        except Refused as refusal:
            wrong = [Place("formula", refusal.message)]
    if wrong:
        raise Refused("bad-value", wrong[0].what, wrong)
    return own


def _wrong_fields(fields: Sequence[OwnField]) -> list[Place]:
    wrong = []
    if not 1 <= len(fields) <= MOST_FIELDS:
        return [Place("fields", f"A measure has 1 to {MOST_FIELDS} fields; this one has {len(fields)}.")]
    for at, one in enumerate(fields):
        where = f"fields.{at}"
        wrong += _wrong_name(one.name, f"{where}.name")
        if one.kind == "choice":
            wrong += _wrong_grades(one.grades, f"{where}.grades")
        ends = [end for end in (one.least, one.most) if end is not None]
        if any(not math.isfinite(end) or abs(end) > LARGEST for end in ends):
            wrong.append(Place(f"{where}.most", "Type limits between −1,000,000,000 and 1,000,000,000."))
        elif len(ends) == 2 and ends[0] >= ends[1]:
            wrong.append(Place(f"{where}.most", f"{one.name}: the highest value must be above the lowest."))
    return wrong


def _wrong_grades(grades: Sequence[Grade], where: str) -> list[Place]:
    names = [one.name.strip().casefold() for one in grades]
    if not 2 <= len(grades) <= MOST_GRADES:
        return [Place(where, f"A choice has 2 to {MOST_GRADES} grades; write one in each line, like “2 patchy”.")]
    if len(set(names)) < len(names) or not all(names):
        return [Place(where, "Each grade needs a name of its own.")]
    if any(not math.isfinite(one.value) or abs(one.value) > LARGEST for one in grades):
        return [Place(where, "Each grade counts as a number between −1,000,000,000 and 1,000,000,000.")]
    return []


def _wrong_name(name: str, where: str) -> list[Place]:
    if not name.strip() or len(name) > LONGEST_NAME or not name[0].isalpha():
        return [Place(where, f"Write a name of at most {LONGEST_NAME} letters that begins with a letter.")]
    if name.strip().casefold() in {**OF_READINGS, **OF_NUMBERS}:
        return [Place(where, f"“{name}” is what formulas call something else. Write another name.")]
    return []


def _wrong_numbers(own: OwnMeasure) -> list[Place]:
    wrong = []
    if len(own.numbers) > MOST_FIELDS:
        return [Place("numbers", f"A measure has at most {MOST_FIELDS} fixed numbers.")]
    for at, one in enumerate(own.numbers):
        wrong += _wrong_name(one.name, f"numbers.{at}.name")
        if not math.isfinite(one.value) or abs(one.value) > LARGEST:
            wrong.append(Place(f"numbers.{at}.value", "Type a number between −1,000,000,000 and 1,000,000,000."))
    seen: set[str] = set()
    for where, name in [*((f"fields.{at}.name", one.name) for at, one in enumerate(own.fields)),
                        *((f"numbers.{at}.name", one.name) for at, one in enumerate(own.numbers))]:  # fmt: skip
        if name.strip().casefold() in seen:
            wrong.append(Place(where, f"“{name}” is there twice, so the formula can’t tell them apart."))
        seen.add(name.strip().casefold())
    return wrong


def _wrong_whole(own: OwnMeasure) -> list[Place]:
    wrong = []
    if own.kind not in OWN_KINDS:
        wrong.append(Place("kind", "Choose what kind of value it is."))
    if own.parts and own.parts not in PART_KINDS:
        wrong.append(Place("parts", "Choose what it is told by."))
    if own.over_visits not in RULES:
        wrong.append(Place("over_visits", "Choose what its value is where it is taken at several visits."))
    if not 1 <= own.samples <= 24:
        wrong.append(Place("samples", "1 to 24 samples per plot are possible."))
    return wrong


def _with_ends(own: OwnMeasure) -> OwnMeasure:
    if own.possible is not None:
        return own
    if own.kind == "percentage":
        return replace(own, possible=(0.0, 100.0))
    first = next((one for one in own.fields if one.kind != "text"), None)
    if own.kind == "score" and not own.formula.strip() and first and first.kind == "choice":
        grades = [one.value for one in first.grades]
        return replace(own, possible=(min(grades), max(grades)))
    return own


def _wrong_formula(own: OwnMeasure, written: Written) -> list[Place]:
    wrong = []
    if not own.formula.strip() and len([one for one in own.fields if one.kind != "text"]) > 1:
        return [Place("formula", "Several values are typed, so write the formula that makes one of them.")]
    for at, one in enumerate(own.fields):
        if one.optional and f"f{at + 1}" in written.used:
            wrong.append(Place(f"fields.{at}.optional", f"The formula needs {one.name}, so it can’t be left empty."))
        elif not one.optional and one.kind != "text" and f"f{at + 1}" not in written.used:
            wrong.append(
                Place("formula", f"The formula doesn’t use {one.name}. Use it, or mark that it may be left empty.")
            )
    if own.kind == "count" and not (written.sum_only and _counted(own, written)):
        wrong.append(Place("kind", "A count is whole numbers added up, nothing else. Choose “an amount” instead."))
    return wrong


def _counted(own: OwnMeasure, written: Written) -> bool:
    used = [one for at, one in enumerate(own.fields, 1) if f"f{at}" in written.used]
    return all(one.kind == "whole" for one in used) and not any(key.startswith("n") for key in written.used)


def _wrong_ends(own: OwnMeasure) -> list[Place]:
    wrong = []
    for key in ("plausible", "possible"):
        ends: Ends | None = getattr(own, key)
        if ends and not (all(math.isfinite(end) for end in ends) and ends[0] < ends[1]):
            wrong.append(Place(key, "The highest value must be above the lowest."))
    inside = not (own.plausible and own.possible) or (
        own.possible[0] <= own.plausible[0] and own.plausible[1] <= own.possible[1]
    )
    if not (wrong or inside):
        wrong.append(Place("plausible", "What is usual must lie inside what is possible."))
    if own.kind == "score" and own.possible is None:
        wrong.append(Place("possible", "Type the lowest and the highest score that can be."))
    if own.kind == "percentage" and own.possible and (own.possible[0] < 0 or own.possible[1] > 100):
        wrong.append(Place("possible", "A percentage goes from 0 to 100. If yours can pass 100, choose “an amount”."))
    return wrong
