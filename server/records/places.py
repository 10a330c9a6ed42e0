"""Places of a visit's samples: drawn once, kept with the visit, and clear of ground that earlier visits cut or dug."""

from __future__ import annotations

import hashlib
import uuid
from collections.abc import Mapping, Sequence
from dataclasses import astuple, dataclass
from typing import Any, cast

from apercu_core.errors import Refused
from apercu_core.field.layout import Rectangle
from apercu_core.field.sample_places import (
    MARKED,
    PLACEMENTS,
    Place,
    Placement,
    Quadrat,
    Transect,
    corner_said,
    place_samples,
    quadrat_of,
)
from apercu_core.field.surroundings import areas_of
from apercu_core.words import number
from records.models import Visit
from records.progress import samples_at
from trials.layout import field_of
from trials.models import Season, Unit

Drawn = dict[uuid.UUID, tuple[Place, ...]]


@dataclass(frozen=True, slots=True)
class Places:
    """Where the samples of a visit are taken. `quadrat`: what is laid down; `corner`: that they are measured from, in
    words; `by_plot`: in the plot's own coordinates; `area`: what is sampled of each; `why_none`: where there are none.
    """

    said: str
    corner: str
    quadrat: Quadrat | None
    by_plot: Mapping[uuid.UUID, Sequence[Place]]
    area: Mapping[uuid.UUID, Rectangle]
    why_none: str = ""


def places_at(visit: Visit, plots: Sequence[Unit]) -> Places:
    """Of all plots of the visit, which comes with `taken` and its season and site; drawn and kept where they aren't.

    Those of samples that were recorded already never move, and a plot that was walked without any gets none: a place
    is never made up afterwards. A further sample gets one beside the others.
    """
    placement = cast(Placement, visit.placement)
    said, corner = _said(visit, placement), corner_said(_bearing(visit.season))
    quadrat, samples = _laid_down(visit)
    if quadrat is None or not placement or placement == "free":
        return Places(said, corner, quadrat, {}, {})
    if any(unit.ground is None or unit.ground.schematic for unit in plots):
        return Places(said, corner, quadrat, {}, {}, "The map has no dimensions yet, so no places can be drawn on it.")
    field = field_of(visit.season)
    sampled: dict[uuid.UUID, Rectangle] = {}
    for unit in plots:
        ground = unit.ground
        assert ground is not None
        area = areas_of(field, Rectangle(ground.x_m, ground.y_m, ground.width_m, ground.length_m)).sample
        if area is None:
            return Places(said, corner, quadrat, {}, {}, f"Edges and wheel tracks leave no room in plot {unit.label}.")
        sampled[unit.id] = Rectangle(area.x - ground.x_m, area.y - ground.y_m, area.width, area.length)
    try:
        return Places(said, corner, quadrat, _kept(visit, placement, quadrat, samples, sampled), sampled)
    except Refused as refusal:
        return Places(said, corner, quadrat, {}, sampled, refusal.message)


def _said(visit: Visit, placement: Placement) -> str:
    if visit.bearing is None or visit.spacing is None or placement != "transect":
        return PLACEMENTS.get(placement, "")
    of = "north" if _bearing(visit.season) is not None else "the way up on the map"
    return (
        f"Along a straight line {number(visit.bearing)}° clockwise from {of}, {number(visit.spacing)} m from sample to "
        "sample, from a random start."
    )


def _transect(visit: Visit) -> Transect | None:
    """Seen from the way along the plots."""
    if visit.bearing is None or visit.spacing is None:
        return None
    return Transect(visit.bearing - (_bearing(visit.season) or 0.0), visit.spacing)


def forget_unwalked(visit: Visit) -> None:
    """Another way of drawing is wanted: what nobody has used yet goes."""
    if visit.places:
        walked = {str(unit) for unit in visit.observations.values_list("unit", flat=True).distinct()}
        kept = {unit: own for unit, own in visit.places["plots"].items() if unit in walked}
        visit.places = {**visit.places, "key": "", "plots": kept} if kept else None


