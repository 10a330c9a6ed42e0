"""The same measures on several days: planned in one act, moved along, and read as the last, the mean or the sum."""

import uuid

import pytest

from readings.bridge import gather
from records.models import Visit
from tests.server.asking import AT, PLAN, Trial, measure_in, site_in
from tests.server.test_readings_of_designs import HEIGHT
from trials.models import Season, TrialMeasure


@pytest.fixture
def trial(client_of, workspace):
    weeds = measure_in("Weeds", settings={"area": 0.25, "frames": 1})
    pulled = measure_in("Weeds pulled", catalogue="weeds-pulled", settings={"area": 0.25, "frames": 1})
    return Trial(client_of("owner"), workspace, measures=[weeds, pulled])


def plan(trial, id=None, **asked):
    path = f"/api/v1/trials/{trial.id}/visit-series/{id or uuid.uuid4()}"
    return trial.client.put(path, {"name": "Weeds", "measures": trial.measures, **asked}, format="json")


def count(trial, visit, values):
    """`values`: count in the one frame of every plot, in the order of their labels."""
    units = sorted(Season.objects.get(trial=trial.id).units.filter(kind="plot"), key=lambda unit: unit.label)
    entries = [
        {"id": str(uuid.uuid4()), "unit": str(unit.id), "measure": measure, "fields": {"count": str(value)},
         "entered_at": AT, "confirmed": True}
        for measure in trial.measures for unit, value in zip(units, values, strict=False)
    ]  # fmt: skip
    answer = trial.client.put(f"/api/v1/visits/{visit}/entries", {"entries": entries}, format="json")
    assert {one["state"] for one in answer.json()["outcomes"]} == {"saved"}


def test_a_series_adds_to_a_visit_that_there_is_and_again_changes_nothing(trial):
    id = uuid.uuid4()
    for _ in range(2):
        answer = plan(trial, id, dates=["2026-07-08", "2026-07-01"])
    visits = answer.json()["visits"]
    assert [(one["name"], one["due"]) for one in visits[1:]] == [("Weeds 1", "2026-07-01"), ("Weeds 2", "2026-07-08")]
    assert Visit.objects.get(pk=trial.visit).series == id
    alone = f"/api/v1/trials/{trial.id}/visits/{uuid.uuid4()}"
    refused = trial.client.put(alone, {"name": "By itself", "measures": trial.measures[:1]}, format="json")
    assert "Plan several visits in one act" in refused.json()["detail"]


def test_a_series_takes_in_no_visit_of_other_measures_of_another_site_or_of_another_series(client_of, workspace):
    sites = [site_in("Mill Ground"), site_in("Cold Acre")]
    weeds, height = measure_in(), measure_in(**HEIGHT)
    trial = Trial(client_of("owner"), workspace, sites=sites, measures=[weeds, height])
    trial.plan_visit(measures=trial.measures[:1])

    def at(site, path):
        return f"/api/v1/trials/{trial.id}/{path}?site={site['id']}"

    trial.client.post(at(sites[1], "plan"), PLAN, format="json")
    visit = {"name": "Elsewhere", "measures": trial.measures[:1]}
    assert trial.client.put(at(sites[1], f"visits/{uuid.uuid4()}"), visit, format="json").status_code == 200
    other = {"name": "Height", "measures": trial.measures[1:]}
    trial.client.put(at(sites[0], f"visits/{uuid.uuid4()}"), other, format="json")
    first, again = uuid.uuid4(), uuid.uuid4()
    for id, date in ((first, "2026-07-01"), (again, "2026-07-08")):
        asked = {"name": f"Weeds {date}", "measures": trial.measures[:1], "dates": [date]}
        assert trial.client.put(at(sites[0], f"visit-series/{id}"), asked, format="json").status_code == 200
    found = dict(Visit.objects.filter(season__trial=trial.id).values_list("name", "series"))
    assert found == {
        "Weeds in June": first, "Weeds 2026-07-01": first, "Weeds 2026-07-08": again, "Height": None, "Elsewhere": None,
    }  # fmt: skip


