"""A trial made from another: next year's plan, with its layout, carried on on its plots, or crossed with a factor."""

from __future__ import annotations

import secrets
import uuid
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Literal, TypeVar

from django.db import transaction

from apercu_core.design.codes import codes_for, codes_of_levels
from apercu_core.design.crossing import OldPlot, cross_onto
from apercu_core.design.draw import ALGORITHM
from apercu_core.design.rotation import PHASE, names_in_year
from apercu_core.errors import Refused
from apercu_core.field.layout import PlotSize, Rectangle
from apercu_core.trial.facts import PlotFacts
from config import clock
from config.client_ids import made_before
from config.turns import take_turns
from crew.models import Person
from crew.permissions import require
from trials.actions import lay_out
from trials.models import Design, Follows, GroundPlot, Season, Treatment, Trial, TrialMeasure, Unit, UnitKind
from trials.own_controls import own_controls_of

Layout = Literal["none", "copied", "same-plots", "crossed"]
_FOLLOWS: dict[Layout, Follows] = {
    "none": Follows.REPEATS, "copied": Follows.REPEATS, "same-plots": Follows.CONTINUES, "crossed": Follows.CROSSES,
}  # fmt: skip
EARLIER = "earlier treatment"
"""The factor that the old treatments become when a new one is crossed onto them."""

Copied = TypeVar("Copied", Treatment, TrialMeasure)


@dataclass(frozen=True, slots=True)
class NewFactor:
    """What is crossed onto the old plots; `kind`: the aspect that it changes."""

    name: str
    levels: Sequence[str]
    kind: str = ""


def copy_trial(
    *, by: Person, old: Trial, id: uuid.UUID, name: str, layout: Layout, factor: NewFactor | None = None
) -> Trial:
    """The trial again at all its sites, a year later, under the id that the client made; twice is harmless.

    `layout`: without plots; with plots like those, on ground of its own; or on the same plots, which keep their
    treatments, so that what a treatment does over the years is seen; or with a new factor drawn inside each old plot.
    """
    seasons = list(old.seasons.select_related("site"))
    require(by, "plan", old.workspace)
    if not name.strip():
        raise Refused("bad-value", "Give the new trial a name.")
    if layout != "none" and not Unit.objects.filter(season__in=seasons, kind=UnitKind.PLOT).exists():
        raise Refused("bad-value", "This trial has no plots yet. Copy it without its layout.")
    with transaction.atomic():
        take_turns(id)
        there = made_before(Trial, id, follows_id=old.id, follows_as=_FOLLOWS[layout])
        if there is not None:
            return there
        trial = Trial.objects.create(
            id=id, workspace=old.workspace, name=name.strip(), question=old.question, factors=old.factors,
            removed=old.removed, created_by=by, created_at=clock.now(), follows=old, follows_as=_FOLLOWS[layout],
        )  # fmt: skip
        if layout == "crossed":
            _cross(seasons, trial, factor)
            return trial
        year = seasons[0].rotation_year + 1 if layout == "same-plots" else 0
        treatments = _treatments_again(old, trial, seasons[0].rotation_year, year)
        ids = {str(before): str(t.id) for before, t in treatments.items()}
        trial.accepted = [one | {"base": ids[one["base"]], "treatment": ids[one["treatment"]]} for one in old.accepted
                          if one["base"] in ids and one["treatment"] in ids]  # fmt: skip
        trial.save()
        again: dict[str, str] = {}
        for measure in old.measures.all():
            copied = _again(measure, trial)
            copied.control = treatments[measure.control_id] if measure.control_id else None
            if measure.own_controls:
                pairs = measure.own_controls["of"].items()
                copied.own_controls = {**measure.own_controls, "of": {ids[a]: ids[b] for a, b in pairs}}
            copied.save()
            copied.planned_for.set(treatments[t.id] for t in measure.planned_for.all() if t.id in treatments)
            again[str(measure.id)] = str(copied.id)
        for season in seasons:
            new = _season_again(season, trial)
            new.rotation_year = year
            new.by_zone = {again[id]: names for id, names in season.by_zone.items() if id in again}
            if layout == "none":
                new.drawn_at, new.seed, new.draws, new.moved = None, None, [], []
            new.save()
            new.not_grown.set(treatments[t.id] for t in season.not_grown.all() if t.id in treatments)
            if layout != "none":
                _units_again(season, new, treatments, same=layout == "same-plots")
    return trial


def _cross(seasons: Sequence[Season], trial: Trial, factor: NewFactor | None) -> None:
    """Old treatments × the new factor: old plots are the whole plots, on ground that remembers them."""
    if factor is None or not factor.name.strip():
        raise Refused("bad-design", "Name the factor that is crossed onto the plots, and its levels.")
    if factor.name.strip() == EARLIER:
        raise Refused("bad-design", f"The old treatments are called {EARLIER!r}. Give the new factor another name.")
    for season in seasons:
        _require_blocks(season)
    old = seasons[0].trial
    before = list(old.treatments.all())
    trial.factors = [
        {
            "name": EARLIER,
            "levels": [t.name for t in before],
            "whole_strips": True,
            "kind": "",
            "control": next((t.name for t in before if t.is_control), ""),
        },
        {"name": factor.name.strip(), "levels": list(factor.levels), "whole_strips": False, "kind": factor.kind},
    ]
    trial.removed = []
    trial.save()
    made = _crossed_treatments(trial, before, factor)
    for measure in old.measures.select_related("control"):
        copied = _again(measure, trial)
        old_control = measure.control.name if measure.control else None
        copied.control = next((t for t in made.values() if t.levels[EARLIER] == old_control), None)
        copied.own_controls = own_controls_of(trial.factors, list(made.values()), copied.control)
        copied.save()
        planned_for = {t.name for t in measure.planned_for.all()}
        copied.planned_for.set(t for t in made.values() if t.levels[EARLIER] in planned_for)
    for season in seasons:
        _cross_at(season, trial, factor, made)


