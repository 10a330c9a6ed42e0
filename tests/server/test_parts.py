"""Measures that are told by parts: the list of species, counts of each, their sum, and each by itself in Read."""

import uuid

import pytest

from readings.bridge import gather
from records.models import Visit
from tests.server.asking import AT, Trial, measure_in
from trials.models import Season, TrialMeasure

HEN, COUCH = "Fat hen", "Couch grass"


@pytest.fixture
def trial(client_of, workspace):
    by_species = {"catalogue": "weeds-by-species", "sheet": "species-count"}
    return Trial(
        client_of("owner"), workspace, measures=[measure_in(**by_species, settings={"area": 0.25, "frames": 2})]
    )


def parts(trial, *names, client=None):
    body = {"parts": [{"name": name, "group": "annual broadleaf"} for name in names]}
    return (client or trial.client).put(f"/api/v1/measures/{trial.measures[0]}/parts", body, format="json")


def units(trial):
    return sorted(Season.objects.get(trial=trial.id).units.filter(kind="plot"), key=lambda unit: unit.label)


def entry(trial, unit, frame, species, count, **changes):
    return {
        "id": str(uuid.uuid4()), "unit": str(unit.id), "measure": trial.measures[0], "sample": frame,
        "component_kind": "species", "component": species, "fields": {"count": str(count)}, "entered_at": AT, **changes,
    }  # fmt: skip


def test_counts_of_species_add_up_in_each_frame_and_each_stands_by_itself(trial):
    assert parts(trial, HEN, COUCH, "Fat  hen").json()["parts"] == [
        {"name": HEN, "group": "annual broadleaf"}, {"name": COUCH, "group": "annual broadleaf"},
    ]  # fmt: skip
    sheet = trial.client.get(f"/api/v1/visits/{trial.visit}").json()["measures"][0]
    assert (sheet["part_kind"], [one["name"] for one in sheet["parts"]]) == ("species", [HEN, COUCH])
    assert any(one["name"] == "Black-grass" for one in sheet["common_parts"])
    first, *others = units(trial)
    answers = trial.enter(
        entry(trial, first, 1, HEN, 3), entry(trial, first, 1, COUCH, 1), entry(trial, first, 2, HEN, 0),
        entry(trial, first, 2, COUCH, 2),
        *(entry(trial, one, frame, HEN, 1) for one in others for frame in (1, 2)),
    )  # fmt: skip
    assert {one["state"] for one in answers} == {"saved"}
    given = gather(Season.objects.get(trial=trial.id))
    key = trial.measures[0]
    assert given.samples[key][first.label] == [16.0, 8.0]
    assert given.by_part[key][COUCH][first.label] == [4.0, 8.0]
    assert given.by_part[key][COUCH][others[0].label] == [0.0, 0.0]  # it was on the list and wasn't there
    visit = Visit.objects.get(pk=trial.visit)
    assert trial.client.get(f"/api/v1/visits/{visit.pk}").json()["progress"]["done"] == len(units(trial))

    trial.client.post(f"/api/v1/trials/{trial.id}/results", {}, format="json")
    read = trial.client.post(f"/api/v1/trials/{trial.id}/readings", {}, format="json").json()["measures"][0]
    assert {one["name"]: one["unsaid"] for one in read["parts"]} == {HEN: 0, COUCH: 2 * len(others)}
    told = {one["name"]: {m["treatment"]: m["mean"] for m in one["means"]} for one in read["parts"]}
    assert set(told) == {HEN, COUCH}
    assert told[COUCH][first.treatment.name] == pytest.approx(6 / 4)  # one of four plots has 6 per m²


def test_one_frame_of_two_is_a_plot_that_is_begun(trial):
    parts(trial, HEN, COUCH)
    first = units(trial)[0]
    trial.enter(entry(trial, first, 1, HEN, 3), entry(trial, first, 1, COUCH, 1))
    progress = trial.client.get(f"/api/v1/visits/{trial.visit}").json()["progress"]
    assert (progress["begun"], progress["done"]) == (1, 0)


