"""The page that holds the interface, and the answer to health checks."""

from __future__ import annotations

import sys
from functools import lru_cache

from django.conf import settings
from django.db import InterfaceError, OperationalError, connection
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.views.decorators.cache import never_cache
from django.views.decorators.csrf import ensure_csrf_cookie

from config.problems import problem, unavailable

NONCE_PLACEHOLDER = "__CSP_NONCE__"


@lru_cache(maxsize=1)
def _built_page() -> str:
    file = settings.WEB_DIST / "index.html"
    return (
        str(file.read_text(encoding="utf-8")) if file.exists() else "<!doctype html><title>Apercu</title>Not built yet."
    )


@never_cache
@ensure_csrf_cookie
def index(request: HttpRequest) -> HttpResponse:
    """The built page with this answer's nonce in place of the placeholder."""
    return HttpResponse(_built_page().replace(NONCE_PLACEHOLDER, str(request.csp_nonce)))  # type: ignore[attr-defined]


@never_cache
def health(_request: HttpRequest) -> JsonResponse:
    """200 when the database answers, 503 else."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT 1")
    return JsonResponse({"status": "ok"})


def fault(_request: HttpRequest) -> JsonResponse:
    """What failed outside the API's own handler, as a problem: the database is away, or a fault of ours."""
    error = sys.exc_info()[1]
    away = isinstance(error, OperationalError | InterfaceError)
    answer = unavailable() if away else problem("fault", FAULT, 500)
    headers = {"Retry-After": answer["Retry-After"]} if away else {}
    return JsonResponse(
        answer.data, status=answer.status_code, content_type="application/problem+json", headers=headers
    )


FAULT = "Something went wrong in the application, and it is in the log. What you typed is still on this page."


def favicon(_request: HttpRequest) -> HttpResponse:
    file = settings.WEB_DIST / "favicon.svg"
    return HttpResponse(file.read_bytes() if file.exists() else b"", content_type="image/svg+xml")
