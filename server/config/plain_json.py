"""JSON as requests bring it: no characters that no database text can hold, and no depth that nobody types."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import IO, Any

from rest_framework.exceptions import ParseError
from rest_framework.parsers import JSONParser

DEEPEST = 64
_UNKEPT = re.compile("[\0\ud800-\udfff]")


class PlainJSONParser(JSONParser):
    """Raises `ParseError` (400) where a text holds NUL or half of a character, or lists lie too deep in each other."""

    def parse(
        self, stream: IO[Any], media_type: str | None = None, parser_context: Mapping[str, Any] | None = None
    ) -> dict[str, Any]:
        try:
            found = super().parse(stream, media_type, parser_context)
        except RecursionError:
            raise ParseError(_TOO_DEEP) from None
        _require_plain(found)
        return found


_TOO_DEEP = f"The request holds lists or objects in each other more than {DEEPEST} deep. Send it flatter."


def _require_plain(found: Any) -> None:
    waiting: list[tuple[Any, int]] = [(found, 0)]
    while waiting:
        value, depth = waiting.pop()
        if depth > DEEPEST:
            raise ParseError(_TOO_DEEP)
        if isinstance(value, str):
            _require_text(value)
        elif isinstance(value, Mapping):
            for key, inside in value.items():
                _require_text(key)
                waiting.append((inside, depth + 1))
        elif isinstance(value, list):
            waiting += [(inside, depth + 1) for inside in value]


def _require_text(text: str) -> None:
    if _UNKEPT.search(text):
        shown = text.encode("ascii", "backslashreplace").decode()[:40]
        raise ParseError(f"A text holds a character that can’t be kept: {shown!r}. Take it out and send it again.")
