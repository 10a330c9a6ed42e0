"""What has to be asked about the rows of a table as a whole: repeats, rows that aren't there, columns left out."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable, Mapping, Sequence

from apercu_core.numbers import is_missing, read_number
from apercu_core.tables.plot_rows import PlotRows, cell, treatment_of
from apercu_core.tables.questions import STOP, Choice, Question, lines_said
from apercu_core.tables.read import Table
from apercu_core.tables.roles import Role, names_a_measure
from apercu_core.tables.values import is_mostly_dates
from apercu_core.units import is_unit
from apercu_core.words import listed

_NOTES = ("note", "notes", "remark", "remarks", "comment", "comments")
_SAMPLES = Choice("samples", "They are samples of one plot: take their mean.")
Place = tuple[str, str, str]
"""Plot, measure and date of a row, the latter two empty where a table has no such column."""


def questions_about_rows(table: Table, roles: Mapping[str, Role], found: PlotRows) -> tuple[Question, ...]:
    places: dict[Place, list[int]] = {}
    for i in found.rows:
        place = (found.labels[i], cell(table, i, found.measure), cell(table, i, found.date))
        places.setdefault(place, []).append(i)
    several = any(len(rows) > 1 for rows in places.values())
    asked: list[Question] = [*_about_long_table(table, found)]
    varying = [*_varying_columns(table, roles, found, places)] if several else []
    asked += varying
    asked += _about_left_out(table, roles, found, {one.column for one in varying})
    if several and not found.sample:
        asked += _about_repeats(table, found, places)
    asked += _about_layers(table, found, places) if several else []
    asked += _about_counts(table, found, places)
    asked += _about_the_end(table, found)
    return tuple(asked)


def _about_long_table(table: Table, found: PlotRows) -> Iterable[Question]:
    if not found.measure:
        return
    levels = dict.fromkeys(cell(table, i, found.measure) for i in found.rows)
    why = (
        f"Column {found.measure!r} names what was measured ({listed(list(levels), 5)}), and {found.values[0]!r} holds "
        "the values. Each measure becomes a column of its own"
        f"{', at each date of ' + repr(found.date) if found.date else ''}."
    )
    spread = Choice("spread", "Yes: make a column for each measure.")
    yield Question("long_table", found.measure, (), why, (spread, STOP))
    if found.unit:
        units: dict[str, set[str]] = {}
        for i in found.rows:
            units.setdefault(cell(table, i, found.measure), set()).add(cell(table, i, found.unit))
        mixed = sorted(name for name, used in units.items() if len(used) > 1)
        if mixed:
            verb = "has" if len(mixed) == 1 else "have"
            why = f"{listed(mixed)} {verb} values in several units: {listed(sorted(units[mixed[0]]))}."
            yield Question(
                "several_units", found.unit, (), why, (Choice("apart", "Keep each unit as a measure of its own."), STOP)
            )


def _varying_columns(
    table: Table, roles: Mapping[str, Role], found: PlotRows, places: Mapping[Place, Sequence[int]]
) -> Iterable[Question]:
    """Words or dates that were left out, but differ between rows that would be averaged."""
    for name in table.header:
        if roles.get(name, "ignore") != "ignore":
            continue
        cells = table.column(name)
        filled = [text for text in cells if not is_missing(text)]
        dates = is_mostly_dates(cells)
        free = name.strip().lower() in _NOTES or (not dates and len(set(filled)) > max(12, 0.7 * len(filled)))
        if not filled or free:
            continue
        rows = next((rows for rows in places.values() if len({cells[i] for i in rows}) > 1), None)
        if rows is None:
            continue
        lines = tuple(table.lines[i] for i in rows)
        levels = [repr(text) for text in dict.fromkeys(cells[i] for i in rows)]
        why = (
            f"Column {name!r} is left out, but it differs within a plot: {lines_said(lines)} of plot "
            f"{found.labels[rows[0]]} have {listed(levels, 4)}. Their values would be averaged."
        )
        visits = (Choice("visits", "Each date is a visit of its own."),) if dates and not found.date else ()
        average = Choice("average", "The difference doesn’t matter: take the mean.")
        yield Question("differs_within_plot", name, lines, why, (*visits, average, STOP))


_PLACES = ("site", "location", "place", "farm", "field", "trial", "experiment", "environment", "year", "season", "ort",
           "standort", "jahr", "lieu", "année", "sitio", "año")  # fmt: skip
_LEAVE = Choice("leave", "Leave the column out: it says nothing that matters here.")
MOST_LEVELS = 12
"""Of a column that may be a site or a year."""


def _about_left_out(
    table: Table, roles: Mapping[str, Role], found: PlotRows, asked: set[str | None]
) -> Iterable[Question]:  # fmt: skip
    """Columns that no role was found for, and without which values would mean something else."""
    for name in table.header:
        if roles.get(name, "ignore") != "ignore" or name in asked:
            continue
        filled = {i: text for i in found.rows if not is_missing(text := table.column(name)[i])}
        levels = list(dict.fromkeys(filled.values()))
        if not levels:
            continue
        if not found.measure and all(is_unit(text) for text in levels):
            yield _units_left_out(table, name, filled, levels)
        elif is_mostly_dates(table.column(name)):
            if names_a_measure(name):
                why = (
                    f"Column {name!r} is called like a measure and holds dates ({listed(levels, 3)}), as a spreadsheet "
                    "makes them of numbers. It isn’t read."
                )
                yield Question("dates_for_values", name, (), why, (_LEAVE, STOP))
        elif 2 <= len(levels) <= MOST_LEVELS:
            yield from _place_left_out(table, name, found, levels)


def _units_left_out(table: Table, name: str, filled: Mapping[int, str], levels: Sequence[str]) -> Question:
    if len(levels) > 1:
        usual = Counter(filled.values()).most_common(1)[0][0]
        lines = tuple(table.lines[i] for i, text in filled.items() if text != usual)
        why = (
            f"Column {name!r} says that values are in different units ({listed(levels, 4)}): {lines_said(lines)} not "
            f"in {usual}. They can’t be compared as they are. Write all values in one unit."
        )
        return Question("units_differ", name, lines, why, (STOP,))
    why = (
        f"Column {name!r} says that values are in {levels[0]}, and isn’t read. Write the unit into the header of the "
        "column that it belongs to, as in ‘Yield (t/ha)’."
    )
    return Question("unit_left_out", name, (), why, (_LEAVE, STOP))


def _place_left_out(table: Table, name: str, found: PlotRows, levels: Sequence[str]) -> Iterable[Question]:
    """A site or a year whose plots would become one trial: the same treatment in a block of the same name twice."""
    at: dict[tuple[str, str], dict[str, str]] = {}
    for i in found.rows:
        where = (cell(table, i, found.block), treatment_of(table, i, found.treatment))
        at.setdefault(where, {})[found.labels[i]] = table.column(name)[i]
    apart = [own for own in at.values() if len(set(own.values())) > 1]
    is_place = name.strip().casefold() in _PLACES
    if not apart or not (is_place or (found.block and len(apart) == len(at))):
        return
    block = f"Blocks of the same name then hold plots of {listed(levels, 4)}. " if found.block else ""
    why = (
        f"Column {name!r} is left out, and plots of {listed(levels, 4)} would become one trial. {block}Differences "
        "between them would count as chance. Import each as a table of its own."
    )
    one = Choice("one", "They are one trial: the column doesn’t part it.")
    yield Question("one_trial", name, (), why, (one, STOP))


def _about_repeats(table: Table, found: PlotRows, places: Mapping[Place, Sequence[int]]) -> Iterable[Question]:
    twice = [(place, rows) for place, rows in places.items() if len(rows) > 1]
    (label, measure, date), rows = twice[0]
    more = f" {len(twice) - 1} more are repeated likewise." if len(twice) > 1 else ""
    at = " ".join(part for part in (f"Plot {label}" if found.plot else f"The plot {label}", measure, date) if part)
    why = f"{at} stands on {lines_said([table.lines[i] for i in rows])}.{more} Are these several samples of one plot?"
    lines = sorted(table.lines[i] for _, repeated in twice for i in repeated)
    yield Question("repeated_rows", None, tuple(lines), why, (_SAMPLES, STOP))


def _about_layers(table: Table, found: PlotRows, places: Mapping[Place, Sequence[int]]) -> Iterable[Question]:
    """A column of values that goes through the same few numbers in each plot: depths or dates, not values."""
    for name in found.values:
        at = table.header.index(name)
        sets = [tuple(sorted(table.rows[i][at] for i in rows)) for rows in places.values() if len(rows) > 1]
        same, n = Counter(sets).most_common(1)[0]
        distinct = len(set(same)) == len(same) and all(read_number(text) is not None for text in same)
        if distinct and n >= 3 and n >= 0.8 * len(sets):
            why = (
                f"Column {name!r} goes through the same numbers in each plot ({listed(list(same), 5)}). It looks like "
                "a depth, a layer or a sample’s number, not a value, and what stands beside it would be averaged."
            )
            keep = Choice("value", "It is a value, and the rows are samples of one plot.")
            yield Question("layer", name, (), why, (keep, STOP))


def _about_counts(table: Table, found: PlotRows, places: Mapping[Place, Sequence[int]]) -> Iterable[Question]:
    """Rows that aren't there: a treatment that a block lacks, a plot with fewer samples, a measure without a plot."""
    last_line = table.lines[-1]
    plots: dict[str, tuple[str, str]] = {}
    for i in found.rows:
        plots.setdefault(found.labels[i], (cell(table, i, found.block), treatment_of(table, i, found.treatment)))
    lost = Choice("lost", "Yes: there is no more than this.")
    missing = _missing_plots(plots, bool(found.block))
    if missing:
        why = f"Rows may be missing: {missing} The last line is {last_line}. Is the table complete?"
        yield Question("missing_rows", None, (last_line,), why, (lost, STOP))
    if found.measure or found.date:
        kinds = {(measure, date) for _, measure, date in places}
        per_measure = Counter(measure for measure, _ in kinds)
        dated = {kind for kind in kinds if per_measure[kind[0]] == max(per_measure.values()) or not found.date}
        holes = [(label, *kind) for label in plots for kind in sorted(dated) if (label, *kind) not in places]
        if holes:
            label, *kind = holes[0]
            more = f" {len(holes) - 1} more are missing likewise." if len(holes) > 1 else ""
            why = f"Plot {label} has no row of {' '.join(filter(None, kind))}.{more} Is the table complete?"
            yield Question("missing_values", None, (last_line,), why, (lost, STOP))
    sizes = Counter(len(rows) for rows in places.values())
    if len(sizes) > 1 and max(sizes) > 1:
        usual = max(sizes, key=lambda n: (sizes[n], n))
        uneven = [(place, rows) for place, rows in places.items() if len(rows) != usual]
        (label, *_), rows = uneven[-1]
        lines = sorted(table.lines[i] for _, own in uneven for i in own)
        why = (
            f"Most plots have {usual} row{'s' if usual > 1 else ''}, plot {label} has {len(rows)} "
            f"({lines_said([table.lines[i] for i in rows])}). Is the table complete?"
        )
        yield Question("uneven_rows", None, tuple(lines), why, (lost, STOP))


