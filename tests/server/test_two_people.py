"""Two people at one place, one request sent twice: both values are kept, once each, and a person decides."""

import threading
import uuid
from datetime import date

import pytest
from django.db import connection
from rest_framework.test import APIClient

from config import clock
from crew.models import Person
from records import entering
from records.models import Observation, Visit
from tests.server.asking import Trial, stands


def test_sending_entries_twice_is_harmless_and_an_id_stands_for_one_figure(trial):
    entry = trial.typed("101", "7")
    assert trial.enter(entry) == trial.enter(entry)
    assert Observation.objects.count() == 1
    assert trial.enter({**entry, "unit": trial.unit("102")}).status_code == 409


def test_entries_of_one_request_meet_each_other_and_what_was_sent_before(trial):
    before, first, second = trial.typed("101", "7"), trial.typed("102", "3"), trial.typed("102", "4")
    trial.enter(before)
    outcomes = trial.enter(before, first, first, second)
    assert [one["state"] for one in outcomes] == ["saved", "saved", "saved", "conflict"]
    assert (outcomes[3]["other"]["id"], Observation.objects.count()) == (first["id"], 3)


def test_a_visit_has_the_day_on_which_its_values_came_where_nobody_says_when_they_were_entered(trial):
    trial.enter(trial.typed("101", "7"))
    visit = Visit.objects.get(id=trial.visit)
    assert visit.date == clock.today(visit.season.site.time_zone) > date(2026, 6, 24)  # which the entry says


def test_two_figures_for_one_place_are_both_kept_shown_and_decided_by_a_person(trial, client_of):
    mine = trial.typed("101", "7")
    trial.enter(mine)
    theirs = trial.typed("101", "9")
    met = trial.enter(theirs, client=client_of("technician"))[0]
    assert (met["state"], met["other"]["fields"], met["other"]["by"]) == ("conflict", {"count": "7"}, "Owner")
    assert (met["value"], met["message"]) == (36, "Somebody else has another value here.")
    assert trial.enter(theirs, client=client_of("technician"))[0] == met  # sent again, it meets the same
    opened = trial.open()
    assert [r["by"] for r in opened["conflicts"]] == ["Technician"]
    assert opened["progress"]["conflicts"] == 1
    url = f"/api/v1/observations/{theirs['id']}/decision"
    decision = {"id": str(uuid.uuid4()), "keep": theirs["id"], "why": ""}
    assert "Say why" in trial.client.post(url, decision, format="json").json()["detail"]
    decided = trial.client.post(url, {**decision, "why": "counted twice"}, format="json").json()
    assert decided["conflicts"] == []
    assert stands(trial, "101")["fields"] == {"count": "9"}
    again = trial.client.post(url, {**decision, "id": str(uuid.uuid4()), "why": "no"}, format="json")
    assert again.status_code == 409
    agreeing = trial.typed("101", "9")
    assert trial.enter(agreeing, client=client_of("technician"))[0]["state"] == "saved"


GUARD, OUTCOME = entering.lock_visit, entering._outcome


def race(trial, people, monkeypatch, guard):
    """Two people save one place at the same moment; returns what became of each.

    Without the guard both are held once they have looked and before they write, which is the moment that it guards.
    """
    meet = threading.Barrier(2, timeout=10)

    def held(*given):
        meet.wait()
        return OUTCOME(*given)

    monkeypatch.setattr(entering, "_outcome", OUTCOME if guard is GUARD else held)
    monkeypatch.setattr(entering, "lock_visit", guard)
    states = []

    def save(who, count):
        client = APIClient(raise_request_exception=False)
        client.force_login(Person.objects.get(id=people[who].id), backend="django.contrib.auth.backends.ModelBackend")
        entry = trial.typed("101", count)
        if guard is GUARD:
            meet.wait()
        try:
            outcome = trial.enter(entry, client=client)
            states.append(outcome[0]["state"] if isinstance(outcome, list) else str(outcome.status_code))
        finally:
            connection.close()

    threads = [threading.Thread(target=save, args=who) for who in (("owner", "7"), ("technician", "9"))]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return sorted(states)


def test_what_two_people_weighed_alike_in_their_own_units_is_no_conflict(trial, client_of):
    plot = {"moisture": "14", "area": "30"}
    mine, theirs = ({"mass": mass, **plot} for mass in ("13 lb", "5.89670081"))
    first = trial.enter(trial.typed("101", mine, measure=1))[0]
    second = trial.enter(trial.typed("101", theirs, measure=1), client=client_of("technician"))[0]
    assert first["value"] != second["value"] == pytest.approx(first["value"], rel=1e-12)
    assert (second["state"], trial.open()["conflicts"]) == ("saved", [])


@pytest.mark.django_db(transaction=True)
def test_two_people_at_the_same_moment_keep_both_figures_and_without_the_guard_one_is_lost(
    client_of, workspace, people, monkeypatch
):
    trial = Trial(client_of("owner"), workspace)
    assert race(trial, people, monkeypatch, GUARD) == ["conflict", "saved"]
    assert Observation.objects.count() == 2
    Observation.objects.all().delete()
    unguarded = race(trial, people, monkeypatch, lambda visit: None)  # the control
    assert unguarded == ["409", "saved"]
    assert Observation.objects.count() == 1
