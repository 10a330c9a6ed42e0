"""Bytes → a table of text cells: encoding, separator and decimal mark found out and said."""

from __future__ import annotations

import csv
import io
import re
from collections import Counter
from dataclasses import dataclass

from apercu_core.errors import Refused

MOST_BYTES = 20_000_000
MOST_ROWS = 100_000
MOST_COLUMNS = 200

_SEPARATORS = {";": "semicolon", "\t": "tab", ",": "comma", "|": "bar"}
_BINARY = {b"PK\x03\x04": "a spreadsheet or ZIP file", b"%PDF": "a PDF", b"\x89PNG": "a picture",
           b"\xff\xd8\xff": "a picture", b"\xd0\xcf\x11\xe0": "an old spreadsheet"}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Table:
    """`rows`: cells as text, without outer blanks; `lines`: the line of the file that each row starts on."""

    header: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    lines: tuple[int, ...]
    encoding: str
    separator: str
    decimal_comma: bool

    def column(self, name: str) -> list[str]:
        at = self.header.index(name)
        return [row[at] for row in self.rows]


def read_table(data: bytes) -> Table:
    """Read a delimited text table with a header line. Raises `Refused` in plain words for what isn't one."""
    if len(data) > MOST_BYTES:
        raise Refused(
            "not-a-table",
            f"The file has {len(data) / 1e6:.0f} MB; the most is {MOST_BYTES / 1e6:.0f} MB. "
            "Leave out photographs and other sheets, or split it by trial.",
        )
    text, encoding = _decode(data)
    separator = _separator(text)
    lines = _split(text, separator)
    if not lines:
        raise Refused("not-a-table", "The file is empty. Export the table as CSV with a header line, and bring that.")
    header = _header(lines[0][1])
    if len(lines) == 1:
        raise Refused("not-a-table", "The file has a header line and no rows of data below it.")
    rows, numbers = _rows(lines[1:], len(header))
    decimal_comma = separator != "," and _decimal_comma(rows)
    return Table(header, rows, numbers, encoding, _SEPARATORS[separator], decimal_comma)


def _decode(data: bytes) -> tuple[str, str]:
    if not data.strip():
        raise Refused("not-a-table", "The file is empty. Export the table as CSV with a header line, and bring that.")
    for start, kind in _BINARY.items():
        if data.startswith(start):
            raise Refused("not-a-table", f"This is {kind}, not a text table. Save the sheet as CSV, and bring that.")
    if data.startswith((b"\xff\xfe", b"\xfe\xff")):
        try:
            return data.decode("utf-16"), "UTF-16"
        except UnicodeDecodeError:
            raise Refused("not-a-table", "The file starts as UTF-16 but breaks off. Save it as UTF-8.") from None
    if b"\0" in data:
        raise Refused(
            "not-a-table", "The file isn't text (it holds zero bytes). Save the sheet as CSV, and bring that."
        )
    try:
        return data.decode("utf-8-sig"), "UTF-8"
    except UnicodeDecodeError as error:
        line = data.count(b"\n", 0, error.start) + 1
        if _has_utf8_letters(data[: error.start] + data[error.end :]):
            raise Refused(
                "not-a-table",
                f"Line {line} isn't UTF-8, though other lines are: the file is broken there. Save it anew.",
            ) from None
    try:
        return data.decode("cp1252"), "Windows-1252"
    except UnicodeDecodeError as error:
        line = data.count(b"\n", 0, error.start) + 1
        raise Refused(
            "not-a-table", f"Line {line} is neither UTF-8 nor Windows-1252. Save the table as UTF-8, and bring that."
        ) from None


def _has_utf8_letters(data: bytes) -> bool:
    """Whether the bytes above 127 form real UTF-8 letters somewhere: never seen by chance in Windows-1252 prose."""
    return re.search(rb"[\xc3-\xcf][\x80-\xbf]", data) is not None


def _separator(text: str) -> str:
    """The separator that splits most lines alike, into more than one field."""
    sample = [line for line in text.splitlines()[:60] if line.strip()]
    best, score = ",", 0.0
    for separator in _SEPARATORS:
        counts = Counter(len(next(csv.reader([line], delimiter=separator), [])) for line in sample)
        fields, lines = max(counts.items(), key=lambda item: (item[1], item[0]), default=(1, 0))
        share = lines / max(len(sample), 1)
        if fields > 1 and share + 0.001 * fields > score:
            best, score = separator, share + 0.001 * fields
    if score == 0.0:
        raise Refused(
            "not-a-table",
            "This isn't a table: no comma, semicolon or tab parts its lines into columns. "
            "Export it as CSV with a header line, and bring that.",
        )
    return best


def _split(text: str, separator: str) -> list[tuple[int, list[str]]]:
    """(line number, fields) of every line that isn't blank."""
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=separator)
    out, start = [], 1
    try:
        for fields in reader:
            cells = [" ".join(cell.split()) for cell in fields]
            if any(cells):
                out.append((start, cells))
            start = reader.line_num + 1
    except csv.Error as error:
        raise Refused(
            "not-a-table", f"Line {reader.line_num} can't be read: {error}. Look for a stray quote."
        ) from None
    return out


def _header(fields: list[str]) -> tuple[str, ...]:
    while fields and not fields[-1]:
        fields = fields[:-1]
    if len(fields) > MOST_COLUMNS:
        raise Refused("not-a-table", f"The table has {len(fields)} columns; the most is {MOST_COLUMNS}.")
    named = [name or f"column {i}" for i, name in enumerate(fields, start=1)]
    twice = [name for name, n in Counter(named).items() if n > 1]
    if twice:
        raise Refused(
            "not-a-table", f"Two columns are called {twice[0]!r}. Give each its own name, and bring it again."
        )
    if all(re.fullmatch(r"[-+]?[\d.,]+", name) for name in named):
        raise Refused("not-a-table", "The first line holds figures, not column names. Put a header line above them.")
    return tuple(named)


def _rows(lines: list[tuple[int, list[str]]], width: int) -> tuple[tuple[tuple[str, ...], ...], tuple[int, ...]]:
    if len(lines) > MOST_ROWS:
        raise Refused("not-a-table", f"The table has {len(lines)} rows; the most is {MOST_ROWS}.")
    rows = []
    for number, cells in lines:
        extra = [cell for cell in cells[width:] if cell]
        if extra:
            raise Refused(
                "not-a-table",
                f"Line {number} has {len(cells)} fields and the header {width}. Is a comma inside a value not quoted?",
            )
        rows.append((*cells[:width], *[""] * (width - len(cells))))
    return tuple(rows), tuple(number for number, _ in lines)


def _decimal_comma(rows: tuple[tuple[str, ...], ...]) -> bool:
    cells = [cell for row in rows[:500] for cell in row]
    commas = sum(re.fullmatch(r"[-+−]?\d+,\d+", cell) is not None for cell in cells)
    points = sum(re.fullmatch(r"[-+−]?\d+\.\d+", cell) is not None for cell in cells)
    return commas > points
