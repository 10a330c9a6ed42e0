"""The field log: notes, decisions, troubles that Read honours, and whether a kill worked."""

import uuid

import pytest

from field_log.models import LogEntry
from operations.models import Operation
from records.models import Visit
from tests.server.asking import Trial, measure_in
from trials.models import Season, Unit

CLOCK = "2026-06-30T09:00:00+00:00"


@pytest.fixture(autouse=True)
def _clock(settings):
    settings.CLOCK = CLOCK


@pytest.fixture
def trial(client_of, workspace):
    made = Trial(client_of("owner"), workspace, measures=[measure_in()])
    labels = list(Season.objects.get(trial=made.id).units.filter(kind="plot").values_list("label", flat=True))
    entries = [made.typed(label, str(5 + n % 7), frame) for n, label in enumerate(labels) for frame in (1, 2)]
    assert {one["state"] for one in made.enter(*entries)} == {"saved"}
    made.labels = labels
    return made


def write(trial, id=None, client=None, **said):
    body = {"kind": "trouble", "day": "2026-06-20", "text": "", **said}
    path = f"/api/v1/trials/{trial.id}/log/{id or uuid.uuid4()}"
    return (client or trial.client).put(path, body, format="json")


def doubts(trial):
    trial.client.post(f"/api/v1/trials/{trial.id}/results", {}, format="json")
    read = trial.client.post(f"/api/v1/trials/{trial.id}/readings", {}, format="json").json()
    found = [*read["doubts"], *(doubt for measure in read["measures"] for doubt in measure["doubts"])]
    return {one["id"]: one for one in found}


def treatment(trial, name):
    return next(one["id"] for one in trial.page["treatments"] if one["name"] == name)


def test_a_lost_plot_counts_as_missing_from_its_day_on(trial):
    before = doubts(trial)
    assert "lost-plots" not in before
    plot = trial.labels[2]
    assert write(trial, trouble="hail", effect="lost", plots=[plot]).status_code == 200
    after = doubts(trial)
    assert after["lost-plots"]["plots"] == [plot]
    LogEntry.objects.update(day="2026-07-05")  # after the count: that one stands
    assert "lost-plots" not in doubts(trial)


def test_doubtful_plots_stay_in_the_means_and_are_doubted(trial):
    plots = trial.labels[4:6]
    write(trial, trouble="rodents", effect="doubtful", plots=plots, text="voles")
    found = doubts(trial)
    assert found["doubtful-plots"]["plots"] == plots
    assert (
        f"Rodents (voles) in plots {plots[0]} and {plots[1]} on 20 Jun 2026, before Weeds."
        in found["doubtful-plots"]["finding"]
    )
    assert "lost-plots" not in found
    LogEntry.objects.update(day="2026-07-05")
    assert "doubtful-plots" not in doubts(trial)


@pytest.mark.parametrize(
    ("said", "where"),
    [
        ({"day": "2026-07-01", "trouble": "hail"}, "day"),
        ({}, "trouble"),
        ({"kind": "note"}, "text"),
        ({"kind": "decision"}, "decision"),
        ({"trouble": "hail", "effect": "lost"}, "plots"),
        ({"trouble": "hail", "plots": ["999"]}, "plots"),
        ({"kind": "note", "text": "x", "effect": "lost", "plots": ["101"]}, "effect"),
    ],
)
def test_an_entry_that_cannot_be_is_refused_where_it_stands(trial, said, where):
    refused = write(trial, **said)
    assert refused.status_code == 422
    assert refused.json()["errors"][0]["where"] == where
    assert not LogEntry.objects.exists()


def test_a_decision_keeps_its_rule_and_an_entry_can_be_changed_and_removed(trial, client_of):
    id = uuid.uuid4()
    said = {
        "kind": "decision",
        "decision": "abandon",
        "rule": "below 20 plants",
        "known": "12 plants",
        "text": "Block C",
    }
    assert write(trial, id, **said).status_code == 200
    assert write(trial, id, **said).status_code == 200  # the same again is harmless
    (entry,) = write(trial, id, **{**said, "decision": "repeat"}).json()["entries"]
    assert (entry["decision"], entry["rule"], entry["by"]) == ("repeat", "below 20 plants", "Owner")
    path = f"/api/v1/trials/{trial.id}/log/{id}"
    stale = client_of("researcher").put(path, {**said, "day": "2026-06-20"}, format="json", HTTP_IF_MATCH='"old"')
    assert stale.status_code == 412
    assert trial.client.delete(path).json()["entries"] == []
    assert LogEntry.history.filter(id=id).count() >= 3


def keep(trial, **said):
    id = str(uuid.uuid4())
    body = {"kind": "kill", "name": "Kill", "done": "2026-06-10", **said}
    assert trial.client.put(f"/api/v1/trials/{trial.id}/operations/{id}", body, format="json").status_code == 200
    return id


def kills(trial):
    return trial.client.get(f"/api/v1/trials/{trial.id}/kills").json()["kills"]