_NO_BLOCKS_OF_PLOTS = {
    Design.CRD: "is completely randomised, and a split plot without blocks",
    Design.LATIN_SQUARE: "is a Latin square, and one with parted plots",
    Design.SPLIT_PLOT: "has whole plots already, and plots parted a second time",
    Design.STRIP_PLOT: "is a strip plot, and one with parted plots",
    Design.INCOMPLETE_BLOCK: "lies in incomplete blocks, and one with parted plots",
}
"""Designs whose plots have other strata than blocks; parted, they would be read with an error that isn't theirs."""


def _require_blocks(season: Season) -> None:
    """Raises `Refused` where the plots of a season can't become the whole plots of a split plot in blocks."""
    why = _NO_BLOCKS_OF_PLOTS.get(Design(season.design))
    if why and season.units.filter(kind=UnitKind.PLOT).exists():
        raise Refused(
            "bad-design",
            f"The trial at {season.site.name} {why} can’t be analysed yet. A factor can be crossed onto plots that lie "
            "in blocks. Copy the trial with its layout, or plan a new one.",
        )


def _cross_at(season: Season, trial: Trial, factor: NewFactor, made: dict[str, Treatment]) -> None:
    units = list(season.units.plots().select_related("ground"))  # type: ignore[attr-defined]
    if any(u.ground is None or u.ground.schematic for u in units):
        raise Refused(
            "bad-design", "The plots have no position to scale, so they can’t be divided. Lay them out first."
        )
    new = _season_again(season, trial)
    new.zones, new.by_zone = [], {}
    if not units:  # a site that was never drawn
        new.save()
        new.not_grown.set(_not_grown(season, made))
        return
    grounds = {u.label: u.ground for u in units if u.ground}
    old = [
        OldPlot(u.label, u.block, u.treatment.name,
                Rectangle(u.ground.x_m, u.ground.y_m, u.ground.width_m, u.ground.length_m))
        for u in units if u.ground and u.treatment
    ]  # fmt: skip
    seed = secrets.randbelow(2**53)
    parts = cross_onto(old, list(factor.levels), seed)
    new.design, new.whole_factor, new.column_factor = Design.SPLIT_PLOT, EARLIER, ""
    new.seed, new.algorithm, new.drawn_at, new.moved, new.constraints = seed, ALGORITHM, clock.now(), season.moved, []
    new.plot_length_m = parts[0].place.length
    new.draws = [{"seed": seed, "at": clock.now().isoformat()}]
    new.save()
    new.not_grown.set(_not_grown(season, made))
    facts = [PlotFacts(p.label, p.block or "1", f"{p.earlier}, {p.level}", p.position, whole_plot=p.of) for p in parts]
    lay_out(new, facts, made, PlotSize(parts[0].place.width, parts[0].place.length), [p.place for p in parts])
    of = {p.label: grounds[p.of] for p in parts}
    for unit in new.units.filter(kind=UnitKind.PLOT).select_related("ground"):
        if unit.ground:
            unit.ground.part_of = of[unit.label]
            unit.ground.save(update_fields=["part_of"])


def _not_grown(season: Season, made: Mapping[str, Treatment]) -> list[Treatment]:
    """The crossed treatments whose earlier treatment isn't grown at this site."""
    names = {t.name for t in season.not_grown.all()}
    return [t for t in made.values() if t.levels[EARLIER] in names]


def _crossed_treatments(trial: Trial, before: Sequence[Treatment], factor: NewFactor) -> dict[str, Treatment]:
    names = [(old, level, f"{old.name}, {level}"[:160]) for old in before for level in factor.levels]
    factors = {EARLIER: [old.code for old in before], factor.name: factor.levels}
    codes = codes_of_levels(factors, [{EARLIER: old.code, factor.name: level} for old, level, _ in names])
    return {
        name: Treatment.objects.create(
            trial=trial, order=i, name=name, code=codes[i], is_control=old.is_control, details=old.details,
            came_from=old, levels={EARLIER: old.name, factor.name.strip(): level},
        )
        for i, (old, level, name) in enumerate(names)
    }  # fmt: skip


def _treatments_again(old: Trial, trial: Trial, before: int, year: int) -> dict[uuid.UUID, Treatment]:
    """The treatments by the id of the old one; in a rotation called after what stands in their plots that year."""
    rows = list(old.treatments.all())
    phase = next((f for f in old.factors if f.get("kind") == PHASE), None)
    made = {t.id: _again(t, trial) for t in rows}
    if phase and year != before:
        starts = [(t.name, t.levels.get(phase["name"], "")) for t in rows]
        names = names_in_year(starts, phase["levels"], before, year)
        for n, t in enumerate(made.values()):  # out of each other's way: they exchange their names
            Treatment.objects.filter(pk=t.pk).update(name=f"~{t.pk}", code=f"~{n}")
        for t, name, code in zip(made.values(), names, codes_for(names), strict=True):
            t.name, t.code = name[:160], code
            t.save()
    return made


def _again(row: Copied, trial: Trial) -> Copied:
    copied = type(row).objects.get(pk=row.pk)
    copied.pk, copied.trial, copied.came_from_id = uuid.uuid4(), trial, row.pk
    copied._state.adding = True
    copied.save()
    return copied


def _season_again(season: Season, trial: Trial) -> Season:
    new = Season.objects.get(pk=season.pk)
    new.pk, new.trial = uuid.uuid4(), trial
    new._state.adding = True
    new.results_opened_at, new.results_opened_by, new.results_how = None, None, None
    new.reweighed, new.taken_out = [], []
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
