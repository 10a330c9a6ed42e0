"""Whether kills worked: what lived afterwards, which checks are still to come, and where a second pass is wanted."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from uuid import UUID, uuid5

from django.db import transaction

from apercu_core.doubts.triggers import KILL_INCOMPLETE
from apercu_core.units import factor_between
from config import clock
from crew.models import Person
from crew.permissions import require
from field_log.models import KillLimit
from operations.actions import ENDS_A_COVER
from operations.models import Operation
from operations.plants import treatments_of
from operations.visit_dates import SeriesAsked, plan_series
from records.models import Observation, Visit
from trials.added_measures import measure_of_catalogue
from trials.models import Season, Treatment

CHECK_DAYS = (7, 14, 28)
"""After a kill (thumb)."""
LIVING, REGROWTH = "living-share", "regrowth-height"
"""Measures of the catalogue that tell whether a kill worked."""
Share = tuple[float, float | None]
"""Of a plot on a day: what lives, %, and the tallest regrowth, cm."""


@dataclass(frozen=True, slots=True)
class LivingMean:
    """Of a treatment's plots on a day: %, how many were seen, and the tallest regrowth in cm."""

    treatment: Treatment
    percent: float
    plots: int
    tallest_cm: float | None


@dataclass(frozen=True, slots=True)
class Check:
    day: date
    means: tuple[LivingMean, ...]
    shares: dict[str, Share]


@dataclass(frozen=True, slots=True)
class Kill:
    """`proposed`: days of checks that aren't done, nor planned as visits that follow it; `alive`: treatments of
    which too much lived at the last check.
    """

    operation: Operation
    treatments: tuple[Treatment, ...]
    checks: tuple[Check, ...]
    proposed: tuple[date, ...]
    alive: tuple[LivingMean, ...]


def limit_of(season: Season) -> float:
    """The share that may live after a kill, %: as the trial set it, else the usual one."""
    own = KillLimit.objects.filter(season=season).values_list("percent", flat=True).first()
    return 100 * KILL_INCOMPLETE if own is None else own


def kills_in(season: Season) -> list[Kill]:
    """Kills that were done, the newest first."""
    done = season.operations.filter(kind__in=ENDS_A_COVER).exclude(done=None).order_by("-done", "id")
    today, limit = clock.today(season.site.time_zone), limit_of(season)
    kills = list(done.prefetch_related("treatments", "plots__treatment", "living__unit__treatment"))
    seen = _seen_at_visits(season) if kills else {}
    ends = _next_kills(kills, season)
    return [_kill(one, season, today, limit, seen, ends[one.pk]) for one in kills]


def plan_checks(*, by: Person, season: Season, operation: Operation) -> list[Visit]:
    """Visits 7, 14 and 28 days after a kill, for living share and regrowth; those that are proposed still. The measures
    are added to the trial if it has none. The same again is harmless.
    """
    require(by, "plan", season)
    with transaction.atomic():
        kill = next((one for one in kills_in(season) if one.operation.pk == operation.pk), None)
        if kill is None or operation.done is None or not kill.proposed:
            return []
        measures = [measure_of_catalogue(season.trial, key).pk for key in (LIVING, REGROWTH)]
        days = [(day - operation.done).days for day in kill.proposed]
        asked = SeriesAsked(f"After {operation.name}"[:90], measures, after=operation.pk, days=days)
        return plan_series(by=by, season=season, id=uuid5(operation.pk, "checks"), asked=asked)


def _next_kills(kills: list[Operation], season: Season) -> dict[UUID, dict[UUID, date]]:
    """Kill → treatment → the day of its next kill: what lived from then on is that one's."""
    found: dict[UUID, dict[UUID, date]] = {}
    later: dict[UUID, date] = {}
    for one in kills:  # the newest first
        found[one.pk] = dict(later)
        assert one.done is not None
        later |= {treatment.pk: one.done for treatment in treatments_of(one, season)}
    return found


