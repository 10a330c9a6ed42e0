"""Text → a number, a missing value, or neither.

What one person types and what stands in a table's cell are read by the same rules; only who settles the decimal mark
differs. A person who types `9,125` means nine and an eighth. In a table the whole column settles it
(`tables.marks`).
"""

from __future__ import annotations

import re
from typing import Literal

Mark = Literal[",", "."]

MISSING_WORDS = frozenset({"", "-", "–", "—", ".", "*", "na", "n/a", "n.a.", "nan", "null", "missing", "lost"})
_SIGNS = str.maketrans({"−": "-", "–": "-"})
_EXPONENT = r"(?:[eE][-+]?[0-9]{1,4})?"
_PLAIN = re.compile(rf"[-+]?(?:[0-9]+\.?[0-9]*|\.[0-9]+){_EXPONENT}")
_BLANKS = " '’\u00a0\u202f\u2009"
_SMALLEST = 2.2250738585072014e-308
"""Below this a double loses digits, so the number isn't the one that was written."""

_ISO_DATE = r"[0-9]{4}([-/.])[0-9]{1,2}\1[0-9]{1,2}(?:[T ][0-9:.Z+-]+)?"
_LOCAL_DATE = r"[0-9]{1,2}([-/.])[0-9]{1,2}\2(?:[0-9]{4}|[0-9]{2})"
_MONTH = r"(?:jan|feb|mar|mär|apr|may|mai|jun|jul|aug|sep|oct|okt|nov|dec|dez)[a-zä]*\.?"  # how spreadsheets write 5.12
_DATES = re.compile(
    rf"(?:{_ISO_DATE}|{_LOCAL_DATE}|[0-9]{{1,2}}[./-]?\s?{_MONTH}(?:[ ./-]?[0-9]{{2,4}})?"
    rf"|{_MONTH}[ .-][0-9]{{1,4}}(?:,? [0-9]{{4}})?|[0-9]{{1,2}}:[0-9]{{2}}(?::[0-9]{{2}})?)",
    re.IGNORECASE,
)


def is_missing(text: str) -> bool:
    return text.strip().lower() in MISSING_WORDS


def is_date(text: str) -> bool:
    """Whether a cell is written as a date or a time of day; `3.4` isn't, `3.4.2026` and `4-Mar` are."""
    return _DATES.fullmatch(text.strip()) is not None


def is_grouped_by_blanks(text: str) -> bool:
    """Whether thousands are parted by a blank or an apostrophe, as in `12 500`."""
    return re.search(rf"[0-9][{_BLANKS}][0-9]", text.strip()) is not None


def with_mark(text: str, mark: Mark) -> float | None:
    """The number if `mark` is the decimal mark; None if the text can't be one.

    The other mark, a blank or an apostrophe may part thousands, one of them throughout and in threes. A number that
    a double can't hold (`1e-400`, `1e999`) is None.
    """
    plain = text.strip().translate(_SIGNS)
    for group in ("," if mark == "." else ".", *_BLANKS):
        if group in plain:
            ungrouped = _without_groups(plain, group, mark)
            if ungrouped is None:
                return None
            plain = ungrouped
            break
    plain = plain.replace(mark, ".") if plain.count(mark) <= 1 else ""
    if not _PLAIN.fullmatch(plain):
        return None
    return _held(plain)


def _without_groups(plain: str, group: str, mark: Mark) -> str | None:
    """Digits without what parts the thousands; None where they aren't parted in threes."""
    pattern = rf"[-+]?[1-9][0-9]{{0,2}}(?:{re.escape(group)}[0-9]{{3}})+(?:{re.escape(mark)}[0-9]*)?"
    return plain.replace(group, "") if re.fullmatch(pattern, plain) else None


def _held(plain: str) -> float | None:
    value = float(plain)
    digits = re.split("[eE]", plain)[0]
    lost = abs(value) < _SMALLEST and any(digit in "123456789" for digit in digits)
    return None if lost or abs(value) == float("inf") else value


def read_number(text: str) -> float | None:
    """The number that one person typed; None if it isn't one.

    A single comma or point is the decimal mark. Thousands are parted by blanks or apostrophes, or where two marks
    (`1.234,5`) or a repeated one (`1,234,567`) prove it.
    """
    marks = [letter for letter in text if letter in ",."]
    if len(marks) == 1:
        return with_mark(text, ",") if marks[0] == "," else with_mark(text, ".")
    point, comma = with_mark(text, "."), with_mark(text, ",")
    return comma if point is None else point


def why_not_a_number(text: str) -> str:
    """What a cell without a number holds, as the end of a sentence about it."""
    plain = text.strip().translate(_SIGNS)
    if is_date(plain):
        return "this is a date or a time"
    if plain.startswith("#"):
        return "this is an error of a spreadsheet"
    if re.fullmatch(r"[<>≤≥]\s*[0-9.,]+.*", plain):
        return "this is a limit, not a value"
    if re.fullmatch(r"[-+]?[0-9][0-9.,]*(?:\s+|\s*[-/;:+±x×&'’\"]\s*)[0-9][0-9.,'’\"]*", plain):
        return "these may be two values"
    if re.fullmatch(rf"[-+]?[0-9][0-9.,]*{_EXPONENT}", plain):
        exponent = re.search("[eE]", plain)
        return "it is too large or too small to be stored" if exponent else "its commas and points don’t fit together"
    if re.match(r"[-+]?[0-9]", plain):
        return "there is text beside the number"
    return "this isn’t a number"
