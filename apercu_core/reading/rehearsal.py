"""A rehearsal: the season invented, and read by the very code that reads real ones."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from apercu_core.arrays import Floats
from apercu_core.design.differences import Spread
from apercu_core.errors import Refused
from apercu_core.reading.asked import Asked, How, Recorded
from apercu_core.reading.found import Reading
from apercu_core.reading.trial import read_trial
from apercu_core.statistics.specification import Design
from apercu_core.trial.facts import PlotFacts, TrialFacts

MOST_RUNS = 100


@dataclass(frozen=True, slots=True)
class Invented:
    """The truth about one measure, in its unit: `means` of each treatment; how blocks vary, and the spread in them."""

    asked: Asked
    means: Mapping[str, float]
    blocks: float
    spread: Spread


@dataclass(frozen=True, slots=True)
class Rehearsal:
    """`counts`: (measure, treatment) → verdict → how many runs; `shown`: in how many a planned test shows it, for those
    that have one; `last`: the board of the last run.
    """

    runs: int
    counts: Mapping[tuple[str, str], Mapping[str, int]]
    shown: Mapping[tuple[str, str], int]
    last: Reading


def rehearse(
    trial: TrialFacts, design: Design, truths: Sequence[Invented], how: How, base: str, *, seed: int, runs: int,
    lost: Sequence[str] = (),
) -> Rehearsal:  # fmt: skip
    """Invent and read `runs` seasons (at most 100 at once); `lost`: plots without a value, the same in each."""
    if not 1 <= runs <= MOST_RUNS:
        raise Refused("bad-value", f"{runs} runs: ask for 1 to {MOST_RUNS} at a time.")
    if unknown := set(lost) - {p.label for p in trial.plots}:
        raise Refused("bad-value", f"There is no plot {sorted(unknown)[0]}, so it can't be lost.")
    rng = np.random.default_rng(seed)
    counts: dict[tuple[str, str], Counter[str]] = {}
    shown: Counter[tuple[str, str]] = Counter()
    for _ in range(runs):
        season = [Recorded(truth.asked, _values(trial.plots, truth, rng, lost)) for truth in truths]
        reading = read_trial(trial, design, season, how, base)
        for measure in reading.measures:
            for cell in measure.cells:
                counts.setdefault((measure.asked.name, cell.treatment), Counter())[cell.verdict.value] += 1
            for test in measure.planned:
                shown[measure.asked.name, test.test.treatment] += test.shown
    return Rehearsal(runs, counts, shown, reading)


def _values(
    plots: Sequence[PlotFacts], truth: Invented, rng: np.random.Generator, lost: Sequence[str]
) -> dict[str, list[float | None]]:
    effects = np.array([truth.means[p.treatment] for p in plots]) + rng.normal(0, truth.spread.plot, len(plots))
    effects += _drawn([p.block or p.row for p in plots], truth.blocks, rng)
    larger = [f"{p.block} {p.whole_plot or p.row_strip or p.incomplete_block}" for p in plots]
    effects += _drawn(larger, truth.spread.whole, rng)
    effects += _drawn([f"{p.block} {p.column_strip}" for p in plots], truth.spread.column, rng)
    return {p.label: [None if p.label in lost else float(v)] for p, v in zip(plots, effects, strict=True)}


def _drawn(groups: Sequence[str], sigma: float, rng: np.random.Generator) -> Floats:
    """One effect for each group; none where they don't vary."""
    if sigma <= 0:
        return np.zeros(len(groups))
    names, codes = np.unique(groups, return_inverse=True)
    out: Floats = rng.normal(0, sigma, len(names))[codes]
    return out
