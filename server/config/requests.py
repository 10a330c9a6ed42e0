"""Each request has an id, which its answer, its problem and its lines in the log carry."""

from __future__ import annotations

import logging
import time
import uuid
from collections.abc import Callable
from contextvars import ContextVar

from django.http import HttpRequest, HttpResponse

_NOW: ContextVar[tuple[str, HttpRequest] | None] = ContextVar("request", default=None)
_LOG = logging.getLogger("apercu.requests")


def request_id() -> str:
    """Of the request that is answered just now; empty outside of one."""
    now = _NOW.get()
    return now[0] if now else ""


class RequestIds:
    """Middleware, the first of all: makes the id, and writes one line per answer into the log."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self._answer = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        id, start = uuid.uuid4().hex[:16], time.perf_counter()
        token = _NOW.set((id, request))
        try:
            answer = self._answer(request)
            answer["X-Request-Id"] = id
            if not request.path.startswith("/static/"):
                took = 1000 * (time.perf_counter() - start)
                _LOG.info("%s %s %d %.0f ms", request.method, request.path, answer.status_code, took)
            return answer
        finally:
            _NOW.reset(token)


class Utc(logging.Formatter):
    """Times of lines are UTC, whatever the machine's clock shows."""

    converter = staticmethod(time.gmtime)
    default_time_format, default_msec_format = "%Y-%m-%dT%H:%M:%S", "%s.%03d"


class WhoAndWhich(logging.Filter):
    """Gives each line of the log the id of its request and of the signed-in person, `-` where there is none."""

    def filter(self, record: logging.LogRecord) -> bool:
        now = _NOW.get()
        # Only a person who was asked for already: the log never queries the database.
        person = getattr(now[1], "_cached_user", None) if now else None
        record.request_id = now[0] if now else "-"
        record.person = getattr(person, "pk", None) or "-"
        return True
