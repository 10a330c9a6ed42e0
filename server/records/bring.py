"""Bring a table: a kept upload, confirmed roles → a trial with its observations, or the reason why not."""

from __future__ import annotations

import uuid
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from django.db import transaction

from apercu_core.errors import Refused
from apercu_core.measures.catalogue import definition_named
from apercu_core.tables.assemble import Assembled, MeasureColumn, ReadCell, assemble
from apercu_core.tables.proposal import require_settled
from apercu_core.tables.questions import Answers
from apercu_core.tables.roles import Role
from apercu_core.units import per_area_factor
from apercu_core.words import beyond_bound
from config import clock
from config.client_ids import made_before
from config.turns import take_turns
from crew.models import Person
from crew.permissions import require
from jobs.running import Report
from library.actions import hold_measures
from library.models import MeasureVersion
from records.actions import Entry, record_entries
from records.models import Upload, Visit, VisitMeasure
from records.progress import samples_wanted
from records.uploads import proposal_of, remove
from trials.actions import Names, NewMeasure, NewTrial, create_trial
from trials.models import Season, Site, Trial, TrialMeasure, Unit, UnitKind

AT_ONCE = 2000
"""Figures that are recorded between two reports."""


def no_report(done: int, of: int) -> None:
    """For who doesn't ask how far it is."""


@dataclass(frozen=True, slots=True)
class Brought:
    """What the person confirmed. `measures`: keyed as the table's; `answers`: to what was asked about the table."""

    id: uuid.UUID
    name: str
    roles: Mapping[str, Role]
    answers: Answers
    control: str | None
    allocation: str
    measures: Sequence[NewMeasure]
    question: str = ""


def accept(*, by: Person, upload: uuid.UUID, brought: Brought, report: Report = no_report) -> Trial:
    """Make the trial and its observations in one transaction, and let go of the file.

    The file is gone then; asked again, the answer stays the same. `report`: is told figures recorded, and in all.
    Raises `Refused` while a question about the table is open, `Upload.DoesNotExist` where the person has no such file.
    """
    with transaction.atomic():
        take_turns(brought.id)
        there = made_before(Trial, brought.id, brought_from=upload)
        if there:
            require(by, "plan", there.workspace)
            return there
        return _accept(by, Upload.objects.visible_to(by).get(id=upload), brought, report)


def _accept(by: Person, upload: Upload, brought: Brought, report: Report) -> Trial:
    made = _assembled(upload, brought)
    known = upload.described or {}
    areas = {m["column"]: m.get("area") for m in known.get("measures", ())}
    measures = [with_sheet(one, areas.get(one.key)) for one in brought.measures]
    hold_measures(upload.workspace, [one.name for one in measures])
    site, _ = Site.objects.get_or_create(workspace=upload.workspace, name="Not stated", defaults={"place": ""})
    season = create_trial(
            by=by,
            workspace=upload.workspace,
            new=NewTrial(
                id=brought.id, name=brought.name, plots=made.plots, design=made.design, control=brought.control,
                measures=measures, site=site, question=brought.question, allocation=brought.allocation,
                more_controls=[name for name in known.get("more_controls", ()) if name in made.treatments],
                names=_names(known),
            ),
        )  # fmt: skip
    season.trial.brought_from = upload.id
    season.trial.save(update_fields=["brought_from"])
    _record(by, season, brought, made, reasons_of(known), report)
    remove(upload)
    return season.trial


def _assembled(upload: Upload, brought: Brought) -> Assembled:
    proposal = proposal_of(upload, brought.roles, brought.answers)
    require_settled(proposal)
    made = assemble(proposal)
    if {measure.key for measure in brought.measures} != {measure.key for measure in made.measures}:
        raise Refused("bad-specification", "The measures don’t match the table. Check the page again.")
    if brought.control is not None and brought.control not in made.treatments:
        raise Refused("bad-specification", f"The control {brought.control!r} isn’t one of the table’s treatments.")
    return made


