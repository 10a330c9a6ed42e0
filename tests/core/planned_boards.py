"""Boards of simulated trials beside what a plan promises: the same design, spreads and truth, read one by one."""

from dataclasses import dataclass

import numpy as np

from apercu_core.design.facts import READ_AS, facts_of
from apercu_core.design.plan_file import draw_plan, read_plan
from apercu_core.power.simulation import OUTCOMES, simulated_chances
from apercu_core.reading.asked import Asked, How, Recorded
from apercu_core.reading.measure import read_measure, rows_of, specification_for
from apercu_core.statistics.model import build_model
from apercu_core.statistics.plots import plots_of
from apercu_core.trial.facts import TrialFacts
from apercu_core.verdicts.margin import Band, Margin
from apercu_core.verdicts.verdict import Interval, judge

FACTORS = {"kill": ["A", "B"], "cover": ["x", "y", "z"]}
LISTED = ["A:x", "B:y", *(f"T{i}" for i in range(3, 13))]
"""Twelve treatments, for incomplete blocks of four."""
BASE, OTHER, MARGIN = "A:x", "B:y", 2.0
TRUTHS = (0.0, 2.0)
NAMED = {
    "clear-gain": "clear_right", "clear-loss": "clear_wrong", "real-size-unsettled": "real_unsettled",
    "real-but-small": "real_small", "no-difference-worth-having": "no_difference", "not-settled": "not_settled",
}  # fmt: skip


@dataclass(frozen=True)
class Case:
    """Standard deviations of blocks, of whole plots, rows or incomplete blocks, of columns; plots in them vary by 1."""

    design: str
    block: float
    whole: float = 0.0
    column: float = 0.0

    @property
    def blocks_are(self):
        return "fixed" if self.design in ("rcbd", "incomplete_block") else "random"

    def facts(self):
        raw = {"design": self.design, "blocks": 4, "seed": 3}
        listed = self.design == "incomplete_block"
        raw |= {"treatments": LISTED, "block_size": 4} if listed else {"factors": FACTORS}
        raw |= {"split_plot": {"whole_plot_factor": "kill"},
                "strip_plot": {"row_factor": "kill", "column_factor": "cover"}}.get(self.design, {})  # fmt: skip
        return facts_of((one.plot for one in draw_plan(read_plan(raw))), self.design)

    def promised(self, runs=20_000):
        """What Plan says: truth → outcome → chance."""
        facts, design = self.facts(), READ_AS[self.design]
        specification = specification_for(design, How(block_effect=self.blocks_are), BASE)
        values = {p.label: [float(i % 7)] for i, p in enumerate(facts)}
        model = build_model(plots_of(rows_of(facts, values), specification), specification)
        sigmas = {"rcbd": [1.0], "incomplete_block": [self.whole, 1.0], "split_plot": [self.block, self.whole, 1.0],
                  "strip_plot": [self.block, self.whole, self.column, 1.0]}[self.design]  # fmt: skip
        chances = simulated_chances(model, sigmas, BASE, OTHER, MARGIN, "dunnett", runs=runs)
        return {at.truth: {name: getattr(at, name) for name in OUTCOMES} for at in chances if at.truth in TRUTHS}

    def read(self, facts, y):
        """The board's cell of `OTHER` for the values `y`, (n,)."""
        trial, asked = TrialFacts(facts, BASE, "drawn"), Asked("Yield", "t/ha", Margin(MARGIN), "higher")
        values = {p.label: [float(v)] for p, v in zip(facts, y, strict=True)}
        how = How(block_effect=self.blocks_are)
        board = read_measure(trial, READ_AS[self.design], Recorded(asked, values), how, BASE)
        return next(cell for cell in board.cells if cell.treatment == OTHER)

    def trials(self, runs, seed=5):
        """Values of simulated trials without any true difference: facts of the plots, then `runs` arrays (n,)."""
        rng, facts = np.random.default_rng(seed), self.facts()
        groups = [([p.block for p in facts], self.block)]
        groups.append(([f"{p.block} {p.whole_plot or p.row_strip or p.incomplete_block}" for p in facts], self.whole))
        groups.append(([f"{p.block} {p.column_strip}" for p in facts], self.column))
        coded = [(np.unique(names, return_inverse=True)[1], sigma) for names, sigma in groups]
        for _ in range(runs):
            y = rng.normal(0, 1, len(facts))
            for codes, sigma in coded:
                y = y + rng.normal(0, sigma, codes.max() + 1)[codes]
            yield facts, y

    def boards(self, runs, seed=5):
        """What so many boards say: truth → outcome → share.

        A true difference of one treatment moves its estimate and leaves every residual as it is (a test reads one
        board of each kind both ways), so each trial is read once and its interval judged at each truth.
        """
        counts = {truth: dict.fromkeys(OUTCOMES, 0) for truth in TRUTHS}
        for facts, y in self.trials(runs, seed):
            cell = self.read(facts, y)
            for truth, found in counts.items():
                interval = Interval(cell.lower + truth, cell.upper + truth)
                name = NAMED[judge(interval, Band(-MARGIN, MARGIN), "higher").value]
                found["clear_right" if name == "clear_wrong" and not truth else name] += 1
        return {truth: {name: n / runs for name, n in found.items()} for truth, found in counts.items()}
