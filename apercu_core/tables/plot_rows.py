"""Rows of a table → the plots that they speak of."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from apercu_core.errors import Refused
from apercu_core.tables.questions import OddCell
from apercu_core.tables.read import Table
from apercu_core.tables.roles import Role
from apercu_core.words import listed


@dataclass(frozen=True, slots=True)
class PlotRows:
    """`rows`: indices of the rows that name a plot; `labels`: row → label of its plot; `odd`: what is missing.

    `treatment`, `block`, `plot`, `sample`, `measure`, `unit`, `date`: the columns with these roles, empty where there
    is none.
    """

    rows: tuple[int, ...]
    labels: Mapping[int, str]
    odd: tuple[OddCell, ...]
    treatment: tuple[str, ...]
    block: str
    plot: str
    sample: str
    measure: str
    unit: str
    date: str
    values: tuple[str, ...]


def plot_rows(table: Table, roles: Mapping[str, Role]) -> PlotRows:
    """Find the plot of each row. Raises `Refused` where the roles don't allow it.

    A row whose treatment, block or plot is missing is left out as a whole and listed.
    """
    for name in roles:
        if name not in table.header:
            raise Refused("missing-column", f"The table has no column {name!r}. It has: {listed(table.header, 12)}.")
    treatment = tuple(name for name in table.header if roles.get(name) == "treatment")
    if not treatment:
        raise Refused("missing-column", "No column is marked as treatment. Mark the one that names what was compared.")
    single = {role: _only(roles, role) for role in ("block", "plot", "sample", "measure", "unit", "date")}
    values = tuple(name for name in table.header if roles.get(name) == "value")
    if not values:
        raise Refused("missing-column", "No column is marked as a value. Mark at least one: what was measured.")
    if single["measure"] and len(values) > 1:
        raise Refused(
            "bad-specification", f"{listed(values)} are marked as values beside a column of measures; mark one of them."
        )
    needed = [name for name in (*treatment, single["block"], single["plot"], single["measure"]) if name]
    rows, odd = _usable_rows(table, needed)
    repeats = single["sample"] or single["measure"] or single["date"]
    labels = _labels(table, rows, treatment, single["block"], single["plot"], one_plot_each=bool(repeats))
    return PlotRows(
        tuple(rows), labels, tuple(odd), treatment, single["block"], single["plot"], single["sample"],
        single["measure"], single["unit"], single["date"], values,
    )  # fmt: skip


def cell(table: Table, row: int, column: str) -> str:
    """The text in a column of a row, empty where there is no such column."""
    return table.rows[row][table.header.index(column)] if column else ""


def _only(roles: Mapping[str, Role], role: str) -> str:
    names = [name for name, given in roles.items() if given == role]
    if len(names) > 1:
        raise Refused("bad-specification", f"{listed(names)} are all marked as {role}; one column can be.")
    return names[0] if names else ""


def treatment_of(table: Table, i: int, columns: Sequence[str]) -> str:
    return " · ".join(table.rows[i][table.header.index(name)] for name in columns)


def _usable_rows(table: Table, needed: list[str]) -> tuple[list[int], list[OddCell]]:
    rows, odd = [], []
    for i, row in enumerate(table.rows):
        missing = [name for name in needed if not row[table.header.index(name)]]
        for name in missing:
            odd.append(OddCell(table.lines[i], name, "", f"the {name} is empty; the row is left out"))
        if not missing:
            rows.append(i)
    return rows, odd


def _labels(
    table: Table, rows: list[int], treatment: Sequence[str], block: str, plot: str, *, one_plot_each: bool
) -> dict[int, str]:  # fmt: skip
    """A label for each row's plot. Plot numbers that start anew in each block get the block's name in front.

    Without a column of plots, block and treatment name the plot; without blocks as well, each row is a plot of its own
    unless `one_plot_each` treatment.
    """

    def at(i: int, name: str) -> str:
        return cell(table, i, name)

    if not plot:
        seen: Counter[str] = Counter()
        labels = {}
        for i in rows:
            stem = "/".join(part for part in (at(i, block), treatment_of(table, i, treatment)) if part)
            seen[stem] += 1
            labels[i] = stem if block or one_plot_each else f"{stem}/{seen[stem]}"
        return labels
    where: dict[str, set[str]] = {}
    for i in rows:
        where.setdefault(at(i, plot), set()).add(at(i, block))
    repeated = block and sum(len(blocks) > 1 for blocks in where.values()) > len(where) / 2
    return {i: f"{at(i, block)}-{at(i, plot)}" if repeated else at(i, plot) for i in rows}
