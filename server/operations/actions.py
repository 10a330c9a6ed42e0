"""Changes of the season's operations."""

from __future__ import annotations

import uuid
from datetime import date

from django.db import transaction

from apercu_core.errors import Refused
from config import clock
from config.client_ids import made_before
from config.turns import take_turns
from crew.models import Person
from crew.permissions import require
from operations.models import Operation
from trials.models import Season


def keep_operation(
    *, by: Person, season: Season, id: uuid.UUID, kind: str, name: str, due: date | None, done: date | None, note: str
) -> Operation:
    """Plan an operation, or say that it was done; the same again is harmless, and the history keeps what was before."""
    require(by, "record", season)
    if due is None and done is None:
        raise Refused("bad-value", "The operation has no date. Say when it is due, or when it was done.")
    if done is not None and done > clock.today(season.site.time_zone):
        raise Refused("bad-value", f"{done.isoformat()} lies ahead. Give it as the day it is due, not as done.")
    with transaction.atomic():
        take_turns(id)
        operation = made_before(Operation, id, season_id=season.id) or Operation(id=id, season=season)
        operation.kind, operation.name, operation.note, operation.by = kind, name.strip(), note.strip(), by
        operation.due, operation.done = due, done
        operation.save()
    return operation
