"""Bytes → days of weather, or the questions that have to be answered first."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date

from apercu_core.errors import Refused
from apercu_core.numbers import is_missing, read_number
from apercu_core.tables.questions import STOP, Answers, Choice, OddCell, Question, answer_to, open_questions
from apercu_core.tables.read import Table, read_table
from apercu_core.weather.climate import Climate
from apercu_core.weather.days import NAMES, QUANTITIES, Quantity, WeatherDay, faults
from apercu_core.weather.suspicions import from_fahrenheit, from_inches, suspect_fahrenheit, suspect_inches
from apercu_core.weather_files.columns import date_column, likely_columns, unit_in
from apercu_core.weather_files.dates import possible_orders, read_day

LEAVE_OUT = Choice("leave_out", "Leave these values out: they count as missing.")
_TEMPERATURES: tuple[Quantity, ...] = ("tmin_c", "tmax_c", "soil_c")


@dataclass(frozen=True, slots=True)
class WeatherFile:
    """`columns`: quantity → heading; `units`: heading → the unit that was taken. `days`: in order, one of each date.

    `questions`: all that were raised; `open`: those nobody has answered, while which nothing is kept. `odd`: cells that
    can't be used.
    """

    header: tuple[str, ...]
    date_column: str
    columns: Mapping[Quantity, str]
    units: Mapping[str, str]
    days: tuple[WeatherDay, ...]
    questions: tuple[Question, ...]
    open: tuple[Question, ...]
    odd: tuple[OddCell, ...]


def read_weather(data: bytes, answers: Answers | None = None, climate: Climate | None = None) -> WeatherFile:
    """A table with a date and at least one of minimum, maximum, rain, soil temperature.

    `climate`: of the station, to compare the values with. Raises `Refused` for what isn't such a table.
    """
    answers = answers or {}
    table = read_table(data, answers)
    when = date_column(table.header)
    if when is None:
        raise Refused(
            "not-a-table", "No column is called date or day. Name the column that holds the dates, and import it again."
        )
    columns = likely_columns([one for one in table.header if one != when])
    if not columns:
        raise Refused(
            "not-a-table",
            "No column holds a minimum, a maximum, rain or a soil temperature. Name the columns so, and import the "
            "file again.",
        )
    questions = list(table.questions)
    orders = possible_orders(table.column(when))
    order = orders[0] if len(orders) == 1 else ""
    if len(orders) != 1:
        question = _about_order(when, bool(orders))
        questions.append(question)
        order = answer_to(question, answers) or ""
    units = {heading: table.units.get(heading) or unit_in(heading) for heading in columns.values()}
    by_line, odd = _rows(table, when, columns, order)
    by_line = _turned(by_line, columns, units, questions, answers, climate)
    by_line, impossible = _possible(by_line, columns)
    odd += impossible
    if odd:
        questions.append(_about_odd(odd))
    days = _one_each(by_line, questions, answers)
    return WeatherFile(
        table.header, when, columns, units, tuple(sorted(days, key=lambda one: one.day)), tuple(questions),
        open_questions(questions, answers), tuple(odd),
    )  # fmt: skip


def _rows(
    table: Table, when: str, columns: Mapping[Quantity, str], order: str
) -> tuple[list[tuple[int, WeatherDay]], list[OddCell]]:
    found: list[tuple[int, WeatherDay]] = []
    odd: list[OddCell] = []
    at = {name: table.header.index(name) for name in (when, *columns.values())}
    for line, row in zip(table.lines, table.rows, strict=True):
        day = read_day(row[at[when]], order)
        if day is None:
            if order or row[at[when]].strip() == "":
                odd.append(OddCell(line, when, row[at[when]], "This isn’t a date that is read here, as 2026-03-05 is."))
            continue
        values: dict[str, float | None] = {}
        for quantity, heading in columns.items():
            text = row[at[heading]]
            value = None if is_missing(text) else read_number(text)
            if value is None and not is_missing(text):
                odd.append(OddCell(line, heading, text, "This isn’t a number."))
            values[quantity] = value
        found.append((line, WeatherDay(day, **values)))
    return found, odd


def _turned(
    rows: list[tuple[int, WeatherDay]], columns: Mapping[Quantity, str], units: dict[str, str],
    questions: list[Question], answers: Answers, climate: Climate | None,
) -> list[tuple[int, WeatherDay]]:  # fmt: skip
    """Values in °C and mm: by what a heading says, or by what a person answers where the values speak against it."""
    warm = [columns[q] for q in _TEMPERATURES if q in columns]
    said = {units[heading] for heading in warm if units[heading]}
    if len(said) > 1:
        raise Refused("not-a-table", "Some temperatures are in °C and some in °F. Give them in one unit.")
    unit = next(iter(said), "°C")
    days = [one for _, one in rows]
    suspicion = suspect_fahrenheit(days, climate) if warm and unit == "°C" else None
    if suspicion or (warm and not said):
        choices = (Choice("f", "They are in °F: turn them into °C."), Choice("c", "They are in °C, as read."), STOP)
        stands = "The column says °C." if said else "The columns name no unit of temperature."
        why = " ".join(filter(None, [suspicion.why if suspicion else "", stands, "In which unit are they?"]))
        question = Question("temperature_unit", None, (), why, choices)
        questions.append(question)
        unit = "°F" if answer_to(question, answers) == "f" else "°C"
    units.update(dict.fromkeys(warm, unit))
    if unit == "°F":
        rows = [(line, from_fahrenheit(one)) for line, one in rows]
    if "rain_mm" in columns:
        heading = columns["rain_mm"]
        rain = units[heading] or "mm"
        suspicion = suspect_inches(days) if rain == "mm" else None
        if suspicion or not units[heading]:
            choices = (Choice("in", "It is in inches: turn it into mm."), Choice("mm", "It is in mm, as read."), STOP)
            stands = "The column says mm." if units[heading] else "The column names no unit of rain."
            why = " ".join(filter(None, [suspicion.why if suspicion else "", stands, "In which unit is it?"]))
            question = Question("rain_unit", None, (), why, choices)
            questions.append(question)
            rain = "in" if answer_to(question, answers) == "in" else "mm"
        if rain not in ("mm", "in"):
            raise Refused("not-a-table", f"The rain is in {rain}. Give it in mm or inches.")
        units[heading] = rain
        if rain == "in":
            rows = [(line, from_inches(one)) for line, one in rows]
    return rows


def _possible(
    rows: list[tuple[int, WeatherDay]], columns: Mapping[Quantity, str]
) -> tuple[list[tuple[int, WeatherDay]], list[OddCell]]:
    """Rows without what can't be so, and those cells."""
    kept, odd = [], []
    for line, one in rows:
        wrong = {place.where: place.what for place in faults(one)}
        for name in QUANTITIES:
            if name in wrong:
                odd.append(OddCell(line, columns.get(name, NAMES[name]), f"{getattr(one, name):g}", wrong[name]))
        out = set(wrong) | ({"tmax_c"} if any("above the maximum" in what for what in wrong.values()) else set())
        values = {name: None if name in out else getattr(one, name) for name in QUANTITIES}
        kept.append((line, WeatherDay(one.day, **values)))
    return kept, odd


