"""A field around the plots: its outline and headland, what stands in it, its tracks and its slope, and what fits."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
import shapely
from shapely.geometry import Polygon, box
from shapely.validation import explain_validity

from apercu_core.errors import Refused
from apercu_core.field.geodesy import Origin, from_wgs84
from apercu_core.field.gradient import gradient_advice, runoff_advice
from apercu_core.field.layout import Rectangle
from apercu_core.field.machines import GUARD_M

Point = tuple[float, float]
MOST_POINTS = 500
NEARLY = 1e-6
"""Overlaps below this area, m², come from rounding."""


@dataclass(frozen=True, slots=True)
class Lines:
    """Lines along y: the first at x = `first`, then every `spacing`; each `width` wide. Metres."""

    first: float
    spacing: float
    width: float

    def __post_init__(self) -> None:
        if not (self.spacing > 0 and 0 < self.width < self.spacing and math.isfinite(self.first)):
            raise Refused("bad-value", "Tracks and tree rows need a width above 0 and a spacing that is wider.")

    def at(self, low: float, high: float) -> list[float]:
        """Where they lie between two x."""
        start = math.ceil((low - self.first) / self.spacing)
        end = math.floor((high - self.first) / self.spacing)
        return [self.first + k * self.spacing for k in range(start, min(end, start + 2000) + 1)]


LEAST_SAMPLE_M = 0.75
"""Width beside the harvested strip from which on samples are taken there; thumb."""
SAMPLED_LENGTH_M = 2.0
"""Of the harvested strip that is left for samples where there is no room beside it; thumb."""


@dataclass(frozen=True, slots=True)
class Obstacle:
    name: str
    points: tuple[Point, ...]


@dataclass(frozen=True, slots=True)
class Field:
    """Metres from the trial's corner. `outline`: corners in order, none where it isn't known. `gradient`: the way
    down, or from good to poor, in degrees clockwise from north. `tracks`: wheel tracks, from tramline spacing.
    `harvest_width`: what the combine takes of a plot; `guard`: left standing at a plot's ends; `side_guard`: what
    isn't sampled at its sides and ends, `guards.guard_for`. `sown_width`: of the
    cover in an alley between rows of trees, `sown_every`: which alleys are sown, 1 all of them, 2 every other.
    """

    outline: tuple[Point, ...] = ()
    headland: float = 0.0
    gradient: float | None = None
    obstacles: tuple[Obstacle, ...] = ()
    tracks: Lines | None = None
    tree_rows: Lines | None = None
    harvest_width: float | None = None
    guard: float = 0.0
    sown_width: float | None = None
    sown_every: int = 1
    side_guard: float = GUARD_M

    def __post_init__(self) -> None:
        if self.outline:
            _polygon(self.outline, "The outline")
        for obstacle in self.obstacles:
            _polygon(obstacle.points, obstacle.name or "An obstacle")
        for value, what in (
            (self.headland, "The headland"),
            (self.guard, "The guard at the ends"),
            (self.side_guard, "The guard at the sides"),
        ):
            if not (math.isfinite(value) and value >= 0):
                raise Refused("bad-value", f"{what} is {value:g} m; it must be 0 or more.")
        if self.harvest_width is not None and not self.harvest_width > 0:
            raise Refused("bad-value", f"The harvest width is {self.harvest_width:g} m; it must be above 0.")
        if self.sown_width is not None and self.tree_rows:
            alley = self.tree_rows.spacing - self.tree_rows.width
            if not 0 < self.sown_width <= alley:
                raise Refused(
                    "bad-value",
                    f"A strip of {self.sown_width:g} m can’t be sown: between the rows there are {alley:g} m.",
                )
        if self.sown_every < 1:
            raise Refused("bad-value", "Say which alleys are sown: 1 for all, 2 for every other.")
        if self.outline and self.usable.area <= 0:
            raise Refused("bad-value", "The headland leaves nothing of the field. Make it narrower.")

    @property
    def planted_fraction(self) -> float | None:
        """Sown share of the gross area, 0 to 1: (sown width / alley pitch) · (sown alleys / all alleys).

        None where there are no rows of trees or nobody said how wide is sown. Seed is ordered for gross area × this.
        """
        if self.tree_rows is None or self.sown_width is None:
            return None
        return self.sown_width / self.tree_rows.spacing / self.sown_every

    @property
    def usable(self) -> Any:
        """The polygon inside the headland."""
        return Polygon(self.outline).buffer(-self.headland, join_style="mitre")


@dataclass(frozen=True, slots=True)
class Areas:
    """Where a plot is harvested and sampled, clear of its ends and of tracks; None where there is no room."""

    harvest: Rectangle | None
    sample: Rectangle | None


@dataclass(frozen=True, slots=True)
class LayoutFit:
    """Whether the plots fit. `wrong`: plot → what is wrong with its place; `crossed`: plot → tracks through it;
    `usable`: what lies inside the headland, m and m²; `zones`: plot → zone → share of its ground.

    `shift`: a move of all plots together after which they fit, if there is one.
    """

    wrong: Mapping[str, tuple[str, ...]]
    crossed: Mapping[str, int]
    areas: Mapping[str, Areas]
    advice: tuple[str, ...]
    usable_area: float | None
    usable: tuple[tuple[Point, ...], ...]
    shift: Point | None
    zones: Mapping[str, Mapping[str, float]]
    planted_fraction: float | None

    @property
    def fits(self) -> bool:
        return not self.wrong


def fit_in(
    field: Field, plots: Mapping[str, Rectangle], bearing: float, design: str = "rcbd", slope: float | None = None
) -> LayoutFit:
    """What lies where it can't, which plots tracks run through, and whether the design suits the gradient.

    `bearing`: direction of +y, degrees clockwise from north; blocks follow each other along y, but pairs of strips lie
    side by side and run along y. `slope`: of the ground, %, None where nobody has said.
    """
    wrong = _wrong(field, plots)
    crossed = {label: n for label, r in plots.items() if (n := len(_tracks_in(field.tracks, r)))}
    areas = {label: areas_of(field, r) for label, r in plots.items()}
    shift = _shift(field, plots) if wrong else None
    usable = field.usable if field.outline else Polygon()
    parts = [part for part in getattr(usable, "geoms", [usable]) if not part.is_empty]
    rings = tuple(tuple((float(x), float(y)) for x, y in part.exterior.coords) for part in parts)
    area = float(usable.area) if field.outline else None
    zones = {label: zones_of(field, r) for label, r in plots.items()}
    lie = gradient_advice(field.gradient, bearing, design) + runoff_advice(slope)
    advice = lie + _advice(field, plots, crossed, areas)
    return LayoutFit(wrong, crossed, areas, advice, area, rings, shift, zones, field.planted_fraction)


def outline_from_geojson(geojson: Any, origin: Origin | None) -> tuple[tuple[Point, ...], Origin]:
    """A field's outline in metres from the trial's corner, and that corner.

    Takes a Polygon, a Feature of one, or a FeatureCollection whose first feature is one, in WGS84. Without an origin
    the most south-westerly corner becomes it.
    """
    ring = _ring(geojson)
    if origin is None:
        longitude, latitude = min(ring, key=lambda p: p[0] + p[1])
        origin = Origin(longitude, latitude)
    points = tuple(from_wgs84(origin, *p) for p in ring)
    _polygon(points, "The outline")
    reach = max(math.hypot(*p) for p in points)
    if reach > 20_000:
        raise Refused(
            "bad-value", f"The outline lies {reach / 1000:.0f} km from the trial’s corner. Check the place of the site."
        )
    return points, origin


def _ring(geojson: Any) -> list[Point]:
    shape = geojson
    for _ in range(2):
        if isinstance(shape, dict) and shape.get("type") == "FeatureCollection" and shape.get("features"):
            shape = shape["features"][0]
        if isinstance(shape, dict) and shape.get("type") == "Feature":
            shape = shape.get("geometry")
    if not (isinstance(shape, dict) and shape.get("type") == "Polygon" and shape.get("coordinates")):
        raise Refused("bad-value", "This GeoJSON holds no polygon first. Export the field’s outline as one polygon.")
    try:
        ring = [(float(p[0]), float(p[1])) for p in shape["coordinates"][0]]
    except (TypeError, ValueError, IndexError, OverflowError):
        raise Refused("bad-value", "A corner of the polygon isn’t a pair of numbers.") from None
    if any(abs(x) > 180 or abs(y) > 85 for x, y in ring):
        raise Refused("bad-value", "The corners aren’t longitude and latitude in degrees (WGS84). Export it so.")
    return ring[:-1] if len(ring) > 1 and ring[0] == ring[-1] else ring


def _polygon(points: Sequence[Point], what: str) -> Any:
    if not 3 <= len(points) <= MOST_POINTS:
        raise Refused("bad-value", f"{what} has {len(points)} corners; it needs 3 to {MOST_POINTS}.")
    if not all(math.isfinite(v) for p in points for v in p):
        raise Refused("bad-value", f"{what} has a corner that isn’t a pair of numbers.")
    polygon = Polygon(points)
    if not polygon.is_valid:
        place = explain_validity(polygon)
        at = place[place.find("[") + 1 : -1].split() if "[" in place else []
        where = f" near x {float(at[0]):.1f} m, y {float(at[1]):.1f} m" if len(at) == 2 else ""
        raise Refused("bad-value", f"{what} crosses itself{where}. Put its corners in order around it.")
    if polygon.area <= 0:
        raise Refused("bad-value", f"{what} encloses no area.")
    return polygon


def _box(r: Rectangle) -> Any:
    return box(r.x, r.y, r.x + r.width, r.y + r.length)


def _wrong(field: Field, plots: Mapping[str, Rectangle]) -> dict[str, tuple[str, ...]]:
    found: dict[str, list[str]] = {}
    if not plots:
        return {}

    def say(label: str, words: str) -> None:
        found.setdefault(label, []).append(words)

    labels, boxes = list(plots), [_box(r) for r in plots.values()]
    if field.outline:
        outline, usable = Polygon(field.outline), field.usable
        for label, b in zip(labels, boxes, strict=True):
            out = b.difference(outline).area
            if out > NEARLY:
                say(label, f"{100 * out / b.area:.0f} % of it lies outside the field")
            elif b.difference(usable).area > NEARLY:
                say(label, "it reaches into the headland")
    for obstacle in field.obstacles:
        polygon = Polygon(obstacle.points)
        for label, b in zip(labels, boxes, strict=True):
            if b.intersection(polygon).area > NEARLY:
                say(label, f"it meets {obstacle.name or 'an obstacle'}")
    for label, r in plots.items():
        if _tracks_in(field.tree_rows, r):
            say(label, "a tree row runs through it")
    tree = shapely.STRtree(boxes)
    for i, j in np.array(tree.query(boxes, predicate="intersects")).T:
        if i < j and boxes[i].intersection(boxes[j]).area > NEARLY:
            say(labels[i], f"it overlaps plot {labels[j]}")
            say(labels[j], f"it overlaps plot {labels[i]}")
    return {label: tuple(words) for label, words in found.items()}


def _tracks_in(lines: Lines | None, r: Rectangle) -> list[float]:
    """x of the lines whose width reaches into a rectangle."""
    if lines is None:
        return []
    low, high = r.x - lines.width / 2, r.x + r.width + lines.width / 2
    return [x for x in lines.at(low, high) if low + NEARLY < x < high - NEARLY]


def areas_of(field: Field, plot: Rectangle) -> Areas:
    """The strip that the combine takes, nearest to the middle that is clear of tracks, and where samples are taken.

    Samples lie inside the guards, clear of tracks: beside the harvested strip where there is room, else at its far end,
    by which the harvest is cut down.
    """
    length = plot.length - 2 * field.guard
    if length <= 0:
        return Areas(None, None)
    free = _free_strips(field, plot)
    harvest = _harvest(field, plot, free, length)
    if harvest is not None:
        beside = [(harvest.x, harvest.x + harvest.width)]
        free = [
            part
            for a, b in free
            for x, end in beside
            for part in ((a, min(b, x)), (max(a, end), b))
            if part[1] > part[0]
        ]
    low, high = plot.x + field.side_guard, plot.x + plot.width - field.side_guard
    ends = max(field.guard, field.side_guard)
    inside = [(max(a, low), min(b, high)) for a, b in free]
    roomy = [(a, b) for a, b in inside if b - a >= LEAST_SAMPLE_M - NEARLY and plot.length > 2 * ends]
    if roomy:
        a, b = max(roomy, key=lambda part: (round(part[1] - part[0], 6), -part[0]))
        return Areas(harvest, Rectangle(a, plot.y + ends, b - a, plot.length - 2 * ends))
    return _at_the_end(harvest, low, high, plot.y + plot.length - ends) if harvest is not None else Areas(None, None)


def _harvest(field: Field, plot: Rectangle, free: Sequence[Point], length: float) -> Rectangle | None:
    wanted, middle = field.harvest_width, plot.x + plot.width / 2
    if wanted is None:
        return None
    starts = [min(max(middle - wanted / 2, a), b - wanted) for a, b in free if b - a >= wanted - NEARLY]
    if not starts:
        return None
    return Rectangle(min(starts, key=lambda s: (abs(s + wanted / 2 - middle), s)), plot.y + field.guard, wanted, length)


def _at_the_end(harvest: Rectangle, low: float, high: float, far: float) -> Areas:
    """Samples from the far end of the harvested strip, which ends before them."""
    a, b = max(harvest.x, low), min(harvest.x + harvest.width, high)
    near = far - min(SAMPLED_LENGTH_M, harvest.length / 4)
    if b - a < NEARLY or near <= harvest.y:
        return Areas(harvest, None)
    return Areas(replace(harvest, length=near - harvest.y), Rectangle(a, near, b - a, far - near))


def zones_of(field: Field, plot: Rectangle) -> dict[str, float]:
    """Shares of a plot's ground, which add up to 1: wheel tracks, rows of trees, and what lies between them.

    Lines run the whole length of a plot, so shares of its width are shares of its area.
    """
    shares, x1 = {}, plot.x + plot.width
    for name, lines in (("wheel track", field.tracks), ("tree row", field.tree_rows)):
        if lines is None:
            continue
        half = lines.width / 2
        wide = sum(
            max(0.0, min(x + half, x1) - max(x - half, plot.x)) for x in lines.at(plot.x - half, x1 + half)
        )  # fmt: skip
        if wide > NEARLY:
            shares[name] = wide / plot.width
    return {**shares, "between": max(0.0, 1 - sum(shares.values()))} if shares else {}


def _free_strips(field: Field, plot: Rectangle) -> list[Point]:
    """Between the plot's sides and its tracks, from left to right."""
    strips, left = [], plot.x
    half = field.tracks.width / 2 if field.tracks else 0.0
    for x in _tracks_in(field.tracks, plot):
        if x - half - left > NEARLY:
            strips.append((left, x - half))
        left = max(left, x + half)
    if plot.x + plot.width - left > NEARLY:
        strips.append((left, plot.x + plot.width))
    return strips


