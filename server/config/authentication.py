"""Sessions, with 401 rather than 403 for those who aren't signed in."""

from __future__ import annotations

from typing import Any
from urllib.parse import unquote

from drf_spectacular.extensions import OpenApiAuthenticationExtension
from rest_framework import authentication
from rest_framework.exceptions import AuthenticationFailed
from rest_framework.request import Request


class SessionAuthentication(authentication.SessionAuthentication):
    """A change that says whose it is (`X-Person`, percent-encoded) is taken under that person's session only.

    Another one may have signed in meanwhile, in another window of the same browser.
    """

    def authenticate(self, request: Request) -> Any:
        found = super().authenticate(request)
        meant = unquote(request.headers.get("X-Person", ""))
        if found and meant and meant != found[0].email:
            raise AuthenticationFailed("Somebody else is signed in here now. Sign in again to send your changes.")
        return found

    def authenticate_header(self, request: Request) -> str:
        return "Session"


class SessionScheme(OpenApiAuthenticationExtension):  # type: ignore[no-untyped-call]
    target_class = SessionAuthentication
    name = "session"

    def get_security_definition(self, auto_schema: Any) -> dict[str, str]:
        return {"type": "apiKey", "in": "cookie", "name": "sessionid"}
