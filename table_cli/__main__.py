"""Print what the import page would propose for a table, as JSON, without a database."""

from __future__ import annotations

import argparse
import json
import signal
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from apercu_core.errors import Refused
from apercu_core.tables.assemble import assemble
from apercu_core.tables.proposal import Proposal, propose
from apercu_core.tables.questions import STOP, Question

REFUSED = 2
QUESTIONS = 3


def questions_of(proposal: Proposal) -> list[Question]:
    """All questions; that no trial can be made of the table with these roles is one as well."""
    try:
        assemble(proposal)
    except Refused as refusal:
        return [*proposal.questions, Question("no_trial", None, (), refusal.message, (STOP,))]
    return list(proposal.questions)


def as_json(proposal: Proposal, questions: Sequence[Question]) -> dict[str, Any]:
    columns = []
    for column in proposal.columns:
        role = proposal.roles[column.name]
        shown: dict[str, Any] = {"name": column.name, "role": role}
        if role == "value":
            read = proposal.values[column.name]
            shown |= {"unit": read.unit, "values": list(read.values)}
        columns.append(shown)
    return {
        "columns": columns,
        "rows": len(proposal.table.rows),
        "skipped_lines": sorted(proposal.table.skipped),
        "odd": [{"line": o.line, "column": o.column, "text": o.text, "why": o.why} for o in proposal.odd],
        "questions": [
            {
                "about": q.about, "column": q.column, "lines": list(q.lines), "why": q.why,
                "choices": [choice.text for choice in q.choices],
            }
            for q in questions
        ],
    }  # fmt: skip


def read_file(path: Path) -> bytes:
    try:
        return path.read_bytes()
    except OSError as error:
        raise Refused("not-a-table", f"{path}: {error.strerror}.") from None


def main(arguments: Sequence[str]) -> int:
    parser = argparse.ArgumentParser(prog="apercu table", description=__doc__)
    parser.add_argument("file", type=Path, help="the table, CSV")
    given = parser.parse_args(arguments)
    try:
        proposal = propose(read_file(given.file))
    except Refused as refusal:
        print(f"apercu table: {refusal}", file=sys.stderr)
        return REFUSED
    questions = questions_of(proposal)
    print(json.dumps(as_json(proposal, questions), indent=1, ensure_ascii=False, allow_nan=False))
    return QUESTIONS if questions else 0


if __name__ == "__main__":
    signal.signal(signal.SIGPIPE, signal.SIG_DFL)  # `| head` isn't an error
    sys.exit(main(sys.argv[1:]))
