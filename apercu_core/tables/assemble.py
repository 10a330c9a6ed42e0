"""A table with confirmed roles → plots and values; every cell that can't be used is listed with its line."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise

from apercu_core.doubts.doubt import PlotFacts
from apercu_core.errors import Refused
from apercu_core.statistics.specification import Design
from apercu_core.tables.figures import is_missing, read_number
from apercu_core.tables.read import Table
from apercu_core.tables.roles import Role
from apercu_core.words import listed

MOST_PLOTS = 1000
MOST_TREATMENTS = 60
LONGEST_NAME = 160
"""Letters of a treatment's name, or of a plot's label."""


@dataclass(frozen=True, slots=True)
class BadCell:
    """A cell that can't be used: where it stands, what it holds, what is wrong with it."""

    line: int
    column: str
    value: str
    wrong: str


@dataclass(frozen=True, slots=True)
class Figure:
    """A figure as it was typed, and what it was read as; `value` None: a gap."""

    typed: str
    value: float | None


@dataclass(frozen=True, slots=True)
class Assembled:
    """`samples`: measure column → plot label → figures in the order of the file. `gaps`: empty value cells."""

    design: Design
    plots: tuple[PlotFacts, ...]
    treatments: tuple[str, ...]
    blocks: tuple[str, ...]
    samples: Mapping[str, Mapping[str, tuple[Figure, ...]]]
    bad: tuple[BadCell, ...]
    gaps: int

    @property
    def most_samples(self) -> int:
        return max(len(figures) for plots in self.samples.values() for figures in plots.values())


def assemble(table: Table, roles: Mapping[str, Role], *, sampled: bool = False) -> Assembled:
    """Plots and values of a table.

    `roles`: column name → role; at least one treatment (several are read as combinations) and one value, at most one
    each of block, plot and sample. `sampled`: several rows of one plot are samples of it. A row whose treatment or
    block is missing is left out as a whole and listed. Raises `Refused` where no plots can be made of the table.
    """
    for name in roles:
        if name not in table.header:
            raise Refused("missing-column", f"The table has no column {name!r}. It has: {listed(table.header, 12)}.")
    treatment = [name for name in table.header if roles.get(name) == "treatment"]
    if not treatment:
        raise Refused("missing-column", "No column is marked as treatment. Mark the one that names what was compared.")
    block, plot, sample = (_only(roles, role) for role in ("block", "plot", "sample"))
    values = [name for name in table.header if roles.get(name) == "value"]
    if not values:
        raise Refused("missing-column", "No column is marked as a value. Mark at least one: what was measured.")
    needed = [name for name in (*treatment, block, plot) if name]
    rows, bad = _usable_rows(table, needed)
    labels = _labels(table, rows, treatment, block, plot)
    sampled = sampled or bool(sample)
    _require_one_row_each(table, rows, labels, plot, sampled)
    _refuse_split_plots(table, rows, treatment, block)
    plots = _plots(table, rows, labels, treatment, block)
    samples: dict[str, dict[str, list[Figure]]] = {name: {p.label: [] for p in plots} for name in values}
    gaps = 0
    for i in rows:
        for name in values:
            cell = table.rows[i][table.header.index(name)]
            value = None if is_missing(cell) else read_number(cell, decimal_comma=table.decimal_comma)
            if value is None and not is_missing(cell):
                bad.append(BadCell(table.lines[i], name, cell, "not a number; it is left out as a gap"))
            gaps += is_missing(cell)
            samples[name][labels[i]].append(Figure(cell, value))
    treatments = tuple(dict.fromkeys(p.treatment for p in plots))
    blocks = tuple(dict.fromkeys(p.block for p in plots if p.block))
    _require_comparison(plots, treatments, blocks)
    design: Design = "rcbd" if len(blocks) > 1 else "crd"
    frozen = {name: {label: tuple(figures) for label, figures in by.items()} for name, by in samples.items()}
    return Assembled(design, plots, treatments, blocks, frozen, tuple(bad), gaps)


def _only(roles: Mapping[str, Role], role: Role) -> str:
    names = [name for name, given in roles.items() if given == role]
    if len(names) > 1:
        raise Refused("bad-specification", f"{listed(names)} are all marked as {role}; one column can be.")
    return names[0] if names else ""


def _treatment_of(table: Table, i: int, columns: Sequence[str]) -> str:
    return " · ".join(table.rows[i][table.header.index(name)] for name in columns)


def _usable_rows(table: Table, needed: list[str]) -> tuple[list[int], list[BadCell]]:
    rows, bad = [], []
    for i, row in enumerate(table.rows):
        missing = [name for name in needed if not row[table.header.index(name)]]
        for name in missing:
            bad.append(BadCell(table.lines[i], name, "", f"the {name} is empty; the row is left out"))
        if not missing:
            rows.append(i)
    return rows, bad


