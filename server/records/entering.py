"""Entering figures at a visit: checked by the sheet's rules, kept as typed, and never one over another unseen."""

from __future__ import annotations

import math
import uuid
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any, Literal, cast

from django.db import transaction
from django.db.models import Q, prefetch_related_objects
from django.dispatch import Signal

from apercu_core.errors import Refused
from apercu_core.measures.entries import evaluate
from apercu_core.measures.neighbours import Expected
from apercu_core.numbers import is_missing
from apercu_core.units import System
from apercu_core.words import beyond_bound, listed
from config import clock
from config.client_ids import IdInUse, made_before
from config.problems import Conflict
from crew.models import Person
from crew.permissions import require
from library.models import MeasureVersion
from records.models import MissingStatus, Observation, Source, Visit
from records.neighbours import Spot, expected_at
from records.progress import Progress, progress_in, taken_with_measures
from trials.measure_parts import add_parts, parts_of
from trials.models import Season, TrialMeasure, Unit, UnitKind
from trials.recorded import share_season
from trials.zones import Shares, measured_in, shares_in

values_changed = Signal()
"""Sent with `season` (its id) once a change of a visit's values is committed."""


@dataclass(frozen=True, slots=True)
class Typed:
    """What was typed for one sample of a plot, or why there is nothing to type.

    `zone`: where the measure is taken in zones. `component`: which of its kind, where it is told by parts.
    `replaces`: the row that the person saw there and means to
    change, None if the place was empty to them. `units`: in which the values were typed, so that an entry that waited
    on a device means what its field showed; empty: the person's own.
    """

    id: uuid.UUID
    unit: uuid.UUID
    measure: uuid.UUID
    sample: int
    fields: Mapping[str, str]
    entered_at: datetime
    zone: str = ""
    component_kind: str = ""
    component: str = ""
    units: str = ""
    replaces: uuid.UUID | None = None
    missing_status: str = ""
    missing_reason: str = ""
    confirmed: bool = False
    blind: bool | None = None


@dataclass(frozen=True, slots=True)
class Outcome:
    """What became of an entry. Only `saved` and `conflict` ones are kept; `other`: the row that stands there. `bound`:
    where there is no value since it is more, or less, than this.
    """

    id: uuid.UUID
    state: Literal["saved", "question", "refused", "conflict"]
    value: float | None = None
    bound: float | None = None
    message: str = ""
    other: Observation | None = None


@dataclass(frozen=True, slots=True)
class Saved:
    """What became of each entry, in their order, and how far the visit has come."""

    outcomes: list[Outcome]
    progress: Progress


UNDONE, REDONE = "Undone", "Redone"
GUESS = "guess"
"""Beside the fields of a sheet: what somebody took it for before the count. It is kept and enters no value."""
Key = tuple[uuid.UUID, uuid.UUID, str, str, str, int]


def save_entries(
    *, by: Person, visit: Visit, entries: Sequence[Typed], walked: bool = False
) -> Saved:  # fmt: skip
    """Keep what can be kept, in one bulk write; the visit stays locked until it is counted.

    Sending an entry again is harmless. A figure that meets another person's is kept beside it, in conflict. `walked`:
    the times of the entries are sure, and say when the visit was walked.
    """
    require(by, "record", visit)
    with transaction.atomic(savepoint=False):
        lock_visit(visit)
        plots = dict(Unit.objects.filter(season=visit.season_id, kind=UnitKind.PLOT).values_list("id", "treatment_id"))
        prefetch_related_objects([visit], taken_with_measures())
        measures = {taken.measure_id: taken.measure for taken in visit.taken.all()}
        beside = expected_at(visit, {entry.unit for entry in entries} & set(plots), plots)
        places = _Places(set(plots), measures, visit.season, shares_in(visit.season), beside)
        checked = [_check(entry, places, cast(System, entry.units or by.units)) for entry in entries]
        good = [(entry, row) for entry, row in zip(entries, checked, strict=True) if isinstance(row, Observation)]
        kept = _keep(by, visit, good, walked)
        progress = progress_in(visit, len(plots), places.shares, held=True)
    return Saved(
        [kept[entry.id] if isinstance(row, Observation) else row for entry, row in zip(entries, checked, strict=True)],
        progress,
    )


def lock_visit(visit: Visit) -> None:
    """One writer at a time per visit, and none while the plot map or Ask changes (`trials.recorded`).

    Assumes READ COMMITTED: who waited here sees in the next query what the one before wrote, so that a second figure
    for the same place is found in conflict rather than slipping in beside the first. What was read of the visit before
    is asked anew.
    """
    share_season(visit.season_id)
    held = Visit.objects.select_for_update(of=("self",), no_key=True).select_related("season__site")
    try:
        visit.refresh_from_db(from_queryset=held)
    except Visit.DoesNotExist:
        raise Conflict("This visit was removed in the meantime. Open the trial again.") from None
    visit.counted = None  # what was read of it before may change now
    season = visit.season_id
    transaction.on_commit(lambda: values_changed.send(sender=Visit, season=season))


