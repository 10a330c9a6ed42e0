"""Failed tries to sign in make the next one wait, longer each time: by person and address range, by range, over all.

Addresses are taken by range (IPv4 /24, IPv6 /56), since who guesses has many. A device on which a person has signed in
before is counted by itself, so strangers behind the same proxy can't lock that person out. Tries while one has to wait
aren't looked at and don't make it longer.
"""

from __future__ import annotations

import hashlib
import json
import secrets
import threading
import time
from collections.abc import Callable, Iterable, Mapping
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import datetime, timedelta
from ipaddress import ip_address, ip_network
from typing import Any

from django.conf import settings
from django.core import signing
from django.db import connection, transaction
from django.http import HttpRequest, HttpResponse
from rest_framework import exceptions

from config import clock
from config.pages import plain_problem
from config.problems import problem
from crew.models import SignInFailures


@dataclass(frozen=True, slots=True)
class Limit:
    """Failures that are free, the wait in seconds after the next one, which doubles each time, and the longest."""

    free: int
    first: float
    longest: float

    def wait(self, failures: int) -> timedelta:
        over = failures - self.free
        return timedelta(seconds=min(self.longest, self.first * 2.0 ** min(over, 30)) if over >= 0 else 0)


PERSON_HERE, DEVICE = Limit(5, 15, 900), Limit(10, 15, 900)
RANGE, ALL = Limit(30, 2, 60), Limit(300, 1, 10)
FORGOTTEN = timedelta(hours=1)
"""After so long without a failure the count begins anew."""

COOKIE, _SALT, _PEOPLE_OF_A_DEVICE = "apercu_device", "apercu.device", 5
_HASHING = threading.BoundedSemaphore(1)
"""One password at a time is hashed in a process, so that guessing can't take all its processors."""
HASH_WAIT = 3.0
_SLOW, SLOW_SECONDS = threading.BoundedSemaphore(8), 1.0
"""So many refusals are held back so long, on threads that others don't need; the rest are refused at once."""

_known_waits: dict[str, datetime] = {}


class MustWait(exceptions.APIException):
    status_code = 429
    default_code = "too-many-tries"

    def __init__(self, wait: timedelta) -> None:
        self.seconds = max(1, round(wait.total_seconds()))
        said = f"{self.seconds} seconds" if self.seconds < 120 else f"{round(self.seconds / 60)} minutes"
        super().__init__(f"Too many failed tries. Wait {said}, then try again.")


def limits_of(request: HttpRequest, email: str) -> dict[str, Limit]:
    """What a try is counted by."""
    who = _hash(email)
    device = _devices(request).get(who)
    if device:
        return {_hash("device", device, who): DEVICE}
    where = _range_of(request.META.get("REMOTE_ADDR", ""))
    return {_hash("person", who, where): PERSON_HERE, _hash("range", where): RANGE, _hash("all"): ALL}


def require_no_wait(keys: Iterable[str]) -> None:
    """Raises `MustWait`."""
    now = clock.now()
    _raise_if_waiting(keys, now)
    waiting = SignInFailures.objects.filter(key__in=list(keys), until__gt=now)
    for key, until in waiting.values_list("key", "until"):
        if until:
            _remember(key, until)
    _raise_if_waiting(keys, now)


def note_failure(limits: Mapping[str, Limit]) -> None:
    now = clock.now()
    with transaction.atomic():
        for key in sorted(limits):  # one order, so that two tries never wait for each other
            row, _ = SignInFailures.objects.select_for_update().get_or_create(key=key, defaults={"last": now})
            row.failures = 1 if row.last < now - FORGOTTEN else row.failures + 1
            row.last, row.until = now, now + limits[key].wait(row.failures)
            row.save()
            if row.until > now:
                _remember(key, row.until)


def note_success(limits: Mapping[str, Limit]) -> None:
    """The person is forgiven; what others fail at from the same range isn't."""
    own = [key for key, limit in limits.items() if limit in (PERSON_HERE, DEVICE)]
    SignInFailures.objects.filter(key__in=own).delete()
    for key in own:
        _known_waits.pop(key, None)


@contextmanager
def hashing() -> Any:
    """Around the check of a password. Raises `MustWait` where too many are being checked."""
    if not connection.in_atomic_block:
        connection.close()  # who waits here needs no connection
    if not _HASHING.acquire(timeout=HASH_WAIT):
        raise MustWait(timedelta(seconds=2))
    try:
        yield
    finally:
        _HASHING.release()


def forget_old() -> int:
    """Throw away counts that don't matter any more; returns how many."""
    return SignInFailures.objects.filter(last__lt=clock.now() - FORGOTTEN).delete()[0]


def know_device(request: HttpRequest, answer: Any, email: str) -> None:
    """Mark this device as one on which the person has signed in."""
    known, who = _devices(request), _hash(email)
    known[who] = known.pop(who, secrets.token_urlsafe(12))  # the last of them, so that others are forgotten first
    newest = dict(list(known.items())[-_PEOPLE_OF_A_DEVICE:])
    answer.set_cookie(
        COOKIE, signing.dumps(newest, salt=_SALT), max_age=60 * 60 * 24 * 365, httponly=True, samesite="Lax",
        secure=settings.SESSION_COOKIE_SECURE,
    )  # fmt: skip


class EarlyRefusals:
    """Middleware: who is known to have to wait is answered before anything else is done, and slowly."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self._answer = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if request.method == "POST" and request.path == "/api/v1/session" and _known_waits:
            try:
                _raise_if_waiting(limits_of(request, _email_in(request)), clock.now())
            except MustWait as wait:
                return refused_slowly(wait)
        return self._answer(request)


def refused_slowly(wait: MustWait) -> HttpResponse:
    if _SLOW.acquire(blocking=False):
        try:
            time.sleep(SLOW_SECONDS)
        finally:
            _SLOW.release()
    answer = plain_problem(problem("too-many-tries", str(wait.detail), 429))
    answer["Retry-After"] = str(wait.seconds)
    return answer


def _email_in(request: HttpRequest) -> str:
    try:
        return str(json.loads(request.body)["email"]).strip().lower()
    except (ValueError, TypeError, KeyError, RecursionError):
        return ""


def _raise_if_waiting(keys: Iterable[str], now: datetime) -> None:
    until = max((_known_waits[key] for key in keys if key in _known_waits), default=now)
    if until > now:
        raise MustWait(until - now)


def _remember(key: str, until: datetime) -> None:
    if len(_known_waits) > 10_000:
        _known_waits.clear()  # the table still has them
    _known_waits[key] = until


def _devices(request: HttpRequest) -> dict[str, str]:
    """Person → device, of the people who have signed in on it."""
    try:
        found = signing.loads(request.COOKIES.get(COOKIE, ""), salt=_SALT)
    except signing.BadSignature:
        return {}
    return found if isinstance(found, dict) else {}


def _range_of(address: str) -> str:
    try:
        wide = 24 if ip_address(address).version == 4 else 56
    except ValueError:
        return ""
    return str(ip_network(f"{address}/{wide}", strict=False))


def _hash(*parts: str) -> str:
    """Addresses and e-mails aren't kept as such."""
    return hashlib.sha256("\n".join([settings.SECRET_KEY, *parts]).encode(errors="backslashreplace")).hexdigest()[:40]
