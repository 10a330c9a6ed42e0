"""Plots on the ground of a field: what is around them, and whether they fit."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from apercu_core.field.geodesy import Origin
from apercu_core.field.guards import guard_for
from apercu_core.field.layout import Rectangle
from apercu_core.field.machines import GUARD_M
from apercu_core.field.surroundings import Field, LayoutFit, Lines, Obstacle, Point, fit_in, moved
from library.species import species_in
from trials.models import Season, Site, Unit


def origin_of(site: Site) -> Origin | None:
    """Where the corner lies; None where nobody said."""
    if site.latitude is None or site.longitude is None:
        return None
    return Origin(site.longitude, site.latitude, site.bearing_deg)


def field_of(season: Season) -> Field:
    """What is kept about the field and its harvest."""
    kept = {"harvest_width": season.harvest_width_m, "guard": season.guard_m, "side_guard": guard_of(season)}
    return field_from(season.site.field | kept)


def guard_of(season: Season) -> float:
    """What isn't sampled at the sides of plots, m, for the covers that are described; at least the usual."""
    known = species_in(season.trial.workspace)
    keys = {
        part.get("species", "")
        for treatment in season.trial.treatments.all()
        for part in treatment.details.get("components", ())
    }
    return guard_for(known[key] for key in sorted(keys) if key in known)


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
        side_guard=float(kept.get("side_guard", GUARD_M)),
    )


def _lines(kept: Mapping[str, Any] | None) -> Lines | None:
    return Lines(float(kept["first"]), float(kept["spacing"]), float(kept["width"])) if kept else None


def plots_of(season: Season, shifts: Mapping[str, Point]) -> dict[str, Rectangle]:
    """The season's plots, with blocks moved by `shifts`, m."""
    units = [unit for unit in Unit.objects.filter(season=season).plots().select_related("ground") if unit.ground]
    places = [(u.label, Rectangle(u.ground.x_m, u.ground.y_m, u.ground.width_m, u.ground.length_m)) for u in units]
    return moved(places, shifts, {unit.label: unit.block for unit in units})


def fit_of(season: Season, field: Field, shifts: Mapping[str, Point], bearing: float) -> LayoutFit:
    return fit_in(field, plots_of(season, shifts), bearing, season.design, season.site.slope_percent)
