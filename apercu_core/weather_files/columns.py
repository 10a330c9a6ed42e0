"""Which column of a weather table holds what, and in which unit its heading says it is."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence

from apercu_core.weather.days import Quantity

DATE_WORDS = ("date", "day", "datum", "tag", "fecha", "data")
_TEMPERATURE = r"(t|temp\w*|air\w*|temperature)"
_PATTERNS: Mapping[Quantity, str] = {
    "soil_c": r"soil|boden|ground_temp|ts\d*",
    "tmin_c": rf"({_TEMPERATURE}[ _.-]*)?(min\w*|low\w*|tn)([ _.-]*{_TEMPERATURE})?",
    "tmax_c": rf"({_TEMPERATURE}[ _.-]*)?(max\w*|high\w*|tx)([ _.-]*{_TEMPERATURE})?",
    "rain_mm": r"rain\w*|precip\w*|prcp|rr|niederschlag|pluie",
}
_UNIT = re.compile(r"[\s_]*[\[(]?(°\s?[CF]|deg[ _]?[CF]|\bmm\b|\bcm\b|\binch(?:es)?\b|\bin\b)[\])]?\s*$", re.IGNORECASE)
_SHORT_UNIT = re.compile(r"[\s_\[(]+([CF])[\])]?\s*$", re.IGNORECASE)


def unit_in(heading: str) -> str:
    """`°C`, `°F`, `mm` or `in` where the heading ends with it; empty where it says none."""
    found = _UNIT.search(heading) or _SHORT_UNIT.search(heading)
    if not found:
        return ""
    said = found.group(1).lower().replace(" ", "")
    if said in ("mm", "cm"):
        return said
    return "in" if said.startswith("in") else "°F" if said.endswith("f") else "°C"


def _name_of(heading: str) -> str:
    plain = _UNIT.sub("", heading)
    return _SHORT_UNIT.sub("", plain).strip(" _.-").lower()


def date_column(header: Sequence[str]) -> str | None:
    return next((one for one in header if _name_of(one).split(" ")[0] in DATE_WORDS), None)


def likely_columns(header: Sequence[str]) -> dict[Quantity, str]:
    """Quantity → the first column whose heading names it, a column for one quantity only."""
    found: dict[Quantity, str] = {}
    for quantity, pattern in _PATTERNS.items():
        taken = set(found.values())
        for heading in header:
            name = _name_of(heading)
            hit = re.match(rf"(?:{pattern})" if quantity == "soil_c" else rf"(?:{pattern})(?![a-z])", name)
            if hit and heading not in taken:
                found[quantity] = heading
                break
    return found