def _missing_plots(plots: Mapping[str, tuple[str, str]], blocked: bool) -> str:
    """Which treatments have fewer plots than the others, as a sentence; empty where it adds up."""
    counts = Counter(plots.values())
    treatments = dict.fromkeys(treatment for _, treatment in plots.values())
    if blocked:
        blocks = dict.fromkeys(block for block, _ in plots.values())
        usual = {t: Counter(counts[b, t] for b in blocks).most_common(1)[0][0] for t in treatments}
        lacking = {b: [t for t in treatments if counts[b, t] < usual[t]] for b in blocks}
        said = [f"block {block} has no plot of {listed(names)}" for block, names in lacking.items() if names]
        return f"{'; '.join(said[:3])}{' and so on' if len(said) > 3 else ''}." if said else ""
    each = Counter(treatment for _, treatment in plots.values())
    if len(set(each.values())) > 1:
        return f"the treatments have {listed([f'{n} ({name})' for name, n in each.items()])} plots."
    return ""


def _about_the_end(table: Table, found: PlotRows) -> Iterable[Question]:
    """A file that breaks off within its last value still looks like a table."""
    told = any(table.lines[-1] in question.lines for question in table.questions)
    if not table.cut or not found.rows or told:
        return
    name, text = table.header[-1], table.rows[-1][-1]
    others = [row[-1] for row in table.rows[:-1] if not is_missing(row[-1])]
    if name in found.values:
        complete = _looks_complete(text, others)
    elif name in (*found.treatment, found.block, found.plot, found.measure):
        complete = text in others or not any(other.startswith(text) for other in others)
    else:
        return  # what is left out can't be read wrongly
    if not complete:
        line = table.lines[-1]
        why = f"The file ends without a line end after {text!r} on line {line}, in column {name!r}. It may be cut off."
        keep = Choice("complete", "The last line is complete.")
        yield Question("last_line", None, (line,), why, (keep, Choice("leave_out", "Leave the last line out."), STOP))


def _looks_complete(text: str, others: Sequence[str]) -> bool:
    """Whether the last value has as many decimals as the longest of its column, so that nothing can have been lost."""
    if is_missing(text):
        return False

    def decimals(cell: str) -> int:
        found = re.search(r"[.,]([0-9]*)$", cell)
        return len(found[1]) if found else -1

    most = max(map(decimals, others), default=-1)
    return most > 0 and decimals(text) >= most  # whole numbers don't show where they end
