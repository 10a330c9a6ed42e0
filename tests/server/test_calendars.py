"""Calendar feeds: private, revocable, and files that the icalendar library reads back."""

import uuid
from datetime import date

import pytest
from icalendar import Calendar
from rest_framework.test import APIClient

from calendars.models import CalendarFeed
from crew.models import Membership
from tests.server.asking import Trial
from trials.models import Trial as TrialRow


@pytest.fixture(autouse=True)
def _clock(settings):
    settings.CLOCK = "2026-06-10T09:00:00+00:00"
    settings.ORIGINS = ["https://fen.example"]


@pytest.fixture
def trial(client_of, workspace):
    return Trial(client_of("owner"), workspace, name="Covers, oats; and beet")


def keep(trial, **said):
    body = {"kind": "kill", "name": "Kill", **said}
    path = f"/api/v1/trials/{trial.id}/operations/{uuid.uuid4()}"
    assert trial.client.put(path, body, format="json").status_code == 200


def address(client, trial=None):
    feeds = client.post("/api/v1/calendars", {"trial": trial}, format="json").json()["feeds"]
    return next(one for one in feeds if one["trial"] == trial)


def read(feed):
    answer = APIClient().get(feed["address"].removeprefix("https://fen.example"))
    assert answer.status_code == 200
    assert answer["Content-Type"] == "text/calendar; charset=utf-8"
    calendar = Calendar.from_ical(answer.content)
    assert Calendar.from_ical(calendar.to_ical()) == calendar  # it round-trips
    return calendar, {str(one["summary"]): one for one in calendar.walk("VEVENT")}


def test_what_is_due_is_a_whole_day_with_its_trial_place_and_page(trial):
    keep(trial, name="Kill; the oats, all", due="2026-06-20", note="after dew")
    keep(trial, name="Drill", done="2026-06-01")
    keep(trial, name="Long ago", done="2026-01-01")
    calendar, events = read(address(trial.client))
    assert calendar.get("version") == "2.0"
    assert set(events) == {
        "Kill; the oats, all (Covers, oats; and beet)", "Done: Drill (Covers, oats; and beet)",
        "Weeds in June (Covers, oats; and beet)",
    }  # fmt: skip
    kill = events["Kill; the oats, all (Covers, oats; and beet)"]
    assert (kill.decoded("dtstart"), kill.decoded("dtend")) == (date(2026, 6, 20), date(2026, 6, 21))
    assert str(kill["description"]) == "after dew"
    assert str(kill["location"]) == "Mill Ground"
    assert f"https://fen.example/trials/{trial.id}/season" in str(kill["url"])
    for event in events.values():
        assert {"UID", "DTSTAMP", "DTSTART"} <= set(event)  # what RFC 5545 asks for
    ids = {str(event["uid"]) for event in events.values()}
    assert len(ids) == 3
    assert {str(event["uid"]) for event in read(address(trial.client))[1].values()} == ids  # the same at each reading


def test_a_feed_of_one_trial_has_nothing_of_others(trial, client_of, workspace):
    other = Trial(client_of("owner"), workspace, name="Other")
    keep(other, name="Elsewhere", due="2026-06-20")
    keep(trial, name="Here", due="2026-06-20")
    _, events = read(address(trial.client, trial.id))
    assert {name.split(" (")[0] for name in events} == {"Here", "Weeds in June"}
    assert len(read(address(trial.client))[1]) == 4


def test_an_address_works_until_it_is_removed_or_its_person_is_gone(trial, people, client_of):
    feed = address(client_of("technician"))
    path = feed["address"].removeprefix("https://fen.example")
    assert client_of("owner").delete(f"/api/v1/calendars/{feed['id']}").status_code == 404  # not theirs
    assert len(read(feed)[1]) == 1
    Membership.objects.filter(person=people["technician"]).delete()
    assert read(feed)[1] == {}  # no longer in the workspace: nothing is seen
    assert client_of("technician").delete(f"/api/v1/calendars/{feed['id']}").json()["feeds"] == []
    assert APIClient().get(path).status_code == 404
    again = address(client_of("technician"))
    assert again["address"] != feed["address"]
    assert APIClient().get(path).status_code == 404
    people["technician"].is_active = False
    people["technician"].save()
    assert APIClient().get(again["address"].removeprefix("https://fen.example")).status_code == 404
    for wrong in ("x", path.split("/")[-1][:-8], uuid.uuid4().hex):
        assert APIClient().get(f"/api/v1/calendars/{wrong}.ics").status_code == 404


def test_nobody_gets_a_feed_of_a_trial_that_they_do_not_see(trial, client_of):
    assert client_of("stranger").post("/api/v1/calendars", {"trial": trial.id}, format="json").status_code == 404
    assert not CalendarFeed.objects.exists()
    feed = address(trial.client, trial.id)
    assert address(trial.client, trial.id) == feed  # asking again makes no second one
    TrialRow.objects.update(archived_at="2026-06-01T00:00:00Z")
    assert read(feed)[1] == {}
