"""Plots on the ground of a field: what is around them, whether they fit, and blocks moved before there are records."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.db import transaction

from apercu_core.design.field import Field, Fit, Lines, Obstacle, Point, fit_in, moved
from apercu_core.design.geodesy import Origin
from apercu_core.design.layout import Rectangle
from config.problems import Conflict
from crew.models import Person
from crew.permissions import require
from trials.ask import has_records
from trials.models import GroundPlot, Season, Site, Unit


def origin_of(site: Site) -> Origin | None:
    """Where the corner lies; None where nobody said."""
    if site.latitude is None or site.longitude is None:
        return None
    return Origin(site.longitude, site.latitude, site.bearing_deg)


def field_of(season: Season) -> Field:
    """What is kept about the field and its harvest."""
    return field_from(season.site.field | {"harvest_width": season.harvest_width_m, "guard": season.guard_m})


def field_from(kept: Mapping[str, Any]) -> Field:
    """A field from its JSON. Raises `Refused` where it can't be one."""
    return Field(
        outline=tuple((float(x), float(y)) for x, y in kept.get("outline", ())),
        headland=float(kept.get("headland") or 0.0),
        gradient=kept.get("gradient"),
        obstacles=tuple(
            Obstacle(str(o["name"]), tuple((float(x), float(y)) for x, y in o["points"]))
            for o in kept.get("obstacles", ())
        ),
        tracks=_lines(kept.get("tracks")),
        tree_rows=_lines(kept.get("tree_rows")),
        harvest_width=kept.get("harvest_width"),
        guard=float(kept.get("guard") or 0.0),
        sown_width=kept.get("sown_width"),
        sown_every=int(kept.get("sown_every") or 1),
    )


def _lines(kept: Mapping[str, Any] | None) -> Lines | None:
    return Lines(float(kept["first"]), float(kept["spacing"]), float(kept["width"])) if kept else None


def plots_of(season: Season, shifts: Mapping[str, Point]) -> dict[str, Rectangle]:
    """The season's plots, with blocks moved by `shifts`, m."""
    units = [unit for unit in Unit.objects.filter(season=season).plots().select_related("ground") if unit.ground]
    places = [(u.label, Rectangle(u.ground.x_m, u.ground.y_m, u.ground.width_m, u.ground.length_m)) for u in units]
    return moved(places, shifts, {unit.label: unit.block for unit in units})


def fit_of(season: Season, field: Field, shifts: Mapping[str, Point], bearing: float) -> Fit:
    return fit_in(field, plots_of(season, shifts), bearing)


def keep_layout(
    *, by: Person, season: Season, kept: Mapping[str, Any], shifts: Mapping[str, Point], bearing: float,
    origin: Origin | None = None,
) -> Season:  # fmt: skip
    """Keep the field, and move blocks. What stands in the ground can't be moved once there are records."""
    require(by, "plan", season.trial.workspace)
    field = field_from(kept)
    with transaction.atomic():
        season = Season.objects.select_for_update(of=("self",)).select_related("trial", "site").get(pk=season.pk)
        if any(map(any, shifts.values())):
            if has_records(season) or _recorded_by_another(season):
                raise Conflict("The first records are in on these plots, so they stay where they stand.")
            _move(season, shifts)
        site = season.site
        site.field = {key: value for key, value in kept.items() if key not in ("harvest_width", "guard")}
        site.bearing_deg = bearing % 360
        if origin is not None and origin_of(site) is None:
            site.latitude, site.longitude = origin.latitude, origin.longitude
        site.save(update_fields=["field", "bearing_deg", "latitude", "longitude"])
        season.harvest_width_m, season.guard_m = field.harvest_width, field.guard
        season.save(update_fields=["harvest_width_m", "guard_m"])
    return season


def _recorded_by_another(season: Season) -> bool:
    """Whether a trial that was carried on on the same plots, or that this one carries on, has records there."""
    grounds = season.units.exclude(ground=None).values("ground")
    return Unit.objects.filter(ground__in=grounds, observations__isnull=False).exclude(season=season).exists()


def _move(season: Season, shifts: Mapping[str, Point]) -> None:
    places = plots_of(season, shifts)
    changed = []
    for unit in Unit.objects.filter(season=season).plots().select_related("ground"):
        if unit.ground:
            unit.ground.x_m, unit.ground.y_m = places[unit.label].x, places[unit.label].y
            changed.append(unit.ground)
    GroundPlot.objects.bulk_update(changed, ["x_m", "y_m"])
