"""Short codes for treatments: two to four letters that tell them apart on the map."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterable, Sequence


def codes_for(names: Sequence[str], taken: Iterable[str] = ()) -> list[str]:
    """One code a name, all different and none of `taken`: initials, else first letters, else a number."""
    taken = set(taken)
    codes = []
    for name in names:
        code = next(code for code in _candidates(name) if code not in taken)
        taken.add(code)
        codes.append(code)
    return codes


def _candidates(name: str) -> Iterable[str]:
    plain = unicodedata.normalize("NFKD", name).encode("ascii", "ignore").decode().upper()
    words = re.findall(r"[A-Z0-9]+", plain) or ["T"]
    if len(words) > 1:
        yield "".join(word[0] for word in words)[:3]
    if words[0].isdigit() or len(words[0]) <= 4:
        yield words[0][:5]
    for length in (2, 3, 4):
        yield words[0][:length]
    if len(words) > 1:
        yield (words[0][:2] + words[1][:2])[:4]
    number = 1
    while True:
        yield f"{words[0][:2]}{number}"
        number += 1
