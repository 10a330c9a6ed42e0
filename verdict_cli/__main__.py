"""Print what the board says of a table, as JSON lines, without a database."""

from __future__ import annotations

import argparse
import json
import os
import signal
import sys
from collections.abc import Iterator, Sequence
from functools import partial
from multiprocessing import get_context
from pathlib import Path

from analyse_cli.__main__ import read_json, read_rows
from apercu_core.errors import Refused
from apercu_core.reporting.board_table import BoardSpecification, Row, boards_in, read_board, read_board_specification

REFUSED = 2
FEW = 20
"""Boards that aren't worth a second process."""

Board = tuple[str | None, list[tuple[int, Row]]]


def _line(spec: BoardSpecification, board: Board) -> str:
    return json.dumps(read_board(*board, spec), ensure_ascii=False, allow_nan=False)


def lines(boards: Sequence[Board], spec: BoardSpecification) -> Iterator[str]:
    """One line of JSON for each board, in their order, on all processors where there are many."""
    processors = len(os.sched_getaffinity(0))
    if len(boards) <= FEW or processors == 1:
        yield from map(partial(_line, spec), boards)
        return
    with get_context("fork").Pool(processors) as pool:
        yield from pool.imap(partial(_line, spec), boards, chunksize=8)


def main(arguments: Sequence[str]) -> int:
    parser = argparse.ArgumentParser(prog="apercu verdict", description=__doc__)
    parser.add_argument("file", type=Path, help="the table, CSV in UTF-8, a row for each plot")
    parser.add_argument("spec", type=Path, help="what its columns are, JSON (docs/verdict.md)")
    given = parser.parse_args(arguments)
    try:
        spec = read_board_specification(read_json(given.spec))
        rows = [{name: str(text) for name, text in row.items()} for row in read_rows(given.file)]
        for line in list(lines(boards_in(rows, spec), spec)):  # nothing is printed of a table that can't be read
            print(line)
    except Refused as refusal:
        print(f"apercu verdict: {refusal}", file=sys.stderr)
        return REFUSED
    return 0


if __name__ == "__main__":
    signal.signal(signal.SIGPIPE, signal.SIG_DFL)  # `| head` isn't an error
    sys.exit(main(sys.argv[1:]))
