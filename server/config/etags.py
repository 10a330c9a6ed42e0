"""No save over somebody else's unseen: what is shown carries an ETag, and a save names the one that it was made from.

An ETag is a hash of what was shown, so nothing has to be counted up where things change. A save whose `If-Match` names
something older is tried all the same: where it changes nothing, it is the repeat of one that arrived; else it is undone
and answered with 412 and what stands there now. A save that names nothing is tried in the same way, and answered with
428: only what makes something new needs no `If-Match`. `*` saves over whatever stands there.
"""

from __future__ import annotations

import hashlib
import json
import uuid
from collections.abc import Callable
from typing import Any, TypeVar

from django.db import transaction
from django.db.models import QuerySet
from drf_spectacular.utils import OpenApiParameter
from rest_framework import exceptions, status
from rest_framework.request import Request
from rest_framework.utils.encoders import JSONEncoder

from apercu_core.errors import Refused
from config.turns import take_turns

T = TypeVar("T")

IF_MATCH = [
    OpenApiParameter(
        "If-Match", str, OpenApiParameter.HEADER,
        description="The ETag of what the save was made from, or `*`. Not needed where nothing stands there yet.",
    )
]  # fmt: skip


class Changed(exceptions.APIException):
    """Somebody else has changed it. `current`: what stands there now, with its ETag."""

    status_code = status.HTTP_412_PRECONDITION_FAILED
    default_code = "changed"

    def __init__(self, current: Any) -> None:
        super().__init__(
            "This was changed by somebody else, or in another window, since you opened it. Nothing was saved: look at "
            "both, then keep again."
        )
        self.current = current


class NoVersion(exceptions.APIException):
    """A save over something that stands there doesn't say what it was made from."""

    status_code = status.HTTP_428_PRECONDITION_REQUIRED
    default_code = "no-version"
    default_detail = (
        "This save would change what stands there, and doesn’t say which version it was made from. Nothing was saved: "
        "send the ETag that came with it in If-Match, or * to save over whatever stands there."
    )


class _Undo(Exception):
    """Takes back what was only tried."""


def etag_of(shown: Any) -> str:
    """Of anything that JSON can hold; the order of keys doesn't matter."""
    text = json.dumps(shown, sort_keys=True, cls=JSONEncoder)
    return hashlib.sha256(text.encode()).hexdigest()[:20]


def saved_unless_changed(
    request: Request, held: QuerySet[Any], shown: Callable[[], Any], save: Callable[[], T],
    current: Callable[[], Any] | None = None, *, made: uuid.UUID | None = None,
) -> T:  # fmt: skip
    """Do what the request asks for, if what it was made from still stands.

    `held`: the row that writers of this wait for; `shown`: what the ETag is of, None where nothing is there yet;
    `current`: what a refused save is answered with, `shown` if not given; `made`: the id that the client made for it.
    Raises `Changed`, and `NoVersion` where the request names no version of what stands there.
    """
    wanted = request.headers.get("If-Match", "").strip().removeprefix("W/").strip('"')
    if wanted == "*":
        return save()
    with transaction.atomic():
        if made:
            take_turns(made)
        list(held.select_for_update(of=("self",), no_key=True).values_list("pk", flat=True))
        before = shown()
        if before is None or etag_of(before) == wanted:
            return save()
        try:
            with transaction.atomic():
                done = save()
                if etag_of(shown()) != etag_of(before):
                    raise _Undo
                return done
        except (_Undo, Refused, exceptions.APIException):
            raise Changed((current or shown)()) if wanted else NoVersion from None
