"""A value that lies beyond what was measured: its end is kept, no mean is made without it, and Read says so."""

import csv
import io
import uuid
import zipfile

import pytest

from records.models import Observation
from tests.server.asking import Trial, measure_in
from tests.server.bringing import acceptance, bring, read
from tests.server.test_zones import keep as keep_zones
from tests.server.waiting import file_of
from trials.models import Unit

DEPTH = measure_in("Depth of resistance", unit="cm", catalogue="penetration", sheet="resistance",
                   settings={"from": 5, "step": 5}, margin=10, expected=30, direction="higher")  # fmt: skip
RATE = measure_in("Infiltration", unit="mm/h", catalogue="infiltration", sheet="infiltration",
                  settings={}, margin=10, expected=60, direction="higher")  # fmt: skip
SECONDS = "Type the time of each fill in seconds, or how long the last one stood and wasn’t gone."
SHALLOW, DEEP, DEEPER = {"first": "1.0 1.6 2.4"}, {"first": "0.8 1.2 1.6 1.8"}, {"first": "0.8 1 1.2 1.4 1.6"}


@pytest.fixture
def trial(client_of, workspace):
    return Trial(client_of("owner"), workspace, measures=[DEPTH, RATE])


def stands(trial, label="101", sample=1):
    return next(r for r in trial.open()["rows"] if (r["unit"], r["sample"]) == (trial.unit(label), sample))


def test_the_profile_is_kept_and_its_value_is_more_than_the_deepest_reading(trial):
    deep, crossed = trial.enter(trial.typed("101", DEEP), trial.typed("102", SHALLOW))
    assert (deep["state"], deep["value"], deep["bound"]) == ("saved", None, 20)
    assert (crossed["value"], crossed["bound"]) == (pytest.approx(12.5), None)
    row = stands(trial)
    assert (row["fields"], row["bound"], row["missing_status"]) == (DEEP, 20, "")
    assert row["missing_reason"] == "It is more than 20 cm."
    assert trial.open()["measures"][0]["beyond"] == "more"


def test_a_fill_that_is_not_gone_in_time_keeps_the_rate_as_less(trial):
    (slow,) = trial.enter(trial.typed("101", {"fills": "900", "stopped": "3600"}, measure=1))
    assert (slow["value"], slow["bound"]) == (None, 25)
    assert stands(trial)["missing_reason"] == "It is less than 25 mm/h."
    assert Observation.objects.get().typed == "900 · 3600"
    (none,) = trial.enter(trial.typed("102", {"fills": "", "stopped": ""}, measure=1))
    assert (none["state"], none["message"]) == ("refused", SECONDS)


def test_an_impossible_end_is_refused_like_a_value(trial):
    (far,) = trial.enter(trial.typed("101", {"first": " ".join(["1"] * 45)}))
    assert (far["state"], "isn’t possible" in far["message"]) == ("refused", True)


def test_it_is_replaced_taken_back_and_in_conflict_like_any_value(trial, client_of):
    trial.enter(trial.typed("101", DEEP))
    trial.enter(trial.typed("101", SHALLOW, replaces=stands(trial)["id"]))
    assert stands(trial)["bound"] is None
    trial.client.post(f"/api/v1/observations/{stands(trial)['id']}/undo", {"id": str(uuid.uuid4())}, format="json")
    assert (stands(trial)["bound"], stands(trial)["value"], stands(trial)["fields"]) == (20, None, DEEP)
    other = client_of("technician")
    (same,) = trial.enter(trial.typed("101", DEEP), client=other)
    (deeper,) = trial.enter(trial.typed("101", DEEPER), client=other)
    (crossed,) = trial.enter(trial.typed("101", SHALLOW), client=other)
    assert (same["state"], deeper["state"], deeper["other"]["bound"]) == ("saved", "conflict", 20)
    assert (deeper["value"], deeper["bound"]) == (None, 25)
    assert (crossed["state"], crossed["value"], crossed["bound"]) == ("conflict", pytest.approx(12.5), None)
    url = f"/api/v1/observations/{uuid.uuid4()}"
    body = {"replaces": stands(trial)["id"], "why": "dug on", "fields": DEEPER}
    for _ in range(2):  # a repeated correction is answered like the first
        corrected = trial.client.put(url, body, format="json").json()
        assert (corrected["state"], corrected["value"], corrected["bound"]) == ("saved", None, 25)
    assert stands(trial)["bound"] == 25


