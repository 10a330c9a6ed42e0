"""Entering figures at a visit: checked by the sheet's rules, kept as typed, and never one over another unseen."""

from __future__ import annotations

import uuid
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Literal, cast

from django.db import transaction
from django.db.models import prefetch_related_objects

from apercu_core.errors import Refused
from apercu_core.measures.catalogue import definition
from apercu_core.measures.sheets import SHEETS, evaluate
from apercu_core.units import System, shown_in
from config import clock
from config.problems import Conflict
from crew.models import Person
from crew.permissions import require
from records.models import Fate, Observation, Visit
from trials.models import Season, TrialMeasure, UnitKind
from trials.zones import Shares, measured_in, shares_in


@dataclass(frozen=True, slots=True)
class Typed:
    """What was typed for one sample of a plot, or why there is nothing to type.

    `part`: the zone, where the measure is taken in zones. `replaces`: the row that the person saw there and means to
    change, None if the place was empty to them.
    """

    id: uuid.UUID
    unit: uuid.UUID
    measure: uuid.UUID
    subsample: int
    fields: Mapping[str, str]
    entered_at: datetime
    part: str = ""
    replaces: uuid.UUID | None = None
    fate: str = ""
    missing_reason: str = ""
    confirmed: bool = False


@dataclass(frozen=True, slots=True)
class Outcome:
    """What became of an entry. Only `saved` and `contested` ones are kept; `other`: the row that stands there."""

    id: uuid.UUID
    state: Literal["saved", "question", "refused", "contested"]
    value: float | None = None
    message: str = ""
    other: Observation | None = None


Key = tuple[uuid.UUID, uuid.UUID, str, int]


def save_entries(*, by: Person, visit: Visit, entries: Sequence[Typed]) -> list[Outcome]:
    """Keep what can be kept, in one bulk write; each entry's outcome comes back in its order.

    Sending an entry again is harmless. A figure that meets another person's is kept beside it as contested.
    """
    require(by, "record", visit.season.trial.workspace)
    prefetch_related_objects([visit], "taken__measure__version")
    measures = {taken.measure_id: taken.measure for taken in visit.taken.all()}
    plots = set(visit.season.units.filter(kind=UnitKind.PLOT).values_list("id", flat=True))
    places = _Places(plots, measures, visit.season, shares_in(visit.season))
    checked = [_check(entry, places, cast(System, by.units)) for entry in entries]
    good = [(entry, row) for entry, row in zip(entries, checked, strict=True) if isinstance(row, Observation)]
    with transaction.atomic():
        guard(visit)
        kept = _keep(by, visit, good)
    return [
        kept[entry.id] if isinstance(row, Observation) else row for entry, row in zip(entries, checked, strict=True)
    ]


def guard(visit: Visit) -> None:
    """One writer at a time per visit.

    Assumes READ COMMITTED: who waited here sees in the next query what the one before wrote, so that a second figure
    for the same place is found and contested rather than slipping in beside the first.
    """
    Visit.objects.select_for_update().get(pk=visit.pk)


@dataclass(frozen=True, slots=True)
class _Places:
    """Where figures of a visit may stand."""

    plots: set[uuid.UUID]
    measures: Mapping[uuid.UUID, TrialMeasure]
    season: Season
    shares: Shares

    def measure_at(self, entry: Typed) -> TrialMeasure | None:
        """The measure, if this is a place where it is taken: a plot, or one of its zones."""
        measure = self.measures.get(entry.measure)
        if measure is None or entry.unit not in self.plots:
            return None
        zones = measured_in(self.season, measure)
        here = [zone for zone in zones if zone in self.shares.get(entry.unit, {})] if zones else [""]
        return measure if entry.part in here else None


def _check(entry: Typed, places: _Places, system: System) -> Observation | Outcome:
    measure = places.measure_at(entry)
    if measure is None:
        return Outcome(
            entry.id, "refused", message="This plot, zone or measure doesn't belong to the visit. Open it again."
        )
    version = measure.version
    row = Observation(
        id=entry.id, unit_id=entry.unit, version=version, part=entry.part, subsample=entry.subsample,
        fields=dict(entry.fields),
        typed=" · ".join(text.strip() for text in entry.fields.values())[:80],
        typed_unit=shown_in(version.unit, system)[0][:40],
        fate=entry.fate, missing_reason=entry.missing_reason.strip(), entered_at=entry.entered_at,
        replaces_id=entry.replaces, confirmed=entry.confirmed,
    )  # fmt: skip
    if entry.fate:
        if not row.missing_reason:
            return Outcome(entry.id, "refused", message="Say why there is no figure: the reason is kept with the plot.")
        row.value = 0.0 if entry.fate == Fate.FAILED else None
        return row
    shipped = definition(version.catalogue)
    try:
        entered = evaluate(
            SHEETS[version.sheet], entry.fields, version.settings, unit=version.unit, system=system,
            plausible=shipped.plausible if shipped else None, possible=shipped.possible if shipped else None,
        )  # fmt: skip
    except Refused as refusal:
        return Outcome(entry.id, "refused", message=refusal.message)
    if entered.questions and not entry.confirmed:
        return Outcome(entry.id, "question", entered.value, " ".join(entered.questions))
    row.value = entered.value
    return row