def test_checks_after_a_kill_are_visits_that_follow_it_and_are_read_like_what_was_entered_with_it(trial):
    kill = keep(trial, kind="kill", name="Crimp", done="2026-06-10")
    path = f"/api/v1/trials/{trial.id}/kills/{kill}/checks"
    assert trial.client.put(path).json()["kills"][0]["proposed"] == []
    assert trial.client.put(path).status_code == 200  # again is harmless
    visits = trial.client.get(f"/api/v1/trials/{trial.id}/season").json()["visits"]
    checks = [(one["name"], one["due"], one["hangs_on"]) for one in visits if one["hangs_on"]]
    assert checks == [
        ("After Crimp, day 14", "2026-06-24", "14 days after Crimp"),
        ("After Crimp, day 28", "2026-07-08", "28 days after Crimp"),
    ]
    measures = {m["name"]: m["id"] for m in trial.client.get(f"/api/v1/trials/{trial.id}").json()["measures"]}
    assert {"Living share after a kill", "Height of regrowth"} <= set(measures)
    # The kill turns out to have been a day later: what follows it moves along.
    version = trial.client.get(f"/api/v1/trials/{trial.id}/season").json()["operations"][0]["etag"]
    body = {"kind": "kill", "name": "Crimp", "done": "2026-06-11"}
    saved = trial.client.put(
        f"/api/v1/trials/{trial.id}/operations/{kill}", body, format="json", headers={"If-Match": version}
    )
    assert saved.status_code == 200
    visits = trial.client.get(f"/api/v1/trials/{trial.id}/season").json()["visits"]
    assert [one["due"] for one in visits if one["hangs_on"]] == ["2026-06-25", "2026-07-09"]

    visit = Visit.objects.get(name="After Crimp, day 14")
    plot = Unit.objects.filter(season=visit.season, treatment=treatment(trial, "Common vetch"), kind="plot").first()
    for measure, value in (("Living share after a kill", "30"), ("Height of regrowth", "12")):
        entry = {
            "id": str(uuid.uuid4()), "unit": str(plot.id), "measure": measures[measure], "fields": {"value": value},
            "entered_at": "2026-06-24T10:00:00Z",
        }  # fmt: skip
        answer = trial.client.put(f"/api/v1/visits/{visit.id}/entries", {"entries": [entry]}, format="json")
        assert answer.json()["outcomes"][0]["state"] == "saved"
    found = kills(trial)[0]
    (mean,) = found["checks"][0]["means"]
    assert (mean["percent"], mean["tallest"], mean["plots"]) == (30, 12, 1)
    assert [one["percent"] for one in found["alive"]] == [30]
    assert "30 % of " in doubts(trial)["kill-incomplete"]["finding"]


def test_a_kill_proposes_checks_and_too_much_that_lives_is_doubted(trial, client_of):
    vetch = treatment(trial, "Common vetch")
    kill = keep(trial, treatments=[vetch])
    assert kills(trial)[0]["proposed"] == ["2026-06-24", "2026-07-08"]  # the 17th is too long ago
    keep(trial, kind="sample", name="Check", done=None, after=kill, after_days="28")
    assert kills(trial)[0]["proposed"] == ["2026-06-24"]
    plots = [one.label for one in Season.objects.get(trial=trial.id).units.filter(treatment_id=vetch)]
    path = f"/api/v1/trials/{trial.id}/kills/{kill}"
    shares = [{"plot": plot, "percent": str(8 * n), "regrowth": "12"} for n, plot in enumerate(plots, start=1)]
    assert trial.client.put(f"{path}/2026-06-24", {"shares": shares}, format="json").status_code == 200
    (found,) = kills(trial)
    assert (found["proposed"], found["checks"][0]["means"][0]["percent"]) == ([], 20)
    assert found["alive"][0]["treatment"] == vetch
    doubt = doubts(trial)["kill-incomplete"]
    assert "20 % of Common vetch lived on 24 Jun 2026 after “Kill”, where 10 % is the most." in doubt["finding"]
    assert doubt["plots"] == plots
    limits = f"/api/v1/trials/{trial.id}/kill-limit"
    assert trial.client.put(limits, {"limit_percent": "25"}, format="json").json()["kills"][0]["alive"] == []
    assert "kill-incomplete" not in doubts(trial)
    assert client_of("technician").put(limits, {"limit_percent": "90"}, format="json").status_code == 403
    assert trial.client.put(limits, {"limit_percent": "15"}, format="json").json()["limit_percent"] == 15
    assert doubts(trial)["kill-incomplete"]["finding"].endswith("where 15 % is the most.")
    gone = [{"plot": plot, "percent": "2"} for plot in plots]
    trial.client.put(f"{path}/2026-06-30", {"shares": gone}, format="json")
    assert kills(trial)[0]["alive"] == []
    assert "kill-incomplete" not in doubts(trial)
    for day, body, said in (
        ("2026-06-09", gone, "from the kill to today"),
        ("2026-07-02", gone, "from the kill to today"),
        ("2026-06-24", [{"plot": plots[0], "percent": "140"}], "too large"),
    ):
        refused = trial.client.put(f"{path}/{day}", {"shares": body}, format="json")
        assert refused.status_code in (400, 422)
        assert said in refused.content.decode()
    spray = keep(trial, kind="spray", name="Spray")
    assert (
        trial.client.put(
            f"/api/v1/trials/{trial.id}/kills/{spray}/2026-06-24", {"shares": gone}, format="json"
        ).status_code
        == 422
    )
    assert Operation.objects.get(id=kill).living.count() == 8
