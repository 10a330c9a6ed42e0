"""A layout that lies in the field already: from a table or from outlines, with every row that is wrong."""

from __future__ import annotations

import json
import math
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Any

from apercu_core.errors import Place, Refused
from apercu_core.field.geodesy import Origin, from_wgs84
from apercu_core.field.layout import PlotSize, Rectangle, place_in_rows
from apercu_core.numbers import Mark, with_mark
from apercu_core.tables.marks import weigh
from apercu_core.tables.read import Table, read_table, require_whole
from apercu_core.words import listed

MOST_PLOTS = 2000
SHOWN = 40
"""Wrong rows that are listed; more than these don't help."""

_FAR_M = 20_000
_CORNERS = ("across_from_m", "across_to_m", "along_from_m", "along_to_m")
_BOX = ("x_m", "y_m", "width_m", "length_m")
_LENGTHS = {*_CORNERS, *_BOX}
FEET, METRES_PER_FOOT = "_ft", 0.3048


@dataclass(frozen=True, slots=True)
class ImportedPlot:
    """`treatment`: by the trial's name; `place`: m from the trial's corner; `position`: along its block, from 1."""

    label: str
    block: str
    treatment: str
    place: Rectangle
    position: int | None = None
    whole_plot: str = ""
    row: str = ""
    column: str = ""
    design: str = ""
    site: str = ""
    incomplete_block: str = ""


@dataclass(frozen=True, slots=True)
class Imported:
    """`origin`: where the corner lies, None for a table, which doesn't say. `design`, `sites`: as the file says them,
    empty where it doesn't.
    """

    plots: tuple[ImportedPlot, ...]
    origin: Origin | None = None
    design: str = ""
    sites: tuple[str, ...] = ()


def read_layout(
    data: bytes, treatments: Mapping[str, str], size: PlotSize | None, origin: Origin | None,
    *, needed: Collection[str] | None = None,
) -> Imported:  # fmt: skip
    """CSV or GeoJSON, told apart by how it begins.

    `treatments`: what a file may call them (name or code) → the trial's name; `size`: of plots, for a table that gives
    corners or a grid only; `origin`: of the site, None where nobody has said; `needed`: treatments that must be there,
    None for all. Raises `Refused` with each wrong row.
    """
    known = {name.strip().casefold(): treatment for name, treatment in treatments.items()}
    if data.lstrip().startswith(b"{"):
        found = _checked(*_from_geojson(data, known, origin))
    else:
        found = _checked(*_from_table(read_table(data), known, size), None)
    there = {plot.treatment for plot in found.plots}
    for name in dict.fromkeys(known.values()):
        if name not in there and (needed is None or name in needed):
            raise Refused("bad-design", f"No plot holds {name}. Add its plots, or remove it from the trial in Ask.")
    return found


def _checked(plots: list[tuple[str, ImportedPlot]], wrong: list[Place], origin: Origin | None) -> Imported:
    """`plots`: with where each stands in the file."""
    seen: dict[str, str] = {}
    for where, plot in plots:
        if plot.label in seen:
            wrong.append(Place(f"{where}, plot", f"{plot.label!r} is already in {seen[plot.label]}."))
        seen.setdefault(plot.label, where)
    if not wrong:
        wrong += _overlaps(plots)
    if wrong:
        more = f" ({len(wrong)} faults, the first {SHOWN} below)" if len(wrong) > SHOWN else ""
        raise Refused("bad-value", f"Some rows can’t be imported. Nothing was saved{more}.", wrong[:SHOWN])
    if not 2 <= len(plots) <= MOST_PLOTS:
        raise Refused("too-few-plots", f"The file has {len(plots)} plots; a layout has 2 to {MOST_PLOTS}.")
    designs, sites = (
        tuple(dict.fromkeys(values)) for values in zip(*((p.design, p.site) for _, p in plots), strict=True)
    )
    if len(designs) > 1:
        said = listed([repr(design) for design in designs])
        raise Refused("bad-design", f"The column design says {said}. A layout has one design, the same in each row.")
    return Imported(_in_order([plot for _, plot in plots]), origin, designs[0], tuple(filter(None, sites)))


def _in_order(plots: Sequence[ImportedPlot]) -> tuple[ImportedPlot, ...]:
    """With each plot's position along its block, across first."""
    out = []
    for plot in plots:
        mates = sorted((p.place.x, p.place.y, p.label) for p in plots if p.block == plot.block)
        place = mates.index((plot.place.x, plot.place.y, plot.label)) + 1
        out.append(replace(plot, position=place if plot.block else None))
    return tuple(out)


