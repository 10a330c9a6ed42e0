"""Plan: how many blocks, how large the plots, and the map that chance draws."""

from __future__ import annotations

import secrets
import uuid
from collections.abc import Sequence
from dataclasses import asdict, dataclass, replace
from typing import cast

from django.db import transaction

from apercu_core.design.constraints import Constraint
from apercu_core.design.draw import ALGORITHM, AS_LISTED
from apercu_core.design.facts import facts_of
from apercu_core.design.incomplete_blocks import usual_size
from apercu_core.design.plan_file import PlacedPlot, PlanAsked, PlannedDesign, PlannedSite
from apercu_core.design.plan_file import draw_plan as drawn_plan
from apercu_core.design.proposal import FactorFacts, strips_lost
from apercu_core.design.treatments import Combination
from apercu_core.errors import Refused
from apercu_core.field.arrangement import Arrangement, propose_arrangement
from apercu_core.field.layout import PlotSize
from apercu_core.field.machines import fit_width
from apercu_core.units import System
from config import clock
from config.problems import Conflict
from crew.models import Person
from crew.permissions import require
from trials.actions import keep_size, lay_out
from trials.ask import clear_ground
from trials.equipment import machines_of
from trials.models import Allocation, Season, Treatment, Trial
from trials.recorded import require_unrecorded
from trials.taken_out import only_knowingly

SEEDS = 2**53
"""Seeds stay below this, so that every program reads them as the same whole number."""


@dataclass(frozen=True, slots=True)
class PlanChoices:
    """`seed` None: chance picks one, which is kept. `whole_factor`, `column_factor`: names of the trial's factors.

    `block_size`: the most plots in an incomplete block, None for the usual number.
    `not_grown`: treatments that aren't grown at this site. `systematic`: they stand as listed, without chance.
    `side_by_side`: how blocks lie to each other, None as is proposed.
    `demonstration`: one plot of each is enough; neither of the two is ever tested. `id`: of this draw, made by the
    client, so that asking twice draws once.
    """

    blocks: int
    size: PlotSize
    seed: int | None = None
    serpentine: bool = False
    design: PlannedDesign = "rcbd"
    whole_factor: str = ""
    column_factor: str = ""
    block_size: int | None = None
    constraints: tuple[Constraint, ...] = ()
    not_grown: Sequence[uuid.UUID] = ()
    systematic: bool = False
    demonstration: bool = False
    id: uuid.UUID | None = None
    side_by_side: bool | None = None


def draw_plan(*, by: Person, season: Season, plan: PlanChoices, although: bool = False) -> Season:
    """Draw the map anew; free before the first record, refused with the reason after it.

    `although`: somebody has taken out the map that there is (`TakenOut` else).
    """
    require(by, "plan", season)
    plan = settled(plan)
    with transaction.atomic():
        season = (
            Season.objects.select_for_update(of=("self",), no_key=True)
            .select_related("trial__workspace", "site")
            .get(pk=season.pk)
        )
        if plan.id and any(one.get("id") == str(plan.id) for one in season.draws):
            return season
        require_unrecorded(season, "the plots can’t be randomised again. Copy the trial if the plan has to change.")
        require_own_plots(season)
        fit = fit_width(plan.size.width, machines_of(season.trial.workspace), cast(System, by.units))
        if fit.too_narrow:
            raise Refused("bad-value", fit.too_narrow)
        seed = secrets.randbelow(SEEDS) if plan.seed is None else plan.seed
        plan = replace(plan, side_by_side=arrangement_of(season, plan, seed).side_by_side)
        placed = placed_plots(season, plan, seed)
        with only_knowingly([season], although):
            clear_ground(season)
            _keep_drawn(season, plan, placed, seed, by)
    return season


def _keep_drawn(season: Season, plan: PlanChoices, placed: Sequence[PlacedPlot], seed: int, by: Person) -> None:
    season.design, season.whole_factor, season.column_factor = plan.design, plan.whole_factor, plan.column_factor
    season.block_size = block_size_of(plan, len(grown_in(season.trial, plan.not_grown)))
    season.seed, season.drawn_at = seed, clock.now()
    season.algorithm = AS_LISTED if plan.systematic else ALGORITHM
    season.serpentine, season.side_by_side = plan.serpentine, bool(plan.side_by_side)
    season.constraints = [asdict(constraint) for constraint in plan.constraints]
    season.not_grown.set(t for t in season.trial.treatments.all() if t.id in plan.not_grown)
    season.moved = []  # chance has the last word again
    season.allocation = Allocation.SYSTEMATIC if plan.systematic else Allocation.DRAWN
    drawn = {"seed": seed, "at": clock.now().isoformat(), "by": str(by.id), "id": str(plan.id or uuid.uuid4())}
    season.draws = [*season.draws, drawn]
    keep_size(season, plan.size, plan.blocks)
    treatments = {t.name: t for t in season.trial.treatments.all()}
    facts = facts_of((one.plot for one in placed), plan.design)
    lay_out(season, facts, treatments, plan.size, [one.place for one in placed])


