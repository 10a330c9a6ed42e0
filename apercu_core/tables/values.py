"""The cells of a value column → numbers, missing values, odd cells, and what a person has to settle about them."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, field
from statistics import median

from apercu_core.errors import Refused
from apercu_core.measures.catalogue import definition_named
from apercu_core.measures.definition import Definition
from apercu_core.measures.ranges import is_part_of_whole
from apercu_core.numbers import Mark, is_date, is_grouped_by_blanks, is_missing, why_not_a_number, with_mark
from apercu_core.tables.marks import Evidence, weigh
from apercu_core.tables.questions import (
    STOP,
    Answers,
    Choice,
    DoubtfulCell,
    OddCell,
    Question,
    answer_to,
    lines_said,
)
from apercu_core.units import factor_between, is_unit, same_unit, split_unit_off
from apercu_core.words import number

DAY_NUMBERS = (36526, 54789)
"""Days since 1900 of 1 January 2000 and 1 January 2050, as spreadsheets count them."""

_LEAVE_OUT = Choice("leave_out", "Leave these cells out. They are missing values.")
_KEEP = Choice("keep", "Keep these values: they are right.")
_FAR = 30
"""How many times the usual value of its column a value has to be, to be asked about as two values or a code."""

_MAY_BE_NEGATIVE = ("difference", "change", "temperature", "balance", "delta", "anomaly", "residual", "log", "index",
                    "effect", "gain", "potential", "elevation", "deviation")  # fmt: skip


@dataclass(frozen=True, slots=True)
class ValueColumn:
    """`values`: in the order of the rows, None where missing, odd or open. `unit`: of the header or the cells."""

    name: str
    unit: str
    values: tuple[float | None, ...]
    odd: tuple[OddCell, ...]
    questions: tuple[Question, ...]


@dataclass
class _Reader:
    """One column on its way from text to numbers; each step may ask, and takes the answer that is there."""

    name: str
    label: str
    unit: str
    cells: Sequence[str]
    lines: Sequence[int]
    answers: Answers
    values: list[float | None] = field(default_factory=list)
    odd: list[OddCell] = field(default_factory=list)
    questions: list[Question] = field(default_factory=list)
    factors: dict[int, float] = field(default_factory=dict)

    def ask(
        self, about: str, rows: Sequence[int], why: str, choices: tuple[Choice, ...],
        cells: tuple[DoubtfulCell, ...] = (),
    ) -> str | None:  # fmt: skip
        question = Question(about, self.name, tuple(self.lines[i] for i in rows), why, (*choices, STOP), cells)
        self.questions.append(question)
        return answer_to(question, self.answers)

    def drop(self, rows: Sequence[int]) -> None:
        for i in rows:
            self.values[i] = None

    def call_odd(self, i: int, why: str) -> None:
        self.values[i] = None
        self.odd.append(OddCell(self.lines[i], self.name, self.cells[i], why))

    def present(self, without: Sequence[int] = ()) -> list[float]:
        left_out = set(without)
        return [v for i, v in enumerate(self.values) if v is not None and i not in left_out]


def read_values(
    name: str, label: str, unit: str, cells: Sequence[str], lines: Sequence[int], unread: frozenset[int],
    answers: Answers,
) -> ValueColumn:  # fmt: skip
    """Read a column of values. `cells`, `lines`: one for each row; `unread`: rows whose cells can't be trusted."""
    reader = _Reader(name, label, unit, ["" if i in unread else cell for i, cell in enumerate(cells)], lines, answers)
    texts = _without_units(reader)
    _settle_mark(reader, texts)
    _ask_about_groups(reader, texts)
    _ask_about_day_numbers(reader)
    _ask_about_codes(reader)
    _check_ranges(reader)
    return ValueColumn(name, reader.unit, tuple(reader.values), tuple(reader.odd), tuple(reader.questions))


def _without_units(reader: _Reader) -> list[str]:
    """The cells without a unit that is the column's; a column without one takes the unit that all its cells have."""
    parted = [split_unit_off(cell) if not is_missing(cell) else ("", "") for cell in reader.cells]
    suffixes = Counter(suffix for text, suffix in parted if text and suffix and is_unit(suffix))
    numbers = sum(1 for text, _ in parted if text)
    if not reader.unit and len(suffixes) == 1 and sum(suffixes.values()) == numbers:
        reader.unit = next(iter(suffixes))
    texts = list(reader.cells)
    other: dict[str, list[int]] = {}
    for i, (text, suffix) in enumerate(parted):
        if not text or not suffix or not is_unit(suffix):
            continue
        if reader.unit and same_unit(suffix, reader.unit):
            texts[i] = text
        else:
            other.setdefault(suffix, []).append(i)
    for suffix, rows in other.items():
        _ask_about_unit(reader, texts, suffix, rows)
    return texts


