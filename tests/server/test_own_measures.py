"""Measures that people make themselves: asked, walked, read, taken in other trials, and refused."""

import pytest

from library.models import MeasureVersion
from readings.bridge import area_of, gather
from tests.server.asking import Trial, measure_in
from trials.models import Season, TrialMeasure

EARS = {
    "kind": "continuous", "formula": "Mass × Cover / Area cut", "samples": "1", "usual_from": "1", "usual_to": "900",
    "fields": [
        {"name": "Mass", "kind": "number", "unit": "g", "least": "0"},
        {"name": "Cover", "kind": "choice", "grades": "1 thin\n3 closed"},
    ],
    "numbers": [{"name": "Area cut", "value": "0,5", "unit": "m²"}],
    "zero_when_failed": True,
}  # fmt: skip
LAYERS = {"fields": [{"name": "Nitrate", "kind": "number", "unit": "mg/kg", "least": "0"}], "parts": "layer"}


@pytest.fixture
def ada(client_of):
    return client_of("owner")


def own_in(name="Ear mass", own=EARS, **changes):
    return measure_in(name, unit="g/m²", catalogue="", sheet="own", own=own, settings={}, margin=50, expected=300,
                      direction="higher", **changes)  # fmt: skip


@pytest.fixture
def trial(ada, workspace):
    return Trial(ada, workspace, measures=[own_in()])


def test_it_is_walked_by_its_own_fields_and_read_like_any_other(trial, ada):
    sheet = trial.open()["measures"][0]
    assert [(f["key"], f["name"], f["unit"], f["kind"]) for f in sheet["fields"]] == [
        ("f1", "Mass", "g", "number"), ("f2", "Cover", "", "choice"),
    ]  # fmt: skip
    assert sheet["fields"][1]["choices"] == ["1 thin", "3 closed"]
    assert (sheet["formula"], sheet["settings"]) == ("Mass × Cover / Area cut", ["Area cut: 0.5 m²"])
    assert sheet["rules"]["own"]["formula"].startswith("((f1 * $lookup(")
    saved, asked, failed = trial.enter(
        trial.typed("101", {"f1": "60", "f2": "3 closed"}),
        trial.typed("102", {"f1": "300", "f2": "3 closed"}),
        trial.typed("103", {}, missing_status="failed", missing_reason="The cover died in the frost."),
    )
    assert (saved["state"], saved["value"]) == ("saved", pytest.approx(360))
    assert "1,800 g/m² is unusual" in asked["message"] or "1800 g/m² is unusual" in asked["message"]
    assert failed["state"] == "saved"
    samples = gather(Season.objects.get(trial=trial.id)).samples[trial.measures[0]]
    assert (samples["101"], samples["103"]) == ([pytest.approx(360)], [0.0])


def test_layers_are_parts_whose_mean_is_the_plot_s_value(ada, workspace):
    trial = Trial(ada, workspace, measures=[own_in("Nitrate", LAYERS)])
    names = {"parts": [{"name": "0–30 cm"}, {"name": "30–60 cm"}]}
    assert ada.put(f"/api/v1/measures/{trial.measures[0]}/parts", names, format="json").status_code == 200

    def layer(label, name, value):
        part = {"component_kind": "layer", "component": name}
        return trial.typed(label, {"f1": value}, **part)

    saved = trial.enter(
        layer("101", "0–30 cm", "10"), layer("101", "30–60 cm", "4"), layer("102", "0–30 cm", "8"),
    )  # fmt: skip
    assert [one["state"] for one in saved] == ["saved"] * 3
    given = gather(Season.objects.get(trial=trial.id))
    samples = given.samples[trial.measures[0]]
    assert samples["101"] == [7.0]
    assert samples["102"] == [None]  # of one layer alone the mean would be another thing's
    assert given.unsaid[trial.measures[0]] == {"0–30 cm": 0, "30–60 cm": 0}


