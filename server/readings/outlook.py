"""What a plan will be able to see: rows → the core's outlook, measure by measure."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from math import prod
from typing import cast

from apercu_core.design.facts import READ_AS, facts_of
from apercu_core.design.incomplete_blocks import IncompleteBlocks, find_incomplete_blocks
from apercu_core.errors import Refused
from apercu_core.field.arrangement import Arrangement
from apercu_core.field.layout import PlotSize
from apercu_core.field.machines import WidthFit, fit_width
from apercu_core.measures.catalogue import definition
from apercu_core.measures.ranges import in_unit
from apercu_core.power.chances import Outlook, PlannedComparison
from apercu_core.power.effort import THUMB, Effort, frame_cv
from apercu_core.power.planned_chance import Test
from apercu_core.reading.planned_board import CurvePoint, FramesOutlook, PlannedBoard, PlannedOutlook
from apercu_core.statistics.specification import Method
from apercu_core.trial.facts import PlotFacts
from apercu_core.units import System
from crew.models import Person
from crew.permissions import require
from readings.models import Reading
from records.progress import samples_wanted
from trials.equipment import machines_of
from trials.models import MarginKind, Planned, Season, TrialMeasure
from trials.own_controls import own_controls
from trials.plan import PlanChoices, arrangement_of, block_size_of, grown_in, placed_plots, settled

_UNIT_SIZE = PlotSize(1, 1)


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
    None where nobody said; `frame_cv`: measure id → what frames vary by, %, as typed;
    `sized`: width and length of plots are known.
    """

    plan: PlanChoices
    whole_share: float = 1.0
    plot_minutes: float | None = None
    frame_minutes: float | None = None
    hours: float | None = None
    frame_cv: Mapping[str, float] = field(default_factory=dict)
    sized: bool = False


@dataclass(frozen=True, slots=True)
class PlanOutlook:
    """`per_block`: plots in one block, those of a control outside the crossing counted as they will be laid out.

    `machines`: how the plots' width suits them; `incomplete`: which treatments meet, None for other designs.
    `arrangement`: how blocks lie to each other, None where nobody has said how large plots are.
    """

    plots: int
    per_block: int
    machines: WidthFit
    measures: list[MeasureOutlook]
    incomplete: IncompleteBlocks | None = None
    arrangement: Arrangement | None = None


def outlook_of(*, by: Person, season: Season, sketch: Sketch) -> PlanOutlook:
    """For each measure of the trial, with this plan. Raises `Refused` where the design can't carry the treatments."""
    require(by, "see", season)
    sketch = replace(sketch, plan=settled(sketch.plan))
    treatments = grown_in(season.trial, sketch.plan.not_grown)
    if len(treatments) < 2:
        raise Refused("bad-design", "At least two treatments are needed to compare. Name them in Ask.")
    control = next((t.name for t in treatments if t.is_control), None)
    facts = _facts(season, sketch.plan)
    own = own_controls({t.name: t.levels for t in treatments}, season.trial.factors)
    plan = _comparison(season, sketch.plan, "dunnett" if control else "tukey", len(set(own.values())) or 1)
    board = PlannedBoard(
        plan, facts, lambda blocks: _facts(season, replace(sketch.plan, blocks=blocks)),
        own or control or treatments[0].name, sketch.plan.blocks, sketch.whole_share, season.trial.seasons.count(),
    )  # fmt: skip
    look = _Look(board, sketch, cast(System, by.units))
    measures = season.trial.measures.select_related("version__measure").order_by("order", "id")
    whole = _whole_plot_width(facts, sketch.plan)
    machines = fit_width(sketch.plan.size.width, machines_of(season.trial.workspace), look.system, whole)
    incomplete = None
    if sketch.plan.design == "incomplete_block":
        size = block_size_of(sketch.plan, len(treatments))
        incomplete = find_incomplete_blocks(len(treatments), size, sketch.plan.blocks)
    seen = [look.at(measure, season) for measure in measures]
    arrangement = arrangement_of(season, sketch.plan, 1, look.system) if sketch.sized else None
    return PlanOutlook(len(facts), board.per_block, machines, seen, incomplete, arrangement)


def _whole_plot_width(facts: Sequence[PlotFacts], plan: PlanChoices) -> float | None:
    """Metres across a whole plot of a split plot, its plots lying side by side; None for other designs."""
    if plan.design != "split_plot":
        return None
    plots = max(Counter((plot.block, plot.whole_plot) for plot in facts).values())
    return plots * plan.size.width + (plots - 1) * plan.size.gap


def _facts(season: Season, plan: PlanChoices) -> tuple[PlotFacts, ...]:
    """Any draw of the plan: what can be seen doesn't depend on the order."""
    placed = placed_plots(season, replace(plan, size=_UNIT_SIZE, constraints=()), 1)
    return facts_of((one.plot for one in placed), plan.design)


def _comparison(season: Season, plan: PlanChoices, method: Method, controls: int) -> PlannedComparison:
    treatments = len(grown_in(season.trial, plan.not_grown))
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
    """A planned board, and what the measures' rows say beside it."""

    board: PlannedBoard
    sketch: Sketch
    system: System

    @property
    def untested(self) -> str:
        """Why this plan can be described but never tested; empty where it can be tested."""
        if self.sketch.plan.demonstration:
            return "One plot of each treatment is a demonstration. Its differences can’t be tested."
        if self.sketch.plan.systematic:
            return (
                "Treatments in a fixed order are described, never tested. Randomise the plots to be able to test them."
            )
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
        board, spread = self.board, self.board.spread(sigma)
        planned = None
        if measure.planned != Planned.NONE and margin is not None:
            planned = board.planned_test(cast(Test, str(measure.planned)), spread, margin)
        sampled = measure.version.entry_sheet.sampled
        return MeasureOutlook(
            measure, unit, known, sigma, margin, board.outlook(spread, margin), "",
            board.curve(spread, samples_wanted(measure), self._effort(measure)),
            self._frames(measure, known, mean, sigma) if sampled else None, sampled, planned,
            board.in_complete_blocks(spread),
        )  # fmt: skip

    def _effort(self, measure: TrialMeasure) -> Effort:
        shipped = definition(measure.version.catalogue)
        usual = shipped.effort if shipped else THUMB
        return Effort(self.sketch.plot_minutes or usual.plot_minutes, self.sketch.frame_minutes or usual.frame_minutes)

    def _frames(self, measure: TrialMeasure, known: Known, mean: float, sigma: float) -> FramesOutlook | None:
        """Where it is known how much frames in one plot vary."""
        typed = self.sketch.frame_cv.get(str(measure.id))
        cv, source = (typed, "as you say") if typed else (known.frame_cv, known.source)
        if not cv:
            return None
        now, effort = samples_wanted(measure), self._effort(measure)
        return self.board.frames(now, cv, source, mean, sigma, effort, self.sketch.hours)


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
                    frame_cv([plot["samples"] for plot in found["plots"]], full["grand_mean"]),
                )  # fmt: skip
    return None