def _ask_about_unit(reader: _Reader, texts: list[str], suffix: str, rows: list[int]) -> None:
    """Cells in another unit than the column's stay out until a person says whether to convert them."""
    if not reader.unit:
        return
    try:
        factor = factor_between(suffix, reader.unit)
    except Refused:
        return
    why = f"Column {reader.name!r} is in {reader.unit}, but {_cells_on(reader, rows)} in {suffix}."
    if reader.ask("other_unit", rows, why, (Choice("convert", f"Convert to {reader.unit}."), _LEAVE_OUT)) == "convert":
        for i in rows:
            texts[i], reader.factors[i] = split_unit_off(texts[i])[0], factor


def _cells_on(reader: _Reader, rows: Sequence[int]) -> str:
    lines = [reader.lines[i] for i in rows]
    return f"the cell on {lines_said(lines)} is" if len(rows) == 1 else f"the cells on {lines_said(lines)} are"


def _settle_mark(reader: _Reader, texts: list[str]) -> None:
    evidence = weigh(texts)
    mark: str | None = evidence.mark
    if mark is None and evidence.doubtful + evidence.comma + evidence.point:
        mark = _ask_about_mark(reader, texts, evidence)
    for i, text in enumerate(texts):
        if is_missing(text):
            reader.values.append(None)
            continue
        comma, point = with_mark(text, ","), with_mark(text, ".")
        if i in evidence.doubtful:
            value = comma if mark == "," else point if mark == "." else None
        else:
            value = comma if point is None else point
        reader.values.append(None if value is None else value * reader.factors.get(i, 1))
        if value is None and i not in evidence.doubtful:
            reader.call_odd(i, why_not_a_number(text))


def _ask_about_mark(reader: _Reader, texts: list[str], evidence: Evidence) -> str | None:
    both = bool(evidence.comma and evidence.point)
    asked_about = evidence.doubtful or (*evidence.comma, *evidence.point)
    if both:
        c, p = texts[evidence.comma[0]], texts[evidence.point[0]]
        why = (
            f"Column {reader.name!r} holds both decimal marks: {c!r} on line {reader.lines[evidence.comma[0]]} has a "
            f"decimal comma, {p!r} on line {reader.lines[evidence.point[0]]} a decimal point."
        )
    else:
        text = texts[evidence.doubtful[0]]
        why = (
            f"Column {reader.name!r}: {text!r} on line {reader.lines[evidence.doubtful[0]]} can be "
            f"{_shown(with_mark(text, ','))} or {_shown(with_mark(text, '.'))}, and no other cell settles it."
        )
    cells = tuple(
        DoubtfulCell(reader.lines[i], texts[i], (_shown(with_mark(texts[i], ",")), _shown(with_mark(texts[i], "."))))
        for i in evidence.doubtful
    )
    example = texts[evidence.doubtful[0]] if evidence.doubtful else ""
    said = {m: f": {example} is {_shown(with_mark(example, m))}" if example else "" for m in _MARKS}
    choices = (Choice("comma", f"The comma is the decimal mark{said[',']}."),
               Choice("point", f"The point is the decimal mark{said['.']}."))  # fmt: skip
    taken = reader.ask("decimal_mark", asked_about, why, choices, cells)
    return {"comma": ",", "point": "."}.get(taken or "")


_MARKS: tuple[Mark, ...] = (",", ".")


def _shown(value: float | None) -> str:
    return "not a number" if value is None else f"{value:.10g}"


def _ask_about_groups(reader: _Reader, texts: list[str]) -> None:
    """`120 450` beside 118 and 122 may be two values, although it could be one."""
    grouped = [i for i, text in enumerate(texts) if reader.values[i] is not None and is_grouped_by_blanks(text)]
    others = [abs(v) for v in reader.present(grouped)]
    if not grouped or not others:
        return
    usual = median(others)
    doubtful = [i for i in grouped if abs(reader.values[i] or 0) > _FAR * max(usual, 1e-9)]
    if doubtful:
        text = texts[doubtful[0]]
        why = (
            f"Column {reader.name!r}: {text!r} on line {reader.lines[doubtful[0]]} may be one number with a blank "
            f"between its thousands, or two values. The other values are about {number(usual)}."
        )
        one = Choice("keep", "The blank parts thousands: each cell is one number.")
        if reader.ask("grouped", doubtful, why, (one, _LEAVE_OUT)) != "keep":
            reader.drop(doubtful)


