"""Whether constraints can be met at all, by counting, before anything is drawn."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from functools import cache

from apercu_core.design.constraints import WITHIN_A_ROW, Constraint, Plots
from apercu_core.errors import Refused

LONGEST_COUNTED = 60
"""Plots in a row whose orders are counted; in a longer one a constraint that can't be met is found by drawing."""


def require_possible(plots: Plots, constraints: Sequence[Constraint], *, rows_are_fixed: bool) -> None:
    """Raises `Refused` with the reason where counting shows that no plan meets the constraints.

    `plots`: any plan of the design; `rows_are_fixed`: each row holds the same treatments in every plan of it.
    """
    for constraint in constraints:
        if constraint.kind == "spread":
            _require_places(plots, constraint)
    within = [constraint for constraint in constraints if constraint.kind in WITHIN_A_ROW]
    if not within:
        return
    rows: dict[tuple[str, int], list[str]] = {}
    for plot in plots:
        rows.setdefault((plot.site, plot.row), []).append(plot.treatment)
    if not rows_are_fixed:
        _require_room(list(rows.values()), within)
        return
    for row in rows.values():
        for constraint in within:
            if not _has_order(row, [constraint]):
                raise Refused("bad-design", _why(row, constraint))
        if not _has_order(row, within):
            said = "; ".join(map(str, within))
            raise Refused(
                "bad-design", f"No order of the {len(row)} plots in a row meets these together: {said}. Drop one."
            )


def _require_places(plots: Plots, constraint: Constraint) -> None:
    positions: dict[str, set[int]] = {}
    for p in plots:
        positions.setdefault(p.site, set()).add(p.position)
    for (site, treatment), n in Counter((p.site, p.treatment) for p in plots).items():
        places = len(positions[site])
        if n > constraint.most * places:
            raise Refused(
                "bad-design",
                f"{treatment} has {n} plots, and a block has {places} positions, so it comes more than "
                f"{constraint.most} times in one of them. Allow {-(-n // places)}.",
            )


def _require_room(rows: Sequence[Sequence[str]], within: Sequence[Constraint]) -> None:
    """Where rows hold what chance gives them, only the whole field can be counted."""
    everywhere = [treatment for row in rows for treatment in row]
    for constraint in within:
        named = sum(treatment in constraint.treatments for treatment in everywhere)
        if constraint.kind == "apart":
            room = sum((len(row) + 1) // 2 for row in rows)
        else:
            room = sum(max(len(row) - 2, 0) for row in rows)
        if named > room:
            raise Refused(
                "bad-design",
                f"{constraint} can’t be: that leaves room for {room} plots in the field, and they have {named}. Name "
                "fewer treatments.",
            )


def _why(row: Sequence[str], constraint: Constraint) -> str:
    named = sum(treatment in constraint.treatments for treatment in row)
    if constraint.kind == "apart":
        room, left = (len(row) + 1) // 2, "can stand with another plot between them"
    else:
        room, left = max(len(row) - 2, 0), "don’t stand at its ends"
    return (
        f"{constraint} can’t be: in a row of {len(row)} plots at most {room} {left}, and {named} are asked to. Name "
        "fewer treatments."
    )


def _has_order(row: Sequence[str], constraints: Sequence[Constraint]) -> bool:
    """Whether the treatments of a row have an order that meets constraints within it.

    Treatments that the same constraints name are alike, so only how many of each kind are left is searched.
    """
    if len(row) > LONGEST_COUNTED:
        return True
    kinds = Counter(tuple(t in constraint.treatments for constraint in constraints) for t in row)
    named, counts = list(kinds), tuple(kinds.values())
    edge = [i for i, constraint in enumerate(constraints) if constraint.kind == "not-at-the-edge"]
    apart = [i for i, constraint in enumerate(constraints) if constraint.kind == "apart"]

    @cache
    def fits(left: tuple[int, ...], before: int) -> bool:
        if not any(left):
            return True
        at_an_end = before < 0 or sum(left) == 1
        for k, n in enumerate(left):
            if n == 0 or (at_an_end and any(named[k][i] for i in edge)):
                continue
            if before >= 0 and any(named[k][i] and named[before][i] for i in apart):
                continue
            if fits((*left[:k], n - 1, *left[k + 1 :]), k):
                return True
        return False

    return fits(counts, -1)
