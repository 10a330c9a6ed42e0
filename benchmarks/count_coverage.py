"""Coverage of the board's intervals for counts, and how often it sees a difference: none, or weeds that vanish.

Treatments against a control (Dunnett, 95 %), counts with variance μ + μ²/k and blocks that vary by a factor (standard
deviation 0.3 of the log), in split plots whole plots too (0.2). Prints the tables of docs/counts.md:

    PYTHONPATH=. .apercu/venv/bin/python benchmarks/count_coverage.py grid|beyond|vanish [RUNS]
"""

from __future__ import annotations

import os
import sys
from dataclasses import dataclass
from multiprocessing import Pool

import numpy as np

from apercu_core.reading.asked import Asked, How, Recorded, in_force
from apercu_core.reading.measure import read_measure
from apercu_core.statistics.specification import Design
from apercu_core.trial.facts import PlotFacts, TrialFacts

BLOCK_SD, WHOLE_PLOT_SD = 0.3, 0.2


@dataclass(frozen=True)
class Cell:
    """`means`: of a plot's count, the control first. `empty`: share of the control's plots that are empty for a reason
    of their own, the same number in each run. `split`: treatments stand two by two on whole plots, the control alone.
    """

    means: tuple[float, ...]
    k: float | None
    blocks: int
    name: str = ""
    empty: float = 0.0
    split: bool = False


@dataclass(frozen=True)
class Found:
    """Of the runs with an answer: share whose intervals all hold the truth, share with a difference between equals, the
    middle width of an interval, and in what share each treatment differs; `answered`: share of runs that have one.
    """

    covered: float
    false: float
    width: float
    answered: float
    runs: int
    found: tuple[float, ...]

    @property
    def error(self) -> float:
        """Monte Carlo standard error of `covered`."""
        return float(np.sqrt(max(self.covered * (1 - self.covered), 1e-4) / max(self.runs * self.answered, 1)))


def plots_of(cell: Cell) -> tuple[PlotFacts, ...]:
    return tuple(
        PlotFacts(f"{b}t{i}", f"B{b}", f"t{i}", whole_plot=f"B{b} {(i + 1) // 2}" if cell.split else "")
        for b in range(cell.blocks)
        for i in range(len(cell.means))
    )


