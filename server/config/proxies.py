"""Who is asking, where a proxy stands in front: its word is taken only if its address is a trusted one."""

from __future__ import annotations

from collections.abc import Callable
from ipaddress import ip_address, ip_network

from django.conf import settings
from django.http import HttpRequest, HttpResponse


class TrustedProxies:
    """Puts the client's address into `REMOTE_ADDR`, and says whether it came by TLS.

    `X-Forwarded-For` is read from its end: the last address that isn't a trusted proxy is the client's. From anybody
    else both headers are dropped.
    """

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self._answer = get_response
        self._trusted = [ip_network(one, strict=False) for one in settings.TRUSTED_PROXIES]

    def __call__(self, request: HttpRequest) -> HttpResponse:
        said = request.META.pop("HTTP_X_FORWARDED_FOR", "")
        if not self._is_trusted(request.META.get("REMOTE_ADDR", "")):
            request.META.pop("HTTP_X_FORWARDED_PROTO", None)
            return self._answer(request)
        for address in reversed([one.strip() for one in said.split(",") if one.strip()]):
            if not _is_address(address):
                break
            request.META["REMOTE_ADDR"] = address
            if not self._is_trusted(address):
                break
        return self._answer(request)

    def _is_trusted(self, address: str) -> bool:
        return _is_address(address) and any(ip_address(address) in network for network in self._trusted)


def _is_address(text: str) -> bool:
    try:
        ip_address(text)
    except ValueError:
        return False
    return True
