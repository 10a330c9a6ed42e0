"""Rehearse a drawn plan: invent the season, and see the board that it would give."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any, cast
from uuid import UUID

from apercu_core.errors import Refused
from apercu_core.reading.asked import How
from apercu_core.reading.rehearsal import Invented, rehearse
from apercu_core.units import System
from crew.models import Person
from crew.permissions import require
from readings.actions import default_method
from readings.bridge import asked_of, gather
from readings.outlook import known_spread, margin_in, spread_of
from trials.models import Direction, Season


@dataclass(frozen=True, slots=True)
class Truth:
    """`margins`: treatment → how many margins it truly lies beyond the control, in the wanted direction."""

    margins: Mapping[UUID, float]
    seed: int
    runs: int
    lost: Sequence[str] = ()
    whole_share: float = 1.0


def rehearsal_of(*, by: Person, season: Season, truth: Truth) -> dict[str, Any]:
    """Counts of verdicts over the runs, and the last run's board. Nothing is kept.

    Measures without a margin or a known spread are left out, and named.
    """
    require(by, "see", season)
    system = cast(System, by.units)
    given = gather(season, system)
    if not given.facts.plots:
        raise Refused("too-few-plots", "There is no map yet to rehearse on. Draw one first.")
    names = {t.id: t.name for t in season.trial.treatments.all()}
    shares = {names[id]: k for id, k in truth.margins.items() if id in names}
    invented, left_out = [], []
    for measure in given.measures:
        factor = measure.version.shown_in(system)[1]
        known = known_spread(measure, season)
        mean = known.mean * factor if known else 0.0
        margin = margin_in(measure, mean, factor)
        if known is None or not margin or mean <= 0:
            left_out.append(measure.version.measure.name)
            continue
        sigma = mean * known.cv_percent / 100
        step = -margin if measure.direction == Direction.LOWER else margin
        means = {name: mean + step * shares.get(name, 0.0) for name in names.values()}
        spread = spread_of(sigma, truth.whole_share, given.design)
        invented.append((measure, Invented(asked_of(measure, system, given.names), means, sigma, spread)))
    if not invented:
        raise Refused("bad-specification", "No measure has both a margin and a known spread. Give them in Ask.")
    how = How(method=default_method(season))
    done = rehearse(
        given.facts, given.design, [one for _, one in invented], how, given.base, seed=truth.seed, runs=truth.runs,
        lost=truth.lost,
    )  # fmt: skip
    ids = {name: id for id, name in names.items()}
    return {
        "runs": done.runs,
        "left_out": left_out,
        "measures": [
            {
                "name": one.asked.name,
                "planned": one.asked.planned,
                "cells": [
                    {"treatment": ids[cell.treatment], "counts": dict(done.counts[one.asked.name, cell.treatment]),
                     "verdict": cell.verdict.value, "shown": done.shown.get((one.asked.name, cell.treatment))}
                    for cell in read.cells
                ],
            }
            for (_, one), read in zip(invented, done.last.measures, strict=True)
        ],
    }  # fmt: skip
