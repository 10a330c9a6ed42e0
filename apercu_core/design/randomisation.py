"""Treatments to plots by chance, design by design; the same seed draws the same plan for ever."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from apercu_core.design.draw import ALGORITHM, Draw
from apercu_core.design.incomplete_blocks import find_incomplete_blocks
from apercu_core.design.treatments import Combination, Levels
from apercu_core.errors import Refused


@dataclass(frozen=True, slots=True)
class PlannedPlot:
    """`block` and `position` count from 1; `position` runs along the block.

    `row`, `column`: place in the field's grid, from 1; `whole_plot`: number of the whole plot within its block, in a
    split plot; `row_strip`, `column_strip`: within the block of a strip plot; `incomplete_block`: within its replicate,
    which is then the `block`; `site`: in which field.
    """

    number: int
    block: int
    position: int
    treatment: str
    levels: Levels = ()
    row: int = 0
    column: int = 0
    whole_plot: int | None = None
    row_strip: int | None = None
    column_strip: int | None = None
    incomplete_block: int | None = None
    site: str = ""


@dataclass(frozen=True, slots=True)
class RandomisedPlan:
    """Plots in order of number, with what is needed to draw them again."""

    plots: tuple[PlannedPlot, ...]
    seed: int
    algorithm: str = ALGORITHM


def randomised_complete_block(
    treatments: Sequence[str], blocks: int, seed: int, *, serpentine: bool = False
) -> RandomisedPlan:
    """Every treatment once in every block, shuffled anew in each.

    Plots are numbered block × 100 + position (× 1000 from 100 treatments); `serpentine` numbers every second block
    backwards, as one walks.
    """
    return RandomisedPlan(draw_blocks(Draw(seed), _plain(treatments), blocks, serpentine=serpentine), seed)


def completely_randomised(
    treatments: Sequence[str], replicates: int, seed: int, *, per_row: int | None = None, serpentine: bool = False
) -> RandomisedPlan:
    """Each treatment in `replicates` plots anywhere in the field; `per_row` plots stand side by side."""
    plots = draw_anywhere(Draw(seed), _plain(treatments), replicates, per_row=per_row, serpentine=serpentine)
    return RandomisedPlan(plots, seed)


def _plain(treatments: Sequence[str]) -> tuple[Combination, ...]:
    return tuple(Combination(name) for name in treatments)


def draw_blocks(
    draw: Draw, treatments: Sequence[Combination], blocks: int, *, serpentine: bool = False
) -> tuple[PlannedPlot, ...]:
    """Randomised complete blocks, each a row of the field."""
    require_plan(treatments, blocks)
    return _numbered([draw.shuffled(treatments) for _ in range(blocks)], serpentine)


def draw_once(draw: Draw, treatments: Sequence[Combination]) -> tuple[PlannedPlot, ...]:
    """A demonstration: one plot of each treatment side by side, which shows and can't be tested."""
    require_treatments(treatments)
    return _numbered([draw.shuffled(treatments)], serpentine=False)


def draw_anywhere(
    draw: Draw, treatments: Sequence[Combination], replicates: int, *, per_row: int | None = None,
    serpentine: bool = False,
) -> tuple[PlannedPlot, ...]:  # fmt: skip
    """Completely randomised; `block` is only the row of the field here."""
    require_plan(treatments, replicates)
    shuffled = draw.shuffled([t for t in treatments for _ in range(replicates)])
    width = per_row or len(treatments)
    if width < 1:
        raise Refused("bad-value", f"{width} plots in a row: it must be 1 or more.")
    return _numbered([shuffled[i : i + width] for i in range(0, len(shuffled), width)], serpentine)


def draw_paired_strips(draw: Draw, treatments: Sequence[Combination], pairs: int) -> tuple[PlannedPlot, ...]:
    """Two treatments side by side, in pairs one beside the other; which is left is drawn for each pair."""
    if len(treatments) != 2:
        raise Refused("bad-design", f"Paired strips compare two treatments; there are {len(treatments)}.")
    plots = draw_blocks(draw, treatments, pairs)
    return tuple(replace(p, row=1, column=2 * (p.block - 1) + p.position) for p in plots)


def draw_latin_square(draw: Draw, treatments: Sequence[Combination]) -> tuple[PlannedPlot, ...]:
    """Every treatment once in each row and each column; the rows serve as blocks.

    A base square is drawn evenly from all squares of its order with first row and column in order (up to order 5;
    the cyclic one beyond), then rows but the first, all columns and the symbols are shuffled: so that all squares of an
    order up to 5 come equally often. Fisher and Yates (1963), *Statistical Tables*, introduction to tables XV and XVI.
    """
    n = len(treatments)
    if n < 3:
        raise Refused(
            "bad-design", f"A Latin square of {n} leaves nothing to measure the error with; it needs 3 or more."
        )
    require_plan(treatments, n)
    bases = _reduced_squares(n) if n <= 5 else [_cyclic(n)]
    base = bases[draw.below(len(bases))]
    rows = draw.shuffled(range(n)) if n > 5 else [0, *draw.shuffled(range(1, n))]
    columns, symbols = draw.shuffled(range(n)), draw.shuffled(treatments)
    return _numbered([[symbols[base[r][c]] for c in columns] for r in rows], False)


def _cyclic(n: int) -> list[list[int]]:
    return [[(r + c) % n for c in range(n)] for r in range(n)]


