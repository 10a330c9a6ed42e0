"""A trial copied for next year: its question alone, with a layout of its own, or carried on on the same plots."""

import uuid

import pytest

from tests.server.asking import Trial
from trials.models import Unit


@pytest.fixture
def owner(client_of):
    return client_of("owner")


@pytest.fixture
def trial(owner, workspace):
    return Trial(owner, workspace, starts="2024-02-29", ends="2024-09-01")


def copied(owner, trial, layout, **changes):
    body = {"id": str(uuid.uuid4()), "name": "Next year", "layout": layout, **changes}
    return owner.post(f"/api/v1/trials/{trial.id}/copy", body, format="json")


def grounds(trial):
    units = Unit.objects.filter(season__trial=trial, kind="plot")
    return {u.label: (u.ground_id, u.ground.x_m, u.ground.y_m, u.treatment.name) for u in units}


def test_without_a_layout_the_question_treatments_and_measures_come_along_a_year_later(owner, trial):
    made = copied(owner, trial, "none").json()
    old = owner.get(f"/api/v1/trials/{trial.id}").json()
    assert (made["plots"], made["plan"]) == ([], None)
    assert (made["starts"], made["ends"]) == ("2025-02-28", "2025-09-01")
    assert [t["name"] for t in made["treatments"]] == [t["name"] for t in old["treatments"]]
    assert not {t["id"] for t in made["treatments"]} & {t["id"] for t in old["treatments"]}
    assert [(m["name"], m["margin"]) for m in made["measures"]] == [(m["name"], m["margin"]) for m in old["measures"]]


def test_a_layout_is_copied_to_its_own_ground_or_carried_on_on_the_same(owner, trial):
    old = grounds(trial.id)
    like = grounds(copied(owner, trial, "copied").json()["id"])
    same_answer = copied(owner, trial, "same-plots").json()
    assert {label: row[1:] for label, row in like.items()} == {label: row[1:] for label, row in old.items()}
    assert not {row[0] for row in like.values()} & {row[0] for row in old.values()}
    assert grounds(same_answer["id"]) == old
    assert same_answer["earlier"] == [trial.page["name"], "Next year"]
    trial.enter(trial.typed("101", "7"))  # what is recorded now belongs to the old one
    assert owner.get(f"/api/v1/trials/{same_answer['id']}").json()["recorded"] is False
    moved = {"field": {}, "shifts": {"A": [2, 0]}}
    late = owner.put(f"/api/v1/trials/{same_answer['id']}/layout", moved, format="json")
    assert late.status_code == 409  # it would carry the recorded plots along
    assert grounds(trial.id) == old


def test_sent_twice_it_is_made_once_and_a_trial_without_plots_has_no_layout(owner, trial):
    made = copied(owner, trial, "none").json()
    assert copied(owner, trial, "none", id=made["id"]).json()["id"] == made["id"]
    empty = copied(owner, Gone(made["id"]), "copied")
    assert "no plots yet" in empty.json()["detail"]
    assert copied(owner, trial, "none", name=" ").status_code == 400


class Gone:
    def __init__(self, id):
        self.id = id


def test_common_trials_come_with_their_treatments_crossed(owner):
    found = {one["key"]: one for one in owner.get("/api/v1/templates").json()}
    kill = found["kill-timing-species"]
    assert [f["whole_strips"] for f in kill["factors"]] == [True, False]
    assert kill["treatments"][-1] == {"name": "No cover", "is_control": True, "levels": {}}
