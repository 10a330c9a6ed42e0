"""Sessions, with 401 rather than 403 for those who aren't signed in."""

from __future__ import annotations

from typing import Any

from drf_spectacular.extensions import OpenApiAuthenticationExtension
from rest_framework import authentication
from rest_framework.request import Request


class SessionAuthentication(authentication.SessionAuthentication):
    def authenticate_header(self, request: Request) -> str:
        return "Session"


class SessionScheme(OpenApiAuthenticationExtension):  # type: ignore[no-untyped-call]
    target_class = SessionAuthentication
    name = "session"

    def get_security_definition(self, auto_schema: Any) -> dict[str, str]:
        return {"type": "apiKey", "in": "cookie", "name": "sessionid"}
