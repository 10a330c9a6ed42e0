"""Headers of every answer, static files too, that other middleware doesn't set."""

from __future__ import annotations

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

_UNUSED = ("accelerometer", "autoplay", "display-capture", "gyroscope", "microphone", "midi", "payment", "usb")
PERMISSIONS = ", ".join(["camera=(self)", "geolocation=(self)", *(f"{name}=()" for name in _UNUSED)])


class SafeHeaders:
    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self._answer = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        answer = self._answer(request)
        answer["Permissions-Policy"] = PERMISSIONS
        answer["Cross-Origin-Resource-Policy"] = "same-origin"
        return answer
