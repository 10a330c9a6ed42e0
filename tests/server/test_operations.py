"""Operations: what they are for, dates that hang on each other, kill dates by treatment, what was done."""

import uuid

import pytest

from operations.models import Operation


@pytest.fixture(autouse=True)
def _clock(settings):
    settings.CLOCK = "2027-04-01T09:00:00+00:00"


def keep(trial, id=None, **changes):
    body = {"kind": "kill", "name": "Kill the covers", "due": "2027-04-10", "done": None, "note": "", **changes}
    return trial.client.put(f"/api/v1/trials/{trial.id}/operations/{id or uuid.uuid4()}", body, format="json")


def days(trial):
    found = trial.client.get(f"/api/v1/trials/{trial.id}/season").json()["operations"]
    return {one["name"]: one["done"] or one["due"] for one in found}


@pytest.fixture
def chain(trial):
    kill, drill, roll = (uuid.uuid4() for _ in range(3))
    assert keep(trial, kill).status_code == 200
    after = {"kind": "plant", "name": "Drill the barley", "due": None, "after": str(kill), "after_days": 14}
    assert keep(trial, drill, **after).status_code == 200
    after = {"kind": "other", "name": "Roll the barley", "due": None, "after": str(drill), "after_days": "2"}
    assert keep(trial, roll, **after).status_code == 200
    assert keep(trial, kind="spray", name="Spray", due="2027-05-01").status_code == 200
    return kill, drill, roll


def soon(trial):
    return [line["name"] for line in trial.client.get("/api/v1/today").json()["soon"]]


def test_a_slipping_date_moves_what_hangs_on_it_and_nothing_else(trial, chain):
    assert days(trial) == {
        "Kill the covers": "2027-04-10", "Drill the barley": "2027-04-24", "Roll the barley": "2027-04-26",
        "Spray": "2027-05-01",
    }  # fmt: skip
    keep(trial, chain[0], due="2027-04-17")
    assert days(trial) == {
        "Kill the covers": "2027-04-17", "Drill the barley": "2027-05-01", "Roll the barley": "2027-05-03",
        "Spray": "2027-05-01",
    }  # fmt: skip
    assert soon(trial) == []
    # Done earlier than planned: what hangs on it goes by the day on which it was really done.
    keep(trial, chain[0], due="2027-04-17", done="2027-03-30")
    assert days(trial)["Drill the barley"] == "2027-04-13"
    assert soon(trial) == ["Drill the barley", "Roll the barley"]


def test_operations_that_would_wait_for_each_other_are_refused_by_name(trial, chain):
    kill, _, roll = chain
    before = days(trial)
    refused = keep(trial, kill, due=None, after=str(roll), after_days=1)
    assert refused.status_code == 422
    assert "wait for each other: " in refused.json()["detail"]
    assert "isn’t there any more" in keep(trial, kill, due=None, after=str(uuid.uuid4())).json()["detail"]
    assert keep(trial, kill, after_days="4000", after=str(roll)).status_code == 422
    assert keep(trial, kill, due=None).status_code == 422
    assert days(trial) == before


def test_an_operation_says_what_it_is_for_and_what_it_took(trial):
    one = trial.page["treatments"][0]["id"]
    more = {"treatments": [one], "plots": ["101"], "amount": "2 passes", "machine": "flail", "operator": "Joss",
            "hours": "1.5", "cost": "42.50"}  # fmt: skip
    (shown,) = keep(trial, done="2027-03-31", **more).json()["operations"]
    assert {name: shown[name] for name in more} == {**more, "hours": 1.5}
    assert keep(trial, plots=["999"]).status_code == 422
    assert keep(trial, treatments=[str(uuid.uuid4())]).status_code == 422
    assert Operation.objects.count() == 1


def test_kill_dates_of_all_treatments_are_planned_in_one_act_or_not_at_all(trial):
    early, late = trial.page["treatments"][0]["id"], trial.page["treatments"][2]["id"]
    ids = [str(uuid.uuid4()) for _ in range(2)]
    dates = [
        {"id": ids[0], "name": "Kill early", "treatments": [early], "due": "2027-04-02"},
        {"id": ids[1], "name": "Kill late", "treatments": [late], "after": ids[0], "after_days": 21},
    ]

    def send(dates):
        return trial.client.post(f"/api/v1/trials/{trial.id}/kill-dates", {"dates": dates}, format="json")

    for _ in range(2):
        assert send(dates).status_code == 200
        assert days(trial) == {"Kill early": "2027-04-02", "Kill late": "2027-04-23"}
    twice = [{**dates[0], "id": str(uuid.uuid4())}, {**dates[0], "id": str(uuid.uuid4())}]
    assert "two dates" in send(twice).json()["detail"]
    wrong = [{**dates[0], "due": "2027-04-03"}, {**dates[1], "after": None}]
    assert send(wrong).status_code == 422
    assert days(trial)["Kill early"] == "2027-04-02"


def test_a_cover_is_not_ended_before_it_was_sown(trial):
    keep(trial, kind="sow", name="Sow", due="2026-09-01", done="2026-09-02")
    refused = keep(trial, due="2026-08-20")
    assert refused.status_code == 422
    assert "before the sowing “Sow” on 2026-09-02" in refused.json()["detail"]
    other = trial.page["treatments"][0]["id"]
    sown_late = {"kind": "sow", "name": "Sow again", "due": "2027-04-20", "treatments": [other]}
    assert keep(trial, **sown_late).status_code == 200
    assert keep(trial, treatments=[trial.page["treatments"][2]["id"]]).status_code == 200
    assert keep(trial, treatments=[other]).status_code == 422
    # The other way round too: sowing can't be put off past a kill that is planned.
    rest = {
        "kind": "sow",
        "name": "Sow the rest",
        "due": "2027-05-01",
        "treatments": [trial.page["treatments"][2]["id"]],
    }
    assert "“Kill the covers” on 2027-04-10 would lie before" in keep(trial, **rest).json()["detail"]
