"""Ids that clients make, so that asking twice makes one thing: the one place that says whose an id is.

An id belongs to what it was made for: its kind, what it is part of, and with that its workspace. Whoever uses it for
anything else is told the same, whatever it belongs to, so that nothing of other workspaces shows.
"""

from __future__ import annotations

import uuid
from collections.abc import Iterable
from typing import Any, TypeVar

from django.db.models import Model, Q

from config.problems import Conflict

Row = TypeVar("Row", bound=Model)


class IdInUse(Conflict):
    """The id was made for something else."""

    default_code = "id-in-use"

    def __init__(self) -> None:
        super().__init__(
            "An id that was sent is in use for something else. Nothing was saved: open the page again and repeat the "
            "last step."
        )


def made_before(model: type[Row], id: uuid.UUID, **belongs: Any) -> Row | None:
    """The row that was made under this id, locked, or None while it is free. Within a transaction.

    `belongs`: field → the value that it must have, its parent above all. Raises `IdInUse` where one differs.
    """
    row = model._default_manager.select_for_update(of=("self",), no_key=True).filter(pk=id).first()
    if row is not None and any(getattr(row, name) != value for name, value in belongs.items()):
        raise IdInUse
    return row


def require_free_or_of(model: type[Model], ids: Iterable[Any], **belongs: Any) -> None:
    """Raises `IdInUse` where one of the ids was made for something that doesn't belong there."""
    if model._default_manager.filter(pk__in=list(ids)).exclude(Q(**belongs)).exists():
        raise IdInUse