def test_a_species_met_in_the_field_comes_on_the_list_and_one_with_values_stays_there(trial):
    first = units(trial)[0]
    assert trial.enter(entry(trial, first, 1, "Unknown 1", 2))[0]["state"] == "saved"
    assert [one["name"] for one in TrialMeasure.objects.get(pk=trial.measures[0]).parts] == ["Unknown 1"]
    refused = parts(trial, HEN)
    assert refused.status_code == 409
    assert "Unknown 1 has values" in refused.json()["detail"]
    assert parts(trial, HEN, "Unknown 1").status_code == 200
    assert parts(trial, "").status_code == 400
    assert parts(trial, *(f"Weed {n}" for n in range(61))).status_code == 422


def test_an_entry_of_the_whole_where_parts_are_wanted_is_refused_and_so_is_the_reverse(trial, client_of, workspace):
    first = units(trial)[0]
    for kind, name in (("", ""), ("species", ""), ("", HEN), ("layer", HEN)):
        assert trial.enter(entry(trial, first, 1, name, 3, component_kind=kind))[0]["state"] == "refused"
    plain = Trial(client_of("owner"), workspace, measures=[measure_in("Plain weeds")])
    told = entry(plain, units(plain)[0], 1, HEN, 3)
    assert plain.enter(told)[0]["state"] == "refused"
    assert parts(plain, HEN).status_code == 409


def test_a_species_met_at_a_visit_that_takes_other_measures_too_comes_on_its_own_list(client_of, workspace):
    by_species = measure_in("Weeds by species", catalogue="weeds-by-species", sheet="species-count")
    trial = Trial(client_of("owner"), workspace, measures=[by_species, measure_in()])
    (met,) = trial.enter(entry(trial, units(trial)[0], 1, COUCH, 3))
    assert met["state"] == "saved"
    assert [[one["name"] for one in m["parts"]] for m in trial.open()["measures"]] == [[COUCH], []]


def test_a_part_that_was_corrected_to_missing_leaves_its_frame_without_a_sum(trial):
    parts(trial, HEN, COUCH)
    first = units(trial)[0]
    trial.enter(*(entry(trial, first, frame, species, 2) for frame in (1, 2) for species in (HEN, COUCH)))
    row = next(r for r in trial.open()["rows"] if (r["component"], r["sample"]) == (COUCH, 1))
    said = {"replaces": row["id"], "fields": {"count": ""}, "why": "illegible"}
    assert trial.client.put(f"/api/v1/observations/{uuid.uuid4()}", said, format="json").status_code == 200
    given = gather(Season.objects.get(trial=trial.id))
    assert given.samples[trial.measures[0]][first.label] == [None, 16.0]


def test_a_lost_plot_has_no_value_whatever_was_counted_there(trial):
    parts(trial, HEN)
    first = units(trial)[0]
    trial.enter(entry(trial, first, 1, HEN, 3))
    gone = entry(trial, first, 1, HEN, 0, fields={}, missing_status="damaged", missing_reason="flooded")
    (row,) = trial.open()["rows"]
    assert (row["component_kind"], row["component"]) == ("species", HEN)
    gone["replaces"] = row["id"]
    assert trial.enter(gone)[0]["state"] == "saved"
    given = gather(Season.objects.get(trial=trial.id))
    assert given.samples[trial.measures[0]][first.label] == [None]


def test_each_species_has_its_own_past(trial):
    parts(trial, HEN, COUCH)
    first = units(trial)[0]
    body = {"name": "Weeds", "measures": trial.measures, "dates": ["2026-07-08"]}
    made = trial.client.put(f"/api/v1/trials/{trial.id}/visit-series/{uuid.uuid4()}", body, format="json").json()
    trial.enter(entry(trial, first, 1, HEN, 3), entry(trial, first, 1, COUCH, 1))
    later = next(visit["id"] for visit in made["visits"] if visit["id"] != trial.visit)
    told = trial.client.get(f"/api/v1/visits/{later}").json()["past"]
    assert {one["component"]: one["value"] for one in told} == {HEN: 12, COUCH: 4}
