"""What a rule finds of a species: that it can't work, can't be judged, costs points, or is worth knowing."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal


@dataclass(frozen=True, slots=True)
class Finding:
    """`points`: of 100, what it takes from the score; only a cost has any."""

    kind: Literal["out", "unknown", "cost", "note"]
    text: str
    points: float = 0.0


def out(text: str) -> Finding:
    return Finding("out", text)


def unknown(text: str) -> Finding:
    """What was asked and isn't known of the species, so that it can't be judged."""
    return Finding("unknown", text)


def cost(points: float, text: str) -> Finding:
    return Finding("cost", text, points)


def note(text: str) -> Finding:
    return Finding("note", text)


def degrees(value: float) -> str:
    return f"{value:g} °C".replace("-", "−")


def between(ends: tuple[float, float]) -> str:
    """A range of temperatures."""
    return degrees(ends[0]) if ends[0] == ends[1] else f"{degrees(ends[0])} to {degrees(ends[1])}"