def _shift(field: Field, plots: Mapping[str, Rectangle]) -> Point | None:
    """The nearest of a grid of moves after which all plots lie where they may; None where no such move fits."""
    if not field.outline or not plots:
        return None
    whole = shapely.union_all([_box(r) for r in plots.values()])
    if sum(_box(r).area for r in plots.values()) - whole.area > NEARLY:
        return None  # they overlap each other, whichever way they are moved
    free = field.usable
    for obstacle in field.obstacles:
        free = free.difference(Polygon(obstacle.points))
    x0, y0, x1, y1 = free.bounds
    px0, py0, px1, py1 = whole.bounds
    step = max(0.5, (x1 - x0 + y1 - y0) / 300)
    across, along = np.arange(x0 - px0, x1 - px1 + NEARLY, step), np.arange(y0 - py0, y1 - py1 + NEARLY, step)
    moves = sorted(((float(dx), float(dy)) for dx in across for dy in along), key=lambda m: math.hypot(*m))
    shapely.prepare(free)
    corners = [(r.x, r.y, r.x + r.width, r.y + r.length) for r in plots.values()]
    for dx, dy in moves:
        hull = box(px0 + dx, py0 + dy, px1 + dx, py1 + dy)
        inside = free.covers(hull) or all(free.covers(box(a + dx, b + dy, c + dx, d + dy)) for a, b, c, d in corners)
        if inside and not (field.tree_rows and any(
            _tracks_in(field.tree_rows, Rectangle(r.x + dx, r.y + dy, r.width, r.length)) for r in plots.values()
        )):  # fmt: skip
            return dx, dy
    return None


