"""Cells of tables that go out and come in: text that a spreadsheet would run as a formula goes out marked.

A spreadsheet takes a cell that begins with =, +, -, @, a tab or a line break for a formula, even in a CSV (OWASP, *CSV
Injection*). Such texts get an apostrophe in front, and so do those that have apostrophes before such a sign, so that
reading takes exactly one away again. Numbers aren't text and go out as they are.
"""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterable

from apercu_core.errors import Refused

_MARK = "'"
_FORMULA = re.compile(r"'*[=+\-@\t\r\n]")


def harmless(text: str) -> str:
    """The text as it goes out."""
    return _MARK + text if _FORMULA.match(text) else text


def as_meant(cell: str) -> str:
    """What `harmless` was given; every other cell as it is."""
    return cell[1:] if cell.startswith(_MARK) and _FORMULA.match(cell) else cell


def written(rows: Iterable[Iterable[object]], line_end: str = "\r\n") -> str:
    """CSV after RFC 4180; texts harmless, None as an empty cell."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator=line_end)
    writer.writerows([harmless(cell) if isinstance(cell, str) else cell for cell in row] for row in rows)
    return out.getvalue()


def read_rows(text: str) -> list[list[str]]:
    """Rows of a CSV with commas, cells as they were meant. Raises `Refused` where it can't be one."""
    try:
        return [[as_meant(cell) for cell in row] for row in csv.reader(io.StringIO(text, newline=""))]
    except csv.Error as fault:
        raise Refused("not-a-table", f"The table can’t be read: {fault}. Look for a stray quotation mark.") from fault
