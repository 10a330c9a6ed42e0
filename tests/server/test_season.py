"""Season and Today: what is due, half done, new, and what an operation must say."""

import uuid

import pytest

from operations.models import Operation
from tests.server.asking import Trial
from tests.server.bringing import read


@pytest.fixture(autouse=True)
def _clock(settings):
    settings.CLOCK = "2026-06-20T22:30:00+00:00"  # 23:30 in London, so still 20 June there


def keep(trial, client=None, id=None, **changes):
    body = {"kind": "sow", "name": "Sow the covers", "due": "2026-06-25", "done": None, "note": "", **changes}
    url = f"/api/v1/trials/{trial.id}/operations/{id or uuid.uuid4()}"
    return (client or trial.client).put(url, body, format="json")


def season(trial):
    return trial.client.get(f"/api/v1/trials/{trial.id}/season").json()


def today(client):
    return client.get("/api/v1/today").json()


@pytest.mark.parametrize(
    ("due", "state"),
    [
        ("2026-06-19", "overdue"),
        ("2026-06-20", "due"),
        ("2026-06-21", "soon"),
        ("2026-07-04", "soon"),
        ("2026-07-05", "later"),
        (None, "later"),
    ],
)
def test_a_visit_is_due_by_the_date_at_the_site(trial, due, state):
    trial.plan_visit(due=due)
    assert [v["state"] for v in season(trial)["visits"]] == [state]
    assert season(trial)["today"] == "2026-06-20"


def test_a_visit_goes_from_begun_by_way_of_conflict_to_done(trial, client_of):
    trial.plan_visit(measures=trial.measures[:1], due="2026-06-19")
    state = lambda: season(trial)["visits"][0]["state"]  # noqa: E731
    labels = [p["label"] for p in trial.client.get(f"/api/v1/trials/{trial.id}").json()["plots"]]
    trial.enter(trial.typed("101", "7"))
    assert state() == "begun"
    met = trial.typed("101", "9")
    trial.enter(met, client=client_of("technician"))
    assert state() == "conflict"
    decision = {"id": str(uuid.uuid4()), "keep": met["id"], "why": "counted twice"}
    trial.client.post(f"/api/v1/observations/{met['id']}/decision", decision, format="json")
    trial.enter(
        *(trial.typed(label, "5", frame) for label in labels for frame in (1, 2) if (label, frame) != ("101", 1))
    )
    assert state() == "done"
    assert season(trial)["visits"][0]["date"] == "2026-06-20"


def test_an_operation_is_planned_done_and_keeps_what_was_before(trial):
    id = uuid.uuid4()
    planned = keep(trial, id=id).json()["operations"][0]
    assert (planned["state"], planned["due"], planned["done"]) == ("soon", "2026-06-25", None)
    assert "Treated seed" in planned["caution"]
    done = keep(trial, id=id, done="2026-06-20", note="12.5 cm rows").json()["operations"]
    assert [(o["state"], o["done"], o["note"]) for o in done] == [("done", "2026-06-20", "12.5 cm rows")]
    history = Operation.objects.get(id=id).history.order_by("history_date")
    assert [str(row.done) for row in history] == ["None", "2026-06-20"]


@pytest.mark.parametrize(
    ("changes", "says"),
    [
        ({"due": None}, "The operation has no date"),
        ({"done": "2026-06-21"}, "lies ahead"),
        ({"kind": "wish"}, "not a valid choice"),
        ({"name": ""}, "blank"),
    ],
)
def test_an_operation_that_cannot_be_is_refused_with_the_reason(trial, changes, says):
    answer = keep(trial, **changes)
    assert answer.status_code in (400, 422)
    assert says in str(answer.json())
    assert not Operation.objects.exists()


def test_an_id_of_another_trials_operation_is_not_taken_over(trial, owner, workspace):
    id = uuid.uuid4()
    keep(trial, id=id)
    assert keep(Trial(owner, workspace), id=id).status_code == 409


def test_a_technician_says_what_was_done_and_a_reader_looks_on(trial, client_of):
    assert keep(trial, client=client_of("technician"), done="2026-06-20").status_code == 200
    assert keep(trial, client=client_of("reader")).status_code == 403


