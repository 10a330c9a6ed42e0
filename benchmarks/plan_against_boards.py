"""What a plan promises beside simulated boards, as a table: run with the number of boards a row (20000 takes hours)."""

from __future__ import annotations

import sys

from tests.core.planned_boards import Case

CASES = [
    *(Case("rcbd", block, truth=truth) for block in (0.0, 1.0) for truth in (0.0, 2.0)),
    *(Case("split_plot", 1.0, whole, truth=truth) for whole in (0.0, 1.0, 2.0) for truth in (0.0, 2.0)),
    *(Case("strip_plot", 1.0, 0.7, 0.7, truth) for truth in (0.0, 2.0)),
]


def main(boards: int) -> None:
    print(f"| design, spreads, truth | outcome | plan (20,000 runs) | {boards:,} boards | Monte Carlo errors apart |")
    print("| --- | --- | --- | --- | --- |")
    for case in CASES:
        promised, seen = case.promised(), case.boards(boards)
        said = f"{case.design}, {case.block:g}, {case.whole:g}, {case.column:g}; {case.truth:g}"
        for name, chance in promised.items():
            error = (chance * (1 - chance) * (1 / boards + 1 / 20_000)) ** 0.5
            apart = (seen[name] - chance) / error if error else 0.0
            print(f"| {said} | {name} | {chance:.4f} | {seen[name]:.4f} | {apart:+.1f} |", flush=True)


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 1000)
