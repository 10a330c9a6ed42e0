"""The page that holds the interface, and the answer to health checks."""

from __future__ import annotations

import hashlib
import json
import sys
from functools import lru_cache

from django.conf import settings
from django.core.exceptions import RequestDataTooBig
from django.db import InterfaceError, OperationalError, connection
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.views.decorators.cache import never_cache
from django.views.decorators.csrf import ensure_csrf_cookie
from rest_framework.response import Response

from config.problems import NOTHING, problem, unavailable

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
    away = isinstance(sys.exc_info()[1], OperationalError | InterfaceError)
    return plain_problem(unavailable() if away else problem("fault", FAULT, 500))


def not_there(_request: HttpRequest, exception: Exception | None = None) -> JsonResponse:
    return plain_problem(problem("not-found", NOTHING, 404))


def wrong(_request: HttpRequest, exception: Exception | None = None) -> JsonResponse:
    """A request that Django itself refuses before it reaches the API."""
    if isinstance(exception, RequestDataTooBig):
        return plain_problem(problem("too-large", "That is too large to send.", 413))
    return plain_problem(problem("invalid", "The request isn’t one that this server answers.", 400))


def csrf_failed(_request: HttpRequest, reason: str = "") -> JsonResponse:
    detail = "The page is out of date, or another site sent this. Open the page again, then repeat the last step."
    return plain_problem(problem("not-allowed", detail, 403))


def plain_problem(answer: Response) -> JsonResponse:
    """A problem as Django's own response, for what is answered outside the API."""
    headers = {name: answer[name] for name in ("Retry-After",) if name in answer}
    return JsonResponse(
        answer.data, status=answer.status_code, content_type="application/problem+json", headers=headers
    )


FAULT = "Something went wrong in the application, and it is in the log. What you typed is still on this page."


@never_cache
def worker(_request: HttpRequest) -> HttpResponse:
    """The script that opens the application without a network, with its version and files filled in."""
    return HttpResponse(_worker_script(), content_type="text/javascript")


@lru_cache(maxsize=1)
def _worker_script() -> str:
    script = settings.WEB_DIST / "sw.js"
    if not script.exists():
        return ""
    files = sorted(f"{settings.STATIC_URL}assets/{file.name}" for file in (settings.WEB_DIST / "assets").iterdir())
    files += ["/favicon.svg", "/manifest.webmanifest"]
    text = str(script.read_text(encoding="utf-8"))
    version = hashlib.sha256("\n".join([text, _built_page(), *files]).encode()).hexdigest()[:16]
    return text.replace("__VERSION__", version).replace("'__FILES__'", json.dumps(files))


def manifest(_request: HttpRequest) -> HttpResponse:
    file = settings.WEB_DIST / "manifest.webmanifest"
    return HttpResponse(file.read_bytes() if file.exists() else b"{}", content_type="application/manifest+json")


def favicon(_request: HttpRequest) -> HttpResponse:
    file = settings.WEB_DIST / "favicon.svg"
    return HttpResponse(file.read_bytes() if file.exists() else b"", content_type="image/svg+xml")