def _seen_at_visits(season: Season) -> dict[date, dict[str, tuple[Treatment, Share]]]:
    """Day → plot → its treatment and what was entered there at visits, the mean of its samples."""
    rows = Observation.objects.filter(
        visit__season=season, current=True, value__isnull=False, missing_status="", visit__date__isnull=False,
        version__catalogue__in=(LIVING, REGROWTH), unit__treatment__isnull=False,
    ).select_related("unit__treatment", "version", "visit")  # fmt: skip
    values: dict[tuple[date, str, str], list[float]] = defaultdict(list)
    treatments: dict[str, Treatment] = {}
    for row in rows:
        assert row.visit.date is not None
        assert row.value is not None
        assert row.unit.treatment is not None
        factor = factor_between(row.version.unit, "cm") if row.version.catalogue == REGROWTH else 1.0
        values[row.visit.date, row.unit.label, row.version.catalogue].append(row.value * factor)
        treatments[row.unit.label] = row.unit.treatment
    found: dict[date, dict[str, tuple[Treatment, Share]]] = defaultdict(dict)
    for (day, plot, catalogue), own in values.items():
        if catalogue == LIVING:
            tall = values.get((day, plot, REGROWTH))
            found[day][plot] = (treatments[plot], (sum(own) / len(own), max(tall) if tall else None))
    return found


def _kill(
    operation: Operation, season: Season, today: date, limit: float,
    seen: dict[date, dict[str, tuple[Treatment, Share]]], ends: dict[UUID, date],
) -> Kill:  # fmt: skip
    assert operation.done is not None
    own = tuple(treatments_of(operation, season))
    by_day = _by_day(operation, own, seen, ends)
    checks = tuple(_check(day, plots) for day, plots in sorted(by_day.items()))
    timings = season.visits.exclude(timing=None).values_list("timing", flat=True)
    planned = {timing["days"] for timing in timings if timing and timing.get("after") == str(operation.pk)}
    planned |= set(season.operations.filter(after=operation).values_list("after_days", flat=True))
    proposed = tuple(
        day for days in CHECK_DAYS
        if (day := operation.done + timedelta(days=days)) > today - timedelta(days=CHECK_DAYS[0])
        and days not in planned and not any(abs((day - check.day).days) <= 3 for check in checks)
    )  # fmt: skip
    alive = tuple(one for one in checks[-1].means if one.percent > limit) if checks else ()
    return Kill(operation, own, checks, proposed, alive)


def _by_day(
    operation: Operation, own: Sequence[Treatment], seen: dict[date, dict[str, tuple[Treatment, Share]]],
    ends: dict[UUID, date],
) -> dict[date, dict[str, tuple[Treatment, Share]]]:  # fmt: skip
    """What was seen at visits until the next kill, and what was entered with the kill itself, which goes before it."""
    assert operation.done is not None
    treatments = {one.pk for one in own}
    found: dict[date, dict[str, tuple[Treatment, Share]]] = defaultdict(dict)
    for day, plots in seen.items():
        for label, (treatment, share) in plots.items():
            if treatment.pk in treatments and operation.done < day <= ends.get(treatment.pk, date.max):
                found[day][label] = (treatment, share)
    for one in operation.living.all():
        if one.unit.treatment is not None:
            found[one.day][one.unit.label] = (one.unit.treatment, (one.percent, one.regrowth_cm))
    return found


def _check(day: date, plots: dict[str, tuple[Treatment, Share]]) -> Check:
    by_treatment: dict[Treatment, list[Share]] = defaultdict(list)
    for treatment, share in plots.values():
        by_treatment[treatment].append(share)
    means = [
        LivingMean(
            treatment, sum(percent for percent, _ in own) / len(own), len(own),
            max((cm for _, cm in own if cm is not None), default=None),
        )
        for treatment, own in sorted(by_treatment.items(), key=lambda pair: pair[0].order)
    ]  # fmt: skip
    return Check(day, tuple(means), {label: share for label, (_, share) in plots.items()})
