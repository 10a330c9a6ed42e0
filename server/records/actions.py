"""Changes of the records. Observations are only ever added."""

from __future__ import annotations

import uuid
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime

from config import clock
from crew.models import Person
from crew.permissions import require
from library.models import MeasureVersion
from records.models import Observation, Source, Visit
from trials.models import Unit


@dataclass(frozen=True, slots=True)
class Entry:
    """One figure to record, with the id that was made where it was typed."""

    id: uuid.UUID
    unit: Unit
    version: MeasureVersion
    sample: int
    value: float | None
    typed: str
    missing_reason: str = ""
    fields: Mapping[str, str] = field(default_factory=dict)


def record_entries(*, by: Person, visit: Visit, entries: Sequence[Entry], entered_at: datetime) -> int:
    """Add the figures that a file has for a visit in one bulk write; ids that are there already are left alone."""
    require(by, "record", visit)
    at = clock.now()
    rows = [
        Observation(
            id=entry.id, unit=entry.unit, visit=visit, version=entry.version, sample=entry.sample,
            value=entry.value, typed=entry.typed, missing_reason=entry.missing_reason,
            fields=dict(entry.fields), source=Source.FILE, by=by, entered_at=entered_at, received_at=at,
        )
        for entry in entries
    ]  # fmt: skip
    return len(Observation.objects.bulk_create(rows, ignore_conflicts=True))
