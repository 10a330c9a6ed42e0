"""What a plan will be able to see: rows → the core's outlook, measure by measure."""

from __future__ import annotations

from dataclasses import dataclass
from typing import cast

from apercu_core.design.chances import Outlook, PlannedComparison, outlook
from apercu_core.errors import Refused
from apercu_core.measures.catalogue import definition
from apercu_core.statistics.specification import Design, Method
from apercu_core.units import System, shown_in
from crew.models import Person
from crew.permissions import require
from readings.models import Reading
from trials.models import MarginKind, Season, TrialMeasure


@dataclass(frozen=True, slots=True)
class Spread:
    """Mean and coefficient of variation (%) to plan with, in stored units, and where they come from."""

    mean: float
    cv_percent: float
    source: str


@dataclass(frozen=True, slots=True)
class MeasureOutlook:
    """In the unit that the person is shown; `outlook` None: not enough is known, and `reason` says what."""

    measure: TrialMeasure
    unit: str
    spread: Spread | None
    sigma: float | None
    margin: float | None
    outlook: Outlook | None
    reason: str


def outlook_of(*, by: Person, season: Season, blocks: int) -> list[MeasureOutlook]:
    """For each measure of the trial, with this many blocks."""
    require(by, "see", season.trial.workspace)
    treatments = list(season.trial.treatments.all())
    if len(treatments) < 2:
        raise Refused("bad-design", "At least two treatments are needed to compare. Name them in Ask.")
    method: Method = "dunnett" if any(t.is_control for t in treatments) else "tukey"
    plan = PlannedComparison(cast(Design, season.design), len(treatments), method)
    measures = season.trial.measures.select_related("version__measure").order_by("order", "id")
    return [_one(measure, plan, blocks, cast(System, by.units), season) for measure in measures]


def _one(measure: TrialMeasure, plan: PlannedComparison, blocks: int, system: System, season: Season) -> MeasureOutlook:
    unit, factor = shown_in(measure.version.unit, system)
    spread = _spread(measure, season)
    if spread is None:
        reason = "Say in Ask what mean is expected and how much plots vary: neither the library nor your trials know."
        return MeasureOutlook(measure, unit, None, None, None, None, reason)
    mean = spread.mean * factor
    sigma = abs(mean) * spread.cv_percent / 100
    margin = measure.margin
    if margin is not None:
        margin *= mean / 100 if measure.margin_kind == MarginKind.PERCENT else factor
    if sigma <= 0 or (margin is not None and margin <= 0):
        reason = "The expected mean has to be above 0 for its share to mean anything."
        return MeasureOutlook(measure, unit, spread, None, margin, None, reason)
    return MeasureOutlook(measure, unit, spread, sigma, margin, outlook(plan, blocks, sigma, margin), "")


def _spread(measure: TrialMeasure, season: Season) -> Spread | None:
    """As typed in Ask; else from the workspace's own newest reading of that measure; else the library's thumb."""
    shipped = definition(measure.version.catalogue)
    past = _past(measure, season)
    mean = measure.expected or (past.mean if past else shipped.usual if shipped else None)
    if mean is None:
        return None
    if measure.cv_percent:
        return Spread(mean, measure.cv_percent, "as you expect")
    if past:
        return Spread(mean, past.cv_percent, past.source)
    return Spread(mean, shipped.cv_percent, "rule of thumb of the library") if shipped else None


def _past(measure: TrialMeasure, season: Season) -> Spread | None:
    """From readings shown in metric units, so that their means are as stored."""
    readings = Reading.objects.filter(season__trial__workspace=season.trial.workspace, asked__units="metric")
    others = readings.exclude(season=season).select_related("season__trial").order_by("-created_at", "id")[:20]
    for reading in others:
        for found in reading.result["measures"]:
            full = found["full"]
            same = (found["name"], found["unit"]) == (measure.version.measure.name, measure.version.unit)
            if same and full and full["cv_percent"] and full["grand_mean"] > 0:
                return Spread(full["grand_mean"], full["cv_percent"], f"from {reading.season.trial.name}")
    return None
