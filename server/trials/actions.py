"""Changes of trials."""

from __future__ import annotations

import uuid
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from typing import Any

from django.db import transaction

from apercu_core.design.codes import codes_for
from apercu_core.errors import Refused
from apercu_core.field.layout import PlotSize, Rectangle, place_in_rows
from apercu_core.measures.own import OwnMeasure
from apercu_core.protocol.question import with_margin
from apercu_core.trial.facts import PlotFacts
from apercu_core.verdicts.margin import Margin
from config import clock
from config.client_ids import made_before
from config.problems import Conflict
from crew.models import Person, Workspace
from crew.permissions import require
from library.actions import Defined, measure_version
from trials.asked_margins import asked_margins
from trials.models import (
    Allocation,
    Direction,
    GroundPlot,
    MarginKind,
    Planned,
    Season,
    Site,
    Treatment,
    Trial,
    TrialMeasure,
    Unit,
    UnitKind,
)


@dataclass(frozen=True, slots=True)
class NewMeasure:
    """A measure of a new trial; `key` is the caller's name for it."""

    key: str
    name: str
    unit: str
    margin: float | None = None
    margin_kind: str = MarginKind.ABSOLUTE
    direction: str = Direction.NONE
    planned: str = Planned.NONE
    planned_for: Sequence[uuid.UUID] = ()
    control: uuid.UUID | None = None
    primary: bool = False
    expected: float | None = None
    cv_percent: float | None = None
    catalogue: str = ""
    sheet: str = "figure"
    settings: dict[str, float] = field(default_factory=dict)
    own: OwnMeasure | None = None

    @property
    def defined(self) -> Defined:
        return Defined(self.name, self.unit, self.catalogue, self.sheet, self.settings, self.own)


@dataclass(frozen=True, slots=True)
class Names:
    """What a measure's question names, by name: its own control (empty: the trial's), and who is tested as planned.

    `own_controls`: treatment → the control at its own levels of other factors; `base` then says it.
    """

    base: str = ""
    planned_for: Sequence[str] = ()
    primary: bool = False
    own_controls: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class NewTrial:
    """Everything a trial needs. `size` None: no dimensions are known and the map is schematic.

    `more_controls`: beside the first; `names`: measure's key → what its question names.
    """

    id: uuid.UUID
    name: str
    plots: Sequence[PlotFacts]
    design: str
    control: str | None
    measures: Sequence[NewMeasure]
    site: Site
    question: str = ""
    allocation: str = Allocation.UNKNOWN
    size: PlotSize | None = None
    starts: date | None = None
    ends: date | None = None
    seed: int | None = None
    algorithm: str = ""
    codes: dict[str, str] = field(default_factory=dict)
    more_controls: Sequence[str] = ()
    names: Mapping[str, Names] = field(default_factory=dict)


SCHEMATIC = PlotSize(width=3, length=5, gap=0.5, alley=1.5)


def create_trial(*, by: Person, workspace: Workspace, new: NewTrial) -> Season:
    """A trial with its first season, unit tree and ground; the same id again gives the trial that is there."""
    require(by, "plan", workspace)
    for measure in new.measures:
        if measure.margin is not None:
            Margin(measure.margin)
    with transaction.atomic():
        there = made_before(Trial, new.id, workspace_id=workspace.id)
        if there:
            return there.seasons.get()
        trial = Trial.objects.create(
            id=new.id, workspace=workspace, name=new.name, question=new.question, created_by=by,
            created_at=clock.now(),
        )  # fmt: skip
        treatments = _treatments(trial, new)
        for order, measure in enumerate(new.measures):
            names = new.names.get(measure.key, Names())
            kept = TrialMeasure.objects.create(
                trial=trial, version=measure_version(workspace, measure.defined), order=order,
                margin=measure.margin, margin_kind=measure.margin_kind, direction=measure.direction,
                planned=measure.planned, expected=measure.expected, cv_percent=measure.cv_percent,
                control=_control(treatments.get(names.base)), primary=names.primary,
                own_controls=_own_controls(names, treatments),
            )  # fmt: skip
            kept.planned_for.set(treatments[name] for name in names.planned_for if name in treatments)
        season = Season.objects.create(
            trial=trial, site=new.site, design=new.design, starts=new.starts, ends=new.ends, seed=new.seed,
            algorithm=new.algorithm, allocation=new.allocation, drawn_at=clock.now() if new.seed is not None else None,
        )  # fmt: skip
        if new.size:
            keep_size(season, new.size)
        lay_out(season, new.plots, treatments, new.size)
        return season


