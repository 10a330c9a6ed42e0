"""A plan's plots out to the field: outlines as GeoJSON, and distances along and across from the corner."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from apercu_core.field.geodesy import Origin, to_wgs84
from apercu_core.field.layout import Rectangle


def outline(origin: Origin, plot: Rectangle) -> list[list[float]]:
    """The ring of a plot's corners, anticlockwise from its lower left, first and last the same; degrees, 1 mm."""
    corners = [
        (plot.x, plot.y), (plot.x + plot.width, plot.y), (plot.x + plot.width, plot.y + plot.length),
        (plot.x, plot.y + plot.length), (plot.x, plot.y),
    ]  # fmt: skip
    return [[round(degrees, 8) for degrees in to_wgs84(origin, x, y)] for x, y in corners]


def feature_collection(placed: Sequence[tuple[Origin, Rectangle, dict[str, Any]]]) -> dict[str, Any]:
    """GeoJSON (RFC 7946) of plots with their properties."""
    return {
        "type": "FeatureCollection",
        "features": [
            {
                "type": "Feature",
                "geometry": {"type": "Polygon", "coordinates": [outline(origin, plot)]},
                "properties": properties,
            }
            for origin, plot, properties in placed
        ],
    }
