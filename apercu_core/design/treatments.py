"""Treatments from factors and levels: crossed, with impossible combinations taken out and controls beside them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import product
from math import prod

from apercu_core.errors import Refused

Levels = tuple[tuple[str, str], ...]


@dataclass(frozen=True, slots=True)
class Combination:
    """A treatment. `levels`: (factor, level) pairs, none for a treatment that stands outside the crossing."""

    name: str
    levels: Levels = ()

    def level(self, factor: str) -> str:
        """Its level of the factor, empty outside the crossing."""
        return dict(self.levels).get(factor, "")


MOST_COMBINATIONS = 2000


def crossed(
    factors: Mapping[str, Sequence[str]], *, controls: Sequence[str] = (), removed: Sequence[Mapping[str, str]] = (),
    between: str = ":",
) -> tuple[Combination, ...]:  # fmt: skip
    """Every combination of levels, the last factor changing fastest, then the controls that stand outside.

    `removed`: combinations that can't be, each as the levels that it has (a plot without cover has nothing to kill).
    `between`: what joins levels to a name. A control that is a combination or a level of a factor is inside already and
    isn't added.
    """
    _require_factors(factors)
    many = prod(len(levels) for levels in factors.values())
    if many > MOST_COMBINATIONS:
        raise Refused(
            "bad-design",
            f"These factors give {many:,} combinations; the most is {MOST_COMBINATIONS:,}. Use fewer factors or "
            "levels.",
        )
    out = []
    for cell in product(*factors.values()):
        levels = tuple(zip(factors, cell, strict=True))
        if not any(all(dict(levels).get(name) == level for name, level in one.items()) for one in removed):
            out.append(Combination(between.join(cell), levels))
    if len({c.name for c in out}) < len(out):
        raise Refused("bad-design", "Two combinations of levels have the same name. Give their levels other names.")
    inside = {c.name for c in out} | {level for levels in factors.values() for level in levels}
    return (*out, *(Combination(control) for control in dict.fromkeys(controls) if control not in inside))


def listed(names: Sequence[str], *, control: str | None = None) -> tuple[Combination, ...]:
    """A plain list, with the control added at its end if it isn't there."""
    extra = [control] if control is not None and control not in names else []
    return tuple(Combination(name) for name in (*names, *extra))


def _require_factors(factors: Mapping[str, Sequence[str]]) -> None:
    if not factors:
        raise Refused("bad-design", "There is no factor. Name at least one, with its levels.")
    for name, levels in factors.items():
        if len(levels) < 2:
            raise Refused("bad-design", f"Factor {name!r} has {len(levels)} level; at least two are needed to compare.")
        if len(set(levels)) < len(levels):
            twice = next(level for level in levels if list(levels).count(level) > 1)
            raise Refused("bad-design", f"Factor {name!r} lists the level {twice!r} twice.")