def test_a_change_is_a_new_version_and_never_another_meaning_of_what_was_recorded(trial, ada, workspace):
    before = TrialMeasure.objects.get(id=trial.measures[0]).version
    assert trial.ask(trial.page).status_code == 200
    assert TrialMeasure.objects.get(id=trial.measures[0]).version_id == before.id
    other = {**trial.page["measures"][0], "own": {**EARS, "usual_to": "700"}}
    assert trial.ask({**trial.page, "measures": [other]}).status_code == 200
    after = TrialMeasure.objects.get(id=trial.measures[0]).version
    assert (after.number, after.own["plausible"]) == (2, [1.0, 700.0])
    assert MeasureVersion.objects.get(id=before.id).own["plausible"] == [1.0, 900.0]
    assert trial.enter(trial.typed("101", {"f1": "60", "f2": "1 thin"}))[0]["state"] == "saved"
    refused = trial.ask(trial.page)
    assert refused.status_code == 409
    assert "measured in another way" in refused.json()["detail"]
    known = ada.get(f"/api/v1/workspaces/{workspace.id}/own-measures").json()
    assert [(one["name"], one["unit"], one["own"]["usual_to"]) for one in known] == [("Ear mass", "g/m²", 700.0)]
    again = Trial(ada, workspace, measures=[own_in(own=known[0]["own"])])
    assert TrialMeasure.objects.get(id=again.measures[0]).version_id == after.id
    shown = ada.get(f"/api/v1/trials/{again.id}").json()["measures"][0]
    assert (shown["sheet"], shown["own"]) == ("own", known[0]["own"])


def test_what_is_wrong_is_told_at_its_place_and_nothing_is_kept(ada, workspace):
    trial = Trial(ada, workspace)
    wrong = own_in(own={**EARS, "formula": "Mass × Straw"})
    refused = trial.ask({**trial.page, "measures": [*trial.page["measures"], wrong]})
    assert refused.status_code == 422
    place = refused.json()["errors"][0]
    assert place["where"] == "measures.2.own.formula"
    assert "“Straw”, which isn’t a field" in place["what"]
    assert TrialMeasure.objects.filter(trial=trial.id).count() == 2
    for own, where in (
        (None, "measures.0.own"),
        ({**EARS, "usual_to": ""}, "measures.0.own.usual_to"),
        ({**EARS, "fields": [{**EARS["fields"][0], "most": "ten"}]}, "measures.0.own.fields.0.most"),
    ):
        answer = trial.ask({**trial.page, "measures": [own_in(own=own)]})
        assert answer.status_code == 400
        assert where in [one["where"] for one in answer.json()["errors"]]


def test_it_can_be_tried_before_it_is_kept(ada):
    def tried(own=EARS, **typed):
        body = {"name": "Ear mass", "unit": "g/m²", "own": own, "typed": typed}
        return ada.post("/api/v1/own-measures/try", body, format="json")

    assert tried(f1="60", f2="3").json()["value"] == "360 g/m²"
    assert "unusual" in tried(f1="400", f2="3").json()["message"]
    assert "isn’t one of" in tried(f1="60", f2="2").json()["message"]
    assert [one["name"] for one in tried().json()["fields"]] == ["Mass", "Cover"]
    refused = tried({**EARS, "formula": "Mass +"})
    assert (refused.status_code, refused.json()["errors"][0]["where"]) == (422, "formula")


def test_a_count_of_ones_own_is_counted_whatever_its_unit_says(ada, workspace):
    pods = {"kind": "count", "fields": [{"name": "Pods", "kind": "whole"}], "samples": 2}
    trial = Trial(ada, workspace, measures=[own_in("Pods", pods, margin_kind="percent") | {"unit": "pods/ft²"}])
    measure = TrialMeasure.objects.get(id=trial.measures[0])
    assert (measure.version.kind, area_of(measure)) == ("count", 1.0)
    saved = trial.enter(trial.typed("101", {"f1": "7"}), trial.typed("101", {"f1": "9"}, frame=2))
    assert [one["value"] for one in saved] == [7, 9]
    assert gather(Season.objects.get(trial=trial.id)).samples[trial.measures[0]]["101"] == [7, 9]
