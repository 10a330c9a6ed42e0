"""Changes of the records. Observations are only ever added."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from django.db import transaction

from apercu_core.errors import Refused
from config import clock
from config.problems import Conflict
from crew.models import Person
from crew.permissions import require
from library.models import MeasureVersion
from records.models import Observation, Visit
from trials.models import Unit


@dataclass(frozen=True, slots=True)
class Entry:
    """One figure to record, with the id that was made where it was typed."""

    id: uuid.UUID
    unit: Unit
    version: MeasureVersion
    subsample: int
    value: float | None
    typed: str
    missing_reason: str = ""


def record_entries(*, by: Person, visit: Visit, entries: Sequence[Entry], entered_at: datetime) -> int:
    """Add the figures of a visit in one bulk write; ids that are there already are left alone."""
    require(by, "record", visit.season.trial.workspace)
    at = clock.now()
    rows = [
        Observation(
            id=entry.id, unit=entry.unit, visit=visit, version=entry.version, subsample=entry.subsample,
            value=entry.value, typed=entry.typed, typed_unit=entry.version.unit, missing_reason=entry.missing_reason,
            by=by, entered_at=entered_at, received_at=at,
        )
        for entry in entries
    ]  # fmt: skip
    return len(Observation.objects.bulk_create(rows, ignore_conflicts=True))


def correct_observation(
    *, by: Person, old: Observation, id: uuid.UUID, value: float | None, typed: str, why: str
) -> Observation:
    """Put a further row in the place of a current one; asking again with the same id is harmless.

    Raises `Refused` without a reason, `Conflict` if somebody else corrected it in the meantime.
    """
    require(by, "record", old.visit.season.trial.workspace)
    if not why.strip():
        raise Refused("bad-value", "Say why the value is corrected: the reason is kept beside it.")
    with transaction.atomic():
        done = Observation.objects.filter(id=id).first()
        if done is not None:
            if done.replaces_id != old.id:
                raise Conflict("This id was used for another figure.")
            return done
        locked = Observation.objects.select_for_update().get(id=old.id)
        if not locked.current:
            raise Conflict("Somebody else corrected this figure in the meantime. Look at theirs first.")
        locked.current = False
        locked.save(update_fields=["current"])
        at = clock.now()
        return Observation.objects.create(
            id=id, unit=old.unit, visit=old.visit, version=old.version, part=old.part, subsample=old.subsample,
            value=value, typed=typed, typed_unit=old.typed_unit, why=why, replaces=old, by=by, entered_at=at,
            received_at=at,
        )  # fmt: skip