def _one_each(rows: list[tuple[int, WeatherDay]], questions: list[Question], answers: Answers) -> list[WeatherDay]:
    """One row of each date; those that say different things are asked about."""
    by_day: dict[date, list[tuple[int, WeatherDay]]] = {}
    for line, one in rows:
        by_day.setdefault(one.day, []).append((line, one))
    twice = [own for own in by_day.values() if len({one for _, one in own}) > 1]
    pick = "first"
    if twice:
        choices = (Choice("first", "Take the first of each."), Choice("last", "Take the last of each."), STOP)
        lines = tuple(line for own in twice for line, _ in own)
        named = ", ".join(own[0][1].day.isoformat() for own in twice[:3]) + (" and others" if len(twice) > 3 else "")
        question = Question(
            "duplicate_days", None, lines, f"{named}: the file has different values for a day.", choices
        )
        questions.append(question)
        pick = answer_to(question, answers) or "first"
    return [own[0 if pick == "first" else -1][1] for own in by_day.values()]


def _about_order(column: str, both: bool) -> Question:
    why = "Are the dates day first or month first?" if both else "The dates fit neither day first nor month first."
    choices = (
        *((Choice("dmy", "Day first, as in 5/3/2026 for 5 March."), Choice("mdy", "Month first.")) if both else ()),
        STOP,
    )
    return Question("date_order", column, (), why, choices)


def _about_odd(odd: list[OddCell]) -> Question:
    first = odd[0]
    why = f"{len(odd)} cell{'s' * (len(odd) > 1)} can’t be used. Line {first.line}, {first.column}: {first.why}"
    return Question("odd_cells", None, tuple(sorted({one.line for one in odd})), why, (LEAVE_OUT, STOP))
