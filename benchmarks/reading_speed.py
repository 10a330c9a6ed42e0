"""How long a full reading takes, beside statsmodels on the same data in the same run.

Run:  ./apercu test core >/dev/null; .apercu/venv/bin/python benchmarks/reading_speed.py
Prints medians of 20 runs in milliseconds and the ratios. Nothing is asserted: read the figures.
"""

from __future__ import annotations

import csv
import json
import statistics
import sys
import time
import warnings
from collections.abc import Callable
from functools import partial
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))

import numpy as np  # noqa: E402

from apercu_core.design.facts import facts_of  # noqa: E402
from apercu_core.design.plan_file import draw_plan, read_plan  # noqa: E402
from apercu_core.power.differences import Spread  # noqa: E402
from apercu_core.reading.asked import Asked, How, Recorded  # noqa: E402
from apercu_core.reading.rehearsal import Invented, rehearse  # noqa: E402
from apercu_core.reading.trial import read_trial  # noqa: E402
from apercu_core.statistics.analysis import analyse  # noqa: E402
from apercu_core.statistics.plots import Row  # noqa: E402
from apercu_core.statistics.specification import Specification, read_specification  # noqa: E402
from apercu_core.trial.facts import TrialFacts  # noqa: E402
from apercu_core.verdicts.margin import Margin  # noqa: E402

RUNS = 20


def median_ms(work: Callable[[], object]) -> float:
    work()
    times = []
    for _ in range(RUNS):
        start = time.perf_counter()
        work()
        times.append(1000 * (time.perf_counter() - start))
    return statistics.median(times)


def five_by_four() -> list[Row]:
    """A made-up randomised complete block trial of 5 treatments in 4 blocks."""
    rng = np.random.default_rng(20)
    block = rng.normal(0, 1, 4)
    return [
        {"block": f"b{b}", "cover": f"c{t}", "y": float(40 + 1.5 * t + block[b] + rng.normal())}
        for b in range(4)
        for t in range(5)
    ]


def split_plot() -> tuple[list[Row], Specification]:
    folder = ROOT / "tests" / "reference" / "visible" / "15-split-plot-balanced-kr"
    with (folder / "data.csv").open(encoding="utf-8") as file:
        rows: list[Row] = [dict(row) for row in csv.DictReader(file)]
    return rows, read_specification(json.loads((folder / "spec.json").read_text()))


def with_statsmodels(rows: list[Row]) -> Callable[[], object]:
    import pandas as pd
    import statsmodels.formula.api as smf
    from statsmodels.stats.anova import anova_lm
    from statsmodels.stats.multicomp import pairwise_tukeyhsd

    table = pd.DataFrame(rows)

    def work() -> object:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            mixed = smf.mixedlm("y ~ C(cover)", table, groups=table["block"]).fit(reml=True)
            anova = anova_lm(smf.ols("y ~ C(cover) + C(block)", table).fit(), typ=3)
            return mixed, anova, pairwise_tukeyhsd(table["y"], table["cover"])

    return work


def split_plot_with_a_control(measures: int) -> tuple[TrialFacts, list[Recorded]]:
    """A made-up split plot 3 × 4 in 4 blocks, 48 plots, with values of so many measures."""
    raw = {
        "design": "split_plot", "blocks": 4, "seed": 3, "whole_plot_factor": "kill",
        "factors": {"kill": ["early", "middle", "late"], "cover": ["vetch", "oat", "rye", "none"]},
    }  # fmt: skip
    facts = facts_of((one.plot for one in draw_plan(read_plan(raw))), "split_plot")
    treatments, blocks = sorted({f.treatment for f in facts}), sorted({f.block for f in facts})
    wholes = sorted({f.whole_plot for f in facts if f.whole_plot})
    rng = np.random.default_rng(2)

    def measure(number: int) -> Recorded:
        effect, block, whole = (
            dict(zip(names, rng.normal(0, sd, len(names)), strict=True))
            for names, sd in ((treatments, 1.0), (blocks, 2.0), (wholes, 1.5))
        )
        values = {f.label: [20 + effect[f.treatment] + block[f.block] + whole[f.whole_plot or ""] + rng.normal()]
                  for f in facts}  # fmt: skip
        return Recorded(Asked(f"Measure {number}", "t/ha", Margin(2.0), "higher"), values)

    return TrialFacts(facts, treatments[0], "drawn"), [measure(number) for number in range(measures)]


def whole_readings() -> tuple[float, float]:
    """Milliseconds: the median of single measures, each for the first time, and a board of 12 others."""
    trial, measures = split_plot_with_a_control(2 * RUNS + 12)
    read = partial(read_trial, trial, "split_plot", how=How(), base=trial.control)
    times = []
    for measure in measures[: 2 * RUNS]:
        start = time.perf_counter()
        read(measures=[measure])
        times.append(1000 * (time.perf_counter() - start))
    start = time.perf_counter()
    read(measures=measures[2 * RUNS :])
    return statistics.median(times), 1000 * (time.perf_counter() - start)


def rehearse_five_hundred() -> None:
    """Seasons of a made-up split plot in 4 blocks with a control outside the crossing."""
    raw = {
        "design": "split_plot", "blocks": 4, "seed": 3, "control": "bare", "whole_plot_factor": "kill",
        "factors": {"kill": ["early", "middle", "late"], "cover": ["vetch", "oat", "rye", "none"]},
    }  # fmt: skip
    facts = facts_of((one.plot for one in draw_plan(read_plan(raw))), "split_plot")
    means = {plot.treatment: 40.0 for plot in facts}
    truth = Invented(Asked("Yield", "t/ha", Margin(2.0), "higher"), means, 1.0, Spread(1.0, 0.5))
    for first in range(0, 500, 100):
        seasons = range(first, first + 100)
        rehearse(TrialFacts(facts, "bare", "drawn"), "split_plot", [truth], How(), "bare", seed=1, seasons=seasons)


def main() -> None:
    rows = five_by_four()
    spec = read_specification({"response": "y", "treatments": ["cover"], "design": "rcbd", "block": "block"})
    ours = median_ms(lambda: analyse(rows, spec))
    theirs = median_ms(with_statsmodels(rows))
    plots, split = split_plot()
    split_ms = median_ms(lambda: analyse(plots, split))
    print(f"Medians of {RUNS} runs, Kenward–Roger, all pairs by Tukey–Kramer, letters, diagnostics")
    print(f"  5 × 4 randomised complete block, Apercu        {ours:8.1f} ms   (aim 6 ms)")
    print(f"  the same with statsmodels                      {theirs:8.1f} ms")
    print(f"  ratio statsmodels / Apercu                     {theirs / ours:8.1f}      (at least 10)")
    print(f"  split plot of {len(plots)} plots, Apercu               {split_ms:8.1f} ms   (aim 20 ms)")
    single, board = whole_readings()
    print(f"  split plot of 48 against a control, read whole {single:8.1f} ms   (aim 20 ms)")
    print(f"  a board of 12 such measures                    {board:8.1f} ms   (aim 300 ms)")
    start = time.perf_counter()
    rehearse_five_hundred()
    seconds = time.perf_counter() - start
    print(f"  500 rehearsed seasons, split plot 3 × 4 and control {seconds:5.1f} s    (aim 3 s)")


if __name__ == "__main__":
    main()