def _overlaps(plots: Sequence[tuple[str, ImportedPlot]]) -> Iterable[Place]:
    """Pairs of plots that share more than a hair of ground."""
    rows = sorted(plots, key=lambda one: one[1].place.x)
    for i, (_, a) in enumerate(rows):
        for where, b in rows[i + 1 :]:
            if b.place.x >= a.place.x + a.place.width - 0.01:
                break
            wide = min(a.place.x + a.place.width, b.place.x + b.place.width) - b.place.x
            deep = min(a.place.y + a.place.length, b.place.y + b.place.length) - max(a.place.y, b.place.y)
            if wide > 0.01 and deep > 0.01:
                yield Place(where, f"Plot {b.label} lies on plot {a.label}, by {wide:.2f} × {deep:.2f} m.")


def _treatment(text: str, known: Mapping[str, str], where: str, wrong: list[Place]) -> str:
    found = known.get(text.strip().casefold())
    if found is None:
        names = ", ".join(dict.fromkeys(known.values()))
        what = f"{text.strip()!r} isn’t a treatment of this trial" if text.strip() else "It is empty"
        wrong.append(Place(f"{where}, treatment", f"{what}. Known are: {names}."))
    return found or ""


def _metres(table: Table, at: int, name: str, wrong: list[Place]) -> list[float | None]:
    """A column of numbers; a cell that can be read in two ways, where no other settles it, is told as wrong."""
    cells = [row[at] for row in table.rows]
    evidence = weigh(cells)
    mark: Mark = evidence.mark or "."
    if evidence.mark is None and evidence.doubtful:
        first = evidence.doubtful[0]
        wrong.append(
            Place(
                f"line {table.lines[first]}, {name}", f"{cells[first]!r} can be read in two ways. Write 12.5 or 12,5."
            )
        )
    other: Mark = "," if mark == "." else "."
    return [found if (found := with_mark(cell, mark)) is not None else with_mark(cell, other) for cell in cells]


def _from_table(
    table: Table, known: Mapping[str, str], size: PlotSize | None
) -> tuple[list[tuple[str, ImportedPlot]], list[Place]]:
    names = [name.strip().casefold() for name in table.header]
    feet = {_metric(name) for name in names if name.endswith(FEET)}
    names = [_metric(name) for name in names]
    for needed in ("plot", "treatment"):
        if needed not in names:
            raise Refused("missing-column", f"The table has no column {needed!r}. Its first line must name one.")
    require_whole(table)
    boxes = _boxes(names, size)
    wrong: list[Place] = []
    metres = {name: _metres(table, names.index(name), name, wrong) for name in boxes}
    plots = []
    for i, (line, cells) in enumerate(zip(table.lines, table.rows, strict=True)):
        row, where = dict(zip(names, cells, strict=True)), f"line {line}"
        if not row["plot"]:
            wrong.append(Place(f"{where}, plot", "It is empty. Give each plot its number."))
        figures = {}
        for name in boxes:
            value = metres[name][i]
            if value is None:
                wrong.append(Place(f"{where}, {name}", f"{row[name]!r} isn’t a number."))
            figures[name] = round((value or 0.0) * METRES_PER_FOOT, 6) if name in feet else value or 0.0
        treatment = _treatment(row["treatment"], known, where, wrong)
        place = _place(figures, size, where, wrong)
        plots.append((where, _plot(row, row["plot"], treatment, place)))
    return plots, wrong


def _metric(name: str) -> str:
    """`across_from_ft` is read as `across_from_m`, its numbers turned into metres."""
    metric = name.removesuffix(FEET) + "_m"
    return metric if name.endswith(FEET) and metric in _LENGTHS else name


def _plot(given: Mapping[str, Any], label: str, treatment: str, place: Rectangle) -> ImportedPlot:
    named = ("whole_plot", "row", "column", "design", "site", "incomplete_block")
    block, *others = (str(given.get(key) or "").strip() for key in ("block", *named))
    return ImportedPlot(label, block, treatment, place, None, *others)


def _boxes(names: Sequence[str], size: PlotSize | None) -> tuple[str, ...]:
    """The columns that say where a plot lies."""
    for whole in (_CORNERS, _BOX):
        if set(whole) <= set(names):
            return whole
    for pair in (("x_m", "y_m"), ("row", "column")):
        if set(pair) <= set(names):
            if size is None:
                raise Refused(
                    "missing-column",
                    f"The table has {pair[0]} and {pair[1]} but no size of plots. Add width_m and length_m, or type "
                    "the size in Plan.",
                )
            return pair
    raise Refused(
        "missing-column",
        "The table doesn’t say where plots lie. Give x_m, y_m, width_m and length_m in metres from the trial’s corner, "
        "or the row and column of each plot.",
    )


