"""The clock of a device that sends entries: how far it is off, and what that makes of their times."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime, timedelta

from config import clock
from records.entering import Typed

TOLERATED = timedelta(minutes=10)
"""A request may take its time, and clocks differ by seconds."""


FIRST_YEAR, LAST_YEAR = 2000, 2100
"""Nothing is entered before or after these."""


def clock_off(sent_at: datetime | None) -> timedelta:
    """By how much the device's clock is behind the server's; zero where it is right, or nothing is known of it."""
    off = clock.now() - sent_at if sent_at is not None else timedelta()
    return off if abs(off) > TOLERATED else timedelta()


def corrected(entries: list[Typed], off: timedelta) -> list[Typed]:
    """With the times that a right clock would have shown; what no clock can have shown came in just now."""
    return [replace(entry, entered_at=_shown(entry.entered_at, off)) for entry in entries]


def _shown(at: datetime, off: timedelta) -> datetime:
    try:
        right = at + off
    except OverflowError:
        return clock.now()
    return right if FIRST_YEAR <= right.year < LAST_YEAR else clock.now()


def said(off: timedelta) -> str:
    """What is wrong with the clock, and what was done; empty where nothing is."""
    if not off:
        return ""
    minutes = round(abs(off).total_seconds() / 60)
    amount = (
        f"{minutes} minutes" if minutes < 120 else f"{round(minutes / 60)} hours" if minutes < 2880
        else f"{round(minutes / 1440)} days"
    )  # fmt: skip
    way = "behind" if off > timedelta() else "ahead"
    return f"This device’s clock is {amount} {way}. The times of what you enter are corrected. Set the device’s clock."
