"""From metres on the ground to longitude and latitude."""

from __future__ import annotations

import math
from dataclasses import dataclass

from apercu_core.errors import Refused

_A = 6_378_137.0  # semi-major axis of WGS84, m
_E2 = 6.694379990141316e-3  # its first eccentricity squared (NIMA TR 8350.2, third edition)


@dataclass(frozen=True, slots=True)
class Origin:
    """Where a trial's corner lies: degrees in WGS84. `bearing`: direction of +y, degrees clockwise from north."""

    longitude: float
    latitude: float
    bearing: float = 0.0

    def __post_init__(self) -> None:
        if not (math.isfinite(self.longitude) and -180 <= self.longitude <= 180):
            raise Refused("bad-value", f"The longitude is {self.longitude:g}; it goes from −180 to 180 degrees.")
        if not (math.isfinite(self.latitude) and -85 <= self.latitude <= 85):
            raise Refused("bad-value", f"The latitude is {self.latitude:g}; it goes from −85 to 85 degrees.")
        if not math.isfinite(self.bearing):
            raise Refused("bad-value", "The bearing must be a number of degrees.")


def to_wgs84(origin: Origin, x: float, y: float) -> tuple[float, float]:
    """(longitude, latitude) of a point x metres across and y metres along from the origin.

    The way north is laid along the meridian, then the way east along the parallel that it ends on, with the radii of
    the ellipsoid there, so that areas are kept. Good to a few centimetres over a kilometre.
    Radii: Rapp (1991), *Geometric Geodesy* I, section 3.
    """
    turn = math.radians(origin.bearing)
    east = x * math.cos(turn) + y * math.sin(turn)
    north = y * math.cos(turn) - x * math.sin(turn)
    latitude = math.radians(origin.latitude)
    for _ in range(3):  # the meridian's radius is that halfway
        middle = (math.radians(origin.latitude) + latitude) / 2
        latitude = math.radians(origin.latitude) + north / _meridian(middle)
    parallel = _A / math.sqrt(1 - _E2 * math.sin(latitude) ** 2) * math.cos(latitude)
    longitude = origin.longitude + math.degrees(east / parallel)
    return (longitude + 180) % 360 - 180, math.degrees(latitude)


def from_wgs84(origin: Origin, longitude: float, latitude: float) -> tuple[float, float]:
    """(x, y) in metres of a point, the inverse of `to_wgs84`."""
    a, b = math.radians(origin.latitude), math.radians(latitude)
    north = (b - a) * _meridian((a + b) / 2)
    parallel = _A / math.sqrt(1 - _E2 * math.sin(b) ** 2) * math.cos(b)
    east = math.radians((longitude - origin.longitude + 180) % 360 - 180) * parallel
    turn = math.radians(origin.bearing)
    return east * math.cos(turn) - north * math.sin(turn), east * math.sin(turn) + north * math.cos(turn)


def _meridian(latitude: float) -> float:
    return _A * (1 - _E2) / math.pow(1 - _E2 * math.sin(latitude) ** 2, 1.5)


EARTH_KM = 6371.0
"""Mean radius of the Earth."""


def distance_km(latitude: float, longitude: float, to_latitude: float, to_longitude: float) -> float:
    """Along the great circle of a sphere, by the haversine; 0.5 % of the true distance at most."""
    a, b = math.radians(latitude), math.radians(to_latitude)
    half_up, half_across = (b - a) / 2, math.radians(to_longitude - longitude) / 2
    chord = math.sin(half_up) ** 2 + math.cos(a) * math.cos(b) * math.sin(half_across) ** 2
    return 2 * EARTH_KM * math.asin(min(1.0, math.sqrt(chord)))
