"""Text in a cell → a number, a gap, or neither."""

from __future__ import annotations

import math
import re

MISSING_WORDS = frozenset({"", "-", "–", "—", ".", "*", "na", "n/a", "n.a.", "nan", "null", "missing", "lost"})
_NUMBER = re.compile(r"[-+]?(\d+(\.\d*)?|\.\d+)([eE][-+]?\d+)?")


def is_missing(text: str) -> bool:
    return text.strip().lower() in MISSING_WORDS


def read_number(text: str, *, decimal_comma: bool = False) -> float | None:
    """The figure in a cell; None if it isn't one. Blanks and apostrophes between thousands are read past.

    With `decimal_comma`, a comma is the decimal mark and a point parts thousands; a single point is then still read
    as a decimal mark where it can't part thousands.
    """
    plain = re.sub(r"[\s'’\u00a0\u202f]", "", text.replace("−", "-"))
    if decimal_comma and "," in plain:
        plain = plain.replace(".", "").replace(",", ".", 1)
    elif re.fullmatch(r"[-+]?\d{1,3}(,\d{3})+(\.\d+)?", plain):
        plain = plain.replace(",", "")
    elif re.fullmatch(r"[-+]?\d+,\d+", plain):
        plain = plain.replace(",", ".")
    if not _NUMBER.fullmatch(plain):
        return None
    value = float(plain)
    return value if math.isfinite(value) else None
