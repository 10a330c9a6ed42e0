"""Bytes → text: which encoding a table is in, and plain words for what isn't a table."""

from __future__ import annotations

import re

from apercu_core.errors import Refused

_BINARY = {b"PK\x03\x04": "a spreadsheet or ZIP file", b"%PDF": "a PDF", b"\x89PNG": "a picture",
           b"\xff\xd8\xff": "a picture", b"\xd0\xcf\x11\xe0": "an old spreadsheet"}  # fmt: skip
EMPTY = "The file is empty. Export the table as CSV with a header line, and import that."


def decode(data: bytes) -> tuple[str, str]:
    """The text and the name of its encoding. Raises `Refused` for what isn't text, with the line where it breaks."""
    if not data.strip():
        raise Refused("not-a-table", EMPTY)
    for start, kind in _BINARY.items():
        if data.startswith(start):
            raise Refused("not-a-table", f"This is {kind}, not a text table. Save the sheet as CSV, and import that.")
    if data.startswith((b"\xff\xfe", b"\xfe\xff")):
        try:
            return data.decode("utf-16"), "UTF-16"
        except UnicodeDecodeError:
            raise Refused("not-a-table", "The file starts as UTF-16 but breaks off. Save it as UTF-8.") from None
    if b"\0" in data:
        raise Refused(
            "not-a-table", "The file isn’t text (it holds zero bytes). Save the sheet as CSV, and import that."
        )
    try:
        return data.decode("utf-8-sig"), "UTF-8"
    except UnicodeDecodeError as error:
        line = data.count(b"\n", 0, error.start) + 1
        if _has_utf8_letters(data[: error.start] + data[error.end :]):
            raise Refused(
                "not-a-table",
                f"Line {line} isn’t UTF-8, though other lines are. The file is damaged there. Save it again as UTF-8.",
            ) from None
    try:
        return data.decode("cp1252"), "Windows-1252"
    except UnicodeDecodeError as error:
        line = data.count(b"\n", 0, error.start) + 1
        raise Refused(
            "not-a-table", f"Line {line} is neither UTF-8 nor Windows-1252. Save the table as UTF-8, and import that."
        ) from None


def _has_utf8_letters(data: bytes) -> bool:
    """Whether the bytes above 127 form real UTF-8 letters somewhere: never seen by chance in Windows-1252 prose."""
    return re.search(rb"[\xc3-\xcf][\x80-\xbf]", data) is not None
