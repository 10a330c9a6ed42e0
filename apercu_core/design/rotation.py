"""Rotation trials: every phase stands in the field each year, and each plot moves on by one phase a year."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from apercu_core.errors import Refused

PHASE = "phase"
"""Kind of the factor whose levels are the crops of the rotation, in their order."""


@dataclass(frozen=True, slots=True)
class Phase:
    """`crops`: what stands in its plots, year after year, from the trial's first."""

    starts_with: str
    crops: tuple[str, ...]


def crop_in(crops: Sequence[str], starts_with: str, year: int) -> str:
    """What stands in the plots that started with a crop, `year` years later (0: the first)."""
    return crops[(list(crops).index(starts_with) + year) % len(crops)]


def names_in_year(names: Sequence[tuple[str, str]], crops: Sequence[str], before: int, now: int) -> list[str]:
    """What treatments are called `now` years after the first, so that each name says what stands in its plots.

    `names`: of each treatment as it was called `before` years after the first, with the crop that it started with,
    empty outside the rotation. The crop in a name is exchanged; where the name doesn't hold it, it is added.
    """
    out = []
    for name, starts_with in names:
        if not starts_with:
            out.append(name)
            continue
        stood, stands = crop_in(crops, starts_with, before), crop_in(crops, starts_with, now)
        before_it, *after_it = re.split(rf"(?<!\w){re.escape(stood)}(?!\w)", name)
        out.append(
            f"{before_it}{stands}{after_it[0]}" if len(after_it) == 1 else f"{name} ({stands} in year {now + 1})"
        )
    if len({name.casefold() for name in out}) == len(out):
        return out
    return [
        f"{name} ({crop_in(crops, starts_with, now)} in year {now + 1})" if starts_with else name
        for name, starts_with in names
    ]


def schedule(crops: Sequence[str], years: int | None = None) -> tuple[Phase, ...]:
    """Every phase over the years: a whole turn and the year after, if not said. Each crop stands somewhere each year.

    A crop that comes twice in the rotation needs two names (barley after beet, barley after potato), which say where it
    stands.
    """
    if len(crops) < 2:
        raise Refused("bad-design", "A rotation needs at least two crops, in the order in which they follow.")
    many = len(crops) + 1 if years is None else years
    return tuple(Phase(crop, tuple(crop_in(crops, crop, year) for year in range(many))) for crop in crops)


def require_every_phase(treatments: Sequence[Mapping[str, str]], factor: str, crops: Sequence[str]) -> None:
    """Each combination of the other factors must hold every phase, so that no year is read for one of them alone.

    `treatments`: levels of each, by factor; those without it stand outside. Raises `Refused` for what is missing.
    """
    systems: dict[tuple[tuple[str, str], ...], set[str]] = {}
    for levels in treatments:
        if factor in levels:
            rest = tuple(sorted((name, level) for name, level in levels.items() if name != factor))
            systems.setdefault(rest, set()).add(levels[factor])
    for rest, there in systems.items():
        missing = [crop for crop in crops if crop not in there]
        if missing:
            of = ", ".join(level for _, level in rest)
            raise Refused(
                "bad-design",
                f"{of or 'The rotation'} has no plots that start with {missing[0]}. In a rotation trial every phase "
                "stands each year, or a year’s weather can’t be told from the crop. Restore the combination.",
            )