@dataclass(frozen=True, slots=True)
class _Places:
    """Where figures of a visit may stand."""

    plots: set[uuid.UUID]
    measures: Mapping[uuid.UUID, TrialMeasure]
    season: Season
    shares: Shares
    beside: Mapping[Spot, Expected]

    def measure_at(self, entry: Typed) -> TrialMeasure | None:
        """The measure, if this is a place where it is taken: a plot, or one of its zones."""
        measure = self.measures.get(entry.measure)
        if measure is None or entry.unit not in self.plots:
            return None
        zones = measured_in(self.season, measure)
        here = [zone for zone in zones if zone in self.shares.get(entry.unit, {})] if zones else [""]
        parts = measure.version.entry_sheet.parts
        if entry.component_kind != parts or bool(entry.component) != bool(parts):
            return None
        return measure if entry.zone in here else None


def _check(entry: Typed, places: _Places, system: System) -> Observation | Outcome:
    measure = places.measure_at(entry)
    if measure is None:
        return Outcome(
            entry.id, "refused", message="This plot, zone or measure doesn’t belong to the visit. Open it again."
        )
    version = measure.version
    unknown = set(entry.fields) - {field.key for field in version.entry_sheet.fields} - {GUESS}
    if unknown:
        said = listed(sorted(unknown), 4)
        return Outcome(
            entry.id, "refused", message=f"{version.measure.name} has no field {said!r}. Open the visit again."
        )
    row = Observation(
        id=entry.id, unit_id=entry.unit, version_id=version.id, zone=entry.zone,
        component_kind=entry.component_kind, component=entry.component, sample=entry.sample, source=Source.PERSON,
        entered_at=entry.entered_at, blind=entry.blind,
    )  # fmt: skip
    wrong = put_in(
        row,
        version,
        entry.fields,
        system,
        missing_status=entry.missing_status,
        reason=entry.missing_reason,
        confirmed=entry.confirmed,
        expected=places.beside.get((entry.unit, version.id, entry.zone)),
    )
    return wrong or row


def put_in(
    row: Observation, version: MeasureVersion, fields: Mapping[str, str], system: System, *, missing_status: str = "",
    reason: str = "", confirmed: bool = False, expected: Expected | None = None,
) -> Outcome | None:  # fmt: skip
    """Fill a row with what was typed, by the sheet's rules, or say why not: the one way in for every row.

    `system`: whose units a bare figure is in; `expected`: what stands beside it.
    """
    row.fields, row.confirmed, row.missing_status, row.missing_reason = (
        dict(fields),
        confirmed,
        missing_status,
        reason.strip(),
    )
    row.typed = " · ".join(text.strip() for key, text in fields.items() if key != GUESS)[:80]
    row.units = system
    if missing_status:
        if not row.missing_reason:
            return Outcome(row.id, "refused", message="Say why there is no value: the reason is kept with the plot.")
        if missing_status == MissingStatus.FAILED and not version.zero_when_failed:
            return Outcome(
                row.id, "refused",
                message=f"{version.measure.name} isn’t measured on the cover itself, so it isn’t zero where the cover "
                "failed. Count it, or mark it as not taken.",
            )  # fmt: skip
        row.value = 0.0 if missing_status == MissingStatus.FAILED else None
        return None
    ranges = version.ranges
    try:
        entered = evaluate(
            version.entry_sheet, fields, version.settings, unit=version.unit, system=system,
            plausible=ranges.plausible, possible=ranges.possible, expected=expected,
        )  # fmt: skip
    except Refused as refusal:
        return Outcome(row.id, "refused", message=refusal.message)
    if entered.questions and not confirmed:
        return Outcome(row.id, "question", entered.value, message=" ".join(entered.questions))
    row.value, row.bound = entered.value, entered.bound
    if entered.bound is not None:
        row.missing_reason = beyond_bound(version.entry_sheet.beyond_side, entered.bound, version.unit)
    return None


