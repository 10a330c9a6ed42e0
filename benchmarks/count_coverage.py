"""Coverage of the board's intervals for counts, and how often it sees a difference where there is none.

Five treatments against a control (Dunnett, 95 %), counts with variance μ + μ²/k and blocks that vary by a factor
(standard deviation 0.3 of the log). Prints the table of docs/counts.md:

    PYTHONPATH=. .apercu/venv/bin/python benchmarks/count_coverage.py [RUNS]
"""

from __future__ import annotations

import os
import sys
from dataclasses import dataclass
from multiprocessing import Pool

import numpy as np

from apercu_core.reading.asked import Asked, How, Recorded, in_force
from apercu_core.reading.measure import read_measure
from apercu_core.trial.facts import PlotFacts, TrialFacts

TREATMENTS = ("bare", "a", "b", "c", "d")
BLOCK_SD = 0.3


@dataclass(frozen=True)
class Cell:
    """`mean`: of a plot's count in all treatments but the control, which has `ratio` times as many."""

    mean: float
    k: float | None
    blocks: int
    ratio: float


@dataclass(frozen=True)
class Found:
    """Of the runs with an answer: share whose intervals all hold the truth, share with a false difference, and the
    middle width of an interval; `answered`: share of runs that have one.
    """

    covered: float
    false: float
    width: float
    answered: float
    runs: int

    @property
    def error(self) -> float:
        """Monte Carlo standard error of `covered`."""
        return float(np.sqrt(max(self.covered * (1 - self.covered), 1e-4) / max(self.runs * self.answered, 1)))


def simulate(cell: Cell, runs: int, seed: int = 1) -> Found:
    rng = np.random.default_rng([seed, int(10 * cell.mean), cell.blocks, int(cell.ratio)])
    plots = tuple(PlotFacts(f"{b}{t}", f"B{b}", name) for b in range(cell.blocks) for t, name in enumerate(TREATMENTS))
    trial = TrialFacts(plots, "bare", "drawn")
    asked = Asked("Weeds", "1/m²", None, "lower", kind="count")
    how = in_force(How(), "rcbd", plots)
    own = np.array([cell.mean * (cell.ratio if plot.treatment == "bare" else 1) for plot in plots])
    covered = false = answered = 0
    widths = []
    for _ in range(runs):
        effect = rng.normal(0, BLOCK_SD, cell.blocks)
        mean = own * np.exp(np.repeat(effect, len(TREATMENTS)))
        rate = mean if cell.k is None else mean * rng.gamma(cell.k, 1 / cell.k, len(plots))
        counts = rng.poisson(rate)
        samples = {plot.label: [float(count)] for plot, count in zip(plots, counts, strict=True)}
        found = read_measure(trial, "rcbd", Recorded(asked, samples, area=1.0), how, "bare")
        truth = cell.mean * (1 - cell.ratio) * float(np.exp(effect.mean()))
        ends = [(c.lower, c.upper) for c in found.cells if c.lower is not None and c.upper is not None]
        if not ends:
            continue
        answered += 1
        covered += all(low <= truth <= high for low, high in ends)
        false += any(low > 0 or high < 0 for low, high in ends)
        widths.append(float(np.median([high - low for low, high in ends])))
    n = max(answered, 1)
    return Found(covered / n, false / n, float(np.median(widths)) if widths else float("nan"), answered / runs, runs)


def all_cells() -> list[Cell]:
    return [
        Cell(mean, k, blocks, ratio)
        for blocks in (3, 4, 5, 6)
        for ratio in (1, 4)
        for k in (0.5, 1, 2, 5, None)
        for mean in (0.5, 2, 5, 10, 50)
    ]


def _one(job: tuple[Cell, int]) -> tuple[Cell, Found]:
    return job[0], simulate(*job)


def main(runs: int) -> None:
    print(f"{runs} runs a row; ± is the Monte Carlo standard error of the coverage.\n")
    print("| blocks | control | k | mean count | covered | ± | false difference | middle width | answered |")
    print("| --- | --- | --- | --- | --- | --- | --- | --- | --- |")
    with Pool(int(os.environ.get("PROCESSES", "0")) or None) as pool:
        for cell, found in pool.imap(_one, [(cell, runs) for cell in all_cells()]):
            false = f"{100 * found.false:.1f} %" if cell.ratio == 1 else "–"
            kind = "equal" if cell.ratio == 1 else "four-fold"
            shown = [
                str(cell.blocks), kind, str(cell.k or "none"), f"{cell.mean:g}", f"{100 * found.covered:.1f} %",
                f"{100 * found.error:.1f}", false, f"{found.width:.3g}", f"{100 * found.answered:.0f} %",
            ]  # fmt: skip
            print(f"| {' | '.join(shown)} |", flush=True)


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 1500)
