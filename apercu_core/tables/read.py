"""Bytes → a table of text cells: header, rows, and what has to be asked about lines that don't fit."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, replace

from apercu_core.errors import Refused
from apercu_core.numbers import is_missing, read_number
from apercu_core.tables.decode import EMPTY, decode
from apercu_core.tables.questions import STOP, Answers, Choice, Question, answer_to, lines_said, open_questions
from apercu_core.tables.records import SEPARATORS, Record, find_separator, lines_of, split_records
from apercu_core.units import is_unit

MOST_BYTES = 20_000_000
MOST_ROWS = 100_000
MOST_COLUMNS = 200
_MOST_LINES = 3 * MOST_ROWS
"""More than rows: there may be blank lines, comments, and cells over several lines."""

_SUMMARY = re.compile(
    r"(grand |overall )?(means?|averages?|avg|totals?|sums?|sd|se|sed|sem|lsd|cv|st\.? ?dev|std|min|max|minimum|maximum"
    r"|median|mittelwert|summe|moyenne|media|gemiddelde)( ?[(%:,].*)?",
    re.IGNORECASE,
)
_LEAVE_OUT = Choice("leave_out", "Leave these lines out.")
_AS_READ = Choice("keep", "Keep these lines; what isn’t there is missing.")


@dataclass(frozen=True, slots=True)
class Table:
    """`rows`: cells as text, without outer blanks; `lines`: the line of the file that each row starts on.

    `units`: column → its unit, where a line of units stands under the header. `skipped`: lines that aren't rows of
    data. `shifted`: indices of rows with more cells than the header, whose cells can't be trusted. `cut`: the file
    doesn't end with a line end. `questions`: about lines; each open one has to be answered before anything is kept.
    """

    header: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    lines: tuple[int, ...]
    encoding: str
    separator: str
    units: dict[str, str]
    skipped: tuple[int, ...] = ()
    shifted: frozenset[int] = frozenset()
    cut: bool = False
    questions: tuple[Question, ...] = ()

    def column(self, name: str) -> list[str]:
        at = self.header.index(name)
        return [row[at] for row in self.rows]


def read_table(data: bytes, answers: Answers | None = None) -> Table:
    """Read a delimited text table with a header line.

    `answers`: what a person said about its lines. Raises `Refused` in plain words for what isn't a table.
    """
    answers = answers or {}
    if len(data) > MOST_BYTES:
        raise Refused(
            "not-a-table",
            f"The file has {len(data) / 1e6:.0f} MB; the most is {MOST_BYTES / 1e6:.0f} MB. "
            "Leave out photographs and other sheets, or split it by trial.",
        )
    text, encoding = decode(data)
    _require_few_lines(max(text.count("\n"), text.count("\r")))
    lines = lines_of(text)
    _require_narrow(lines)
    separator = find_separator(lines)
    records = split_records(lines, separator, trust_quotes=answers.get("quotes") == "one_cell")
    at = _header_at(records)
    header = _header(records, at)
    units, first = _units_under(records, at, header)
    table = _rows(records[first:], header, answers)
    skipped = {record.line for record in records[:at]} | {record.line for record in records[at + 1 : first]}
    blank = {i for i, line in enumerate(lines, 1) if not line.strip()}
    return replace(
        table,
        encoding=encoding,
        separator=SEPARATORS[separator],
        units=units,
        skipped=tuple(sorted(skipped | blank | set(table.skipped))),
        cut=not text.endswith(("\n", "\r")) and len(lines) > 1,
    )


def _require_few_lines(lines: int) -> None:
    """Raises `Refused` for what is far too long, before any of it is taken apart."""
    if lines > _MOST_LINES:
        raise Refused(
            "not-a-table", f"The table has {lines:,} lines; the most is {MOST_ROWS:,} rows. Split it by trial."
        )


def _require_narrow(lines: list[str]) -> None:
    widest = max((max(line.count(mark) for mark in SEPARATORS) for line in lines), default=0)
    if widest > 20 * MOST_COLUMNS:
        raise Refused("not-a-table", f"A line of the table has {widest:,} columns; the most is {MOST_COLUMNS}.")


def require_whole(table: Table) -> None:
    """Refuse a table that needs a person's decision, where there is nobody to ask."""
    still_open = open_questions(table.questions, {})
    if still_open:
        raise Refused("not-a-table", f"{still_open[0].why} Correct the file, and import it again.")


def _header_at(records: Sequence[Record]) -> int:
    """The first line that names most of the columns; what stands above it is a title."""
    if not records:
        raise Refused("not-a-table", EMPTY)
    usual = Counter(len(record.cells) for record in records[:200]).most_common(1)[0][0]
    for at, record in enumerate(records[:20]):
        if record.cells[0].startswith("#") or re.fullmatch(r"sep=.", record.cells[0], re.IGNORECASE):
            continue
        if len(record.cells) > 1 and record.filled >= max(2, 0.6 * usual):
            return at
    return 0


