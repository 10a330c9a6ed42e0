"""Rows ↔ the core's values."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from typing import Any, cast, get_args

from apercu_core.design.facts import READ_AS
from apercu_core.design.plan_file import PlannedDesign
from apercu_core.measures.catalogue import CATALOGUE, definition
from apercu_core.measures.settings import counted_area
from apercu_core.protocol.question import contradictions
from apercu_core.reading.asked import Asked, Blinding, How, Occasion, Recorded, ValueKind
from apercu_core.statistics.specification import Design
from apercu_core.trial.facts import Allocation, OpenConflict, PlotFacts, TrialFacts, TroubleFacts
from apercu_core.units import System, per_area_factor
from apercu_core.verdicts.margin import Margin
from apercu_core.verdicts.verdict import Direction, Planned
from field_log.facts import kill_facts, lost_from, trouble_facts
from operations.facts import operation_facts
from readings.models import Reading
from readings.question_changes import question_changes
from readings.values import Samples, rule_of, values_in
from records.models import Observation, VisitMeasure
from sowing.facts import sown_facts
from trials.asked_margins import asked_margins
from trials.descriptions import accepted_in, described_in
from trials.models import Season, TrialMeasure, Unit
from trials.own_controls import named_controls, own_controls


@dataclass(frozen=True, slots=True)
class Given:
    """A season as the core wants it. `samples` are in stored units; `examined`: beside them, the n of each k of n;
    `observations`: measure id → plot label → ids, beside the samples; `failed`: measure id → plots whose treatment
    failed; `beyond`: measure id → plots whose value lies beyond what was measured; `names`: of treatments, by id;
    `by_zone`: measure id → zones; `occasions`: measure id → the visit it is taken at; `visits`: of how many each value
    is the mean or the sum; `by_part`: measure id → part → plot → samples; `unsaid`: measure id → part → samples
    without an entry of it; `blinding`: by measure id. `system`: what the reader is shown.
    """

    facts: TrialFacts
    design: Design
    base: str
    measures: tuple[TrialMeasure, ...]
    samples: dict[str, Samples]
    examined: dict[str, Samples]
    observations: dict[str, dict[str, list[str]]]
    failed: dict[str, tuple[str, ...]]
    beyond: dict[str, tuple[str, ...]]
    names: dict[str, str]
    by_zone: Mapping[str, Sequence[str]]
    occasions: Mapping[str, Occasion]
    visits: Mapping[str, int]
    by_part: Mapping[str, Mapping[str, Samples]]
    unsaid: Mapping[str, Mapping[str, int]]
    blinding: Mapping[str, Blinding]
    system: System
    conflicts: Mapping[str, tuple[OpenConflict, ...]]
    set_aside: Mapping[str, tuple[str, ...]]

    def shown(self, measure: TrialMeasure) -> Samples:
        """The measure's samples in the unit that the reader is shown."""
        factor = measure.version.shown_in(self.system)[1]
        stored = self.samples[str(measure.id)]
        return {label: [v if v is None else v * factor for v in values] for label, values in stored.items()}


def gather(season: Season, system: System = "metric") -> Given:
    """Plots, values and measures of a season, in four queries."""
    units = list(season.units.plots())  # type: ignore[attr-defined]
    not_grown = {t.id for t in season.not_grown.all()}
    treatments = [t for t in season.trial.treatments.all() if t.id not in not_grown]
    control = next((t.name for t in treatments if t.is_control), None)
    plots = plot_facts(units)
    measures = tuple(
        season.trial.measures.select_related("version__measure").prefetch_related("planned_for").order_by("order", "id")
    )
    facts = TrialFacts(
        plots, control, cast(Allocation, season.allocation), described_in(season.trial, treatments),
        accepted_in(season.trial, treatments), tuple(str(one["said"]) for one in season.moved),
        tuple(t.name for t in treatments if t.is_control and t.name != control),
        own_controls=own_controls({t.name: t.levels for t in treatments}, season.trial.factors),
        contradictions=contradictions(season.trial.question, asked_margins(measures)),
        sown=sown_facts(season),
        operations=operation_facts(season),
        troubles=_troubles(season, units, measures),
        kills=kill_facts(season),
        reweighed=tuple(f"{one['said']}: {one['why']} ({one['by']}, {one['at'][:10]})" for one in season.reweighed),
    )  # fmt: skip
    values = values_in(season, measures, {u.id: u.label for u in units}, lost_from(season, _treatment_by_plot(units)))
    base = control or treatments[0].name
    names = {str(t.id): t.name for t in treatments}
    return Given(
        facts,
        READ_AS[cast(PlannedDesign, season.design)],
        base,
        measures,
        {key: one.samples for key, one in values.items()},
        {key: one.examined for key, one in values.items() if one.examined is not None},
        {key: one.ids for key, one in values.items()},
        {key: one.failed for key, one in values.items()},
        {key: one.beyond for key, one in values.items()},
        names,
        season.by_zone,
        {key: one.occasion for key, one in values.items() if one.occasion},
        {key: one.visits for key, one in values.items()},
        {key: one.by_part for key, one in values.items()},
        {key: one.unsaid for key, one in values.items()},
        {key: one.blinding for key, one in values.items()},
        system,
        _conflicts(season, measures, system),
        {key: one.set_aside for key, one in values.items()},
    )


