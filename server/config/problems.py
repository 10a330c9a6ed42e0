"""Every error as application/problem+json: a stable code for programs, a sentence for people."""

from __future__ import annotations

import errno
import logging
from dataclasses import asdict
from typing import Any

from django.core.exceptions import PermissionDenied
from django.db import IntegrityError, InterfaceError, OperationalError
from django.db.models import ProtectedError, RestrictedError
from django.http import Http404
from rest_framework import exceptions, status
from rest_framework.response import Response

from apercu_core.amounts import amounts_in
from apercu_core.errors import Refused
from config.etags import Changed
from config.requests import request_id
from crew.permissions import NotAllowed

_LOG = logging.getLogger(__name__)
_AT_ONCE = ("23505", "23503")
"""PostgreSQL's codes of what one of two requests at the same moment meets: a key that is there, a row that is gone."""


_FULL = (errno.ENOSPC, errno.EDQUOT)

NOTHING = "There is nothing here, or nothing that you may see."


class Conflict(exceptions.APIException):
    status_code = status.HTTP_409_CONFLICT
    default_code = "conflict"


def problem(code: str, detail: str, http: int, errors: Any = None) -> Response:
    body: dict[str, Any] = {"type": "about:blank", "title": code, "status": http, "code": code, "detail": detail}
    if id := request_id():
        body["request"] = id
    if errors:
        body["errors"] = errors
    return Response(body, status=http, content_type="application/problem+json")


def unavailable() -> Response:
    """The database is away or closed the connection; what was asked may be asked again."""
    answer = problem(
        "unavailable", "The database can’t be reached just now. Nothing is lost on this page: try again in a moment.",
        status.HTTP_503_SERVICE_UNAVAILABLE,
    )  # fmt: skip
    answer["Retry-After"] = "5"
    return answer


def as_problem(error: Exception, context: dict[str, Any]) -> Response | None:
    """The one exception handler; None leaves a real fault to the 500 page and the log.

    What it says is in the units of the signed-in person.
    """
    answer = _problem_of(error)
    user = getattr(context.get("request"), "user", None)
    if answer is not None and getattr(user, "units", "metric") == "us":
        answer.data["detail"] = amounts_in(answer.data["detail"], "us")
        for place in answer.data.get("errors", ()):
            place["what"] = amounts_in(place["what"], "us")
    return answer


def _problem_of(error: Exception) -> Response | None:
    if isinstance(error, OperationalError | InterfaceError):
        return unavailable()
    if isinstance(error, IntegrityError) and getattr(error.__cause__, "sqlstate", "") in _AT_ONCE:
        _LOG.warning("two requests met", exc_info=error)
        return problem("at-once", "Something else was changed at the same moment. Nothing was saved: try again.", 409)
    if isinstance(error, OSError) and error.errno in _FULL:
        _LOG.error("the disk is full", exc_info=error)
        return problem(
            "no-room", "The server has no room left for files. Nothing was saved. Tell whoever runs Apercu, and send "
            "it again then.", status.HTTP_507_INSUFFICIENT_STORAGE,
        )  # fmt: skip
    if isinstance(error, ProtectedError | RestrictedError):
        _LOG.warning("records hang on what was to be removed", exc_info=error)
        return problem("conflict", "Something is recorded there now, so it stays. Nothing was changed.", 409)
    if isinstance(error, Refused):
        places = [asdict(place) for place in error.places]
        return problem(error.code, error.message, status.HTTP_422_UNPROCESSABLE_ENTITY, places)
    if isinstance(error, NotAllowed | PermissionDenied):
        return problem("not-allowed", str(error) or "You may not do this.", status.HTTP_403_FORBIDDEN)
    if isinstance(error, Http404):
        return problem("not-found", NOTHING, status.HTTP_404_NOT_FOUND)
    if isinstance(error, exceptions.ValidationError):
        detail = "Some entries can’t be used; each says what is wrong."
        return problem("invalid", detail, error.status_code, _flat(error.detail))
    if isinstance(error, Changed):
        answer = problem("changed", str(error.detail), error.status_code)
        answer.data["current"] = error.current
        return answer
    if isinstance(error, exceptions.APIException):
        codes = error.get_codes()
        code = codes if isinstance(codes, str) else "error"
        answer = problem(code.replace("_", "-"), str(error.detail), error.status_code)
        if seconds := getattr(error, "seconds", None):
            answer["Retry-After"] = str(seconds)
        header = getattr(error, "auth_header", None)
        if header:
            answer["WWW-Authenticate"] = header
        return answer
    return None


def _flat(detail: Any, path: str = "") -> list[dict[str, str]]:
    """Nested validation messages as a list of places and sentences."""
    if isinstance(detail, dict):
        return [item for key, value in detail.items() for item in _flat(value, f"{path}.{key}" if path else str(key))]
    if isinstance(detail, list):
        nested = [
            item
            for i, value in enumerate(detail)
            if isinstance(value, dict | list)
            for item in _flat(value, f"{path}.{i}")
        ]
        return nested + [{"where": path, "what": str(v)} for v in detail if not isinstance(v, dict | list)]
    return [{"where": path, "what": str(detail)}]
