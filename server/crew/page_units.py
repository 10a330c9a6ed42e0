"""The units of the page that a request comes from: its numbers are meant in them, whatever is preferred by now."""

from __future__ import annotations

from collections.abc import Callable
from typing import cast

from django.http import HttpRequest, HttpResponse
from rest_framework.request import Request

from apercu_core.units import System
from crew.models import Person

HEADER = "X-Units"
PREFERENCE = "/api/v1/session"


def system_of(request: Request) -> System:
    """In which units the request is meant and answered."""
    return cast(System, cast(Person, request.user).units)


class PageUnits:
    """Middleware, after authentication: a page that is still in the other units is read and answered in its own.

    A person may have two pages open, and change the units in one; the other goes on saying what its fields show.
    """

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self._answer = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        units = request.headers.get(HEADER, "")
        asks = not request.path.startswith(PREFERENCE)  # where the preference itself is read and changed
        if asks and units in ("metric", "us") and request.user.is_authenticated:
            request.user.units = units  # of this request; nobody saves it
        return self._answer(request)