def _conflicts(
    season: Season, measures: Sequence[TrialMeasure], system: System
) -> dict[str, tuple[OpenConflict, ...]]:  # fmt: skip
    """By measure id: places where two people's values wait for a decision, in the unit that is shown."""
    of = {m.version_id: m for m in measures}
    waiting = Observation.objects.filter(visit__season=season, in_conflict=True, version__in=list(of))
    rows = list(waiting.select_related("unit").order_by("unit__order", "received_at", "id"))
    units = {row.unit_id for row in rows}
    current = Observation.objects.filter(visit__season=season, current=True, version__in=list(of), unit__in=units)
    at = {_place_of(row): row for row in current} if rows else {}
    found: dict[str, list[OpenConflict]] = {}
    for row in rows:
        standing = at.get(_place_of(row))
        factor = of[row.version_id].version.shown_in(system)[1]
        values = [None if one is None or one.value is None else one.value * factor for one in (standing, row)]
        found.setdefault(str(of[row.version_id].id), []).append(OpenConflict(row.unit.label, *values))
    return {key: tuple(own) for key, own in found.items()}


def _place_of(row: Observation) -> tuple[Any, ...]:
    return row.visit_id, row.unit_id, row.version_id, row.zone, row.component_kind, row.component, row.sample


def plot_facts(units: Sequence[Unit]) -> tuple[PlotFacts, ...]:
    """Each plot with the larger units that it lies in; strips are told apart by their row and column."""

    def grid(number: int | None) -> str:
        return "" if number is None else str(number)

    return tuple(
        PlotFacts(
            u.label, u.block, u.treatment.name if u.treatment else "", u.position,
            whole_plot=u.whole_plot, incomplete_block=u.incomplete_block,
            row_strip=grid(u.row), column_strip=grid(u.column), row=grid(u.row), column=grid(u.column),
        )
        for u in units
    )  # fmt: skip


def _treatment_by_plot(units: Sequence[Unit]) -> dict[str, str | None]:
    return {unit.label: str(unit.treatment_id) if unit.treatment_id else None for unit in units}


def _troubles(season: Season, units: Sequence[Unit], measures: Sequence[TrialMeasure]) -> tuple[TroubleFacts, ...]:
    """Troubles that marked plots, with what was measured since; a visit without a date counts as since."""
    taken = VisitMeasure.objects.filter(visit__season=season, visit__observations__current=True).distinct()
    days = dict(taken.values_list("measure_id", "visit__date"))
    names = {one.pk: one.version.measure.name for one in measures}
    return tuple(
        replace(
            one, measures=tuple(names[key] for key, day in days.items() if key in names and (day or one.day) >= one.day)
        )
        for one in trouble_facts(season, _treatment_by_plot(units))
    )


def recorded(given: Given, first: Reading | None) -> list[Recorded]:
    """What the core reads; `first`: the reading that results were opened with, to tell what was changed since."""
    changes = question_changes(given.measures, given.names, first.created_at) if first else {}
    out = []
    for measure in given.measures:
        key = str(measure.id)
        now = given.samples[key]
        before = first.given.get(key, {}) if first else {}
        changed = tuple(label for label, values in now.items() if _was_changed(before.get(label), values))
        said = changes.get(key, ())
        planned_after = any(one.field in _MAKES_ANOTHER_TEST for one in said)
        out.append(
            Recorded(
                asked_of(measure, given.system, given.names), given.shown(measure), changed,
                given.failed.get(key, ()), tuple(given.by_zone.get(key, ())), shown_area(measure, given),
                given.examined.get(key, {}), tuple(one.said for one in said), planned_after,
                given.occasions.get(key), given.blinding.get(key, Blinding()), given.beyond.get(key, ()),
                measure.version.entry_sheet.beyond_side, _lacking(measure, given),
                conflicts=given.conflicts.get(key, ()), set_aside=given.set_aside.get(key, ()),
            )
        )  # fmt: skip
    return out


_SAME_TIME = timedelta(days=3)
"""Within which two measures tell of the same state of the soil or the stand; from experience."""