def _control(named: Treatment | None) -> Treatment | None:
    """A measure can only name what is marked as a control; the person may have chosen another one."""
    return named if named and named.is_control else None


def _own_controls(names: Names, treatments: Mapping[str, Treatment]) -> dict[str, Any]:
    there = [(a, b) for a, b in names.own_controls.items() if a in treatments and b in treatments]
    return {"said": names.base, "of": {str(treatments[a].id): str(treatments[b].id) for a, b in there}} if there else {}


def keep_size(season: Season, size: PlotSize, blocks: int | None = None) -> None:
    season.plot_width_m, season.plot_length_m = size.width, size.length
    season.gap_m, season.alley_m = size.gap, size.alley
    season.blocks = blocks or season.blocks
    season.save()


def _treatments(trial: Trial, new: NewTrial) -> dict[str, Treatment]:
    """The control first, then as listed with their codes, then in the order in which plots name them."""
    names = list(dict.fromkeys([*new.codes, *(plot.treatment for plot in new.plots)]))
    names.sort(key=lambda name: (name != new.control, name not in new.more_controls))
    codes = codes_for(names)
    return {
        name: Treatment.objects.create(
            trial=trial,
            order=order,
            name=name,
            code=new.codes.get(name, codes[order]),
            is_control=name == new.control or name in new.more_controls,
        )
        for order, name in enumerate(names)
    }


def lay_out(
    season: Season, plots: Sequence[PlotFacts], treatments: dict[str, Treatment], size: PlotSize | None,
    places: Sequence[Rectangle] | None = None,
) -> None:  # fmt: skip
    """The unit tree, and a rectangle on the ground for each plot: where the plan has it, else in rows.

    Plots without blocks stand in rows as well. Whole plots and incomplete blocks are named after their block.
    """
    top = Unit.objects.create(season=season, kind=UnitKind.TRIAL, label="trial", order=0)
    place = Unit.objects.create(season=season, parent=top, kind=UnitKind.LOCATION, label=season.site.name[:60], order=0)
    names = list(dict.fromkeys(plot.block for plot in plots if plot.block))
    blocks = _units(season, UnitKind.BLOCK, dict.fromkeys(names, place))
    within: dict[tuple[str, str, str], Unit] = {}
    for kind in (UnitKind.WHOLE_PLOT, UnitKind.INCOMPLETE_BLOCK):
        named = _labels_within(plots, kind)
        made = _units(season, kind, {label: blocks[block] for (block, _), label in named.items()})
        within |= {(kind, *key): made[label] for key, label in named.items()}
    per_row = max(len(treatments), 1)
    ground = GroundPlot.objects.bulk_create(
        GroundPlot(site=season.site, x_m=r.x, y_m=r.y, width_m=r.width, length_m=r.length, schematic=size is None)
        for r in places or _in_rows(plots, names, per_row, size)
    )
    Unit.objects.bulk_create(
        Unit(
            season=season, kind=UnitKind.PLOT, label=plot.label, order=i,
            parent=within.get((UnitKind.WHOLE_PLOT, plot.block, plot.whole_plot))
            or within.get((UnitKind.INCOMPLETE_BLOCK, plot.block, plot.incomplete_block))
            or blocks.get(plot.block, place),
            position=plot.position or (1 if plot.block else i % per_row + 1), ground=ground[i],
            treatment=treatments[plot.treatment], row=_grid(plot.row), column=_grid(plot.column),
        )
        for i, plot in enumerate(plots)
    )  # fmt: skip


