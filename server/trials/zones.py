"""Zones inside a season's plots: their shares, what is sown in them, and which measures are taken in them."""

from __future__ import annotations

import uuid
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass

from django.db import transaction

from apercu_core.errors import Refused
from apercu_core.field.layout import Rectangle
from apercu_core.field.surroundings import zones_of
from apercu_core.field.zones import DRAWN, Zone, require_zones, shares_of, sown_share
from config.problems import Conflict
from crew.models import Person
from crew.permissions import require
from trials.layout import field_of
from trials.models import Season, TrialMeasure, Unit
from trials.reweighing import keep_reweighing

Shares = dict[uuid.UUID, dict[str, float]]


@dataclass(frozen=True, slots=True)
class Zoned:
    """`shares`: plot → zone → share of its ground; `drawn`: zones that the map's lines make, with their least and
    largest share; `sown`: share of all plots' ground that is sown as the treatments say, None without zones."""

    zones: tuple[Zone, ...]
    by_zone: Mapping[str, Sequence[str]]
    shares: Shares
    drawn: Mapping[str, tuple[float, float]]
    sown: float | None


def zones_kept(season: Season) -> tuple[Zone, ...]:
    return tuple(Zone(**one) for one in season.zones)


def shares_in(season: Season) -> Shares:
    """Plot → zone → share; empty where the season has no zones."""
    zones = zones_kept(season)
    if not zones:
        return {}
    return {plot: shares_of(zones, drawn) for plot, drawn in _drawn(season).items()}


def measured_in(season: Season, measure: TrialMeasure) -> tuple[str, ...]:
    """The zones in which a measure is taken, in order; none where it is taken of the whole plot."""
    return tuple(season.by_zone.get(str(measure.id), ()))


def _drawn(season: Season) -> Shares:
    field, units = field_of(season), Unit.objects.filter(season=season).plots().select_related("ground")
    return {
        u.id: zones_of(field, Rectangle(u.ground.x_m, u.ground.y_m, u.ground.width_m, u.ground.length_m))
        for u in units
        if u.ground
    }


def zoned(season: Season) -> Zoned:
    zones, drawn = zones_kept(season), _drawn(season)
    shares = {plot: shares_of(zones, found) for plot, found in drawn.items()} if zones else {}
    seen: dict[str, list[float]] = {}
    for found in drawn.values():
        for name in DRAWN:
            seen.setdefault(name, []).append(found.get(name, 1.0 if name == "between" and not found else 0.0))
    lines = {name: (min(each), max(each)) for name, each in seen.items() if max(each) > 0}
    sown = [sown_share(zones, one) for one in shares.values()]
    return Zoned(
        zones, season.by_zone, shares, lines if len(lines) > 1 else {}, sum(sown) / len(sown) if sown else None
    )


def keep_zones(
    *, by: Person, season: Season, zones: Sequence[Zone], by_zone: Mapping[uuid.UUID, Sequence[str]],
    why: str = "",
) -> Season:  # fmt: skip
    """Keep the zones and where each measure is taken (measure → zones; none: the whole plot).

    Where a measure is taken stays once it has records here. Shares can be corrected then for a reason: raises
    `ChangesValues` where none is given.
    """
    require(by, "plan", season)
    require_zones(zones)
    with transaction.atomic():
        season = (
            Season.objects.select_for_update(of=("self",), no_key=True)
            .select_related("trial__workspace", "site")
            .get(pk=season.pk)
        )
        wanted = _measured(season, [zone.name.strip() for zone in zones], by_zone)
        for measure in season.trial.measures.select_related("version__measure"):
            here = measure.version.observations.filter(visit__season=season)
            if wanted.get(str(measure.id), []) != list(measured_in(season, measure)) and here.exists():
                raise Conflict(
                    f"{measure.version.measure.name} has records, so it stays where it was taken. Put its zones back, "
                    "or add a measure of its own."
                )
        before = shares_in(season)
        season.zones = [{**asdict(zone), "name": zone.name.strip()} for zone in zones]
        season.by_zone = wanted
        season.save(update_fields=["zones", "by_zone"])
        keep_reweighing(by=by, season=season, before=before, after=shares_in(season), why=why)
    return season


def _measured(season: Season, names: Sequence[str], by_zone: Mapping[uuid.UUID, Sequence[str]]) -> dict[str, list[str]]:
    """What is kept of `by_zone`, its zones in the order of `names`."""
    known = {measure.id: measure for measure in season.trial.measures.select_related("version__measure")}
    for id, chosen in by_zone.items():
        if id not in known:
            raise Refused("bad-specification", "A measure here isn’t one of the trial’s. Open the page again.")
        for name in chosen:
            if name not in names:
                said = known[id].version.measure.name
                raise Refused("bad-specification", f"{said} is taken in {name!r}, which isn’t a zone here.")
    return {str(id): [name for name in names if name in chosen] for id, chosen in by_zone.items() if chosen}
