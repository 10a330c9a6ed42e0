"""When operations are expected: what is known of a season's plants and weather, as the core's triggers take it."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import fields
from datetime import date, timedelta
from typing import Any, cast

from django.db.models import Avg, Min

from apercu_core.timing.chain import Planned
from apercu_core.timing.expected import Expected
from apercu_core.triggers.expect import Known, expect
from apercu_core.triggers.soil import SoilWarmth
from apercu_core.triggers.trigger import Trigger
from apercu_core.units import factor_between
from config import clock
from operations.models import Operation
from operations.plants import sowing_to_come, stands_in, treatments_of
from records.models import Observation
from trials.models import Season
from weather.known import site_weather

CLOSING = "closes:"
"""What the key of an operation's closing begins with, among what is planned."""
_BEFORE = timedelta(days=30)


def trigger_of(said: dict[str, Any]) -> Trigger:
    """A stored trigger; what else stands beside it isn't the trigger's."""
    names = {one.name for one in fields(Trigger)}
    return Trigger(**{name: value for name, value in said.items() if name in names})


def known_in(season: Season) -> Known:
    """What was seen and measured, and the weather; read once for all operations of a season."""
    today = clock.today(season.site.time_zone)
    first = (season.starts or today) - _BEFORE
    earliest = season.operations.aggregate(first=Min("done"))["first"]
    weather = site_weather(season.site, min(first, earliest or first))
    return Known(
        today,
        None if weather is None else weather.warmth(),
        None if weather is None else SoilWarmth(weather.days, weather.climate, first),
        stands_in(season),
        _means(season, "height", "cm"),
        _means(season, "cover-biomass", "kg/ha"),
    )


def _means(season: Season, catalogue: str, unit: str) -> dict[str, list[tuple[date, float]]]:
    """Treatment → its mean at each visit, oldest first, in `unit`."""
    rows = (
        Observation.objects.filter(
            visit__season=season, current=True, value__isnull=False, version__catalogue=catalogue,
            visit__date__isnull=False, unit__treatment__isnull=False, component="",
        )
        .values("visit__date", "unit__treatment", "version__unit")
        .annotate(mean=Avg("value"))
        .order_by("visit__date")
    )  # fmt: skip
    found: dict[str, list[tuple[date, float]]] = {}
    for row in rows:
        value = row["mean"] * factor_between(row["version__unit"], unit)
        found.setdefault(str(row["unit__treatment"]), []).append((cast(date, row["visit__date"]), value))
    return found


def planned_of(season: Season, operations: Iterable[Operation]) -> list[Planned]:
    """Operations and their closings as the core plans them; the weather is read only where something hangs on it."""
    own = list(operations)
    known = known_in(season) if any(_is_forecast(one) for one in own) else None
    plans = []
    for one in own:
        rule = None if one.trigger is None or known is None else _rule(one.trigger, one, season, known)
        after = str(one.after_id) if one.after_id else _sowing(one.trigger, one, season, known)
        fixed = one.due if after is None and rule is None else None
        plans.append(Planned(str(one.id), one.name, fixed, after, one.after_days, one.done, rule))
        if one.closes and one.done is None:
            plans.append(_closing(one, one.closes, season, known))
    return plans


def _sowing(said: dict[str, Any] | None, operation: Operation, season: Season, known: Known | None) -> str | None:
    """The sowing that a stage hangs on as long as none was seen, so that it moves along."""
    if said is None or said["kind"] != "stage" or known is None:
        return None
    own = [one.pk for one in treatments_of(operation, season)]
    stands = [one for one in known.stands if one.plant == said["plant"] and one.treatment in {str(pk) for pk in own}]
    if all(one.seen is not None and not one.seen.planned for one in stands):
        return None
    found = sowing_to_come(season, said["plant"], own)
    return None if found is None or found.pk == operation.pk else str(found.pk)


def _is_forecast(operation: Operation) -> bool:
    closes = (operation.closes or {}).get("kind")
    return operation.trigger is not None or closes not in (None, "day", "after")


def _closing(operation: Operation, said: dict[str, Any], season: Season, known: Known | None) -> Planned:
    key, name = f"{CLOSING}{operation.id}", f"the end for {operation.name}"
    if said["kind"] == "day":
        return Planned(key, name, day=date.fromisoformat(said["day"]))
    if said["kind"] == "after":
        return Planned(key, name, after=said["operation"], days=said["days_after"])
    assert known is not None
    after = said.get("operation") or _sowing(said, operation, season, known)
    return Planned(key, name, after=after, rule=_rule(said, operation, season, known))


def _rule(
    said: dict[str, Any], operation: Operation, season: Season, known: Known
) -> Callable[[Expected | None], Expected]:
    trigger = trigger_of(said)
    treatments = [str(one.pk) for one in treatments_of(operation, season)]
    return lambda start: expect(trigger, known, treatments, start)
