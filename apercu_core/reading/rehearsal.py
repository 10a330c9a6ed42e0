"""A rehearsal: the season invented, and read as real ones are.

The last season is read by the very code that reads real ones, and so are all where the design isn't balanced; the
verdicts of the others come from `many_seasons`, which says the same.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from apercu_core.arrays import Floats
from apercu_core.errors import Refused
from apercu_core.power.differences import Spread
from apercu_core.reading.asked import Asked, How, Recorded
from apercu_core.reading.controls import controls_of
from apercu_core.reading.found import Reading
from apercu_core.reading.many_seasons import balanced_board
from apercu_core.reading.trial import read_trial
from apercu_core.statistics.specification import Design
from apercu_core.trial.facts import PlotFacts, TrialFacts

MOST_SEASONS = 100
"""In one call; each season has its own number and chance, so that many calls are one rehearsal."""


@dataclass(frozen=True, slots=True)
class Invented:
    """The truth about one measure, in its unit: `means` of each treatment; how blocks vary, and the spread in them."""

    asked: Asked
    means: Mapping[str, float]
    blocks: float
    spread: Spread


@dataclass(frozen=True, slots=True)
class Rehearsal:
    """`counts`: (measure, treatment) → verdict → how many seasons; `shown`: in how many a planned test shows it, for
    those that have one; `last`: the board of the last season.
    """

    seasons: int
    counts: Mapping[tuple[str, str], Mapping[str, int]]
    shown: Mapping[tuple[str, str], int]
    last: Reading

    def with_more(self, later: Rehearsal) -> Rehearsal:
        """This and further seasons of the same rehearsal."""
        counts = {key: Counter(found) for key, found in self.counts.items()}
        for key, found in later.counts.items():
            counts.setdefault(key, Counter()).update(found)
        shown = Counter(self.shown)
        shown.update(later.shown)
        return Rehearsal(self.seasons + later.seasons, counts, shown, later.last)


def rehearse(
    trial: TrialFacts, design: Design, truths: Sequence[Invented], how: How, base: str, *, seed: int, seasons: range,
    lost: Sequence[str] = (),
) -> Rehearsal:  # fmt: skip
    """Invent the seasons with these numbers, at most 100 at once, and read them; `lost`: plots without a value, the
    same in each.
    """
    if not 1 <= len(seasons) <= MOST_SEASONS:
        raise Refused("bad-value", f"{len(seasons)} seasons: ask for 1 to {MOST_SEASONS} at a time.")
    require_plots(trial, lost)
    drawn: list[list[Floats]] = [[] for _ in truths]
    for season in seasons:
        rng = np.random.default_rng([seed, season])
        for truth, its_own in zip(truths, drawn, strict=True):
            its_own.append(_values(trial.plots, truth, rng))
    invented = [np.array(its_own) for its_own in drawn]
    last = read_trial(trial, design, _season(trial, truths, invented, -1, lost), how, base)
    counts: dict[tuple[str, str], Counter[str]] = {}
    shown: Counter[tuple[str, str]] = Counter()
    one_by_one = []
    for truth, values in zip(truths, invented, strict=True):
        name, controls = truth.asked.name, controls_of(trial, truth.asked, base)
        board = balanced_board(trial, design, last.how, controls, lost) if truth.spread.plot > 0 else None
        if board is None:
            one_by_one.append((truth, values))
            continue
        found = board.intervals(values)
        for treatment, verdicts in board.verdicts(truth.asked, found).items():
            counts[name, treatment] = Counter({verdict.value: n for verdict, n in verdicts.items()})
        shown.update({(name, treatment): n for treatment, n in board.shown(truth.asked, found).items()})
    if one_by_one:
        rest, values_of = [truth for truth, _ in one_by_one], [values for _, values in one_by_one]
        for at in range(len(seasons)):
            reading = read_trial(trial, design, _season(trial, rest, values_of, at, lost), how, base)
            _count(reading, counts, shown)
    return Rehearsal(len(seasons), counts, shown, last)


def require_plots(trial: TrialFacts, lost: Sequence[str]) -> None:
    """Raises `Refused` where a plot that shall be lost isn't there."""
    if unknown := set(lost) - {plot.label for plot in trial.plots}:
        raise Refused("bad-value", f"There is no plot {sorted(unknown)[0]}, so it can’t go missing.")


def _count(reading: Reading, counts: dict[tuple[str, str], Counter[str]], shown: Counter[tuple[str, str]]) -> None:
    for measure in reading.measures:
        for cell in measure.cells:
            counts.setdefault((measure.asked.name, cell.treatment), Counter())[cell.verdict.value] += 1
        for test in measure.planned:
            shown[measure.asked.name, test.test.treatment] += test.shown


def _season(
    trial: TrialFacts, truths: Sequence[Invented], invented: Sequence[Floats], at: int, lost: Sequence[str]
) -> list[Recorded]:
    """What was recorded in one season. `invented`: (seasons, plots) of each truth."""
    return [
        Recorded(
            truth.asked,
            {p.label: [None if p.label in lost else float(v)] for p, v in zip(trial.plots, values[at], strict=True)},
        )
        for truth, values in zip(truths, invented, strict=True)
    ]


def _values(plots: Sequence[PlotFacts], truth: Invented, rng: np.random.Generator) -> Floats:
    """One season's values, shape (plots,)."""
    effects = np.array([truth.means[p.treatment] for p in plots]) + rng.normal(0, truth.spread.plot, len(plots))
    effects += _drawn([p.block or p.row for p in plots], truth.blocks, rng)
    larger = [f"{p.block} {p.whole_plot or p.row_strip or p.incomplete_block}" for p in plots]
    effects += _drawn(larger, truth.spread.whole, rng)
    effects += _drawn([f"{p.block} {p.column_strip}" for p in plots], truth.spread.column, rng)
    return effects


def _drawn(groups: Sequence[str], sigma: float, rng: np.random.Generator) -> Floats:
    """One effect for each group; none where they don't vary."""
    if sigma <= 0:
        return np.zeros(len(groups))
    names, codes = np.unique(groups, return_inverse=True)
    out: Floats = rng.normal(0, sigma, len(names))[codes]
    return out