def _labels(table: Table, rows: list[int], treatment: Sequence[str], block: str, plot: str) -> dict[int, str]:
    """A label for each row's plot. Plot numbers that start anew in each block get the block's name in front."""
    cell = {name: table.header.index(name) for name in (block, plot) if name}

    def at(i: int, name: str) -> str:
        return table.rows[i][cell[name]] if name else ""

    if not plot:
        seen: Counter[str] = Counter()
        labels = {}
        for i in rows:
            stem = "/".join(part for part in (at(i, block), _treatment_of(table, i, treatment)) if part)
            seen[stem] += 1
            labels[i] = stem if block else f"{stem}/{seen[stem]}"
        return labels
    where: dict[str, set[str]] = {}
    for i in rows:
        where.setdefault(at(i, plot), set()).add(at(i, block))
    repeated = block and sum(len(blocks) > 1 for blocks in where.values()) > len(where) / 2
    return {i: f"{at(i, block)}-{at(i, plot)}" if repeated else at(i, plot) for i in rows}


def _require_one_row_each(table: Table, rows: list[int], labels: dict[int, str], plot: str, sampled: bool) -> None:
    if sampled:
        return
    lines: dict[str, list[int]] = {}
    for i in rows:
        lines.setdefault(labels[i], []).append(table.lines[i])
    twice = {label: found for label, found in lines.items() if len(found) > 1}
    if twice:
        label, found = next(iter(twice.items()))
        more = f" ({len(twice) - 1} more plots likewise)" if len(twice) > 1 else ""
        what = f"Plot {label}" if plot else f"The plot {label}"
        raise Refused(
            "bad-value",
            f"{what} stands on lines {listed([str(n) for n in found])}{more}. If these are several samples of one "
            "plot, tick “several rows per plot”; otherwise correct the plot's number.",
        )


def _refuse_split_plots(table: Table, rows: list[int], treatment: Sequence[str], block: str) -> None:
    """Levels of one factor that stand together in every block were placed as whole plots: one error isn't enough."""
    if len(treatment) < 2 or not block:
        return
    b = table.header.index(block)
    for name in treatment:
        at = table.header.index(name)
        orders: dict[str, list[str]] = {}
        for i in rows:
            orders.setdefault(table.rows[i][b], []).append(table.rows[i][at])
        runs = {key: 1 + sum(x != y for x, y in pairwise(order)) for key, order in orders.items()}
        if all(runs[key] == len(set(order)) < len(order) for key, order in orders.items()):
            raise Refused(
                "not-built",
                f"In every block the plots of one {name!r} stand together, as in a split plot. Reading that as single "
                f"plots would find too much; split plots from a table aren't built yet. If {name!r} was drawn plot by "
                "plot, list the rows in field order.",
            )


def _plots(
    table: Table, rows: list[int], labels: dict[int, str], treatment: Sequence[str], block: str
) -> tuple[PlotFacts, ...]:
    b = table.header.index(block) if block else -1
    plots: dict[str, PlotFacts] = {}
    places: Counter[str] = Counter()
    for i in rows:
        label, treated = labels[i], _treatment_of(table, i, treatment)
        in_block = table.rows[i][b] if block else ""
        known = plots.get(label)
        longest = max(treated, label, key=len)
        if len(longest) > LONGEST_NAME:
            raise Refused(
                "bad-value",
                f"Line {table.lines[i]}: the name {longest[:40]!r}… has {len(longest)} letters; the most is "
                f"{LONGEST_NAME}. Is the right column marked as treatment?",
            )
        if known is None:
            places[in_block] += 1
            plots[label] = PlotFacts(label, in_block, treated, places[in_block])
        elif (known.treatment, known.block) != (treated, in_block):
            was, now = (known.treatment, treated) if known.treatment != treated else (known.block, in_block)
            raise Refused("bad-value", f"Line {table.lines[i]}: plot {label} has {now!r}, but {was!r} further up.")
    return tuple(plots.values())


def _require_comparison(plots: tuple[PlotFacts, ...], treatments: tuple[str, ...], blocks: tuple[str, ...]) -> None:
    if not plots:
        raise Refused("too-few-plots", "No row has both a treatment and a plot; there is nothing to read.")
    for n, most, what in ((len(plots), MOST_PLOTS, "plots"), (len(treatments), MOST_TREATMENTS, "treatments")):
        if n > most:
            raise Refused(
                "bad-design", f"The table makes {n} {what}; the most is {most}. Are the right columns marked?"
            )
    if len(treatments) < 2:
        raise Refused(
            "bad-design",
            f"There is only one treatment, {treatments[0]!r}. A comparison needs two: is the right column marked?",
        )
    if max(Counter(p.treatment for p in plots).values()) < 2:
        raise Refused(
            "no-replication",
            f"Each of the {len(treatments)} treatments stands in one plot only. Without replication, treatment can't "
            "be told from ground, so no verdict is possible. If the rows are samples of larger plots, mark the plot "
            "column.",
        )
    if len(blocks) == len(treatments) == len(plots):
        raise Refused("confounded", "Every block holds one plot only, so blocks and treatments can't be told apart.")