def _place(figures: Mapping[str, float], size: PlotSize | None, where: str, wrong: list[Place]) -> Rectangle:
    if "across_from_m" in figures:
        x, right, y, far = (figures[name] for name in _CORNERS)
        box = Rectangle(x, y, right - x, far - y)
    elif "width_m" in figures:
        box = Rectangle(figures["x_m"], figures["y_m"], figures["width_m"], figures["length_m"])
    elif size is not None and "x_m" in figures:
        box = Rectangle(figures["x_m"], figures["y_m"], size.width, size.length)
    elif size is not None:
        row, column = figures["row"], figures["column"]
        if row % 1 or column % 1 or not (1 <= row <= MOST_PLOTS and 1 <= column <= MOST_PLOTS):
            wrong.append(Place(where, "Rows and columns are whole numbers from 1."))
            return Rectangle(0, 0, 1, 1)
        box = place_in_rows([(int(row), int(column))], size)[0]
    if not (box.width > 0 and box.length > 0):
        wrong.append(Place(where, f"A plot of {box.width:g} × {box.length:g} m has no area."))
    return box


def _from_geojson(
    data: bytes, known: Mapping[str, str], origin: Origin | None
) -> tuple[list[tuple[str, ImportedPlot]], list[Place], Origin | None]:
    try:
        shape = json.loads(data.decode("utf-8-sig"))
    except RecursionError:
        raise Refused("not-a-table", "The GeoJSON is nested too deeply to be a layout. Export it again.") from None
    except ValueError as error:
        raise Refused(
            "not-a-table", f"The file begins like GeoJSON but isn’t JSON ({error}). Export it again."
        ) from None
    features = shape.get("features") if isinstance(shape, dict) else None
    if not isinstance(features, list) or not features:
        raise Refused("not-a-table", "The GeoJSON holds no list of features. Export the plots as a FeatureCollection.")
    wrong: list[Place] = []
    rings = [(f"feature {i}", *_ring(one, f"feature {i}", wrong)) for i, one in enumerate(features, start=1)]
    first = next((ring for _, ring, _ in rings if ring), None)
    if first is None:
        return [], wrong, origin
    if origin is None:
        longitude, latitude = min((p for _, ring, _ in rings for p in ring), key=lambda p: p[0] + p[1])
        origin = Origin(longitude, latitude, _bearing(first, Origin(longitude, latitude)))
    plots = []
    for where, ring, properties in rings:
        label = str(properties.get("plot") or "").strip()
        if not label:
            wrong.append(Place(f"{where}, plot", "It is empty. Give each plot its number as the property 'plot'."))
        treatment = _treatment(str(properties.get("treatment") or properties.get("code") or ""), known, where, wrong)
        if ring:
            plots.append((where, _plot(properties, label, treatment, _box(ring, origin, where, wrong))))
    return plots, wrong, origin


def _ring(feature: Any, where: str, wrong: list[Place]) -> tuple[list[tuple[float, float]], Mapping[str, Any]]:
    given = feature if isinstance(feature, dict) else {}
    geometry, properties = given.get("geometry") or {}, given.get("properties") or {}
    try:
        if geometry["type"] != "Polygon":
            raise KeyError
        ring = [(float(p[0]), float(p[1])) for p in geometry["coordinates"][0]]
        if len(ring) < 4 or any(abs(x) > 180 or abs(y) > 85 for x, y in ring):
            raise ValueError
    except (KeyError, TypeError, ValueError, IndexError, OverflowError):
        wrong.append(Place(where, "It isn’t a polygon of longitudes and latitudes in degrees (WGS84)."))
        return [], properties
    return ring, properties


def _bearing(ring: Sequence[tuple[float, float]], corner: Origin) -> float:
    """Direction of the plot's longer side, degrees clockwise from north, between −90 and 90."""
    points = [from_wgs84(corner, *p) for p in ring]
    (x0, y0), (x1, y1) = max(pairwise(points), key=lambda side: math.dist(*side))
    degrees = math.degrees(math.atan2(x1 - x0, y1 - y0))
    return round((degrees + 90) % 180 - 90, 3)


def _box(ring: Sequence[tuple[float, float]], origin: Origin, where: str, wrong: list[Place]) -> Rectangle:
    points = [from_wgs84(origin, *p) for p in ring]
    xs, ys = [p[0] for p in points], [p[1] for p in points]
    x, y, width, length = min(xs), min(ys), max(xs) - min(xs), max(ys) - min(ys)
    area = abs(sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(points, [*points[1:], points[0]], strict=True))) / 2
    if max(map(abs, (*xs, *ys))) > _FAR_M:
        wrong.append(
            Place(where, f"It is more than {_FAR_M // 1000} km from the trial’s corner. Check the site’s place.")
        )
    elif width * length == 0 or abs(area / (width * length) - 1) > 0.03:
        wrong.append(
            Place(where, f"It isn’t a rectangle along the trial’s bearing of {origin.bearing:g}°. Change that in Ask.")
        )
    return Rectangle(round(x, 3), round(y, 3), round(width, 3), round(length, 3))
