"""What a plan promises beside simulated boards, as a table.

Run with the number of boards a case and, if not all are wanted, the places of the cases in the list. 20,000 boards take
about 4 minutes for randomised blocks, 15 for a split plot, 30 for a strip plot, on one core
(OPENBLAS_NUM_THREADS=1).
"""

from __future__ import annotations

import sys

from tests.core.planned_boards import Case

CASES = [
    *(Case("rcbd", block) for block in (0.0, 1.0)),
    *(Case("split_plot", 1.0, whole) for whole in (0.0, 1.0, 2.0)),
    Case("strip_plot", 1.0, 0.7, 0.7),
    *(Case("incomplete_block", 1.0, within) for within in (0.0, 1.0, 2.0)),
]


def main(boards: int, cases: list[Case]) -> None:
    print(f"| design, spreads, truth | outcome | plan (20,000 runs) | {boards:,} boards | Monte Carlo errors apart |")
    print("| --- | --- | --- | --- | --- |")
    for case in cases:
        promised, seen = case.promised(), case.boards(boards)
        for truth, chances in promised.items():
            said = f"{case.design}, {case.block:g}, {case.whole:g}, {case.column:g}; {truth:g}"
            for name, chance in chances.items():
                error = (chance * (1 - chance) * (1 / boards + 1 / 20_000)) ** 0.5
                apart = (seen[truth][name] - chance) / error if error else 0.0
                print(f"| {said} | {name} | {chance:.4f} | {seen[truth][name]:.4f} | {apart:+.1f} |", flush=True)


if __name__ == "__main__":
    chosen = [CASES[int(i)] for i in sys.argv[2:]] or CASES
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 1000, chosen)