def _keep(by: Person, visit: Visit, good: Sequence[tuple[Typed, Observation]]) -> dict[uuid.UUID, Outcome]:
    there = {row.id: row for row in Observation.objects.filter(id__in=[entry.id for entry, _ in good])}
    rows = Observation.objects.filter(visit=visit, current=True)
    current = {_key(row): row for row in rows}
    out: dict[uuid.UUID, Outcome] = {}
    new, replaced, at = [], [], clock.now()
    for entry, row in good:
        again = there.get(entry.id)
        if again is not None:
            _require_same(again, visit, row)
            out[entry.id] = _outcome(again, current.get(_key(again)))
            continue
        row.visit, row.by, row.received_at = visit, by, at
        standing = current.get(_key(row))
        if standing is None:
            row.replaces_id = None
        elif entry.replaces == standing.id or standing.taken_back:  # an empty place can't be contested
            row.replaces_id = standing.id
            replaced.append(standing.id)
        else:
            row.current, row.replaces_id = False, None
            row.contested = (row.value, row.fate) != (standing.value, standing.fate)
        if row.current:
            current[_key(row)] = row
        new.append(row)
        there[row.id] = row
        out[entry.id] = _outcome(row, standing)
    if replaced:
        Observation.objects.filter(id__in=replaced).update(current=False)
    Observation.objects.bulk_create(new)
    prefetch_related_objects([o.other for o in out.values() if o.other], "by", "version")
    if new and visit.date is None:
        visit.date = clock.today(visit.season.site.time_zone)
        visit.save(update_fields=["date"])
    return out


def _key(row: Observation) -> Key:
    return row.unit_id, row.version_id, row.part, row.subsample


def _require_same(there: Observation, visit: Visit, row: Observation) -> None:
    if there.visit_id != visit.id or _key(there) != _key(row):
        raise Conflict("An id was used for two figures. Open the visit again and type the last one once more.")


def _outcome(row: Observation, standing: Observation | None) -> Outcome:
    if row.contested:
        return Outcome(row.id, "contested", row.value, "Somebody else has another figure here.", standing)
    return Outcome(row.id, "saved", row.value)


def take_back(*, by: Person, old: Observation, id: uuid.UUID) -> Observation:
    """Undo an entry by a further row: what stood there before it, or nothing. Repeating it is harmless."""
    require(by, "record", old.visit.season.trial.workspace)
    with transaction.atomic():
        guard(old.visit)
        done = Observation.objects.filter(id=id).first()
        if done is not None:
            return done
        old.refresh_from_db()
        if not old.current:
            raise Conflict("This figure was changed in the meantime, so it can't be taken back. Look at it first.")
        before = old.replaces
        Observation.objects.filter(id=old.id).update(current=False)
        return _further(old, by, id, before, "Taken back")


def decide(*, by: Person, contested: Observation, keep: uuid.UUID, id: uuid.UUID, why: str) -> Observation:
    """Settle two people's figures for one place: a further row with the one that stays, and why."""
    require(by, "record", contested.visit.season.trial.workspace)
    if not why.strip():
        raise Refused("bad-value", "Say why this figure is the right one: the reason is kept beside both.")
    with transaction.atomic():
        guard(contested.visit)
        done = Observation.objects.filter(id=id).first()
        if done is not None:
            return done
        contested.refresh_from_db()
        here = {
            "unit": contested.unit_id, "version": contested.version_id, "subsample": contested.subsample,
            "visit": contested.visit_id,
        }  # fmt: skip
        standing = Observation.objects.get(current=True, part=contested.part, **here)
        chosen = {standing.id: standing, contested.id: contested}.get(keep)
        if chosen is None or not contested.contested:
            raise Conflict("This was decided, or changed, in the meantime. Open the visit again.")
        Observation.objects.filter(id__in=[standing.id, contested.id]).update(current=False, contested=False)
        return _further(standing, by, id, chosen, why.strip())


def _further(at: Observation, by: Person, id: uuid.UUID, like: Observation | None, why: str) -> Observation:
    """A current row in the place of `at`, with the figures of `like` (None: nothing)."""
    now = clock.now()
    return Observation.objects.create(
        id=id, unit=at.unit, visit=at.visit, version=at.version, part=at.part, subsample=at.subsample, replaces=at,
        value=like.value if like else None, typed=like.typed if like else "", fields=like.fields if like else {},
        typed_unit=at.typed_unit, fate=like.fate if like else "", confirmed=like.confirmed if like else False,
        missing_reason=like.missing_reason if like else "", why=why, by=by, entered_at=now, received_at=now,
    )  # fmt: skip