def _header(records: Sequence[Record], at: int) -> tuple[str, ...]:
    fields = list(records[at].cells)
    below = records[at + 1 :]
    if not below:
        raise Refused("not-a-table", "The file has a header line and no rows of data below it.")
    while fields and not fields[-1] and not any(cell for r in below for cell in r.cells[len(fields) - 1 :]):
        fields.pop()
    if len(fields) > MOST_COLUMNS:
        raise Refused("not-a-table", f"The table has {len(fields)} columns; the most is {MOST_COLUMNS}.")
    named = [name or f"column {i}" for i, name in enumerate(fields, start=1)]
    twice = [name for name, n in Counter(named).items() if n > 1]
    if twice:
        raise Refused(
            "not-a-table", f"Two columns are called {twice[0]!r}. Give each its own name, and import it again."
        )
    if all(re.fullmatch(r"[-+]?[\d.,]+", name) for name in named):
        raise Refused("not-a-table", "The first line holds numbers, not column names. Put a header line above them.")
    return tuple(named)


def _units_under(records: Sequence[Record], at: int, header: tuple[str, ...]) -> tuple[dict[str, str], int]:
    """The units in a line of their own under the header, and where the rows begin."""
    cells = records[at + 1].cells
    found = {name: cell.strip("()[] ") for name, cell in zip(header, cells, strict=False) if cell}
    if found and len(records) > at + 2 and all(is_unit(u) and read_number(u) is None for u in found.values()):
        return found, at + 2
    return {}, at + 1


def _rows(records: Sequence[Record], header: tuple[str, ...], answers: Answers) -> Table:
    """Rows of the header's width, those left out that a person left out, and a question for each kind that doesn't
    fit."""
    if len(records) > MOST_ROWS:
        raise Refused("not-a-table", f"The table has {len(records)} rows; the most is {MOST_ROWS}.")
    width = len(header)
    repeated = [r.line for r in records if r.cells[:width] == header]
    rest = [r for r in records if r.cells[:width] != header]
    comments = [r.line for r in rest if r.cells[0].startswith("#")]
    rest = [r for r in rest if not r.cells[0].startswith("#")]
    unclosed = [r.line for r in rest if r.unclosed]
    long = [r.line for r in rest if any(r.cells[width:])]
    short = [r.line for r in rest if len(r.cells) < width]
    summary = [r.line for r in rest if r.line not in (*long, *short) and _is_summary(r)]
    asked = [q for q in (_about_quotes(unclosed), _about_long(long, width, len(rest)), _about_short(short, width),
                         _about_summary(summary)) if q]  # fmt: skip
    out = {
        line
        for q in asked
        if answer_to(q, answers) == "leave_out" or (q.about == "summary_rows" and answer_to(q, answers) != "keep")
        for line in q.lines
    }
    kept = [r for r in rest if r.line not in out]
    if not kept:
        raise Refused("not-a-table", "The file has a header line and no rows of data below it.")
    return Table(
        header,
        tuple((*r.cells[:width], *[""] * (width - len(r.cells))) for r in kept),
        tuple(r.line for r in kept),
        "",
        "",
        {},
        skipped=(*repeated, *comments, *out),
        shifted=frozenset(i for i, r in enumerate(kept) if any(r.cells[width:])),
        questions=tuple(asked),
    )


def _is_summary(record: Record) -> bool:
    """A line below the plots with their mean or total: its first word says so, and a cell of it is empty."""
    words = [cell for cell in record.cells if not is_missing(cell) and read_number(cell) is None]
    return bool(words) and _SUMMARY.fullmatch(words[0]) is not None and record.filled < len(record.cells)


def _about_quotes(lines: list[int]) -> Question | None:
    if not lines:
        return None
    why = (
        f"A quotation mark on {lines_said(lines)} isn’t closed, or it would swallow the lines below. These lines were "
        "read one by one, without the mark. Compare them with the table."
    )
    choices = (
        Choice("lines", "Each line is a row of its own, as read here."),
        Choice("one_cell", "The quotation marks are right: a cell goes over several lines."),
        STOP,
    )
    return Question("quotes", None, tuple(lines), why, choices)


def _about_long(lines: list[int], width: int, rows: int) -> Question | None:
    if not lines:
        return None
    said = f"{lines_said(lines).capitalize()} {'has' if len(lines) == 1 else 'have'} more cells than the header, which"
    hint = (
        "Is the first column without a name, or a decimal comma not quoted?"
        if len(lines) == rows
        else "Is a comma inside a value not quoted?"
    )
    return Question(
        "too_many_cells", None, tuple(lines), f"{said} names {width} columns. {hint} No value was read from there.",
        (_LEAVE_OUT, STOP),
    )  # fmt: skip


def _about_short(lines: list[int], width: int) -> Question | None:
    if not lines:
        return None
    said = f"{lines_said(lines).capitalize()} {'has' if len(lines) == 1 else 'have'} fewer cells than the header"
    return Question(
        "too_few_cells", None, tuple(lines), f"{said}, which names {width} columns. The line may be cut off.",
        (_AS_READ, _LEAVE_OUT, STOP),
    )  # fmt: skip


def _about_summary(lines: list[int]) -> Question | None:
    if not lines:
        return None
    why = (
        f"{lines_said(lines).capitalize()} {'looks' if len(lines) == 1 else 'look'} like a mean or a total, not a plot."
    )
    keep = Choice("keep", "Keep these lines: they are plots.")
    return Question("summary_rows", None, tuple(lines), why, (_LEAVE_OUT, keep, STOP))