def _keep(
    by: Person, visit: Visit, good: Sequence[tuple[Typed, Observation]], walked: bool
) -> dict[uuid.UUID, Outcome]:
    ids, units = {entry.id for entry, _ in good}, {entry.unit for entry, _ in good}
    found = Observation.objects.filter(Q(id__in=ids) | Q(visit=visit, current=True, unit__in=units))
    there = {row.id: row for row in found if row.id in ids}
    current = {_key(row): row for row in found if row.current and row.visit_id == visit.id}
    out: dict[uuid.UUID, Outcome] = {}
    new, replaced, at = [], [], clock.now()
    for entry, row in good:
        again = there.get(entry.id)
        if again is not None:
            _require_same(again, visit, row)
            out[entry.id] = _outcome(again, current.get(_key(again)))
            continue
        row.visit_id, row.by_id, row.received_at = visit.id, by.pk, at
        standing = current.get(_key(row))
        if standing is None:
            row.replaces_id = None
        elif entry.replaces == standing.id or standing.is_empty:  # an empty place has no conflict
            row.replaces_id = standing.id
            replaced.append(standing.id)
        else:
            row.current, row.replaces_id = False, None
            row.in_conflict = not _alike(row, standing)
        if row.current:
            current[_key(row)] = row
        new.append(row)
        there[row.id] = row
        out[entry.id] = _outcome(row, standing)
    _list_new_parts(visit, new)
    if replaced:
        Observation.objects.filter(id__in=replaced).update(current=False)
    if new:
        Observation.objects.bulk_create(new)
    prefetch_related_objects([o.other for o in out.values() if o.other], "by", "version")
    if new and visit.date is None:
        zone = visit.season.site.time_zone
        first = min(row.entered_at for row in new) if walked else at
        visit.date = min(clock.date_at(first, zone), clock.today(zone))  # it may wait for days to be sent
        visit.save(update_fields=["date"])
    return out


def _list_new_parts(visit: Visit, rows: Sequence[Observation]) -> None:
    """A species that was met in the field comes on the list of its measure."""
    by_version: dict[uuid.UUID, list[str]] = {}
    for row in rows:
        if row.component:
            by_version.setdefault(row.version_id, []).append(row.component)
    for taken in visit.taken.all() if by_version else ():
        names = by_version.get(taken.measure.version_id, [])
        if set(names) - {part.name for part in parts_of(taken.measure)}:
            add_parts(taken.measure, names)


def _alike(row: Observation, standing: Observation) -> bool:
    """Whether two people found the same, in whatever units they typed it."""
    if row.value is None or standing.value is None:
        return (row.value, row.missing_status, row.bound) == (standing.value, standing.missing_status, standing.bound)
    return row.missing_status == standing.missing_status and math.isclose(
        row.value, standing.value, rel_tol=1e-9, abs_tol=1e-12
    )


def _key(row: Observation) -> Key:
    return row.unit_id, row.version_id, row.zone, row.component_kind, row.component, row.sample


def _place(row: Observation) -> dict[str, Any]:
    """Where a row stands, by field."""
    return {
        "visit_id": row.visit_id, "unit_id": row.unit_id, "version_id": row.version_id, "zone": row.zone,
        "component_kind": row.component_kind, "component": row.component, "sample": row.sample,
    }  # fmt: skip


def _require_same(there: Observation, visit: Visit, row: Observation) -> None:
    if there.visit_id != visit.id or _key(there) != _key(row) or there.decides_id or there.stands_for_id:
        raise IdInUse


def _outcome(row: Observation, standing: Observation | None) -> Outcome:
    if row.in_conflict:
        own = standing is not None and standing.by_id == row.by_id
        said = "You have entered another value here." if own else "Somebody else has another value here."
        return Outcome(row.id, "conflict", row.value, row.bound, said, standing)
    return Outcome(row.id, "saved", row.value, row.bound)


def undo(*, by: Person, old: Observation, id: uuid.UUID) -> Observation:
    """Undo one step, by a further row that stands for the state before, down to the empty place.

    Undoing a decision opens its conflict again. Repeating it is harmless.
    """
    require(by, "record", old)
    with transaction.atomic():
        lock_visit(old.visit)
        done = made_before(Observation, id, replaces_id=old.id, why=UNDONE)
        if done is not None:
            return done
        old.refresh_from_db()
        if not old.current:
            raise Conflict("This value was changed in the meantime, so it can’t be undone. Look at it first.")
        state = _state(old)
        if state is None:
            raise Conflict("There is nothing left to undo here.")
        before = _state(state.replaces) if state.replaces else None
        if state.decides_id:
            Observation.objects.filter(id=state.decides_id).update(in_conflict=True)
        return _further(old, by, id, before, UNDONE)


def redo(*, by: Person, at: Observation, id: uuid.UUID) -> Observation:
    """Go one step forward again: to the newest state that was entered on top of this one. Repeating it is harmless."""
    require(by, "record", at)
    with transaction.atomic():
        lock_visit(at.visit)
        done = made_before(Observation, id, **_place(at), why=REDONE)
        if done is not None:
            return done
        at.refresh_from_db()
        later = _next_state(at)
        if not at.current or later is None:
            raise Conflict("There is nothing to redo here.")
        if later.decides_id:
            Observation.objects.filter(id=later.decides_id).update(in_conflict=False)
        return _further(at, by, id, later, REDONE)