def _names(described: Mapping[str, Any]) -> dict[str, Names]:
    """What a data package says that the page doesn't ask: column → what the question of its measure names."""
    return {
        m["column"]: Names(
            m.get("base", ""), m.get("planned_for", ()), m.get("primary", False), m.get("own_controls", {})
        )
        for m in described.get("measures", ())
    }


def reasons_of(described: Mapping[str, Any]) -> dict[tuple[str, str], str]:
    """Plot and column → why a cell of them is empty, where a data package says which end of the value is known."""
    units = {m["column"]: m["unit"] for m in described.get("measures", ())}
    return {
        (one["plot"], one["measure"]): beyond_bound(one["side"], one["bound"], units[one["measure"]])
        for one in described.get("beyond", ())
        if one["measure"] in units
    }


def _record(
    by: Person, season: Season, brought: Brought, made: Assembled, reasons: Mapping[tuple[str, str], str],
    report: Report,
) -> None:  # fmt: skip
    """One visit for each date of the table, one for all where it has none."""
    units = {unit.label: unit for unit in season.units.filter(kind=UnitKind.PLOT)}
    used = dict(zip((asked.key for asked in brought.measures), _used(season), strict=True))
    visits: dict[str, list[MeasureColumn]] = {}
    for column in made.measures:
        visits.setdefault(column.visit, []).append(column)
    of = sum(len(cells) for samples in made.samples.values() for cells in samples.values())
    done = 0
    for order, (name, columns) in enumerate(visits.items()):
        visit = Visit.objects.create(
            season=season, name=name or "Imported as a table", date=columns[0].date, order=order
        )
        VisitMeasure.objects.bulk_create(
            VisitMeasure(
                visit=visit, measure=used[column.key], order=used[column.key].order,
                samples=_more_than_usual(made.samples[column.key], used[column.key]),
            )
            for column in columns
        )  # fmt: skip
        entries = [
            _entry(units[label], used[column.key].version, number, one, reasons.get((label, column.key)))
            for column in columns
            for label, cells in made.samples[column.key].items()
            for number, one in enumerate(cells, start=1)
        ]
        for first in range(0, len(entries), AT_ONCE):
            report(done, of)
            done += record_entries(by=by, visit=visit, entries=entries[first : first + AT_ONCE], entered_at=clock.now())
    report(of, of)


def _more_than_usual(cells: Mapping[str, Sequence[ReadCell]], measure: TrialMeasure) -> int | None:
    """Samples of a plot in the table, by plot label, so that each stands on the sheet; None: as many as are usual."""
    most = max(map(len, cells.values()), default=0)
    return most if most > samples_wanted(measure) else None


def _entry(unit: Unit, version: MeasureVersion, number: int, read: ReadCell, reason: str | None) -> Entry:
    """As written in the table, but for counts in frames, whose sheet wants the count. `reason`: of an empty cell."""
    # By itself, 1,025 could be read in two ways: it is written as it was read.
    fields = {"value": read.typed if read.typed.isdecimal() else repr(read.value)}
    if version.sheet == "frame-count" and read.value is not None:
        fields = {"count": f"{read.value * version.settings['area'] / (per_area_factor(version.unit) or 1.0):g}"}
    missing = read.value is None
    return Entry(
        uuid.uuid4(), unit, version, number, read.value, read.typed[:80],
        (reason or "missing or unreadable in the table") if missing else "", {} if missing else fields,
    )  # fmt: skip


def _used(season: Season) -> list[TrialMeasure]:
    return list(season.trial.measures.select_related("version").order_by("order"))


def with_sheet(measure: NewMeasure, area: float | None) -> NewMeasure:
    """The measure as a count in frames where a package says what it was counted from; with the ranges of the catalogue
    where its name and unit are one of its own.
    """
    known = definition_named(measure.name, measure.unit)
    catalogue = known.key if known and known.unit == measure.unit else ""
    per_area = per_area_factor(measure.unit) if measure.unit else 1.0
    if area and per_area:
        return replace(measure, catalogue=catalogue, sheet="frame-count", settings={"area": area * per_area})
    return replace(measure, catalogue=catalogue)
