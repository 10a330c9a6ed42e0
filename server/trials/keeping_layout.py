"""The layout on the ground is kept: the field around the plots, and blocks moved before there are records."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.db import transaction

from apercu_core.field.geodesy import Origin
from apercu_core.field.surroundings import Point
from crew.models import Person
from crew.permissions import require
from trials.layout import field_from, origin_of, plots_of
from trials.models import GroundPlot, Season, Unit
from trials.recorded import require_unrecorded, require_unsown
from trials.reweighing import keep_reweighing
from trials.taken_out import only_knowingly
from trials.zones import shares_in


def keep_layout(
    *, by: Person, season: Season, kept: Mapping[str, Any], shifts: Mapping[str, Point], bearing: float,
    origin: Origin | None = None, why: str = "", although: bool = False,
) -> Season:  # fmt: skip
    """Keep the field, and move blocks. What stands in the ground can't be moved once there are records.

    Lines that make up zones change recorded values, of every trial at the site: raises `ChangesValues` where no reason
    (`why`) is given.
    """
    require(by, "plan", season)
    field = field_from(kept)
    with transaction.atomic():
        # Trials on the same plots are held too, so that nobody records there meanwhile; by id, as everybody does.
        at_site = Season.objects.filter(site=season.site_id)
        list(at_site.select_for_update(of=("self",), no_key=True).order_by("id").values_list("pk", flat=True))
        season = Season.objects.select_related("trial", "site").get(pk=season.pk)
        if any(map(any, shifts.values())):
            for one in (season, *_on_the_same_plots(season)):
                require_unrecorded(one, "the plots can’t be moved.")
            require_unsown(season)
            with only_knowingly([season], although):
                _move(season, shifts)
        site = season.site
        others = [season, *Season.objects.filter(site=site).exclude(pk=season.pk).select_related("site")]
        before = {one.pk: shares_in(one) for one in others}
        site.field = {key: value for key, value in kept.items() if key not in ("harvest_width", "guard")}
        site.bearing_deg = bearing % 360
        if origin is not None and origin_of(site) is None:
            site.latitude, site.longitude = origin.latitude, origin.longitude
        site.save(update_fields=["field", "bearing_deg", "latitude", "longitude"])
        season.harvest_width_m, season.guard_m = field.harvest_width, field.guard
        season.save(update_fields=["harvest_width_m", "guard_m"])
        for one in others:
            one.site = site
            keep_reweighing(by=by, season=one, before=before[one.pk], after=shares_in(one), why=why)
    return season


def _on_the_same_plots(season: Season) -> list[Season]:
    """Other trials' seasons that share ground plots with this one: it carries them on, or they carry it on."""
    grounds = season.units.exclude(ground=None).values("ground")
    return list(Season.objects.filter(units__ground__in=grounds).exclude(pk=season.pk).distinct())


def _move(season: Season, shifts: Mapping[str, Point]) -> None:
    places = plots_of(season, shifts)
    changed = []
    for unit in Unit.objects.filter(season=season).plots().select_related("ground"):
        if unit.ground:
            unit.ground.x_m, unit.ground.y_m = places[unit.label].x, places[unit.label].y
            changed.append(unit.ground)
    GroundPlot.objects.bulk_update(changed, ["x_m", "y_m"])
