"""Where in a plot the samples of a visit are taken: drawn at random, so that nobody chooses the ground.

A place is that of a quadrat's (or row length's) corner nearest to the plot's lower left one, in metres from there,
across and along; on a grid of 10 cm, which a person can still measure out.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from random import Random
from typing import Literal, get_args

from apercu_core.errors import Refused
from apercu_core.field.layout import Rectangle
from apercu_core.words import number

Placement = Literal["stratified", "random", "diagonal", "line", "transect", "fixed", "seeded", "exempt", "free"]
PLACEMENTS: Mapping[Placement, str] = {
    "stratified": "At random in equal parts of the plot’s length, one sample in each.",
    "random": "At random anywhere in the part of the plot that is sampled.",
    "diagonal": "Along the diagonal, across the rows, at equal distances from a random start.",
    "line": "Along a line down the plot, at equal distances from a random start.",
    "transect": "Along a straight line in a direction of your own, at a distance of your own, from a random start.",
    "fixed": "Marked quadrats: the same places at every visit that takes fixed ones.",
    "seeded": "Marked quadrats into which seed was sown: the same places at every visit that takes seeded ones.",
    "exempt": "Marked quadrats that operations leave out: the same places at every visit that takes exempt ones.",
    "free": "Where the person decides. Note how.",
}
assert tuple(PLACEMENTS) == get_args(Placement)
MARKED: frozenset[Placement] = frozenset({"fixed", "seeded", "exempt"})
"""Quadrats that stay where they are for the season; each kind has places of its own."""
GRID_M = 0.1
CLEAR_M = 0.25
"""Kept between a sample and ground that was cut or dug before; thumb."""
LARGEST_QUADRAT_M2 = 4.0
"""A larger area is a strip that a machine takes, not a quadrat that somebody lays down; thumb."""
TRIES = 300
WINDS = ("north", "north-east", "east", "south-east", "south", "south-west", "west", "north-west")


@dataclass(frozen=True, slots=True)
class Quadrat:
    """What is laid down or walked along, m: `width` across the plot, `length` along it."""

    width: float
    length: float


@dataclass(frozen=True, slots=True)
class Transect:
    """A straight line of samples. `bearing`: the way along it, degrees clockwise from the way along the plot;
    `spacing`: from sample to sample, m.
    """

    bearing: float
    spacing: float

    @property
    def step(self) -> tuple[float, float]:
        """From one sample to the next, across and along the plot, m."""
        turned = math.radians(self.bearing)
        return self.spacing * math.sin(turned), self.spacing * math.cos(turned)


@dataclass(frozen=True, slots=True)
class Place:
    """The nearest corner of a sample, m from the plot's lower left corner."""

    across: float
    along: float


def quadrat_of(settings: Mapping[str, float]) -> Quadrat | None:
    """What a sheet's settings say is laid down: a frame of its area, square unless its width is said, a length of row,
    or None.
    """
    area, length = settings.get("area"), settings.get("row_length")
    if length:
        return Quadrat(settings.get("row_spacing") or 0.0, length)
    if area and area <= LARGEST_QUADRAT_M2:
        width = settings.get("frame_width")
        return Quadrat(width, area / width) if width else Quadrat(math.sqrt(area), math.sqrt(area))
    if side := settings.get("side"):  # of a pit, cm
        return Quadrat(side / 100, side / 100)
    return None


def place_samples(
    area: Rectangle, quadrat: Quadrat, samples: int, placement: Placement, seed: str, *,
    avoided: Sequence[Rectangle] = (), held: Sequence[Place] = (), transect: Transect | None = None,
) -> tuple[Place, ...]:  # fmt: skip
    """Places of samples in walking order from the near end, of a transect from its start; those of `held` stay as they
    are, and first.

    `area`: what is sampled of the plot, in its own coordinates, clear of edges and wheel tracks; `seed`: the same one
    draws the same places; `avoided`: ground that was cut or dug. Raises `Refused` where they find no room.
    """
    if placement == "free" or samples < 1:
        return ()
    draw = Random(f"{seed}|{placement}")
    start = (draw.random(), draw.random())
    wide, long = area.width - quadrat.width, area.length - quadrat.length
    if wide < -1e-9 or long < -1e-9:
        raise Refused(
            "bad-value",
            f"A sample of {number(quadrat.width)} × {number(quadrat.length)} m has no room: "
            f"{number(area.width)} × {number(area.length)} m of the plot is sampled.",
        )
    if placement in ("diagonal", "line") and long / samples < quadrat.length - 1e-9 and samples > 1:
        raise _no_room(samples, quadrat)
    if placement == "transect":
        if transect is None:
            raise Refused("bad-value", "Say which way the transect runs, and how far its samples lie apart.")
        drawn = _along_transect(start, samples, area, quadrat, transect)
        return (*held[:samples], *drawn[len(held) :])
    shut = [_grown(r, CLEAR_M) for r in avoided]
    found = list(held[:samples])
    for i in range(len(found), samples):
        if placement in ("diagonal", "line"):
            wanted: Place | None = _along_line(start, i, samples, area, quadrat, placement)
        else:
            wanted = _at_random(draw, i, samples, area, quadrat, placement, found, shut)
        if wanted is None:
            raise _no_room(samples, quadrat)
        found.append(wanted)
    stay = len(found) if placement in MARKED else len(held[:samples])  # a marked quadrat keeps its number
    return (*found[:stay], *sorted(found[stay:], key=lambda place: (place.along, place.across)))


