"""Rows ↔ the core's values."""

from __future__ import annotations

import hashlib
import json
from dataclasses import dataclass
from typing import Any, cast

from apercu_core.doubts.doubt import Allocation, PlotFacts, TrialFacts
from apercu_core.reading import Asked, How, Planned, Recorded
from apercu_core.statistics.specification import Design
from apercu_core.verdicts.margin import Margin
from apercu_core.verdicts.verdict import Direction
from records.models import Observation
from trials.models import Season, TrialMeasure, UnitKind

Samples = dict[str, list[float | None]]


@dataclass(frozen=True, slots=True)
class Given:
    """A season as the core wants it. `observations`: measure id → plot label → ids, beside the samples."""

    facts: TrialFacts
    design: Design
    base: str
    measures: tuple[TrialMeasure, ...]
    samples: dict[str, Samples]
    observations: dict[str, dict[str, list[str]]]


def gather(season: Season) -> Given:
    """Plots, values and measures of a season, in three queries."""
    units = list(season.units.plots())  # type: ignore[attr-defined]
    treatments = list(season.trial.treatments.all())
    control = next((t.name for t in treatments if t.is_control), None)
    plots = tuple(
        PlotFacts(u.label, u.parent.label if u.parent.kind == UnitKind.BLOCK else "", u.treatment.name, u.position)
        for u in units
    )
    facts = TrialFacts(plots, control, cast(Allocation, season.trial.allocation))
    measures = tuple(season.trial.measures.select_related("version__measure").order_by("order", "id"))
    samples, ids = _current(season, measures, {u.id: u.label for u in units})
    return Given(facts, cast(Design, season.design), control or treatments[0].name, measures, samples, ids)


def _current(
    season: Season, measures: tuple[TrialMeasure, ...], labels: dict[Any, str]
) -> tuple[dict[str, Samples], dict[str, dict[str, list[str]]]]:
    samples: dict[str, Samples] = {str(m.id): {label: [] for label in labels.values()} for m in measures}
    ids: dict[str, dict[str, list[str]]] = {str(m.id): {label: [] for label in labels.values()} for m in measures}
    measure_of = {m.version_id: str(m.id) for m in measures}
    rows = (
        Observation.objects.filter(visit__season=season, current=True, version__in=list(measure_of), unit__kind="plot")
        .order_by("visit__order", "subsample", "id")
        .values_list("id", "version_id", "unit_id", "value")
    )
    for id, version, unit, value in rows:
        samples[measure_of[version]][labels[unit]].append(value)
        ids[measure_of[version]][labels[unit]].append(str(id))
    return samples, ids


def recorded(given: Given, first: dict[str, Samples] | None) -> list[Recorded]:
    """What the core reads; `first`: the values of the first reading that people saw, to tell what changed since."""
    out = []
    for measure in given.measures:
        now = given.samples[str(measure.id)]
        before = (first or {}).get(str(measure.id), now)
        changed = tuple(label for label in now if before.get(label, now[label]) != now[label])
        out.append(Recorded(asked_of(measure), now, changed))
    return out


def asked_of(measure: TrialMeasure) -> Asked:
    margin = Margin(measure.margin, cast(Any, measure.margin_kind)) if measure.margin else None
    return Asked(
        measure.version.measure.name,
        measure.version.unit,
        margin,
        cast(Direction, measure.direction),
        cast(Planned, measure.planned),
    )


def asked_json(given: Given, how: How) -> dict[str, Any]:
    """Margins, directions and method, as kept with a reading."""
    return {
        "how": {"method": how.method, "alpha": how.alpha, "block_effect": how.block_effect, "df_method": how.df_method},
        "base": given.base,
        "allocation": given.facts.allocation,
        "measures": [
            [str(m.id), m.version.measure.name, m.version.unit, m.margin, m.margin_kind, m.direction, m.planned]
            for m in given.measures
        ],
    }


def hash_of(value: Any) -> str:
    return hashlib.sha256(json.dumps(value, sort_keys=True).encode()).hexdigest()
