"""Text → records of cells with their line numbers, so that no line vanishes inside a quotation."""

from __future__ import annotations

import csv
import io
import re
from collections import Counter
from dataclasses import dataclass

from apercu_core.cells import as_meant
from apercu_core.errors import Refused

SEPARATORS = {";": "semicolon", "\t": "tab", ",": "comma", "|": "bar"}
_LINES_OF_A_CELL = 30
_LETTERS_OF_A_CELL = 100_000


@dataclass(frozen=True, slots=True)
class Record:
    """`line`: where it starts; `cells`: without outer blanks; `unclosed`: a quotation mark had to be read past."""

    line: int
    cells: tuple[str, ...]
    unclosed: bool = False

    @property
    def filled(self) -> int:
        return sum(1 for cell in self.cells if cell)


def lines_of(text: str) -> list[str]:
    """Physical lines, ended by LF, CR LF or CR alone; the empty end of a file that ends with a line end is left out."""
    lines = re.split(r"\r\n|\n|\r", text)
    return lines[:-1] if lines and not lines[-1] else lines


def find_separator(lines: list[str]) -> str:
    """The separator that splits most lines alike, into more than one field; a first line `sep=;` says it."""
    if lines and (told := re.fullmatch(r'"?sep=(.)"?', lines[0].strip(), re.IGNORECASE)) and told[1] in SEPARATORS:
        return told[1]
    sample = [line for line in lines[:60] if line.strip()]
    best, score = "", 0.0
    for separator in SEPARATORS:
        counts = Counter(_fields_in(line, separator) for line in sample)
        fields, alike = max(counts.items(), key=lambda item: (item[1], item[0]), default=(1, 0))
        share = alike / max(len(sample), 1)
        if fields > 1 and share + 0.001 * fields > score:
            best, score = separator, share + 0.001 * fields
    if not best:
        raise Refused(
            "not-a-table",
            "This isn’t a table: its lines have no commas, semicolons or tabs between columns. "
            "Export it as CSV with a header line, and import that.",
        )
    return best


def _fields_in(line: str, separator: str) -> int:
    if '"' not in line:
        return line.count(separator) + 1
    return len(_quoted(line, separator) or line.split(separator))


def split_records(lines: list[str], separator: str, *, trust_quotes: bool) -> list[Record]:
    """Every line that isn't blank, in records.

    A quotation may go over several lines, unless what it swallows looks like rows of its own: then each line is read by
    itself, without the mark, and says so (`unclosed`). `trust_quotes`: a person said that it is one cell after all.
    """
    width = _usual_width(lines, separator)
    out: list[Record] = []
    i, damaged = 0, False
    while i < len(lines):
        line = lines[i]
        cells: list[str] | None = line.split(separator) if '"' not in line else _quoted(line, separator)
        if damaged and line.count('"') % 2:  # the other end of a quotation that was read past
            cells = None
        taken, unclosed = 1, False
        if cells is None:
            cells, taken = _over_lines(lines, i, separator, width, trust_quotes)
            if cells is None:
                damaged = True
                cells, taken, unclosed = [cell.replace('"', "") for cell in line.split(separator)], 1, True
        tidy = tuple(as_meant(" ".join(cell.split())) for cell in cells)
        if max(map(len, tidy), default=0) > _LETTERS_OF_A_CELL:
            raise Refused(
                "not-a-table", f"Line {i + 1} has a cell of more than 100,000 letters. Look for a stray quotation mark."
            )
        if any(tidy):
            out.append(Record(i + 1, tidy, unclosed))
        i += taken
    return out


def _quoted(text: str, separator: str) -> list[str] | None:
    """The fields of one record; None where its quotation marks don't close or stand in the wrong place."""
    try:
        records = list(csv.reader(io.StringIO(text, newline=""), delimiter=separator, strict=True))
    except csv.Error:
        return None
    return records[0] if len(records) == 1 else None


def _over_lines(
    lines: list[str], start: int, separator: str, width: int, trust: bool
) -> tuple[list[str] | None, int]:  # fmt: skip
    """A record whose quotation goes on over the next lines, and how many lines it takes."""
    for end in range(start + 1, min(start + _LINES_OF_A_CELL, len(lines))):
        if '"' not in lines[end]:
            continue
        cells = _quoted("\n".join(lines[start : end + 1]), separator)
        if cells is None:
            continue
        swallows = any(len(line.split(separator)) >= width for line in lines[start + 1 : end + 1])
        if trust or not (swallows or len(cells) != width):
            return cells, end - start + 1
        return None, 1
    return None, 1


def _usual_width(lines: list[str], separator: str) -> int:
    counts = Counter(_fields_in(line, separator) for line in lines[:200] if line.strip())
    return max(counts.items(), key=lambda item: (item[1], item[0]), default=(1, 0))[0]