def _reduced_squares(n: int) -> list[list[list[int]]]:
    """All Latin squares with first row and first column in order: 1, 4 and 56 for orders 3, 4 and 5."""
    squares: list[list[list[int]]] = []
    square = [list(range(n))] + [[r] + [-1] * (n - 1) for r in range(1, n)]

    def fill(cell: int) -> None:
        if cell == n * n:
            squares.append([row[:] for row in square])
            return
        r, c = divmod(cell, n)
        if r == 0 or c == 0:
            fill(cell + 1)
            return
        taken = set(square[r][:c]) | {square[k][c] for k in range(r)}
        for symbol in range(n):
            if symbol not in taken:
                square[r][c] = symbol
                fill(cell + 1)
        square[r][c] = -1

    fill(0)
    return squares


def draw_split_plot(
    draw: Draw, treatments: Sequence[Combination], whole_plot_factor: str, blocks: int
) -> tuple[PlannedPlot, ...]:
    """Levels of one factor to whole plots of each block, the rest to plots of each whole plot, side by side.

    A control outside the crossing has a whole plot of its own, with as many plots as the largest of the others.
    """
    require_plan(treatments, blocks)
    groups: dict[str, list[Combination]] = {}
    for t in treatments:
        groups.setdefault(t.level(whole_plot_factor) or f"\0{t.name}", []).append(t)
    if len(groups) < 2:
        raise Refused("bad-design", f"The whole-plot factor {whole_plot_factor!r} isn’t a factor of these treatments.")
    size = max(map(len, groups.values()))
    if size < 2:
        raise Refused("bad-design", "Each whole plot would hold one plot only: use randomised complete blocks.")
    whole = [group if group[0].levels else group * size for group in groups.values()]
    rows, numbers = [], []
    for _ in range(blocks):
        order = [draw.shuffled(group) for group in draw.shuffled(whole)]
        rows.append([t for group in order for t in group])
        numbers.append([i for i, group in enumerate(order, start=1) for _ in group])
    return tuple(replace(p, whole_plot=numbers[p.block - 1][p.position - 1]) for p in _numbered(rows, False))


def draw_incomplete_blocks(
    draw: Draw, treatments: Sequence[Combination], size: int, replicates: int, *, serpentine: bool = False
) -> tuple[PlannedPlot, ...]:
    """Each replicate a row of the field, its incomplete blocks of at most `size` plots side by side.

    Which treatments meet is settled by `incomplete_blocks`; chance says which treatment has which number in it, and the
    order of replicates, of blocks and of plots.
    """
    require_plan(treatments, replicates)
    arrangement = find_incomplete_blocks(len(treatments), size, replicates).replicates
    numbered = draw.shuffled(treatments)
    rows, numbers = [], []
    for replicate in draw.shuffled(arrangement):
        order = [draw.shuffled([numbered[t] for t in block]) for block in draw.shuffled(replicate)]
        rows.append([t for block in order for t in block])
        numbers.append([i for i, block in enumerate(order, start=1) for _ in block])
    plots = _numbered(rows, serpentine)
    return tuple(replace(p, incomplete_block=numbers[p.block - 1][p.position - 1]) for p in plots)


def draw_strip_plot(
    draw: Draw, treatments: Sequence[Combination], row_factor: str, column_factor: str, blocks: int
) -> tuple[PlannedPlot, ...]:
    """Levels of one factor to strips along each block, of the other to strips across, each drawn anew in each block."""
    require_plan(treatments, blocks)
    cells = {(t.level(row_factor), t.level(column_factor)): t for t in treatments}
    across, along = list(dict.fromkeys(r for r, _ in cells)), list(dict.fromkeys(c for _, c in cells))
    if "" in across or "" in along:
        raise Refused(
            "bad-design",
            "A strip plot can’t hold a control outside its two factors, or a third factor. Make the control a level "
            "of one of the two factors.",
        )
    if len(cells) < len(across) * len(along) or len(cells) < len(treatments):
        raise Refused("bad-design", "In a strip plot every level of one factor meets every level of the other, once.")
    step = 100 if len(cells) < 100 else 1000
    plots = []
    for block in range(1, blocks + 1):
        rows, columns = draw.shuffled(across), draw.shuffled(along)
        for r, row in enumerate(rows, start=1):
            for c, column in enumerate(columns, start=1):
                t, position = cells[row, column], (r - 1) * len(columns) + c
                plots.append(
                    PlannedPlot(
                        block * step + position, block, position, t.name, t.levels,
                        (block - 1) * len(rows) + r, c, row_strip=r, column_strip=c,
                    )
                )  # fmt: skip
    return tuple(plots)


def _numbered(rows: Sequence[Sequence[Combination]], serpentine: bool) -> tuple[PlannedPlot, ...]:
    step = 100 if max(map(len, rows)) < 100 else 1000
    plots = []
    for block, row in enumerate(rows, start=1):
        for place, t in enumerate(row, start=1):
            number = len(row) + 1 - place if serpentine and block % 2 == 0 else place
            plots.append(PlannedPlot(block * step + number, block, place, t.name, t.levels, block, place))
    return tuple(sorted(plots, key=lambda plot: plot.number))


def require_plan(treatments: Sequence[Combination], blocks: int) -> None:
    """At least two treatments, each listed once, and two blocks."""
    require_treatments(treatments)
    if blocks < 2:
        raise Refused(
            "no-replication",
            f"There is only {blocks} block. A test needs at least two. If the plots are only to be shown, choose a "
            "demonstration.",
        )


def require_treatments(treatments: Sequence[Combination]) -> None:
    names = [t.name for t in treatments]
    if len(names) < 2:
        raise Refused("bad-design", f"{len(names)} treatment: at least two are needed to compare.")
    if len(set(names)) < len(names):
        twice = next(t for t in names if names.count(t) > 1)
        raise Refused("bad-design", f"Treatment {twice!r} is listed twice.")