def _labels_within(plots: Sequence[PlotFacts], kind: UnitKind) -> dict[tuple[str, str], str]:
    """(block, unit within it) → its label: `A1`, or a longer one where two would be called the same."""
    keys = dict.fromkeys((p.block, str(getattr(p, kind))) for p in plots if getattr(p, kind))
    said = kind.replace("_", " ")
    made: dict[tuple[str, str], str] = {}
    for block, whole in keys:
        as_exported = whole.startswith(f"{block}, ") if block[-1:].isdigit() else whole.startswith(block)
        own = whole if as_exported else f"{block}{whole}"
        longer = (f"{block}, {said} {whole}", *(f"{block}, {said} {whole} ({n})" for n in range(2, len(keys))))
        made[block, whole] = next(label for label in (own, *longer) if label not in made.values())
    return made


def _units(season: Season, kind: UnitKind, parents: dict[str, Unit]) -> dict[str, Unit]:
    made = {
        name: Unit(season=season, parent=parent, kind=kind, label=name, order=order)
        for order, (name, parent) in enumerate(parents.items())
    }
    Unit.objects.bulk_create(made.values())
    return made


def _in_rows(plots: Sequence[PlotFacts], blocks: Sequence[str], per_row: int, size: PlotSize | None) -> list[Rectangle]:
    """Without a size the plots are drawn like the table that they came from: the first block at the top."""
    where = [
        (blocks.index(plot.block) + 1, plot.position or 1) if plot.block else (i // per_row + 1, i % per_row + 1)
        for i, plot in enumerate(plots)
    ]
    if size is None:
        last = max(block for block, _ in where)
        where = [(last + 1 - block, position) for block, position in where]
    return place_in_rows(where, size or SCHEMATIC)


def _grid(number: str) -> int | None:
    return int(number) if number.isdigit() else None


CHANGEABLE = ("margin", "margin_kind", "direction", "planned")


def change_measure(*, by: Person, measure: TrialMeasure, changes: dict[str, Any], reason: str = "") -> TrialMeasure:
    """Change margin, direction or the planned test; the history keeps what was before, and why."""
    require(by, "plan", measure)
    if not reason.strip() and measure.trial.seasons.exclude(results_opened_at=None).exists():
        raise Refused(
            "bad-value",
            "The results were opened already. Give a reason for the change. It is printed with the results.",
        )
    with transaction.atomic():
        trial = Trial.objects.select_for_update(no_key=True).get(pk=measure.trial_id)
        was = TrialMeasure.objects.select_related("version__measure").get(pk=measure.pk)
        locked = (
            TrialMeasure.objects.select_for_update(of=("self",), no_key=True)
            .select_related("version__measure")
            .get(pk=measure.pk)
        )
        for name in CHANGEABLE:
            if name in changes:
                setattr(locked, name, changes[name])
        if locked.margin is not None:
            Margin(locked.margin)
        locked._change_reason = reason or None  # type: ignore[attr-defined]
        locked.save()
        before, after = asked_margins([was]), asked_margins([locked])
        if before and after:  # a sentence that names the margin goes on saying it
            question = with_margin(trial.question, before[0], after[0])[:300]
            if question != trial.question:
                trial.question = question
                trial.save()
    return locked


def season_still_there(by: Person, id: uuid.UUID) -> Season:
    """The season that a job was asked about. Raises `Conflict` where the person can't see it any more."""
    seasons = Season.objects.visible_to(by).select_related("trial__workspace", "site")
    season: Season | None = seasons.prefetch_related("trial__treatments").filter(pk=id).first()
    if season is None:
        raise Conflict("The trial isn’t there any more.")
    return season


def archive(*, by: Person, trial: Trial, archived: bool) -> None:
    """Keep the trial apart from those at work, or among them again; repeating it is harmless."""
    require(by, "plan", trial)
    if archived != (trial.archived_at is not None):
        trial.archived_at = clock.now() if archived else None
        trial.save(update_fields=["archived_at"])