def _advice(
    field: Field, plots: Mapping[str, Rectangle], crossed: Mapping[str, int], areas: Mapping[str, Areas]
) -> tuple[str, ...]:
    advice = []
    if crossed:
        uneven = len(set(crossed.values())) > 1 or len(crossed) < len(plots)
        advice.append(
            f"Wheel tracks run through {len(crossed)} of {len(plots)} plots"
            + (": plots with and without aren’t alike. Move the trial, or leave tracks out of harvest and samples."
               if uneven else ", the same in all.")
        )  # fmt: skip
    tight = [label for label, a in areas.items() if field.harvest_width is not None and a.harvest is None]
    if tight:
        advice.append(f"No room for the harvest beside guards and tracks in {_list(tight)}.")
    return tuple(advice)


def _list(labels: Sequence[str]) -> str:
    shown = ", ".join(labels[:6])
    return f"plot {shown}" if len(labels) == 1 else f"plots {shown}{' and others' if len(labels) > 6 else ''}"


def moved(
    plots: Iterable[tuple[str, Rectangle]], shifts: Mapping[str, Point], block_of: Mapping[str, str]
) -> dict[str, Rectangle]:
    """Plots after their blocks were moved: block → metres across and along."""
    out = {}
    for label, r in plots:
        dx, dy = shifts.get(block_of.get(label, ""), (0.0, 0.0))
        if not (math.isfinite(dx) and math.isfinite(dy)):
            raise Refused("bad-value", "A block can only be moved by a number of metres.")
        out[label] = Rectangle(r.x + dx, r.y + dy, r.width, r.length)
    return out