def _bearing(season: Season) -> float | None:
    site = season.site
    return site.bearing_deg if site.bearing_deg or site.latitude is not None else None


def _laid_down(visit: Visit) -> tuple[Quadrat | None, int]:
    """The largest of what is laid down for the visit's measures, and the most samples of a plot."""
    found = []
    for taken in visit.taken.all():
        version = taken.measure.version
        usual = {s.key: version.settings.get(s.key, s.usual) for s in version.entry_sheet.settings}
        quadrat = quadrat_of({key: float(value) for key, value in usual.items() if value is not None})
        if quadrat is None and visit.placement == "transect" and version.entry_sheet.sampled:
            quadrat = Quadrat(0.0, 0.0)  # single plants stand on a transect too
        if quadrat is not None:
            found.append((quadrat, samples_at(taken)))
    if not found:
        return None, 0
    return max((q for q, _ in found), key=lambda q: q.width * q.length), max(n for _, n in found)


def _kept(
    visit: Visit, placement: Placement, quadrat: Quadrat, samples: int, sampled: Mapping[uuid.UUID, Rectangle]
) -> Drawn:
    transect = _transect(visit) if placement == "transect" else None
    key = _key(placement, quadrat, samples, sampled, transect)
    kept: dict[str, Any] = visit.places or {}
    there: Drawn = {uuid.UUID(u): tuple(Place(*p) for p in own) for u, own in kept.get("plots", {}).items()}
    if kept.get("key") == key:
        return there
    walked = set(visit.observations.values_list("unit", flat=True).distinct())
    avoided = _taken_before(visit)
    seed = visit.season_id if placement in MARKED else visit.id
    drawn = {
        unit: place_samples(
            area, quadrat, samples, placement, f"{seed}|{unit}", avoided=avoided.get(unit, ()),
            held=there.get(unit, ()) if unit in walked else (), transect=transect,
        )
        for unit, area in sampled.items()
        if unit in there or unit not in walked
    }  # fmt: skip
    said = {str(unit): [list(astuple(place)) for place in own] for unit, own in drawn.items()}
    visit.places = {"key": key, "quadrat": list(astuple(quadrat)), "plots": said}
    Visit.objects.filter(pk=visit.pk).update(places=visit.places)
    return drawn


def _key(
    placement: Placement, quadrat: Quadrat, samples: int, sampled: Mapping[uuid.UUID, Rectangle],
    transect: Transect | None,
) -> str:  # fmt: skip
    said: list[object] = [placement, astuple(quadrat), samples]
    said += [sorted((str(u), astuple(r)) for u, r in sampled.items()), *([astuple(transect)] if transect else [])]
    return hashlib.sha256(repr(said).encode()).hexdigest()[:16]


def _taken_before(visit: Visit) -> dict[uuid.UUID, list[Rectangle]]:
    """Ground of each plot that walked visits have cut or dug, and marked quadrats, which stay whole; for marked ones
    only those of other kinds, since they have to be the same at each of their visits.
    """
    out: dict[uuid.UUID, list[Rectangle]] = {}
    marked = visit.placement in MARKED
    others = Visit.objects.filter(season=visit.season_id, places__isnull=False).exclude(pk=visit.pk)
    for other in others.prefetch_related("taken__measure__version"):
        cuts = any(t.measure.version.entry_sheet.disturbs for t in other.taken.all())
        if other.placement in MARKED and (not marked or other.placement != visit.placement):
            pass
        elif marked or not (cuts and other.date):
            continue
        kept: dict[str, Any] = other.places or {}
        width, length = kept["quadrat"]
        for unit, own in kept["plots"].items():
            out.setdefault(uuid.UUID(unit), []).extend(Rectangle(across, along, width, length) for across, along in own)
    return out
