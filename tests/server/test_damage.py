"""Damage from a day on: what was looked at before it counts, and what was looked at after it is set aside and told."""

import uuid

import pytest

from apercu_core.reading.asked import How
from apercu_core.reading.measure import read_measure
from readings.bridge import gather, recorded
from records.models import Visit
from tests.server.asking import Trial, stands
from trials.models import Season


@pytest.fixture(autouse=True)
def _clock(settings):
    settings.CLOCK = "2026-06-01T09:00:00+00:00"


@pytest.fixture
def trial(owner, workspace):
    return Trial(owner, workspace)


def log_hail(trial, *plots, day="2026-05-20"):
    body = {"kind": "trouble", "day": day, "text": "", "trouble": "hail", "effect": "lost", "plots": list(plots),
            "treatments": []}  # fmt: skip
    url = f"/api/v1/trials/{trial.id}/log/{uuid.uuid4()}"
    answer = trial.client.put(url, body, format="json")
    assert answer.status_code == 200, answer.content


def counts(trial):
    season = Season.objects.get(trial=trial.id)
    given = gather(season)
    key = str(given.measures[0].id)
    return {
        label for label, values in given.samples[key].items() if any(v is not None for v in values)
    }, given.set_aside[key]


def enter_on(trial, day, *labels):
    entries = [trial.typed(label, "9", frame=f, entered_at=f"{day}T10:00:00Z") for label in labels for f in (1, 2)]
    assert {one["state"] for one in trial.enter(*entries)} <= {"saved"}


def test_damage_counts_from_when_each_plot_was_looked_at_and_not_from_the_first_entry_of_the_visit(trial):
    enter_on(trial, "2026-05-19", "101", "102")
    enter_on(trial, "2026-05-21", "201", "202")
    log_hail(trial, "101", "201")
    assert counts(trial) == ({"101", "102", "202"}, ("201",))
    row = stands(trial, "101")["id"]  # a value that is corrected later was looked at before the hail all the same
    body = {"replaces": row, "fields": {"count": "11"}, "why": "misread"}
    assert trial.client.put(f"/api/v1/observations/{uuid.uuid4()}", body, format="json").status_code == 200
    assert counts(trial)[0] == {"101", "102", "202"}


def test_paper_that_was_typed_after_the_damage_counts_on_the_day_that_somebody_says(trial):
    enter_on(trial, "2026-05-25", "101", "102")
    log_hail(trial, "101")
    assert counts(trial) == ({"102"}, ("101",))
    reading = gather(Season.objects.get(trial=trial.id))
    [doubt] = [d for d in _doubts_of(reading) if d.id == "lost-plots"]
    assert "Plot 101 has a value that was recorded after a trouble" in doubt.finding
    walked = {"placement": "stratified", "samples": {}, "plots": [], "observers": [], "blind": None,
              "guess_first": False, "walked": "2026-05-10"}  # fmt: skip
    assert trial.plan_visit(how=walked).status_code == 200
    assert counts(trial) == ({"101", "102"}, ())
    assert Visit.objects.get(pk=trial.visit).date.isoformat() == "2026-05-10"
    ahead = trial.plan_visit(how={**walked, "walked": "2031-01-01"})
    assert (ahead.status_code, ahead.json()["errors"][0]["where"]) == (422, "how.walked")
    assert trial.plan_visit(how={**walked, "walked": None}).status_code == 200
    assert Visit.objects.get(pk=trial.visit).date.isoformat() == "2026-05-25"


def _doubts_of(given):
    recorded_values = recorded(given, None)
    return read_measure(given.facts, given.design, recorded_values[0], How(), given.base).doubts
