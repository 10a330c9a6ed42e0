"""Dates of a column: one order of day and month for all of them, asked for where both would do."""

from __future__ import annotations

import re
from collections.abc import Sequence
from datetime import date
from itertools import pairwise

_ISO = re.compile(r"([0-9]{4})[-/.]?([0-9]{2})[-/.]?([0-9]{2})(?:[T ].*)?")
_LOCAL = re.compile(r"([0-9]{1,2})[-/.]([0-9]{1,2})[-/.]([0-9]{4})(?:[T ].*)?")


def read_day(text: str, order: str = "") -> date | None:
    """A date as year-month-day, or as `order` says: `dmy` or `mdy`. None where it isn't one."""
    text = text.strip()
    try:
        if found := _ISO.fullmatch(text):
            return date(*map(int, found.groups()))
        if (found := _LOCAL.fullmatch(text)) and order:
            first, second, year = map(int, found.groups())
            return date(year, second, first) if order == "dmy" else date(year, first, second)
    except ValueError:
        return None
    return None


def possible_orders(cells: Sequence[str]) -> tuple[str, ...]:
    """In which orders all of the cells are dates that come one after another; empty: no order fits.

    `ymd` where none is needed. Of two orders that both read, one that gives days in a row is kept.
    """
    local = [cell for cell in cells if _LOCAL.fullmatch(cell.strip())]
    if not local:
        return ("ymd",)
    fits = []
    for order in ("dmy", "mdy"):
        days = [read_day(cell, order) for cell in local]
        if all(day is not None for day in days):
            fits.append((order, [day for day in days if day is not None]))
    steady = [order for order, days in fits if _in_a_row(days)]
    return tuple(steady) if len(steady) == 1 else tuple(order for order, _ in fits)


def _in_a_row(days: Sequence[date]) -> bool:
    """Whether most days follow the one before."""
    steps = [abs((b - a).days) for a, b in pairwise(days)]
    return len(steps) >= 2 and sum(step == 1 for step in steps) > len(steps) / 2