def _ask_about_day_numbers(reader: _Reader) -> None:
    """A spreadsheet that took 5.12 for a date writes it as a number of days, such as 46361."""
    low, high = DAY_NUMBERS
    suspects = [i for i, v in enumerate(reader.values) if v is not None and low <= v <= high and v == int(v)]
    suspects = [i for i in suspects if reader.cells[i].isdigit()]
    others = reader.present(suspects)
    if not suspects:
        return
    if others:
        if max(map(abs, others)) * _FAR < low:
            for i in suspects:
                reader.call_odd(i, "this is a spreadsheet’s number of a day, not a value")
        return
    found = reader.present()
    if not reader.unit and max(found) - min(found) <= 800:
        why = f"Column {reader.name!r} holds numbers such as {found[0]:.0f}, as spreadsheets keep days. Are they dates?"
        values, dates = Choice("keep", "They are values."), Choice("leave_out", "They are dates: leave the column out.")
        if reader.ask("day_numbers", suspects, why, (values, dates)) != "keep":
            reader.drop(suspects)


def _ask_about_codes(reader: _Reader) -> None:
    """−99 or 9999 far from all other values is how some programs write a missing value."""
    suspects = [
        i
        for i, text in enumerate(reader.cells)
        if reader.values[i] is not None and set(text.strip().lstrip("-−").split(".")[0]) == {"9"} and len(text) >= 2
    ]
    others = reader.present(suspects)
    if not suspects or not others:
        return
    high, low = max(others), min(others)
    far = [i for i in suspects if _is_far(reader.values[i] or 0, low, high)]
    if far:
        why = (
            f"Column {reader.name!r} has {reader.cells[far[0]]} on {lines_said([reader.lines[i] for i in far])}; the "
            f"other values go from {number(low)} to {number(high)}. Does it stand for a missing value?"
        )
        missing = Choice("leave_out", "It stands for a missing value.")
        if reader.ask("missing_code", far, why, (missing, _KEEP)) != "keep":
            reader.drop(far)


def _is_far(value: float, low: float, high: float) -> bool:
    return (value < 0 <= low) or (value >= 99 and value > 5 * max(abs(high), abs(low)))


def _check_ranges(reader: _Reader) -> None:
    """The ranges that typed values meet: impossible ones are odd, unusual ones are asked about."""
    known = definition_named(reader.label, reader.unit)
    rows = [i for i, v in enumerate(reader.values) if v is not None]
    unusual = _outside_known(reader, known, rows) if known is not None else _outside_custom(reader, rows)
    if unusual:
        i, usual = unusual[0][0], unusual[0][1]
        lines = [reader.lines[row] for row, _ in unusual]
        why = (
            f"Column {reader.name!r}: {reader.cells[i]} on {lines_said(lines[:1])} is unusual; {usual} is usual."
            f"{f' The same holds for {lines_said(lines[1:])}.' if lines[1:] else ''} Check the table."
        )
        if reader.ask("unusual", [row for row, _ in unusual], why, (_KEEP, _LEAVE_OUT)) == "leave_out":
            reader.drop([row for row, _ in unusual])


def _outside_known(reader: _Reader, known: Definition, rows: list[int]) -> list[tuple[int, str]]:
    factor = factor_between(reader.unit, known.unit)
    unusual = []
    for i in rows:
        value = (reader.values[i] or 0.0) * factor
        if not known.possible[0] <= value <= known.possible[1]:
            reader.call_odd(i, f"this can’t be: possible is {_range(known.possible, factor, reader.unit)}")
        elif not known.plausible[0] <= value <= known.plausible[1]:
            unusual.append((i, _range(known.plausible, factor, reader.unit)))
    return unusual


def _range(ends: tuple[float, float], factor: float, unit: str) -> str:
    return f"{number(ends[0] / factor)}–{number(ends[1] / factor)} {unit}".strip()


def _outside_custom(reader: _Reader, rows: list[int]) -> list[tuple[int, str]]:
    """What a measure of one's own can hardly be: below zero where the rest isn't, or a percentage past 100."""
    label = reader.label.lower()
    values = {i: reader.values[i] or 0.0 for i in rows}
    below = [i for i, v in values.items() if v < 0]
    few = len(below) <= 0.25 * len(values)
    unusual = []
    if below and few and not any(word in label for word in _MAY_BE_NEGATIVE) and "°" not in reader.unit:
        unusual += [(i, "0 or more") for i in below]
    if is_part_of_whole(reader.label, reader.unit):
        unusual += [(i, "0–100 %") for i, v in values.items() if v > 100]
    return sorted(unusual)


def is_mostly_dates(cells: Sequence[str]) -> bool:
    """Whether a column is one of dates: four in five of its filled cells are written as one."""
    filled = [cell for cell in cells if not is_missing(cell)]
    return bool(filled) and sum(map(is_date, filled)) >= 0.8 * len(filled)