def test_the_profile_of_one_zone_neither_finishes_its_plot_nor_leaves_a_mean_of_the_rest(trial):
    keep_zones(trial)
    trial.plan_visit(measures=trial.measures[:1])
    trial.enter(trial.typed("101", DEEP, zone="mulch"))
    assert (trial.open()["progress"]["done"], trial.open()["progress"]["begun"]) == (0, 1)
    trial.enter(trial.typed("101", SHALLOW, zone="tilled strip"))
    assert trial.open()["progress"]["done"] == 1
    depth = read(trial.client, trial.id)["measures"][0]
    assert next(p["value"] for p in depth["plots"] if p["label"] == "101") is None
    assert next(d for d in depth["doubts"] if d["id"] == "beyond-what-was-measured")["plots"] == ["101"]


def test_the_package_keeps_the_ends_that_are_known(trial, workspace):
    trial.enter(
        trial.typed("101", DEEP), trial.typed("102", SHALLOW), trial.typed("201", {"stopped": "600"}, measure=1)
    )
    lost = trial.typed("202", DEEP)
    trial.enter(lost)
    trial.enter(trial.typed("202", {}, missing_status="damaged", missing_reason="flooded", replaces=lost["id"]))
    data = file_of(trial.client, trial.id, "package.zip").content
    packed = zipfile.ZipFile(io.BytesIO(data))
    rows = list(csv.DictReader(io.StringIO(packed.read("beyond.csv").decode())))
    assert [(r["Plot"], r["Measure"], r["Sample"], r["Side"], r["Bound"]) for r in rows] == [
        ("101", "Depth of resistance (cm)", "1", "more", "20.0"),
        ("201", "Infiltration (mm/h)", "1", "less", str(stands(trial, "201")["bound"])),
    ]
    upload = bring(trial.client, workspace, data, "package.zip").json()
    assert upload["described"]["beyond"] == 1  # no value of the infiltration is known: its column is left out
    (depth,) = upload["described"]["measures"]
    roles = {column["name"]: column["role"] for column in upload["columns"]}
    control = upload["described"]["control"]
    given = acceptance(roles=roles, control=control, measures=[{**depth, "margin": 10}])
    trial.client.post(f"/api/v1/uploads/{upload['id']}/trial", given, format="json")
    found = Observation.objects.filter(visit__season__trial=given["id"]).values_list("unit__label", "missing_reason")
    reasons = dict(found)
    assert (reasons["101"], reasons["102"]) == ("It is more than 20 cm.", "")
    assert reasons["202"] == "missing or unreadable in the table"


def test_resistance_without_moisture_of_about_the_same_time_is_in_doubt(client_of, workspace):
    moist = measure_in("Soil moisture", unit="% by volume", catalogue="soil-moisture-probe", sheet="probe", settings={},
                       margin=5, direction="none", expected=25)  # fmt: skip
    trial = Trial(client_of("owner"), workspace, measures=[DEPTH, moist])

    def raised():
        depth = read(trial.client, trial.id)["measures"][0]
        return [d["finding"] for d in depth["doubts"] if d["id"] == "measured-alone"]

    trial.enter(*(trial.typed(label, SHALLOW) for label in ("101", "102", "201", "202")))
    assert raised() == ["Depth of resistance was measured without soil moisture at about the same time."]
    fields = {f["key"]: "20" for f in trial.open()["measures"][1]["fields"]}
    assert trial.enter(trial.typed("101", fields, measure=1))[0]["state"] == "saved"
    assert raised() == []


def test_read_says_which_plots_went_beyond_and_which_way_the_means_lean(trial):
    units = list(Unit.objects.filter(season__trial=trial.id, kind="plot").order_by("order"))
    deepest = units[0].treatment
    profiles = {
        u.label: DEEP if u.treatment == deepest else {"first": f"1.0 1.{i % 6} 2.4"} for i, u in enumerate(units)
    }
    trial.enter(*(trial.typed(label, profile) for label, profile in profiles.items()))
    depth = read(trial.client, trial.id)["measures"][0]
    doubts = {d["id"]: d for d in depth["doubts"]}
    own = {u.label for u in units if u.treatment == deepest}
    doubt = doubts["beyond-what-was-measured"]
    assert (set(doubt["plots"]), doubt["severity"]) == (own, "stops")
    assert f"{len(own)} of {deepest.name}" in doubt["finding"]
    assert "too low" in doubt["why"]
    assert not {"lost-plots", "loss-follows-treatment"} & set(doubts)
    trial.enter(*(trial.typed(label, {}, missing_status="damaged", missing_reason="flooded", replaces=str(
        Observation.objects.get(unit__label=label, current=True).id)) for label in own))  # fmt: skip
    doubts = {d["id"] for d in read(trial.client, trial.id)["measures"][0]["doubts"]}
    assert ("beyond-what-was-measured" in doubts, "lost-plots" in doubts) == (False, True)
