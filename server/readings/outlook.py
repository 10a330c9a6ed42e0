"""What a plan will be able to see: rows → the core's outlook, measure by measure."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from math import prod, sqrt
from typing import Any, cast

from apercu_core.design.facts import READ_AS, facts_of
from apercu_core.design.incomplete_blocks import IncompleteBlocks, find_incomplete_blocks
from apercu_core.errors import Refused
from apercu_core.field.layout import PlotSize
from apercu_core.field.machines import Fit, fit_width
from apercu_core.measures.catalogue import definition
from apercu_core.measures.ranges import in_unit
from apercu_core.measures.sheets import SHEETS
from apercu_core.power.board_comparison import board_comparison
from apercu_core.power.chances import Chances, Outlook, PlannedComparison, detectable_on_board, outlook
from apercu_core.power.differences import Difference, Spread, board_difference
from apercu_core.power.effort import THUMB, Effort, FramesChoice, best_frames, plot_sd_of, within_hours
from apercu_core.power.interblock import least_precise
from apercu_core.power.planned_chance import MOST_BLOCKS, Test, blocks_for_planned, planned_chance
from apercu_core.power.simulation import simulated_chances
from apercu_core.reading.asked import How, in_force
from apercu_core.reading.measure import rows_of, specification_for
from apercu_core.statistics.model import LinearModel, build_model
from apercu_core.statistics.plots import plots_of
from apercu_core.statistics.specification import Against, Method
from apercu_core.trial.facts import PlotFacts
from apercu_core.units import System
from crew.models import Person
from crew.permissions import require
from readings.models import Reading
from records.progress import samples_wanted
from trials.equipment import machines_of
from trials.models import MarginKind, Planned, Season, TrialMeasure
from trials.own_controls import own_controls
from trials.plan import Plan, block_size_of, grown_in, placed_plots, settled

CURVE = (2, 3, 4, 5, 6, 8, 10, 12)
_UNIT_SIZE = PlotSize(1, 1)
MOST_PLOTS = 600
"""Of a plan in incomplete blocks whose precision is worked out on the way; larger ones take too long to look at."""
_LARGER_UNITS = ("split_plot", "strip_plot", "incomplete_block")
"""Designs whose comparisons are judged by more than one stratum of error."""


@dataclass(frozen=True, slots=True)
class Known:
    """Mean and coefficient of variation (%) to plan with, in stored units, and where they come from.

    `frame_cv`: how much frames in one plot vary, % of the mean, where own figures tell.
    """

    mean: float
    cv_percent: float
    source: str
    frame_cv: float | None = None


@dataclass(frozen=True, slots=True)
class CurvePoint:
    """The smallest difference that so many blocks see with an 80 % chance, and what one visit to them costs."""

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
class MeasureOutlook:
    """In the unit that the person is shown; `outlook` None: not enough is known, and `reason` says what.

    `in_complete_blocks`: what as many complete blocks on the same ground would see, beside incomplete ones; None for
    other designs. `curve`: by the comparison of the board; `frames`: None where a plot has one figure, or nothing is
    known of frames; `sampled`: whether it has frames.
    """

    measure: TrialMeasure
    unit: str
    spread: Known | None
    sigma: float | None
    margin: float | None
    outlook: Outlook | None
    reason: str
    curve: tuple[CurvePoint, ...] = ()
    frames: FramesOutlook | None = None
    sampled: bool = False
    planned: PlannedOutlook | None = None
    in_complete_blocks: float | None = None


@dataclass(frozen=True, slots=True)
class Sketch:
    """The plan as it stands on the page.

    `whole_share`: how much whole plots, strips or incomplete blocks vary beyond the plots in them, as a multiple of
    what plots vary by;
    `plot_minutes`, `frame_minutes`: as typed, None for what the measure usually takes; `hours`: there are for a visit,
    None where nobody said; `frame_cv`: measure id → what frames vary by, %, as typed.
    """

    plan: Plan
    whole_share: float = 1.0
    plot_minutes: float | None = None
    frame_minutes: float | None = None
    hours: float | None = None
    frame_cv: Mapping[str, float] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class PlanOutlook:
    """`per_block`: plots in one block, those of a control outside the crossing counted as they will be laid out.

    `machines`: how the plots' width suits them; `incomplete`: which treatments meet, None for other designs.
    """

    plots: int
    per_block: int
    machines: Fit
    measures: list[MeasureOutlook]
    incomplete: IncompleteBlocks | None = None


def outlook_of(*, by: Person, season: Season, sketch: Sketch) -> PlanOutlook:
    """For each measure of the trial, with this plan. Raises `Refused` where the design can't carry the treatments."""
    require(by, "see", season)
    sketch = replace(sketch, plan=settled(sketch.plan))
    treatments = grown_in(season.trial, sketch.plan.left_out)
    if len(treatments) < 2:
        raise Refused("bad-design", "At least two treatments are needed to compare. Name them in Ask.")
    control = next((t.name for t in treatments if t.is_control), None)
    facts = _facts(season, sketch.plan)
    own = own_controls({t.name: t.levels for t in treatments}, season.trial.factors)
    plan = _comparison(season, sketch.plan, "dunnett" if control else "tukey", len(set(own.values())) or 1)
    look = _Look(season, plan, facts, own or control or treatments[0].name, sketch, cast(System, by.units),
                 season.trial.seasons.count())  # fmt: skip
    measures = season.trial.measures.select_related("version__measure").order_by("order", "id")
    whole = _whole_plot_width(facts, sketch.plan)
    machines = fit_width(sketch.plan.size.width, machines_of(season.trial.workspace), look.system, whole)
    incomplete = None
    if sketch.plan.design == "incomplete_block":
        size = block_size_of(sketch.plan, len(treatments))
        incomplete = find_incomplete_blocks(len(treatments), size, sketch.plan.blocks)
    seen = [look.at(measure, season) for measure in measures]
    return PlanOutlook(len(facts), look.per_block, machines, seen, incomplete)


