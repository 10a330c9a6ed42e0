"""The one clock. A setting freezes it, for pictures and tests."""

from __future__ import annotations

from datetime import UTC, date, datetime
from zoneinfo import ZoneInfo

from django.conf import settings


def now() -> datetime:
    """The present moment, in UTC."""
    return datetime.fromisoformat(settings.CLOCK) if settings.CLOCK else datetime.now(UTC)


def today(time_zone: str) -> date:
    """The date at a site."""
    return date_at(now(), time_zone)


def date_at(moment: datetime, time_zone: str) -> date:
    """The date that a moment had at a site."""
    return moment.astimezone(ZoneInfo(time_zone)).date()
