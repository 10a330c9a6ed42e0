"""What the board will be able to say under a plan: precision, chances, blocks and frames, before anything is sown."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from math import sqrt

from apercu_core.power.board_comparison import board_comparison
from apercu_core.power.chances import Chances, Outlook, PlannedComparison, detectable_on_board, outlook
from apercu_core.power.differences import Difference, Spread, board_difference
from apercu_core.power.effort import Effort, FramesChoice, best_frames, plot_sd_of, within_hours
from apercu_core.power.interblock import least_precise
from apercu_core.power.planned_chance import MOST_BLOCKS, Test, blocks_for_planned, planned_chance
from apercu_core.power.simulation import simulated_chances
from apercu_core.reading.asked import How, in_force
from apercu_core.reading.measure import rows_of, specification_for
from apercu_core.statistics.model import LinearModel, build_model
from apercu_core.statistics.plots import plots_of
from apercu_core.statistics.specification import Against
from apercu_core.trial.facts import PlotFacts

CURVE = (2, 3, 4, 5, 6, 8, 10, 12)
MOST_PLOTS = 600
"""Of a plan in incomplete blocks whose precision is worked out on the way; larger ones take too long to look at."""
_LARGER_UNITS = ("split_plot", "strip_plot", "incomplete_block")
"""Designs whose comparisons are judged by more than one stratum of error."""


@dataclass(frozen=True, slots=True)
class CurvePoint:
    """The smallest difference that so many blocks detect with an 80 % chance, and what one visit to them costs."""

    blocks: int
    detectable: float
    plots: int
    hours: float


@dataclass(frozen=True, slots=True)
class FramesOutlook:
    """Frames against plots. `now`: as planned; `best`: per plot, cheapest for any precision; `choices`: for the hours.

    `cv_percent`: of frames in one plot; `source`: where it comes from.
    """

    now: int
    best: int
    cv_percent: float
    source: str
    choices: tuple[FramesChoice, ...]

    @property
    def best_choice(self) -> int | None:
        """Frames per plot of the choice that detects the least."""
        return min(self.choices, key=lambda one: one.detectable).frames if self.choices else None


@dataclass(frozen=True, slots=True)
class PlannedOutlook:
    """Of a planned test: the chance that it shows it if there is no difference, and if there is one of half the margin
    in the unwanted direction; `blocks`: for an 80 % chance if there is none, None past `most`.
    """

    kind: str
    chance: float
    chance_at_half: float
    blocks: int | None
    most: int


@dataclass(frozen=True, slots=True)
class PlannedBoard:
    """`facts_with`: the plan's plots with so many blocks, in any order; `base`: what treatments are compared with: one
    of them, or each with its own; `planned_blocks`: of the plan. `whole_share`: how much larger units vary beyond the
    plots in them, as a multiple of what plots vary by. What it has worked out for a number of blocks is kept.
    """

    plan: PlannedComparison
    facts: tuple[PlotFacts, ...]
    facts_with: Callable[[int], tuple[PlotFacts, ...]]
    base: Against
    planned_blocks: int
    whole_share: float
    sites: int
    models: dict[int, LinearModel] = field(default_factory=dict)
    worst: dict[int, tuple[str, Difference]] = field(default_factory=dict)

    @property
    def blocks(self) -> int:
        return self.plan.treatments if self.plan.design == "latin_square" else self.planned_blocks

    @property
    def per_block(self) -> int:
        return len(self.facts) // self.blocks

    @property
    def most_blocks(self) -> int:
        """How many blocks are looked at."""
        if self.plan.design != "incomplete_block":
            return MOST_BLOCKS
        return max(self.blocks + 1, min(MOST_BLOCKS, MOST_PLOTS // self.per_block))

    def spread(self, sigma: float) -> Spread:
        return spread_of(sigma, self.whole_share, self.plan.design)

    def outlook(self, spread: Spread, margin: float | None) -> Outlook:
        """What can be detected, with the chance of each verdict where there is a margin."""
        seen = outlook(self.plan, self.blocks, spread, margin, self.sites, compared=self._compared(spread))
        if margin is not None and not seen.chances:
            seen = replace(seen, chances=self._simulated(spread, margin))
        return seen

    def in_complete_blocks(self, spread: Spread) -> float | None:
        """With the variance that complete blocks leave: what incomplete blocks in them vary by then counts as error."""
        if self.plan.design != "incomplete_block":
            return None
        t = self.plan.treatments
        largest = max(Counter((p.block, p.incomplete_block) for p in self.facts).values())
        within = sqrt(spread.plot**2 + spread.whole**2 * (t - largest) / (t - 1))
        complete = replace(self.plan, design="rcbd")
        return detectable_on_board(complete, board_difference(complete.balanced(self.blocks), Spread(within)))

    def planned_test(self, test: Test, spread: Spread, margin: float) -> PlannedOutlook:
        """The planned test counts as much as the verdicts: the trial is sized by it too."""
        now = self._on_board(self.blocks, spread)
        square = self.plan.design == "latin_square"  # as large as its treatments are many
        most = self.most_blocks
        needed = None if square else blocks_for_planned(lambda n: self._on_board(n, spread), test, margin, most=most)
        at_half = planned_chance(now, test, margin, -margin / 2)
        return PlannedOutlook(test, planned_chance(now, test, margin), at_half, needed, most)

    def curve(self, spread: Spread, frames: int, effort: Effort) -> tuple[CurvePoint, ...]:
        if self.plan.design == "latin_square":
            return ()
        return tuple(
            CurvePoint(n, self.detectable(n, spread), n * self.per_block, effort.hours(n * self.per_block, frames))
            for n in CURVE
            if n <= self.most_blocks
        )

    def detectable(self, blocks: int, spread: Spread) -> float:
        return detectable_on_board(self.plan, self._on_board(blocks, spread))

    def frames(
        self, now: int, cv_percent: float, source: str, mean: float, sigma: float, effort: Effort, hours: float | None
    ) -> FramesOutlook:
        """Frames against plots, where frames in one plot vary by `cv_percent`; `hours`: there are, if anybody said."""
        frame_sd = abs(mean) * cv_percent / 100
        plot_sd = plot_sd_of(sigma, frame_sd, now)
        choices: tuple[FramesChoice, ...] = ()
        if hours and self.plan.design != "latin_square":
            choices = within_hours(
                effort, hours, self.per_block, frame_sd, plot_sd,
                lambda blocks, sd: self.detectable(blocks, self.spread(sd)),
            )  # fmt: skip
        return FramesOutlook(now, best_frames(effort, frame_sd, plot_sd), cv_percent, source, choices)

    def _simulated(self, spread: Spread, margin: float) -> tuple[Chances, ...]:
        model = self._model(self.facts)
        others = dict.fromkeys(p.treatment for p in self.facts if self._control_of(p.treatment))
        if self.plan.design == "incomplete_block":
            other = self._least_precise(self.blocks, spread)[0]
        else:
            other = next((one for one in others if self._apart(one)), next(iter(others)))
        return simulated_chances(model, self._sigmas(spread), self.base, other, margin, self.plan.method)

    def _sigmas(self, spread: Spread) -> list[float]:
        """Of the model's strata, then of plots. Blocks are taken to vary as plots in them do; replicates are fixed."""
        if self.plan.design == "incomplete_block":
            return [spread.whole, spread.plot]
        strips = [spread.column] if self.plan.design == "strip_plot" else []
        return [spread.plot, spread.whole, *strips, spread.plot]

    def _compared(self, spread: Spread) -> tuple[Difference, Difference] | None:
        """The board's comparison with these blocks and with one more, where larger units have errors of their own."""
        if self.plan.design not in _LARGER_UNITS:
            return None
        return self._on_board(self.blocks, spread), self._on_board(self.blocks + 1, spread)

    def _on_board(self, blocks: int, spread: Spread) -> Difference:
        if self.plan.design not in _LARGER_UNITS:
            return board_difference(self.plan.balanced(blocks), spread)
        if blocks not in self.models:
            self.models[blocks] = self._model(self.facts_with(blocks))
        if self.plan.design == "incomplete_block":
            return self._least_precise(blocks, spread)[1]
        model = self.models[blocks]
        return board_comparison(model, self._sigmas(spread), self.base, self.plan.method, self.plan.alpha)

    def _least_precise(self, blocks: int, spread: Spread) -> tuple[str, Difference]:
        """What all measures share, since how much incomplete blocks vary is said as a multiple of plots."""
        if blocks not in self.worst:
            model = self.models[blocks]
            self.worst[blocks] = least_precise(
                model, self.whole_share, 1.0, self.base, self.plan.method, self.plan.alpha
            )
        name, one = self.worst[blocks]
        return name, replace(one, standard_error=one.standard_error * spread.plot)

    def _control_of(self, treatment: str) -> str:
        """Empty for a control itself."""
        if isinstance(self.base, str):
            return self.base if treatment != self.base else ""
        return self.base.get(treatment, "")

    def _apart(self, treatment: str) -> bool:
        """Whether a treatment shares no larger unit with its control: the least precise comparison of the board."""

        def units(treatment: str) -> set[tuple[str, str, str, str]]:
            own = (p for p in self.facts if p.treatment == treatment)
            return {(p.block, p.whole_plot, p.row_strip, p.column_strip) for p in own}

        return not any(
            block == b and ((whole and whole == w) or (row and row == r) or (column and column == c))
            for block, whole, row, column in units(treatment)
            for b, w, r, c in units(self._control_of(treatment))
        )

    def _model(self, facts: tuple[PlotFacts, ...]) -> LinearModel:
        """As a reading would build it; the values don't matter, but have to differ."""
        values = {p.label: [float(i % 7)] for i, p in enumerate(facts)}
        how = in_force(How(), self.plan.design, facts)
        specification = specification_for(self.plan.design, how, self.base)
        return build_model(plots_of(rows_of(facts, values), specification), specification)


def spread_of(sigma: float, whole_share: float, design: str) -> Spread:
    """`sigma` is what plots vary by within the smallest unit that holds several of them."""
    if design in ("split_plot", "incomplete_block"):
        return Spread(sigma, whole_share * sigma)
    return Spread(sigma, whole_share * sigma, whole_share * sigma) if design == "strip_plot" else Spread(sigma)
