"""What is answered while signing in is locked after too many failures."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest, JsonResponse


def locked_out(_request: HttpRequest, *_args: Any, **_kwargs: Any) -> JsonResponse:
    detail = "Too many failed tries. Wait fifteen minutes, then try again."
    body = {"type": "about:blank", "title": "too-many-tries", "status": 429, "code": "too-many-tries", "detail": detail}
    return JsonResponse(body, status=429, content_type="application/problem+json")