def _state(row: Observation) -> Observation | None:
    """The entered row that a row stands for; None: the empty place."""
    if row.is_empty:
        return None
    return row.stands_for or row


def _next_state(at: Observation) -> Observation | None:
    """The newest entered row whose state before was this one's."""
    here = _state(at)
    rows = (
        Observation.objects.filter(stands_for=None, in_conflict=False, **_place(at))
        .exclude(value=None, missing_reason="")
        .exclude(id=at.id)
    )
    for row in rows.select_related("replaces__stands_for").order_by("-received_at", "-id"):
        before = _state(row.replaces) if row.replaces else None
        same = before.id == here.id if before and here else before is here
        if same and not (here and row.id == here.id):
            return row
    return None


def decide(*, by: Person, conflicting: Observation, keep: uuid.UUID, id: uuid.UUID, why: str) -> Observation:
    """Settle two people's values for one place: a further row with the one that stays, and why."""
    require(by, "record", conflicting)
    if not why.strip():
        raise Refused("bad-value", "Say why this value is the right one: the reason is kept beside both.")
    with transaction.atomic():
        lock_visit(conflicting.visit)
        done = made_before(Observation, id, decides_id=conflicting.id)
        if done is not None:
            return done
        conflicting.refresh_from_db()
        standing = Observation.objects.filter(current=True, **_place(conflicting)).first()
        chosen = {standing.id: standing, conflicting.id: conflicting}.get(keep) if standing else None
        if standing is None or chosen is None or not conflicting.in_conflict:
            raise Conflict("This was decided, or changed, in the meantime. Open the visit again.")
        Observation.objects.filter(id=conflicting.id).update(in_conflict=False)
        return _further(standing, by, id, chosen, why.strip(), decides=conflicting)


def correct(
    *, by: Person, old: Observation, id: uuid.UUID, fields: Mapping[str, str], why: str, confirmed: bool = False
) -> Outcome:
    """Put a corrected row in the place of a current one, by the sheet's own fields and rules.

    Fields that are all empty mark the value as missing, for the reason given. Asking again with the same id is
    harmless. Raises `Refused` without a reason, `Conflict` if somebody else corrected it in the meantime.
    """
    require(by, "record", old)
    if not why.strip():
        raise Refused("bad-value", "Say why the value is corrected: the reason is kept beside it.")
    row = Observation(id=id, version=old.version)
    if all(is_missing(text) for text in fields.values()):
        row.missing_reason = why.strip()[:200]  # this sample only: a missing status would speak for the whole plot
    else:
        wrong = put_in(row, row.version, fields, cast(System, by.units), confirmed=confirmed)
        if wrong is not None:
            return wrong
    with transaction.atomic():
        lock_visit(old.visit)
        done = made_before(Observation, id, replaces_id=old.id, decides_id=None, stands_for_id=None)
        if done is not None:
            if done.why == UNDONE:  # a step back to the empty place stands for no row
                raise IdInUse
            return Outcome(id, "saved", done.value, done.bound)
        old.refresh_from_db()
        if not old.current:
            raise Conflict("Somebody else corrected this value in the meantime. Look at theirs first.")
        _put_over(old, row, by, why.strip())
    return Outcome(id, "saved", row.value, row.bound)


def _put_over(at: Observation, row: Observation, by: Person, why: str) -> Observation:
    """Save a further row as the current one in the place of `at`."""
    now = clock.now()
    Observation.objects.filter(id=at.id).update(current=False)
    for name, value in _place(at).items():
        setattr(row, name, value)
    row.source = row.source or Source.PERSON
    row.replaces, row.why, row.by, row.entered_at, row.received_at = at, why, by, now, now
    row.save(force_insert=True)
    return row


def _further(
    at: Observation, by: Person, id: uuid.UUID, like: Observation | None, why: str,
    decides: Observation | None = None,
) -> Observation:  # fmt: skip
    """A current row in the place of `at` with what `like` holds (None: nothing), in the units that it was typed in.

    What was typed is evaluated again by the sheet, so that no row escapes its rules.
    """
    row = Observation(id=id, version=at.version, decides=decides)
    if like is not None:
        row.stands_for = None if decides else _state(like)
        if like.fields or like.missing_status:
            wrong = put_in(
                row,
                row.version,
                like.fields,
                cast(System, like.units),
                missing_status=like.missing_status,
                reason=like.missing_reason,
                confirmed=True,
            )
            if wrong is not None:
                raise Refused("bad-value", wrong.message)
            row.confirmed = like.confirmed
        else:  # from a table, before cells were kept by field
            row.value, row.bound, row.missing_reason = like.value, like.bound, like.missing_reason
        row.typed, row.units, row.source = like.typed, like.units, like.source
    return _put_over(at, row, by, why)
