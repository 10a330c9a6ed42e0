"""Tables of planned trials → their power, in the JSON shape that docs/analyse.md describes."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import Any

from apercu_core.errors import Refused
from apercu_core.power.closed_form import blocks_needed, f_test_power, pair_power, pairs_needed
from apercu_core.statistics.distributions import t_quantile

Row = Mapping[str, Any]


def power_table(kind: str, rows: Sequence[Row]) -> dict[str, Any]:
    """One line for each row. `kind`: power_rcbd or power_paired_t. Raises `Refused` with the row and column."""
    make = {"power_rcbd": _blocks_line, "power_paired_t": _pairs_line}[kind]
    return {"power_table": [{"id": str(row.get("id", i + 1)), **make(row, i)} for i, row in enumerate(rows)]}


def _blocks_line(row: Row, i: int) -> dict[str, Any]:
    t, b = _whole(row, "treatments", i, 2), _whole(row, "blocks", i, 2)
    cv, d = _above_zero(row, "cv_percent", i), _above_zero(row, "difference_percent", i)
    alpha, target = _share(row, "alpha", i), _share(row, "target_power", i)
    return {
        "lambda": b * d**2 / (2 * cv**2),
        "df1": t - 1,
        "df2": (t - 1) * (b - 1),
        "power": f_test_power(t, b, d, cv, alpha=alpha),
        "blocks_needed": blocks_needed(t, d, cv, power=target, alpha=alpha, most=100_000),
    }


def _pairs_line(row: Row, i: int) -> dict[str, Any]:
    n, d = _whole(row, "pairs", i, 2), _above_zero(row, "difference", i)
    sd = _above_zero(row, "sd_of_differences", i)
    alpha, target = _share(row, "alpha", i), _share(row, "target_power", i)
    critical = float(t_quantile(alpha / 2, n - 1))
    return {
        "power": pair_power(d, sd / math.sqrt(n), n - 1, critical),
        "pairs_needed": pairs_needed(d, sd, power=target, alpha=alpha),
    }


def _number(row: Row, name: str, i: int) -> float:
    if name not in row:
        raise Refused("missing-column", f"The table has no column {name!r}. Its columns are: {', '.join(row)}.")
    try:
        return float(row[name])
    except (TypeError, ValueError):
        raise Refused("bad-value", f"Row {i + 2}: {name!r} is {row[name]!r}, which isn’t a number.") from None


def _above_zero(row: Row, name: str, i: int) -> float:
    value = _number(row, name, i)
    if not (math.isfinite(value) and value > 0):
        raise Refused("bad-value", f"Row {i + 2}: {name!r} is {value:g}; it must be a number above 0.")
    return value


def _share(row: Row, name: str, i: int) -> float:
    value = _number(row, name, i)
    if not 0 < value < 1:
        raise Refused("bad-value", f"Row {i + 2}: {name!r} is {value:g}; it must lie between 0 and 1.")
    return value


def _whole(row: Row, name: str, i: int, least: int) -> int:
    value = _number(row, name, i)
    if value != value or value < least or value != int(value):
        raise Refused("bad-value", f"Row {i + 2}: {name!r} is {value:g}; it must be a whole number from {least}.")
    return int(value)
