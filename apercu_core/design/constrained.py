"""A plan that meets constraints, drawn so that every plan that meets them comes equally often."""

from __future__ import annotations

from collections import deque
from collections.abc import Callable, Iterator, Sequence

from apercu_core.design.constraints import WITHIN_A_ROW, Constraint, Plots
from apercu_core.design.draw import Draw
from apercu_core.design.possible import require_possible
from apercu_core.design.randomisation import PlannedPlot
from apercu_core.errors import Refused

MOST_DRAWS = 5000
MOST_DRAWS_BY_BLOCK = 30_000


def drawn_within(
    draw: Draw, make: Callable[[Draw], Plots], constraints: Sequence[Constraint], *, blocks_apart: bool = False,
    rows_are_fixed: bool = True,
) -> Plots:  # fmt: skip
    """A plan that meets all constraints.

    `blocks_apart`: each block is drawn by itself, so that one that doesn't keep to its own constraints is drawn again
    without the others; `rows_are_fixed`: each row holds the same treatments in every plan. Whole plans are drawn first:
    what they gave from a seed, they give for ever. Raises `Refused` where counting shows that there is no such plan,
    else after so many draws, with the constraint whose absence would have let one through.
    """
    if not constraints:
        return make(draw)
    met = [0] * len(constraints)
    for n in range(MOST_DRAWS):
        plots = make(draw)
        if n == 0:
            require_possible(plots, constraints, rows_are_fixed=rows_are_fixed)
        broken = [i for i, constraint in enumerate(constraints) if not constraint.holds(plots)]
        if not broken:
            return plots
        if len(broken) == 1:
            met[broken[0]] += 1
    if blocks_apart:
        between = [constraint for constraint in constraints if constraint.kind not in WITHIN_A_ROW]
        for plots in _block_by_block(draw, make, [c for c in constraints if c.kind in WITHIN_A_ROW]):
            if all(constraint.holds(plots) for constraint in between):
                return plots
    raise Refused("bad-design", _none_found(constraints, met))


def _block_by_block(draw: Draw, make: Callable[[Draw], Plots], within: Sequence[Constraint]) -> Iterator[Plots]:
    """Plans whose blocks keep to constraints within them, each block from the draws in which it did."""
    ready: dict[int, deque[list[PlannedPlot]]] = {}
    for _ in range(MOST_DRAWS_BY_BLOCK):
        blocks: dict[int, list[PlannedPlot]] = {}
        for plot in make(draw):
            blocks.setdefault(plot.block, []).append(plot)
        for number, inside in blocks.items():
            kept = ready.setdefault(number, deque())
            if all(constraint.holds(tuple(inside)) for constraint in within):
                kept.append(inside)
        while all(ready.values()):
            together = [plot for kept in ready.values() for plot in kept.popleft()]
            yield tuple(sorted(together, key=lambda plot: plot.number))


def _none_found(constraints: Sequence[Constraint], met: Sequence[int]) -> str:
    if len(constraints) == 1:
        return f"None of {MOST_DRAWS} randomisations met the constraint. Remove it: {constraints[0]}."
    hardest = max(range(len(constraints)), key=lambda i: (met[i], -i))
    if not met[hardest]:
        return (
            f"None of {MOST_DRAWS} randomisations met these constraints, or all but one of them. Remove two: "
            + "; ".join(map(str, constraints)) + "."
        )  # fmt: skip
    return (
        f"None of {MOST_DRAWS} randomisations met all constraints. Without one of them, {met[hardest]} would have. "
        f"Remove it: {constraints[hardest]}."
    )