def test_pulled_weeds_add_up_and_standing_ones_are_those_of_the_last_whole_visit(trial):
    plan(trial, dates=["2026-07-01", "2026-07-08"])
    first, second, third = Visit.objects.filter(season__trial=trial.id).order_by("order")
    for visit, day, values in ((first, "2026-06-24", [4] * 12), (second, "2026-07-01", [6] * 12)):
        count(trial, visit.pk, values)
        Visit.objects.filter(pk=visit.pk).update(date=day)
    count(trial, third.pk, [50, 50])  # begun: it doesn't count yet
    Visit.objects.filter(pk=third.pk).update(date="2026-07-08")
    given = gather(Season.objects.get(trial=trial.id))
    standing, pulled = (given.samples[measure] for measure in trial.measures)
    assert {tuple(values) for values in standing.values()} == {(24.0,)}
    assert {tuple(values) for values in pulled.values()} == {(40.0,)}
    said = {given.occasions[measure].visit for measure in trial.measures}
    assert said == {f"{second.name}, the last whole one of 3 visits", "Sum of 2 visits, 24 Jun 2026 to 1 Jul 2026"}
    weeds = TrialMeasure.objects.get(pk=trial.measures[0])
    weeds.over_visits = "mean"
    weeds.save()
    again = gather(Season.objects.get(trial=trial.id))
    assert {tuple(values) for values in again.samples[str(weeds.pk)].values()} == {(20.0,)}
    assert again.visits[str(weeds.pk)] == 2  # so that value × area × 2 is what was counted


def test_visits_follow_an_operation_until_they_are_walked_and_a_date_set_by_hand_stays(trial):
    operation = uuid.uuid4()
    path = f"/api/v1/trials/{trial.id}/operations/{operation}"
    kill = {"kind": "kill", "name": "Crimp", "due": "2026-07-01"}
    assert trial.client.put(path, kill, format="json").status_code == 200
    days = plan(trial, after=str(operation), days=["14", "7", "28"]).json()["visits"][1:]
    assert [one["due"] for one in days] == ["2026-07-08", "2026-07-15", "2026-07-29"]
    assert days[0]["hangs_on"] == "7 days after Crimp"
    Visit.objects.filter(pk=days[0]["id"]).update(date="2026-07-08")
    own = {"name": days[2]["name"], "due": "2026-08-03", "measures": days[2]["measures"]}
    moved = f"/api/v1/trials/{trial.id}/visits/{days[2]['id']}"
    assert trial.client.put(moved, own, format="json", headers={"If-Match": days[2]["etag"]}).status_code == 200
    etag = trial.client.get(f"/api/v1/trials/{trial.id}/season").json()["operations"][0]["etag"]
    later = {**kill, "due": "2026-07-05"}
    assert trial.client.put(path, later, format="json", headers={"If-Match": etag}).status_code == 200
    visits = trial.client.get(f"/api/v1/trials/{trial.id}/season").json()["visits"][1:]
    assert [(one["due"], one["hangs_on"]) for one in visits] == [
        ("2026-07-08", "7 days after Crimp"), ("2026-07-19", "14 days after Crimp"), ("2026-08-03", ""),
    ]  # fmt: skip


def test_a_series_that_is_planned_again_with_another_day_gets_it(trial):
    operation, id = uuid.uuid4(), uuid.uuid4()
    path = f"/api/v1/trials/{trial.id}/operations/{operation}"
    trial.client.put(path, {"kind": "kill", "name": "Crimp", "due": "2026-07-01"}, format="json")
    plan(trial, id, after=str(operation), days=["14"])
    visits = plan(trial, id, after=str(operation), days=["7"]).json()["visits"][1:]
    assert sorted(one["due"] for one in visits) == ["2026-07-08", "2026-07-15"]


@pytest.mark.parametrize(
    ("asked", "says"),
    [
        ({}, "The visits have no dates"),
        ({"after": str(uuid.uuid4()), "days": ["7"]}, "isn’t there any more"),
        ({"plant": "rye", "stages": ["61"]}, "No treatment has this plant"),
        ({"dates": [f"2026-{month:02}-{day:02}" for month in (4, 5, 6) for day in range(1, 29)]}, "at most 60"),
    ],
)
def test_a_series_without_days_or_of_what_is_not_there_is_refused(trial, asked, says):
    answer = plan(trial, **asked)
    assert answer.status_code == 422
    assert says in answer.json()["detail"]


def test_what_counts_stays_as_it_was_once_results_were_opened(trial):
    count(trial, trial.visit, range(12))
    assert plan(trial, dates=["2026-07-01"], over_visits="mean").status_code == 200
    assert trial.client.post(f"/api/v1/trials/{trial.id}/results", {}, format="json").status_code < 300
    assert plan(trial, dates=["2026-07-20"], over_visits="sum").status_code == 409
    assert plan(trial, dates=["2026-07-20"], over_visits="mean").status_code == 200