def _whole_plot_width(facts: Sequence[PlotFacts], plan: Plan) -> float | None:
    """Metres across a whole plot of a split plot, its plots lying side by side; None for other designs."""
    if plan.design != "split_plot":
        return None
    plots = max(Counter((plot.block, plot.whole_plot) for plot in facts).values())
    return plots * plan.size.width + (plots - 1) * plan.size.gap


def _facts(season: Season, plan: Plan) -> tuple[PlotFacts, ...]:
    """Any draw of the plan: what can be seen doesn't depend on the order."""
    placed = placed_plots(season, replace(plan, size=_UNIT_SIZE, constraints=()), 1)
    return facts_of((one.plot for one in placed), plan.design)


def _comparison(season: Season, plan: Plan, method: Method, controls: int) -> PlannedComparison:
    treatments = len(grown_in(season.trial, plan.left_out))
    factors = tuple((str(f["name"]), len(f["levels"])) for f in season.trial.factors)
    if plan.design in ("split_plot", "strip_plot"):
        levels = dict(factors)
        whole = (plan.whole_factor, levels[plan.whole_factor])
        others = [name for name, _ in factors if name != plan.whole_factor]
        inside = levels[plan.column_factor] if plan.column_factor else -(-treatments // whole[1])
        sub = (plan.column_factor or " and ".join(others), inside)
        return PlannedComparison(READ_AS[plan.design], treatments, method, whole=whole, sub=sub, controls=controls)
    complete = prod(n for _, n in factors) == treatments and plan.design == "rcbd"
    return PlannedComparison(READ_AS[plan.design], treatments, method, factors=factors if complete else (),
                             controls=controls)  # fmt: skip


@dataclass(frozen=True, slots=True)
class _Look:
    """`base`: what treatments are compared with: one of them, or each with its own. `models`: by blocks, kept; `worst`:
    the least precise comparison in incomplete blocks, by replicates, for plots that vary by one.
    """

    season: Season
    plan: PlannedComparison
    facts: tuple[PlotFacts, ...]
    base: Against
    sketch: Sketch
    system: System
    sites: int
    models: dict[int, LinearModel] = field(default_factory=dict)
    worst: dict[int, tuple[str, Difference]] = field(default_factory=dict)

    @property
    def blocks(self) -> int:
        return self.plan.treatments if self.sketch.plan.design == "latin_square" else self.sketch.plan.blocks

    @property
    def untested(self) -> str:
        """Why this plan can be described but never tested; empty where it can be tested."""
        if self.sketch.plan.demonstration:
            return "One plot of each treatment is a demonstration: it shows, but can't tell treatment from ground."
        if self.sketch.plan.systematic:
            return "In a fixed order treatments are described, never tested: let chance draw to be able to test them."
        return ""

    def at(self, measure: TrialMeasure, season: Season) -> MeasureOutlook:
        unit, factor = measure.version.shown_in(self.system)
        known = known_spread(measure, season)
        if known is None:
            reason = (
                "Say in Ask what mean is expected and how much plots vary: neither the library nor your trials know."
            )
            return MeasureOutlook(measure, unit, None, None, None, None, reason)
        mean = known.mean * factor
        sigma = abs(mean) * known.cv_percent / 100
        margin = margin_in(measure, mean, factor)
        if sigma <= 0 or (margin is not None and margin <= 0):
            reason = "The expected mean has to be above 0 for its share to mean anything."
            return MeasureOutlook(measure, unit, known, None, margin, None, reason)
        if untested := self.untested:
            return MeasureOutlook(measure, unit, known, sigma, margin, None, untested)
        spread = spread_of(sigma, self.sketch.whole_share, self.plan.design)
        seen = outlook(self.plan, self.blocks, spread, margin, self.sites, compared=self._compared(spread))
        if margin is not None and not seen.chances:
            seen = replace(seen, chances=self._simulated(spread, margin))
        frames = samples_wanted(measure)
        sampled = SHEETS[measure.version.sheet].sampled
        return MeasureOutlook(
            measure, unit, known, sigma, margin, seen, "", self._curve(spread, frames, self._effort(measure)),
            self._frames(measure, known, mean, sigma) if sampled else None, sampled,
            self._planned(measure, spread, margin), self._in_complete_blocks(spread),
        )  # fmt: skip

    def _in_complete_blocks(self, spread: Spread) -> float | None:
        """With the variance that complete blocks leave: what incomplete blocks in them vary by then counts as error."""
        if self.plan.design != "incomplete_block":
            return None
        t = self.plan.treatments
        largest = max(Counter((p.block, p.incomplete_block) for p in self.facts).values())
        within = sqrt(spread.plot**2 + spread.whole**2 * (t - largest) / (t - 1))
        complete = replace(self.plan, design="rcbd")
        return detectable_on_board(complete, board_difference(complete.frame(self.blocks), Spread(within)))

    def _planned(self, measure: TrialMeasure, spread: Spread, margin: float | None) -> PlannedOutlook | None:
        """The planned test counts as much as the verdicts: the trial is sized by it too."""
        if measure.planned == Planned.NONE or margin is None:
            return None
        test = cast(Test, str(measure.planned))
        now = self._on_board(self.blocks, spread)
        square = self.plan.design == "latin_square"  # as large as its treatments are many
        most = self._most_blocks
        needed = None if square else blocks_for_planned(lambda n: self._on_board(n, spread), test, margin, most=most)
        at_half = planned_chance(now, test, margin, -margin / 2)
        return PlannedOutlook(test, planned_chance(now, test, margin), at_half, needed, most)

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
            return board_difference(self.plan.frame(blocks), spread)
        if blocks not in self.models:
            self.models[blocks] = self._model(_facts(self.season, replace(self.sketch.plan, blocks=blocks)))
        if self.plan.design == "incomplete_block":
            return self._least_precise(blocks, spread)[1]
        model = self.models[blocks]
        return board_comparison(model, self._sigmas(spread), self.base, self.plan.method, self.plan.alpha)

    def _least_precise(self, blocks: int, spread: Spread) -> tuple[str, Difference]:
        """What all measures share, since how much incomplete blocks vary is said as a multiple of plots."""
        if blocks not in self.worst:
            share, model = self.sketch.whole_share, self.models[blocks]
            self.worst[blocks] = least_precise(model, share, 1.0, self.base, self.plan.method, self.plan.alpha)
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

    @property
    def _most_blocks(self) -> int:
        """How many blocks are looked at."""
        if self.plan.design != "incomplete_block":
            return MOST_BLOCKS
        return max(self.blocks + 1, min(MOST_BLOCKS, MOST_PLOTS // self.per_block))

    @property
    def per_block(self) -> int:
        return len(self.facts) // self.blocks

    def _curve(self, spread: Spread, frames: int, effort: Effort) -> tuple[CurvePoint, ...]:
        if self.plan.design == "latin_square":
            return ()
        return tuple(
            CurvePoint(n, self._detectable(n, spread), n * self.per_block, effort.hours(n * self.per_block, frames))
            for n in CURVE
            if n <= self._most_blocks
        )

    def _detectable(self, blocks: int, spread: Spread) -> float:
        return detectable_on_board(self.plan, self._on_board(blocks, spread))

    def _effort(self, measure: TrialMeasure) -> Effort:
        shipped = definition(measure.version.catalogue)
        usual = shipped.effort if shipped else THUMB
        return Effort(self.sketch.plot_minutes or usual.plot_minutes, self.sketch.frame_minutes or usual.frame_minutes)

    def _frames(self, measure: TrialMeasure, known: Known, mean: float, sigma: float) -> FramesOutlook | None:
        """Frames against plots, where it is known how much frames in one plot vary."""
        typed = self.sketch.frame_cv.get(str(measure.id))
        cv, source = (typed, "as you say") if typed else (known.frame_cv, known.source)
        if not cv:
            return None
        now, frame_sd = samples_wanted(measure), abs(mean) * cv / 100
        effort = self._effort(measure)
        plot_sd = plot_sd_of(sigma, frame_sd, now)
        choices: tuple[FramesChoice, ...] = ()
        if self.sketch.hours and self.plan.design != "latin_square":
            choices = within_hours(
                effort, self.sketch.hours, self.per_block, frame_sd, plot_sd,
                lambda blocks, sd: self._detectable(blocks, spread_of(sd, self.sketch.whole_share, self.plan.design)),
            )  # fmt: skip
        return FramesOutlook(now, best_frames(effort, frame_sd, plot_sd), cv, source, choices)


def spread_of(sigma: float, whole_share: float, design: str) -> Spread:
    """`sigma` is what plots vary by within the smallest unit that holds several of them."""
    if design in ("split_plot", "incomplete_block"):
        return Spread(sigma, whole_share * sigma)
    return Spread(sigma, whole_share * sigma, whole_share * sigma) if design == "strip_plot" else Spread(sigma)


def margin_in(measure: TrialMeasure, mean: float, factor: float) -> float | None:
    """The measure's margin in the unit shown, `factor` from the stored one; `mean` in the unit shown."""
    if measure.margin is None:
        return None
    return measure.margin * (mean / 100 if measure.margin_kind == MarginKind.PERCENT else factor)


def known_spread(measure: TrialMeasure, season: Season) -> Known | None:
    """As typed in Ask; else from the workspace's own newest reading of that measure; else the library's thumb."""
    shipped = definition(measure.version.catalogue)
    past = _past(measure, season)
    version = measure.version
    factor = in_unit(shipped, version.unit, version.settings) if shipped else None
    usual = shipped.usual * factor if shipped and factor else None
    mean = measure.expected or (past.mean if past else usual)
    if mean is None:
        return None
    if measure.cv_percent:
        return Known(mean, measure.cv_percent, "as you expect", past.frame_cv if past else None)
    if past:
        return Known(mean, past.cv_percent, past.source, past.frame_cv)
    return Known(mean, shipped.cv_percent, shipped.spread_basis) if shipped else None


def _past(measure: TrialMeasure, season: Season) -> Known | None:
    """From the readings that results were opened with, in stored units."""
    readings = Reading.objects.filter(season__trial__workspace=season.trial.workspace)
    others = readings.exclude(season=season).select_related("season__trial").order_by("-created_at", "id")[:20]
    for reading in others:
        for found in reading.result["measures"]:
            full = found["full"]
            same = (found["name"], found["unit"]) == (measure.version.measure.name, measure.version.unit)
            if same and full and full["cv_percent"] and full["grand_mean"] > 0:
                return Known(
                    full["grand_mean"], full["cv_percent"], f"from {reading.season.trial.name}",
                    _frame_cv(found["plots"], full["grand_mean"]),
                )  # fmt: skip
    return None


def _frame_cv(plots: Sequence[Mapping[str, Any]], mean: float) -> float | None:
    """Pooled standard deviation of the samples in a plot, % of the mean; None where plots have one sample each."""
    samples = [[v for v in plot["samples"] if v is not None] for plot in plots]
    several = [values for values in samples if len(values) > 1]
    df = sum(len(values) - 1 for values in several)
    if df < 1:
        return None
    squares = sum((v - sum(values) / len(values)) ** 2 for values in several for v in values)
    return 100 * sqrt(squares / df) / mean
