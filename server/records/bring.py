"""Bring a table: a kept upload, confirmed roles → a trial with its observations, or the reason why not."""

from __future__ import annotations

import uuid
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from django.db import transaction

from apercu_core.errors import Refused
from apercu_core.tables.assemble import Assembled, assemble
from apercu_core.tables.roles import Role
from config import clock
from crew.models import Person
from records.actions import Entry, record_entries
from records.models import Upload, Visit, VisitMeasure
from records.uploads import remove, table_of
from trials.actions import Names, NewMeasure, NewTrial, create_trial
from trials.models import Season, Site, UnitKind


@dataclass(frozen=True, slots=True)
class Brought:
    """What the person confirmed. `measures`: keyed by column."""

    id: uuid.UUID
    name: str
    roles: Mapping[str, Role]
    sampled: bool
    control: str | None
    allocation: str
    measures: Sequence[NewMeasure]
    question: str = ""


def check(upload: Upload, roles: Mapping[str, Role], *, sampled: bool) -> Assembled:
    """What the table would become; nothing is kept."""
    return assemble(table_of(upload), roles, sampled=sampled)


def accept(*, by: Person, upload: Upload, brought: Brought) -> Season:
    """Make the trial and its observations in one transaction, and let go of the file."""
    made = check(upload, brought.roles, sampled=brought.sampled)
    if brought.control is not None and brought.control not in made.treatments:
        raise Refused("bad-specification", f"The control {brought.control!r} isn't one of the table's treatments.")
    known = upload.described or {}
    with transaction.atomic():
        there = Season.objects.filter(trial_id=brought.id, trial__workspace=upload.workspace).first()
        if there:
            return there
        site, _ = Site.objects.get_or_create(workspace=upload.workspace, name="Not stated", defaults={"place": ""})
        season = create_trial(
            by=by,
            workspace=upload.workspace,
            new=NewTrial(
                id=brought.id, name=brought.name, plots=made.plots, design=made.design, control=brought.control,
                measures=brought.measures, site=site, question=brought.question, allocation=brought.allocation,
                more_controls=[name for name in known.get("more_controls", ()) if name in made.treatments],
                names=_names(known),
            ),
        )  # fmt: skip
        _record(by, season, brought, made)
    remove(upload)
    return season


def _names(described: Mapping[str, Any]) -> dict[str, Names]:
    """What a data package says that the page doesn't ask: column → what the question of its measure names."""
    return {
        m["column"]: Names(m.get("base", ""), m.get("planned_for", ()), m.get("primary", False))
        for m in described.get("measures", ())
    }


def _record(by: Person, season: Season, brought: Brought, made: Assembled) -> None:
    visit = Visit.objects.create(season=season, name="Brought as a table")
    VisitMeasure.objects.bulk_create(
        VisitMeasure(visit=visit, measure=measure, order=measure.order) for measure in season.trial.measures.all()
    )
    units = {unit.label: unit for unit in season.units.filter(kind=UnitKind.PLOT)}
    used = season.trial.measures.select_related("version").order_by("order")
    entries = [
        Entry(uuid.uuid4(), units[label], measure.version, number, figure.value, figure.typed[:80],
              "" if figure.value is not None else "empty or unreadable in the table")
        for asked, measure in zip(brought.measures, used, strict=True)
        for label, figures in made.samples[asked.key].items()
        for number, figure in enumerate(figures, start=1)
    ]  # fmt: skip
    record_entries(by=by, visit=visit, entries=entries, entered_at=clock.now())
