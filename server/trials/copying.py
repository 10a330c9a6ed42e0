"""A trial made from another: as next year's plan, with its layout, or carried on on the very same plots."""

from __future__ import annotations

import uuid
from datetime import date
from typing import Literal, TypeVar

from django.db import transaction

from apercu_core.errors import Refused
from config import clock
from config.problems import Conflict
from crew.models import Person
from crew.permissions import require
from trials.models import GroundPlot, Season, Treatment, Trial, TrialMeasure, Unit, UnitKind

Layout = Literal["none", "copied", "same-plots"]
Copied = TypeVar("Copied", Treatment, TrialMeasure)


def copy_trial(*, by: Person, season: Season, id: uuid.UUID, name: str, layout: Layout) -> Season:
    """The trial again, a year later, under the id that the client made; sending it twice is harmless.

    `layout`: without plots; with plots like those, on ground of its own; or on the same plots, which keep their
    treatments, so that what a treatment does over the years is seen.
    """
    old = season.trial
    require(by, "plan", old.workspace)
    if not name.strip():
        raise Refused("bad-value", "Give the new trial a name.")
    if layout != "none" and not season.units.filter(kind=UnitKind.PLOT).exists():
        raise Refused("bad-value", "This trial has no plots yet. Copy it without its layout.")
    with transaction.atomic():
        there = Trial.objects.select_for_update().filter(id=id).first()
        if there is not None:
            if there.workspace_id != old.workspace_id:
                raise Conflict("This trial belongs to another workspace.")
            return Season.objects.get(trial=there)
        trial = Trial.objects.create(
            id=id, workspace=old.workspace, name=name.strip(), question=old.question, factors=old.factors,
            removed=old.removed, created_by=by, created_at=clock.now(), allocation=old.allocation,
        )  # fmt: skip
        treatments = {t.id: _again(t, trial) for t in old.treatments.all()}
        ids = {str(before): str(t.id) for before, t in treatments.items()}
        trial.accepted = [one | {"base": ids[one["base"]], "treatment": ids[one["treatment"]]} for one in old.accepted
                          if one["base"] in ids and one["treatment"] in ids]  # fmt: skip
        trial.save()
        for measure in old.measures.all():
            copied = _again(measure, trial)
            copied.control = treatments[measure.control_id] if measure.control_id else None
            copied.planned_for = [ids[id] for id in measure.planned_for if id in ids]
            copied.save()
        new = _season_again(season, trial)
        if layout != "none":
            _units_again(season, new, treatments, same=layout == "same-plots")
        else:
            new.drawn_at, new.seed, new.draws, new.moved = None, None, [], []
            new.save()
    return new


def _again(row: Copied, trial: Trial) -> Copied:
    copied = type(row).objects.get(pk=row.pk)
    copied.pk, copied.trial = uuid.uuid4(), trial
    copied._state.adding = True
    copied.save()
    return copied


def _season_again(season: Season, trial: Trial) -> Season:
    new = Season.objects.get(pk=season.pk)
    new.pk, new.trial = uuid.uuid4(), trial
    new._state.adding = True
    new.starts, new.ends = _year_later(season.starts), _year_later(season.ends)
    new.save()
    return new


def _year_later(day: date | None) -> date | None:
    if day is None:
        return None
    try:
        return day.replace(year=day.year + 1)
    except ValueError:  # 29 February
        return day.replace(year=day.year + 1, day=28)


def _units_again(season: Season, new: Season, treatments: dict[uuid.UUID, Treatment], *, same: bool) -> None:
    units = list(season.units.select_related("ground").order_by("order", "id"))
    made: dict[uuid.UUID, Unit] = {}
    for kind in UnitKind.values:  # parents before their children
        for unit in (one for one in units if one.kind == kind):
            ground = unit.ground
            if ground is not None and not same:
                ground = GroundPlot.objects.create(
                    site=ground.site, x_m=ground.x_m, y_m=ground.y_m, width_m=ground.width_m, length_m=ground.length_m,
                    schematic=ground.schematic,
                )  # fmt: skip
            made[unit.id] = Unit.objects.create(
                season=new, parent=made[unit.parent_id] if unit.parent_id else None, kind=unit.kind, label=unit.label,
                order=unit.order, position=unit.position, row=unit.row, column=unit.column, ground=ground,
                treatment=treatments[unit.treatment_id] if unit.treatment_id else None,
            )  # fmt: skip
