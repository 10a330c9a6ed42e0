"""A settled proposal → plots and values, in the measures that become of its columns."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from itertools import pairwise

from apercu_core.errors import Refused
from apercu_core.numbers import is_missing
from apercu_core.statistics.specification import Design
from apercu_core.tables.plot_rows import PlotRows, cell, treatment_of
from apercu_core.tables.proposal import Proposal
from apercu_core.tables.read import Table
from apercu_core.tables.roles import likely_direction, split_unit
from apercu_core.trial.facts import PlotFacts
from apercu_core.verdicts.verdict import Direction

MOST_PLOTS = 1000
MOST_TREATMENTS = 60
LONGEST_NAME = 160
"""Letters of a treatment's name, or of a plot's label."""


@dataclass(frozen=True, slots=True)
class ReadCell:
    """A cell as it was written, and what it was read as; `value` None: missing."""

    typed: str
    value: float | None


@dataclass(frozen=True, slots=True)
class MeasureColumn:
    """A measure that the table has values of. `key`: a column of the table, or what a long table's rows make.

    `date`: the visit's, None where none is told or a date such as 5/6/2026 can be read in two ways.
    """

    key: str
    label: str
    unit: str
    direction: Direction
    visit: str = ""
    date: date | None = None


@dataclass(frozen=True, slots=True)
class Assembled:
    """`samples`: measure key → plot label → cells in the order of the file. `gaps`: missing values."""

    design: Design
    plots: tuple[PlotFacts, ...]
    treatments: tuple[str, ...]
    blocks: tuple[str, ...]
    measures: tuple[MeasureColumn, ...]
    samples: Mapping[str, Mapping[str, tuple[ReadCell, ...]]]
    gaps: int

    @property
    def most_samples(self) -> int:
        return max(len(cells) for plots in self.samples.values() for cells in plots.values())


def assemble(proposal: Proposal) -> Assembled:
    """Plots and values of a table. Raises `Refused` where no plots can be made of it.

    Open questions don't stop it: the page shows what would become of the table while they are answered.
    """
    table, found = proposal.table, proposal.found
    if found is None:
        raise Refused("bad-specification", proposal.refusal)
    _refuse_split_plots(table, found)
    plots = _plots(table, found)
    samples: dict[str, dict[str, list[ReadCell]]] = {}
    measures: dict[str, MeasureColumn] = {}
    gaps = 0
    for i in found.rows:
        for name in found.values:
            measure = _measure_of(proposal, found, i, name)
            measures.setdefault(measure.key, measure)
            text, value = cell(table, i, name), proposal.values[name].values[i]
            gaps += is_missing(text)
            by_plot = samples.setdefault(measure.key, {p.label: [] for p in plots})
            by_plot[found.labels[i]].append(ReadCell(text, value))
    treatments = tuple(dict.fromkeys(p.treatment for p in plots))
    blocks = tuple(dict.fromkeys(p.block for p in plots if p.block))
    _require_comparison(plots, treatments, blocks)
    design: Design = "rcbd" if len(blocks) > 1 else "crd"
    frozen = {key: {label: tuple(cells) for label, cells in by.items()} for key, by in samples.items()}
    return Assembled(design, plots, treatments, blocks, tuple(measures.values()), frozen, gaps)


def _measure_of(proposal: Proposal, found: PlotRows, row: int, name: str) -> MeasureColumn:
    """Which measure a cell belongs to: its column's, or in a long table the one that its row names."""
    table = proposal.table
    if found.measure:
        label, unit = split_unit(cell(table, row, found.measure))
        unit = cell(table, row, found.unit) or unit
    else:
        column = next(c for c in proposal.columns if c.name == name)
        label, unit = column.label, proposal.values[name].unit
    visit = cell(table, row, found.date)
    if not (found.measure or visit):
        return MeasureColumn(name, label, unit, likely_direction(label))
    named = f"{label} ({unit})" if unit else label
    with_date = f"{label}, {visit}" if visit else label
    return MeasureColumn(
        f"{named}, {visit}" if visit else named, with_date, unit, likely_direction(label), visit, read_date(visit)
    )


def read_date(text: str) -> date | None:
    """A date that can be read in one way only; None for `5/6/2026`, which may be in May or in June."""
    found = re.match(r"([0-9]{4})[-/.]([0-9]{1,2})[-/.]([0-9]{1,2})(?:[T ]|$)", text.strip())
    if found:
        return _date(int(found[1]), int(found[2]), int(found[3]))
    found = re.fullmatch(r"([0-9]{1,2})[-/.]([0-9]{1,2})[-/.]([0-9]{4})", text.strip())
    if not found:
        return None
    a, b, year = int(found[1]), int(found[2]), int(found[3])
    if a == b or a > 12:
        return _date(year, b, a)
    return _date(year, a, b) if b > 12 else None


def _date(year: int, month: int, day: int) -> date | None:
    try:
        return date(year, month, day)
    except ValueError:
        return None


def _refuse_split_plots(table: Table, found: PlotRows) -> None:
    """Levels of one factor that stand together in every block were placed as whole plots: one error isn't enough."""
    if len(found.treatment) < 2 or not found.block:
        return
    first = {label: i for i, label in reversed(tuple(found.labels.items()))}
    for name in found.treatment:
        orders: dict[str, list[str]] = {}
        for i in sorted(first.values()):
            orders.setdefault(cell(table, i, found.block), []).append(cell(table, i, name))
        runs = {key: 1 + sum(x != y for x, y in pairwise(order)) for key, order in orders.items()}
        if all(runs[key] == len(set(order)) < len(order) for key, order in orders.items()):
            raise Refused(
                "not-built",
                f"In every block the plots of each {name!r} are next to each other, as in a split plot. Analysed as "
                f"single plots, it would give false differences. Split plots can’t be imported from a table yet. If "
                f"{name!r} was randomised plot by plot, list the rows in field order.",
            )


def _plots(table: Table, found: PlotRows) -> tuple[PlotFacts, ...]:
    plots: dict[str, PlotFacts] = {}
    places: Counter[str] = Counter()
    for i in found.rows:
        label, treated = found.labels[i], treatment_of(table, i, found.treatment)
        in_block = cell(table, i, found.block)
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
            raise Refused(
                "bad-value", f"Line {table.lines[i]}: plot {label} has {now!r}, but {was!r} in an earlier line."
            )
    return tuple(plots.values())


def _require_comparison(plots: tuple[PlotFacts, ...], treatments: tuple[str, ...], blocks: tuple[str, ...]) -> None:
    if not plots:
        raise Refused("too-few-plots", "No row has both a treatment and a plot, so there is nothing to import.")
    for n, most, what in ((len(plots), MOST_PLOTS, "plots"), (len(treatments), MOST_TREATMENTS, "treatments")):
        if n > most:
            raise Refused(
                "bad-design", f"The table makes {n} {what}; the most is {most}. Are the right columns marked?"
            )
    if len(treatments) < 2:
        raise Refused(
            "bad-design",
            f"There is only one treatment, {treatments[0]!r}. A comparison needs at least two. Check which column is "
            "marked as treatment.",
        )
    if max(Counter(p.treatment for p in plots).values()) < 2:
        raise Refused(
            "no-replication",
            f"Each of the {len(treatments)} treatments has only one plot. Without replication, no verdict is possible, "
            "because a treatment can’t be separated from its place in the field. If the rows are samples of larger "
            "plots, mark the plot column.",
        )
    if len(blocks) == len(treatments) == len(plots):
        raise Refused("confounded", "Every block holds one plot only, so blocks and treatments can’t be told apart.")
