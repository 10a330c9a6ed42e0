"""Whether kills worked: what lived afterwards, which checks are still to come, and where a second pass is wanted."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from datetime import date, timedelta

from apercu_core.doubts.triggers import KILL_INCOMPLETE
from config import clock
from field_log.models import KillLimit, LivingShare
from operations.actions import ENDS_A_COVER
from operations.models import Operation
from operations.plants import treatments_of
from trials.models import Season, Treatment

CHECK_DAYS = (7, 14, 28)
"""After a kill (thumb)."""


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
    shares: dict[str, tuple[float, float | None]]


@dataclass(frozen=True, slots=True)
class Kill:
    """`proposed`: days of checks that aren't done, nor planned as operations that follow it; `alive`: treatments of
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
    return [
        _kill(one, season, today, limit)
        for one in done.prefetch_related("treatments", "plots__treatment", "living__unit__treatment")
    ]


def _kill(operation: Operation, season: Season, today: date, limit: float) -> Kill:
    assert operation.done is not None
    checks = tuple(_check(day, rows) for day, rows in sorted(_by_day(operation).items()))
    planned = set(season.operations.filter(after=operation).values_list("after_days", flat=True))
    seen = {check.day for check in checks}
    proposed = tuple(
        day for days in CHECK_DAYS
        if (day := operation.done + timedelta(days=days)) > today - timedelta(days=CHECK_DAYS[0])
        and days not in planned and not any(abs((day - one).days) <= 3 for one in seen)
    )  # fmt: skip
    alive = tuple(one for one in checks[-1].means if one.percent > limit) if checks else ()
    return Kill(operation, tuple(treatments_of(operation, season)), checks, proposed, alive)


def _by_day(operation: Operation) -> dict[date, list[LivingShare]]:
    found: dict[date, list[LivingShare]] = defaultdict(list)
    for one in operation.living.all():
        found[one.day].append(one)
    return found


def _check(day: date, rows: list[LivingShare]) -> Check:
    by_treatment: dict[Treatment, list[LivingShare]] = defaultdict(list)
    for row in rows:
        if row.unit.treatment is not None:
            by_treatment[row.unit.treatment].append(row)
    means = [
        LivingMean(
            treatment, sum(one.percent for one in own) / len(own), len(own),
            max((one.regrowth_cm for one in own if one.regrowth_cm is not None), default=None),
        )
        for treatment, own in sorted(by_treatment.items(), key=lambda pair: pair[0].order)
    ]  # fmt: skip
    return Check(day, tuple(means), {one.unit.label: (one.percent, one.regrowth_cm) for one in rows})