def test_today_gathers_what_is_due_begun_and_soon_over_all_trials_in_order(trial, owner, workspace):
    second = Trial(owner, workspace, name="Another")
    trial.plan_visit(due="2026-06-19", name="Late")
    second.plan_visit(due="2026-06-30", name="Coming")
    keep(second, name="Due now", due="2026-06-20")
    keep(second, name="Far", due="2026-12-01")
    keep(second, name="Was done", done="2026-06-18", due="2026-06-18")
    found = today(owner)
    assert [(line["name"], line["trial_name"], line["state"]) for line in found["due"]] == [
        ("Late", "Covers before barley", "overdue"), ("Due now", "Another", "due")
    ]  # fmt: skip
    assert [line["name"] for line in found["soon"]] == ["Coming"]
    assert (found["begun"], found["new"]) == ([], [])
    trial.enter(trial.typed("101", "7"))
    begun = today(owner)["begun"][0]
    assert (begun["name"], begun["done"], begun["of"]) == ("Late", 0, 12)


def test_figures_that_nobody_has_read_are_new_until_somebody_reads_them(trial, owner, settings):
    trial.plan_visit(measures=trial.measures[:1])
    labels = [p["label"] for p in owner.get(f"/api/v1/trials/{trial.id}").json()["plots"]]
    trial.enter(*(trial.typed(label, str(3 + i % 5), f) for i, label in enumerate(labels) for f in (1, 2)))
    assert [(line["kind"], line["trial"], line["date"]) for line in today(owner)["new"]] == [
        ("reading", trial.id, "2026-06-20")
    ]
    settings.CLOCK = "2026-06-21T08:00:00+00:00"
    read(owner, trial.id)
    assert today(owner)["new"] == []
    settings.CLOCK = "2026-06-21T09:00:00+00:00"
    standing = next(r for r in trial.open()["rows"] if r["sample"] == 1)
    change = {**trial.typed("101", "30"), "unit": standing["unit"], "replaces": standing["id"]}
    assert trial.enter(change)[0]["state"] == "saved"
    assert len(today(owner)["new"]) == 1


def test_the_list_of_trials_says_at_which_station_each_is(trial, owner, workspace, settings):
    settings.CLOCK = "2026-09-01T08:00:00+00:00"
    stage = lambda: {t["name"]: t["stage"] for t in owner.get("/api/v1/trials").json()["results"]}  # noqa: E731
    assert stage() == {"Covers before barley": "season"}  # a map without a sown plot isn't growing
    sowing = {"kind": "sow", "name": "Sow the covers", "done": "2026-08-25"}
    owner.put(f"/api/v1/trials/{trial.id}/operations/{uuid.uuid4()}", sowing, format="json")
    assert stage() == {"Covers before barley": "walk"}
    trial.plan_visit(measures=trial.measures[:1])
    trial.enter(trial.typed("101", "7"))
    assert stage() == {"Covers before barley": "read"}
    body = {**trial.page, "name": "Only asked"}
    body["treatments"] = [{**t, "id": str(uuid.uuid4())} for t in body["treatments"]]
    body["measures"] = [{**m, "id": str(uuid.uuid4())} for m in body["measures"]]
    owner.put(f"/api/v1/trials/{uuid.uuid4()}/ask", body, format="json")
    assert stage()["Only asked"] == "plan"


def test_a_trial_that_is_drawn_but_lies_ahead_is_still_being_planned(owner, workspace, settings):
    settings.CLOCK = "2026-08-19T12:00:00+00:00"
    Trial(owner, workspace)
    stage = lambda: owner.get("/api/v1/trials").json()["results"][0]["stage"]  # noqa: E731
    assert stage() == "plan"
    settings.CLOCK = "2026-08-20T12:00:00+00:00"
    assert stage() == "season"


def test_an_archived_trial_is_kept_apart_and_nothing_of_it_is_due(trial, client_of, owner, settings):
    settings.CLOCK = "2026-06-24T08:00:00+00:00"
    names = lambda query="": [t["name"] for t in owner.get(f"/api/v1/trials{query}").json()["results"]]  # noqa: E731
    line = owner.get("/api/v1/trials?search=mill ground").json()["results"][0]
    assert (line["name"], line["years"], line["archived_at"]) == ("Covers before barley", "2026–2027", None)
    assert (names("?search=potato"), len(today(owner)["due"])) == ([], 1)
    url = f"/api/v1/trials/{trial.id}/archive"
    assert client_of("technician").put(url, {"archived": True}, format="json").status_code == 403
    for _ in range(2):  # repeating it is harmless
        assert owner.put(url, {"archived": True}, format="json").status_code == 204
    assert (names(), names("?archived=true"), today(owner)["due"]) == ([], ["Covers before barley"], [])
    assert owner.get(f"/api/v1/trials/{trial.id}").status_code == 200
    owner.put(url, {"archived": False}, format="json")
    assert names() == ["Covers before barley"]