def _no_room(samples: int, quadrat: Quadrat) -> Refused:
    said = f"{samples} samples of {number(quadrat.width)} × {number(quadrat.length)} m"
    return Refused(
        "bad-value", f"There is no room for {said} beside each other and beside ground that was cut or dug before."
    )


def _at_random(
    draw: Random, i: int, samples: int, area: Rectangle, quadrat: Quadrat, placement: Placement,
    taken: Sequence[Place], shut: Sequence[Rectangle],
) -> Place | None:  # fmt: skip
    """In its own part of the length if there is room, else anywhere."""
    part = area.length / samples
    parts = [(area.y + i * part, area.y + (i + 1) * part)] if placement == "stratified" else []
    for low, high in [*parts, (area.y, area.y + area.length)]:
        for _ in range(TRIES):
            along = _on_grid(draw, low, min(high, area.y + area.length) - quadrat.length)
            across = _on_grid(draw, area.x, area.x + area.width - quadrat.width)
            if along is None or across is None:
                break
            here = _ground(Place(across, along), quadrat)
            if not any(_meet(here, _ground(other, quadrat)) for other in taken) and not any(
                _meet(here, one) for one in shut
            ):
                return Place(across, along)
    return None


def _along_line(
    start: tuple[float, float], i: int, samples: int, area: Rectangle, quadrat: Quadrat, placement: Placement
) -> Place:
    """Equal steps from a random start. Ground that was cut isn't stepped round: a line with bends isn't one."""
    first, side = start
    share = (i + first) / samples
    along = area.y + share * (area.length - quadrat.length)
    across = area.x + (share if placement == "diagonal" else side) * (area.width - quadrat.width)
    return Place(_rounded(across, area.x), _rounded(along, area.y))


def _along_transect(
    start: tuple[float, float], samples: int, area: Rectangle, quadrat: Quadrat, transect: Transect
) -> list[Place]:
    """Each place in which the whole line lies in the area is as likely. Ground that was cut isn't stepped round."""
    steps, rooms = transect.step, (area.width - quadrat.width, area.length - quadrat.length)
    if samples > 1 and all(abs(a) < b - 1e-9 for a, b in zip(steps, (quadrat.width, quadrat.length), strict=True)):
        raise Refused("bad-value", f"Samples of {number(quadrat.width)} × {number(quadrat.length)} m would lie over "
                      f"each other {number(transect.spacing)} m apart. Set a larger spacing.")  # fmt: skip
    places = []
    for share, step, room, low in zip(reversed(start), steps, rooms, (area.x, area.y), strict=True):
        reach = (samples - 1) * step
        if abs(reach) > room + 1e-9:
            raise Refused("bad-value", f"{samples} samples {number(transect.spacing)} m apart don’t fit into the "
                          f"{number(area.width)} × {number(area.length)} m of the plot that are sampled, in this "
                          "direction. Set a smaller spacing, fewer samples or another direction.")  # fmt: skip
        first = low + max(0.0, -reach) + share * (room - abs(reach))
        places.append([round(first + i * step, 2) for i in range(samples)])
    return [Place(across, along) for across, along in zip(*places, strict=True)]


def _on_grid(draw: Random, low: float, high: float) -> float | None:
    """A place on the grid between two ends, both included; None where there is no room."""
    first, last = math.ceil(low / GRID_M - 1e-6), math.floor(high / GRID_M + 1e-6)
    if last >= first:
        return round(draw.randint(first, last) * GRID_M, 3)
    return round(low, 3) if high >= low - 1e-9 else None


def _rounded(value: float, least: float) -> float:
    return max(round(least, 3), round(math.floor(value / GRID_M + 1e-6) * GRID_M, 3))


def _ground(place: Place, quadrat: Quadrat) -> Rectangle:
    return Rectangle(place.across, place.along, quadrat.width, quadrat.length)


def _grown(r: Rectangle, by: float) -> Rectangle:
    return Rectangle(r.x - by, r.y - by, r.width + 2 * by, r.length + 2 * by)


def _meet(a: Rectangle, b: Rectangle) -> bool:
    return (
        a.x < b.x + b.width - 1e-9
        and b.x < a.x + a.width - 1e-9
        and a.y < b.y + b.length - 1e-9
        and b.y < a.y + a.length - 1e-9
    )


def corner_said(bearing: float | None) -> str:
    """The corner that places are measured from, in words. `bearing`: of the way along the plot, degrees clockwise from
    north; None where nobody said.
    """
    if bearing is None:
        return "the corner at the lower left on the map"
    return f"the {WINDS[round((bearing + 225) / 45) % 8]} corner"
