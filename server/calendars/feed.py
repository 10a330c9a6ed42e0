"""What is due, as an iCalendar file (RFC 5545) that ordinary calendar programs subscribe to."""

from __future__ import annotations

import uuid
from collections.abc import Iterable
from datetime import date, timedelta

from django.conf import settings
from django.core import signing
from icalendar import Calendar, Event

from apercu_core.words import day_said
from calendars.models import CalendarFeed
from config import clock
from crew.models import Person
from operations.models import Operation
from records.models import Visit
from trials.models import Season, Trial

SALT = "calendar-feed"
KEPT = timedelta(days=60)
"""What was done stays for so long."""
MOST = 1000


def token_of(feed: CalendarFeed) -> str:
    return signing.Signer(salt=SALT).sign(feed.pk.hex)


def feed_at(token: str) -> CalendarFeed | None:
    """The feed of an address; None where it was removed, never was, or its person may not sign in any more."""
    try:
        id = uuid.UUID(hex=signing.Signer(salt=SALT).unsign(token))
    except (signing.BadSignature, ValueError):
        return None
    feeds = CalendarFeed.objects.select_related("person", "trial").filter(pk=id, person__is_active=True)
    return feeds.first()


def make_feed(*, person: Person, trial: Trial | None) -> CalendarFeed:
    """One of each: making it again gives the same address. A removed one's address never works again."""
    feed, _ = CalendarFeed.objects.get_or_create(person=person, trial=trial, defaults={"made_at": clock.now()})
    return feed


def calendar_of(feed: CalendarFeed) -> bytes:
    """Operations and visits that are due, and those that were done of late, each as a whole day."""
    calendar = Calendar()
    name = f"Apercu: {feed.trial.name}" if feed.trial else "Apercu"
    calendar.add("prodid", "-//Apercu//what is due//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", name)
    calendar.add("refresh-interval", timedelta(hours=6), parameters={"value": "DURATION"})
    for event in _events(feed):
        calendar.add_component(event)
    return bytes(calendar.to_ical())


def _events(feed: CalendarFeed) -> Iterable[Event]:
    since = clock.now().date() - KEPT
    operations = Operation.objects.visible_to(feed.person).filter(season__trial__archived_at=None)
    visits = Visit.objects.visible_to(feed.person).filter(season__trial__archived_at=None)
    if feed.trial_id:
        operations, visits = operations.filter(season__trial=feed.trial_id), visits.filter(season__trial=feed.trial_id)
    for one in operations.select_related("season__trial", "season__site").order_by("due", "id")[:MOST]:
        day = one.done or one.due
        if day is not None and day >= since:
            yield _event(one.pk, one.season, one.name, day, done=one.done is not None, said=_forecast_of(one))
    for visit in visits.select_related("season__trial", "season__site").order_by("due", "id")[:MOST]:
        day = visit.date or visit.due
        if day is not None and day >= since:
            yield _event(visit.pk, visit.season, visit.name, day, done=visit.whole, said="")


def _forecast_of(operation: Operation) -> str:
    if operation.done is not None or operation.early is None or operation.early == operation.late:
        return operation.note
    until = f" to {day_said(operation.late)}" if operation.late else " or later"
    return " ".join(filter(None, [f"Expected {day_said(operation.early)}{until}.", operation.note]))


def _event(id: uuid.UUID, season: Season, name: str, day: date, *, done: bool, said: str) -> Event:
    event = Event()
    event.add("uid", f"{id}@apercu")
    event.add("dtstamp", clock.now())
    event.add("dtstart", day)
    event.add("dtend", day + timedelta(days=1))
    event.add("summary", f"{'Done: ' if done else ''}{name} ({season.trial.name})")
    event.add("location", ", ".join(filter(None, [season.site.name, season.site.place])))
    event.add("transp", "TRANSPARENT")
    if said:
        event.add("description", said)
    if settings.ORIGINS:
        event.add("url", f"{settings.ORIGINS[0]}/trials/{season.trial_id}/season?site={season.site_id}#{id}")
    return event
