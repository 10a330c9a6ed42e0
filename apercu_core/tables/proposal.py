"""A file → what would be imported: roles, values as read, odd cells, and what a person has to settle first."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from apercu_core.errors import Refused
from apercu_core.tables.plot_rows import PlotRows, plot_rows
from apercu_core.tables.questions import STOP, Answers, OddCell, Question, answer_to, open_questions
from apercu_core.tables.read import Table, read_table
from apercu_core.tables.roles import Column, Role, propose_roles
from apercu_core.tables.shape import questions_about_rows
from apercu_core.tables.spelling import respell
from apercu_core.tables.values import ValueColumn, read_values


@dataclass(frozen=True, slots=True)
class Proposal:
    """`roles`: in force, as proposed or as a person gave them. `values`: column → what was read of it, in row order.

    `found`: the plot of each row; None with `refusal` where the roles allow no comparison.
    """

    table: Table
    columns: tuple[Column, ...]
    roles: Mapping[str, Role]
    values: Mapping[str, ValueColumn]
    found: PlotRows | None
    refusal: str
    odd: tuple[OddCell, ...]
    questions: tuple[Question, ...]
    answers: Answers

    @property
    def open(self) -> tuple[Question, ...]:
        """What still has to be settled before anything can be kept."""
        return open_questions(self.questions, self.answers)

    @property
    def sampled(self) -> bool:
        """Whether several rows of one plot are samples of it."""
        samples = bool(self.found and self.found.sample)
        return samples or self.answers.get("repeated_rows") == "samples"


def propose(data: bytes, roles: Mapping[str, Role] | None = None, answers: Answers | None = None) -> Proposal:
    """Read a file as the import page proposes it. Raises `Refused` for what can't be a table.

    `roles`: as a person changed them, None for the proposed ones; `answers`: question id → choice.
    """
    answers = answers or {}
    table = read_table(data, answers)
    table = _without_last_line(table, answers)
    columns = propose_roles(table)
    in_force: dict[str, Role] = {column.name: column.role for column in columns} | dict(roles or {})
    for name in table.header:
        if answers.get(f"differs_within_plot:{name}") == "visits":
            in_force[name] = "date"
    table, spelling = respell(table, in_force, answers)
    values = {
        column.name: read_values(
            column.name, column.label, column.unit, table.column(column.name), table.lines, table.shifted, answers
        )
        for column in columns
        if in_force.get(column.name) == "value"
    }
    questions = [*table.questions, *spelling, *(q for one in values.values() for q in one.questions)]
    found, refusal = None, ""
    try:
        found = plot_rows(table, in_force)
        questions += questions_about_rows(table, in_force, found)
    except Refused as refused:
        refusal = refused.message
    odd = [*(found.odd if found else ()), *(cell for one in values.values() for cell in one.odd)]
    odd.sort(key=lambda cell: (cell.line, table.header.index(cell.column)))
    return Proposal(table, columns, in_force, values, found, refusal, tuple(odd), tuple(questions), answers)


def _without_last_line(table: Table, answers: Answers) -> Table:
    if answers.get("last_line") != "leave_out" or not table.cut or len(table.rows) < 2:
        return table
    last = len(table.rows) - 1
    return replace(
        table, rows=table.rows[:last], lines=table.lines[:last], cut=False, shifted=table.shifted - {last},
        skipped=(*table.skipped, table.lines[last]),
    )  # fmt: skip


def require_settled(proposal: Proposal) -> None:
    """Raises `Refused` with the first question that is still open."""
    still_open = proposal.open
    if still_open:
        stopped = answer_to(still_open[0], proposal.answers) == STOP.key
        what = "Correct it in the table, and import it again." if stopped else "Answer it, then import the table."
        raise Refused("not-a-table", f"{still_open[0].why} {what}")
