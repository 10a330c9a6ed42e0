"""Plan: how many blocks, how large the plots, and the map that chance draws."""

from __future__ import annotations

import secrets
from dataclasses import dataclass

from django.db import transaction

from apercu_core.design.layout import PlotSize
from apercu_core.design.randomisation import randomised_complete_block
from apercu_core.doubts.doubt import PlotFacts
from config import clock
from config.problems import Conflict
from crew.models import Person
from crew.permissions import require
from trials.actions import keep_size, lay_out
from trials.ask import clear_ground, has_records
from trials.models import Season

SEEDS = 2**53
"""Seeds stay below this, so that every program reads them as the same whole number."""


@dataclass(frozen=True, slots=True)
class Plan:
    """`seed` None: chance picks one, which is kept."""

    blocks: int
    size: PlotSize
    seed: int | None = None
    serpentine: bool = False


def draw_plan(*, by: Person, season: Season, plan: Plan) -> Season:
    """Draw the map anew; free before the first record, refused with the reason after it."""
    require(by, "plan", season.trial.workspace)
    with transaction.atomic():
        season = Season.objects.select_for_update(of=("self",)).select_related("trial", "site").get(pk=season.pk)
        if has_records(season):
            raise Conflict(
                "The first records are in, so the map can't be drawn again: figures would lose their plots. "
                "Copy the trial if the plan has to change."
            )
        seed = secrets.randbelow(SEEDS) if plan.seed is None else plan.seed
        treatments = {t.name: t for t in season.trial.treatments.all()}
        drawn = randomised_complete_block(list(treatments), plan.blocks, seed, serpentine=plan.serpentine)
        clear_ground(season)
        plots = [PlotFacts(str(p.number), block_name(p.block), p.treatment, p.position) for p in drawn.plots]
        season.seed, season.algorithm, season.drawn_at = drawn.seed, drawn.algorithm, clock.now()
        season.serpentine = plan.serpentine
        keep_size(season, plan.size, plan.blocks)
        lay_out(season, plots, treatments, plan.size)
    return season


def block_name(number: int) -> str:
    """A, B, … Z, AA, AB, … for 1, 2, …"""
    name = ""
    while number:
        number, letter = divmod(number - 1, 26)
        name = chr(65 + letter) + name
    return name