def simulate(cell: Cell, runs: int, seed: int = 1) -> Found:
    rng = np.random.default_rng([seed, int(10 * sum(cell.means)), cell.blocks, len(cell.means)])
    plots, t = plots_of(cell), len(cell.means)
    trial = TrialFacts(plots, "t0", "drawn")
    design: Design = "split_plot" if cell.split else "rcbd"
    asked, how = Asked("Weeds", "1/m²", None, "lower", kind="count"), in_force(How(), design, plots)
    whole_plot = np.array([(i + 1) // 2 for i in range(t)])
    covered = false = answered = 0
    differs, widths = np.zeros(t - 1), []
    for _ in range(runs):
        block = rng.normal(0, BLOCK_SD, (cell.blocks, 1))
        effect = block + (rng.normal(0, WHOLE_PLOT_SD, (cell.blocks, t))[:, whole_plot] if cell.split else 0.0)
        mean = np.array(cell.means) * np.exp(effect)
        mean[:, 0] *= rng.permutation(cell.blocks) >= cell.blocks * cell.empty
        rate = mean if cell.k is None else mean * rng.gamma(cell.k, 1 / cell.k, mean.shape)
        samples = {plot.label: [float(n)] for plot, n in zip(plots, rng.poisson(rate).ravel(), strict=True)}
        cells = read_measure(trial, design, Recorded(asked, samples, area=1.0), how, "t0").cells
        # In one stratum densities are of the middle block, in several the mean over blocks.
        at = np.exp((BLOCK_SD**2 + WHOLE_PLOT_SD**2) / 2) if cell.split else np.exp(block.mean())
        truth = (np.array(cell.means[1:]) - cell.means[0] * (1 - cell.empty)) * at
        ends = [(c.lower, c.upper) for c in cells if c.lower is not None and c.upper is not None]
        if len(ends) < t - 1:
            continue
        answered += 1
        excluded = np.array([low > 0 or high < 0 for low, high in ends])
        covered += all(low <= true <= high for (low, high), true in zip(ends, truth, strict=True))
        false += bool((excluded & (np.abs(truth) < 1e-9)).any())
        differs += excluded
        widths.append(float(np.median([high - low for low, high in ends])))
    n = max(answered, 1)
    width = float(np.median(widths)) if widths else float("nan")
    return Found(covered / n, false / n, width, answered / runs, runs, tuple((differs / n).tolist()))


def grid() -> list[Cell]:
    """Five treatments, the control as the others or four times as much."""
    return [
        Cell((mean * ratio, *[mean] * 4), k, blocks, "equal" if ratio == 1 else "four-fold")
        for blocks in (3, 4, 5, 6)
        for ratio in (1, 4)
        for k in (0.5, 1, 2, 5, None)
        for mean in (0.5, 2, 5, 10, 50)
    ]


def beyond() -> list[Cell]:
    pairs = [
        Cell((mean * ratio, mean), k, blocks, f"2 treatments, control × {ratio}")
        for blocks in (4, 6) for k in (0.5, 1, 2) for ratio in (1, 4) for mean in (10,)
    ]  # fmt: skip
    far = [Cell((50, *[5] * 4), 0.5, 6, "control × 10"), Cell((30, *[3] * 4), 1, 4, "control × 10"),
           Cell((5, *[50] * 4), 1, 6, "control × 0.1"), Cell((5, *[50] * 4), 1, 4, "control × 0.1")]  # fmt: skip
    empty = [Cell((40, *[20] * 4), 2, blocks, "half of the control empty", empty=0.5) for blocks in (4, 6)]
    split = [
        Cell((mean * ratio, *[mean] * 4), k, blocks, f"split plots, control × {ratio}", split=True)
        for blocks, k, mean, ratio in ((4, 1, 5, 4), (8, 1, 5, 4), (4, 0.5, 10, 4), (4, 5, 10, 4), (8, 2, 2, 4),
                                       (4, 1, 5, 1), (4, 5, 20, 1))
    ]  # fmt: skip
    return [*pairs, *far, *empty, *split]


def vanish() -> list[Cell]:
    """Two treatments near zero, two at half the control, or at the control itself."""
    half = [
        Cell((control, control / 2, control / 2, few, few), 2, 4, f"{control} → {few:g}, two at half")
        for control, few in ((8, 0.3), (20, 0.3), (20, 1), (50, 2), (30, 0))
    ]
    equal = [
        Cell((control, control, control, few, few), k, blocks, f"{control} → {few:g}, two equal")
        for blocks in (3, 4, 6) for k in (0.5, 2) for control, few in ((20, 0.3), (50, 2), (30, 0))
    ]  # fmt: skip
    return [*half, *equal]


def _one(job: tuple[Cell, int]) -> tuple[Cell, Found]:
    return job[0], simulate(*job)


def main(table: str, runs: int) -> None:
    cells = {"grid": grid, "beyond": beyond, "vanish": vanish}[table]()
    print(f"{runs} runs a row; ± is the Monte Carlo standard error of the coverage.\n")
    print("| blocks | case | k | mean count | covered | ± | false difference | differ | middle width | answered |")
    print("| --- | --- | --- | --- | --- | --- | --- | --- | --- | --- |")
    with Pool(int(os.environ.get("PROCESSES", "0")) or None) as pool:
        for cell, found in pool.imap(_one, [(cell, runs) for cell in cells]):
            equals = any(mean == cell.means[0] * (1 - cell.empty) for mean in cell.means[1:])
            shown = [
                str(cell.blocks), cell.name, str(cell.k or "none"), f"{cell.means[-1]:g}",
                f"{100 * found.covered:.1f} %", f"{100 * found.error:.1f}",
                f"{100 * found.false:.1f} %" if equals else "–", f"{100 * found.found[-1]:.0f} %",
                f"{found.width:.3g}", f"{100 * found.answered:.0f} %",
            ]  # fmt: skip
            print(f"| {' | '.join(shown)} |", flush=True)


if __name__ == "__main__":
    main(sys.argv[1] if len(sys.argv) > 1 else "grid", int(sys.argv[2]) if len(sys.argv) > 2 else 300)