def _lacking(measure: TrialMeasure, given: Given) -> str:
    """The name of what should have been measured along, where none of it has a value of about the same time."""
    shipped = definition(measure.version.catalogue)
    if not shipped or not shipped.along or not _has_values(measure, given):
        return ""
    day = _day_of(measure, given)
    for other in given.measures:
        then = _day_of(other, given)
        same_time = day is None or then is None or abs(day - then) <= _SAME_TIME
        if other.version.catalogue in shipped.along and _has_values(other, given) and same_time:
            return ""
    return CATALOGUE[shipped.along[0]].name


def _has_values(measure: TrialMeasure, given: Given) -> bool:
    return any(value is not None for own in given.samples[str(measure.id)].values() for value in own)


def _day_of(measure: TrialMeasure, given: Given) -> date | None:
    occasion = given.occasions.get(str(measure.id))
    return date.fromisoformat(occasion.date) if occasion and occasion.date else None


_MAKES_ANOTHER_TEST = ("planned", "planned_for", "margin", "direction", "control_id", "own_controls")
"""Changed after results were seen, a planned test asks what nobody had planned to ask."""


def _was_changed(before: Sequence[float | None] | None, now: Sequence[float | None]) -> bool:
    """Whether a plot had a value that is another one now; the first entries of a visit change nothing."""
    had = [value for value in before or () if value is not None]
    return bool(had) and list(before or ()) != list(now)


def area_of(measure: TrialMeasure) -> float | None:
    """What one sample of a count was taken from, so that the value times it is the count; None for what wasn't counted
    in frames or along rows.
    """
    version = measure.version
    area = counted_area(version.entry_sheet, version.settings) if version.kind == "count" else None
    if version.own_measure:
        return area  # its value is the count itself, whatever its unit says
    return area / (per_area_factor(version.unit) or 1.0) if area else None


def shown_area(measure: TrialMeasure, given: Given) -> float | None:
    """So that the shown value times it is the count: of a mean over visits, all that was looked at."""
    area = area_of(measure)
    if area and rule_of(measure) == "mean":
        area *= given.visits.get(str(measure.id), 1)
    return area / measure.version.shown_in(given.system)[1] if area else None


def asked_of(measure: TrialMeasure, system: System, names: dict[str, str]) -> Asked:
    """The measure's question; an absolute margin is turned into the unit that the reader is shown."""
    own = named_controls(measure.own_controls, names)
    unit, factor = measure.version.shown_in(system)
    size = measure.margin if measure.margin_kind == "percent" else measure.margin and measure.margin * factor
    margin = Margin(size, cast(Any, measure.margin_kind)) if size else None
    planned, planned_for = planned_at(measure, names)
    return Asked(
        measure.version.measure.name,
        unit,
        margin,
        cast(Direction, measure.direction),
        planned,
        measure.own_controls["said"] if own else names.get(str(measure.control_id), ""),
        planned_for,
        measure.primary,
        cast(ValueKind, measure.version.kind if measure.version.kind in get_args(ValueKind) else "continuous"),
        own,
    )


def planned_at(measure: TrialMeasure, names: Mapping[str, str]) -> tuple[Planned, tuple[str, ...]]:
    """The planned test, and for whom of those that grow here (`names`); none where none of them does."""
    wanted = list(measure.planned_for.all())
    here = tuple(names[str(t.id)] for t in wanted if str(t.id) in names)
    return ("none", ()) if wanted and not here else (cast(Planned, measure.planned), here)


def how_json(how: How) -> dict[str, Any]:
    """As kept with a season; what is usual isn't written, where earlier releases had nothing else."""
    counts = {} if how.counts == "estimated" else {"counts": how.counts}
    scale = {} if how.scale == "measured" else {"scale": how.scale}
    fields = {"method": how.method, "alpha": how.alpha, "block_effect": how.block_effect, "df_method": how.df_method}
    return fields | counts | scale


def asked_json(given: Given, how: How) -> dict[str, Any]:
    """Margins, directions and method, as kept with a reading."""
    return {
        "how": how_json(how),
        "base": given.base,
        "allocation": given.facts.allocation,
        "measures": [_measure_json(m, given) for m in given.measures],
    }


def _measure_json(m: TrialMeasure, given: Given) -> list[Any]:
    """What was asked of a measure; what the question names besides only where it names something."""
    named = [given.names.get(str(m.control_id), ""), [str(t.id) for t in m.planned_for.all()], m.primary]
    if m.own_controls:
        named.append(m.own_controls["said"])
    plain = [str(m.id), m.version.measure.name, m.version.unit, m.margin, m.margin_kind, m.direction, m.planned]
    return [*plain, named] if any(named) else plain