def require_own_plots(season: Season) -> None:
    """Raises `Conflict` where the plots are parts of an earlier trial's: what those got can't be drawn again."""
    if season.units.filter(ground__part_of__isnull=False).exists():
        raise Conflict(
            "These plots are parts of plots of an earlier trial, and what those were given can’t be changed any more. "
            "Cross the factor onto the earlier trial again if you want another randomisation."
        )


def settled(plan: PlanChoices) -> PlanChoices:
    """A demonstration is a row of single plots, whatever design was chosen before; other plans stay as they are."""
    return replace(plan, design="rcbd", whole_factor="", column_factor="") if plan.demonstration else plan


def block_size_of(plan: PlanChoices, treatments: int) -> int:
    """Plots in an incomplete block: as the plan says, else the usual number; 0 for other designs."""
    if plan.design != "incomplete_block":
        return 0
    return plan.block_size or usual_size(treatments)


def placed_plots(season: Season, plan: PlanChoices, seed: int) -> tuple[PlacedPlot, ...]:
    """What the core draws from the treatments grown here. Raises `Refused` where the design can't carry them.

    Where the trial has several sites, the numbers of plots begin with the site's.
    """
    trial = season.trial
    treatments = combinations_of(trial, plan.not_grown)
    factors = {str(f["name"]): tuple(f["levels"]) for f in trial.factors}
    for wanted, what in ((plan.whole_factor, "whole plots"), (plan.column_factor, "columns")):
        if wanted and wanted not in factors:
            raise Refused("bad-specification", f"The factor of {what}, {wanted!r}, isn’t a factor of this trial.")
    if plan.design in ("split_plot", "strip_plot") and not plan.whole_factor:
        raise Refused("bad-specification", f"A {_SAID[plan.design]} needs factors: name them and their levels in Ask.")
    if lost := strips_lost(factor_facts(trial), plan.design, plan.whole_factor, plan.column_factor):
        raise Refused("bad-specification", lost)
    blocks = len(treatments) if plan.design == "latin_square" else plan.blocks
    several = trial.seasons.count() > 1
    site = PlannedSite("", blocks, None, season.number if several else None)
    asked = PlanAsked(
        plan.design, treatments, factors, (site,), plan.size, seed, plan.whole_factor, plan.whole_factor,
        plan.column_factor, plan.constraints, plan.serpentine, plan.systematic, plan.demonstration,
        block_size_of(plan, len(treatments)), bool(plan.side_by_side),
    )  # fmt: skip
    return drawn_plan(asked)


def arrangement_of(season: Season, plan: PlanChoices, seed: int, system: System = "metric") -> Arrangement:
    """How the plan's blocks lie to each other, as the person chose or as is proposed for this field."""
    plots = [one.plot for one in placed_plots(season, plan, seed)]
    return propose_arrangement(plots, plan.size, plan.design, _room(season), system, plan.side_by_side)


def _room(season: Season) -> tuple[float, float] | None:
    """Width and length of the field inside its headland, m."""
    outline, headland = season.site.field.get("outline") or [], season.site.field.get("headland") or 0.0
    if len(outline) < 3:
        return None
    ends = [max(p[i] for p in outline) - min(p[i] for p in outline) - 2 * headland for i in (0, 1)]
    return ends[0], ends[1]


def factor_facts(trial: Trial) -> list[FactorFacts]:
    return [FactorFacts(f["name"], len(f["levels"]), f["whole_strips"]) for f in trial.factors]


_SAID = {"split_plot": "split plot", "strip_plot": "strip plot"}


def combinations_of(trial: Trial, not_grown: Sequence[uuid.UUID] = ()) -> tuple[Combination, ...]:
    """The trial's treatments but those that are left out, their levels in the order of its factors."""
    names = [f["name"] for f in trial.factors]
    grown = grown_in(trial, not_grown)
    return tuple(
        Combination(t.name, tuple((name, t.levels[name]) for name in names if name in t.levels)) for t in grown
    )


def grown_in(trial: Trial, not_grown: Sequence[uuid.UUID]) -> list[Treatment]:
    """The treatments without those that are left out. Raises `Refused` where a control is."""
    for treatment in trial.treatments.all():
        if treatment.is_control and treatment.id in not_grown:
            raise Refused(
                "bad-design",
                f"{treatment.name} is the control, so every site has to grow it. Select it again.",
            )
    return [t for t in trial.treatments.all() if t.id not in not_grown]
