"""Rehearse a drawn plan: invent the season, and see the board that it would give. Many seasons are long work: a job."""

from __future__ import annotations

import time
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from typing import Any, cast
from uuid import UUID

from apercu_core.errors import Refused
from apercu_core.reading.asked import How
from apercu_core.reading.planned_board import spread_of
from apercu_core.reading.rehearsal import MOST_SEASONS, Invented, Rehearsal, rehearse, require_plots
from apercu_core.units import System
from crew.models import Person
from crew.permissions import require
from jobs.models import Job
from jobs.running import KINDS, JobKind, Report, Stopped, ask_for
from readings.actions import default_method
from readings.bridge import Given, asked_of, gather
from readings.outlook import known_spread, margin_in
from trials.actions import season_still_there
from trials.models import Direction, Season, TrialMeasure

_FIRST, _SOON = 5, 0.5
"""Seasons before the first report, doubled while so many take less than half a second."""


@dataclass(frozen=True, slots=True)
class Truth:
    """`margins`: treatment → how many margins it truly lies beyond the control, in the wanted direction."""

    margins: Mapping[UUID, float]
    seed: int
    seasons: int
    lost: Sequence[str] = ()
    whole_share: float = 1.0


def ask_to_rehearse(*, by: Person, season: Season, truth: Truth) -> Job:
    """Queue the rehearsal. Raises `Refused` where there is nothing to rehearse."""
    require(by, "see", season)
    _invented(by, season, truth)
    said = {**asdict(truth), "margins": {str(id): margins for id, margins in truth.margins.items()}}
    asked = {"season": str(season.pk), "truth": said}
    return ask_for("rehearsal", by=by, workspace=season.trial.workspace, asked=asked)


def rehearse_season(by: Person, asked: Mapping[str, Any], report: Report) -> dict[str, Any]:
    """Counts of verdicts over the seasons, and the last one's board; who stops it gets the seasons read so far."""
    season = season_still_there(by, asked["season"])
    said = dict(asked["truth"])
    truth = Truth(**{**said, "margins": {UUID(id): margins for id, margins in said["margins"].items()}})
    invented, left_out, given = _invented(by, season, truth)
    how = How(method=default_method(season))
    done: Rehearsal | None = None
    at, step = 0, _FIRST
    while at < truth.seasons:
        numbers, begun = range(at, min(at + step, truth.seasons)), time.monotonic()
        found = rehearse(
            given.facts, given.design, [one for _, one in invented], how, given.base, seed=truth.seed,
            seasons=numbers, lost=truth.lost,
        )  # fmt: skip
        done = done.with_more(found) if done else found
        at = numbers.stop
        step = min(2 * step, MOST_SEASONS) if time.monotonic() - begun < _SOON else step
        try:
            report(at, truth.seasons)
        except Stopped:
            break
    assert done is not None
    return {"left_out": left_out, **_shape(season, invented, done)}


def _invented(by: Person, season: Season, truth: Truth) -> tuple[list[tuple[TrialMeasure, Invented]], list[str], Given]:
    """What is true of each measure; those without a margin or a known spread are left out, and named."""
    system = cast(System, by.units)
    given = gather(season, system)
    if not given.facts.plots:
        raise Refused("too-few-plots", "There is no plot map yet. Randomise the plots first.")
    require_plots(given.facts, truth.lost)
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
    return invented, left_out, given


def _shape(season: Season, invented: Sequence[tuple[TrialMeasure, Invented]], done: Rehearsal) -> dict[str, Any]:
    ids = {t.name: str(t.id) for t in season.trial.treatments.all()}
    return {
        "seasons": done.seasons,
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


KINDS["rehearsal"] = JobKind(rehearse_season, "see", reads_what_changes=True)
