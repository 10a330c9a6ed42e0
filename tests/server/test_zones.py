"""Zones inside plots: kept, counted apart, weighed into the plot's value, and told in the package."""

import csv
import io
import uuid
import zipfile

import pytest

from apercu_core.units import shown_in
from records.models import Visit
from tests.server.bringing import read as read_trial_of
from tests.server.waiting import file_of

STRIPS = [
    {"name": "tilled strip", "share": 0.25},
    {"name": "mulch", "share": 0.75, "sown": "other", "sowing": "white clover, 4 kg/ha"},
]


def keep(trial, zones=STRIPS, by_zone=None, reason=""):
    measured = {trial.measures[0]: [z["name"] for z in zones]} if by_zone is None else by_zone
    return trial.client.put(
        f"/api/v1/trials/{trial.id}/zones", {"zones": zones, "by_zone": measured, "reason": reason}, format="json"
    )  # fmt: skip


def on_the_strip(trial):
    """How far the visit is, counted beside all others."""
    Visit.objects.update(counted=None)
    season = trial.client.get(f"/api/v1/trials/{trial.id}/season").json()
    return next(one for one in season["visits"] if one["id"] == trial.visit)["progress"]


def read(trial):
    return read_trial_of(trial.client, trial.id)["measures"][0]


def test_figures_of_zones_are_kept_apart_and_a_plot_reads_as_their_weighted_mean(trial):
    """Counts in frames of 0.25 m²: strip 2 and 4 → 8, 16 → 12 per m²; mulch 1 and 1 → 4; 0.25 × 12 + 0.75 × 4 = 6."""
    kept = keep(trial).json()
    assert kept["sown"] == 0.25
    assert trial.open()["measures"][0]["zones"] == ["tilled strip", "mulch"]
    strip = [trial.typed("101", text, frame=n, zone="tilled strip") for n, text in ((1, "2"), (2, "4"))]
    assert [o["state"] for o in trial.enter(*strip)] == ["saved", "saved"]
    assert read(trial)["plots"][0]["value"] is None  # the mulch is missing, so the plot has no value
    trial.enter(trial.typed("101", {"mass": "7", "area": "10", "moisture": "14"}, measure=1))
    assert (trial.open()["progress"], on_the_strip(trial)["done"]) == (
        {"done": 0, "begun": 1, "of": 12, "conflicts": 0}, 0,
    )  # fmt: skip
    mulch = [trial.typed("101", "1", frame=n, zone="mulch") for n in (1, 2)]
    trial.enter(*mulch)
    assert (trial.open()["progress"]["done"], on_the_strip(trial)["done"]) == (1, 1)
    first = read(trial)["plots"][0]
    assert (first["value"], first["observations"]) == (pytest.approx(6.0), [])
    refused = trial.enter(trial.typed("102", "3"), trial.typed("102", "3", zone="alley"))
    assert ["zone" in o["message"] for o in refused] == [True, True]
    sheet = trial.open()
    assert sorted((row["zone"], row["sample"], row["fields"]["count"]) for row in sheet["rows"] if row["zone"]) == [
        ("mulch", 1, "1"), ("mulch", 2, "1"), ("tilled strip", 1, "2"), ("tilled strip", 2, "4"),
    ]  # fmt: skip


def test_a_plot_is_done_when_all_its_zones_are_and_a_missing_status_speaks_for_all(trial):
    keep(trial, by_zone={trial.measures[0]: ["mulch"], trial.measures[1]: []})
    yielded = {"mass": "7", "area": "10", "moisture": "14"}
    trial.enter(trial.typed("101", yielded, measure=1), trial.typed("101", "1", zone="mulch"))
    assert (trial.open()["progress"]["done"], on_the_strip(trial)["done"]) == (0, 0)
    trial.enter(trial.typed("101", "3", frame=2, zone="mulch"))
    assert (trial.open()["progress"]["done"], on_the_strip(trial)["done"]) == (1, 1)
    assert read(trial)["plots"][0]["value"] == 8  # taken in one zone only
    gone = {"missing_status": "damaged", "missing_reason": "hares"}
    trial.enter(trial.typed("102", {}, zone="mulch", **gone), trial.typed("102", {}, measure=1, **gone))
    assert trial.open()["progress"]["done"] == 2
    assert next(p for p in read(trial)["plots"] if p["label"] == "102")["value"] is None


def test_zones_can_be_mended_but_not_where_figures_were_taken(trial):
    keep(trial)
    trial.enter(trial.typed("101", "2", zone="mulch"), trial.typed("101", "2", zone="tilled strip"))
    assert read(trial)["plots"][0]["value"] == 8
    half = [{**STRIPS[0], "share": 0.5}, {**STRIPS[1], "share": 0.5}]
    unsaid = keep(trial, half)
    assert (unsaid.status_code, unsaid.json()["code"]) == (409, "changes-values")
    assert "plot 101 (tilled strip 25 % becomes 50 %, mulch 75 % becomes 50 %)" in unsaid.json()["detail"]
    assert read(trial)["plots"][0]["value"] == 8
    assert keep(trial, [{**STRIPS[0], "sown": "nothing"}, STRIPS[1]]).status_code == 200  # no value changes
    assert keep(trial, half, reason="strips were measured again").status_code == 200
    (doubt,) = [d for d in read_trial_of(trial.client, trial.id)["doubts"] if d["id"] == "protocol-changed"]
    assert "strips were measured again (Owner, " in doubt["finding"]
    away = keep(trial, [], {})
    assert (away.status_code, "Weeds has records" in away.json()["detail"]) == (409, True)
    wrong = keep(trial, [{**STRIPS[0], "share": 0.1}, STRIPS[1]])
    assert (wrong.status_code, "85 %" in wrong.json()["detail"]) == (422, True)
    elsewhere = keep(trial, by_zone={trial.measures[0]: ["alley"]})
    assert "isn’t a zone here" in elsewhere.json()["detail"]


def test_drawn_zones_are_asked_for_only_where_the_map_has_them(trial):
    """A track through the first column of plots only: the others are all between."""
    field = {"tracks": {"first": 1.5, "spacing": 50, "width": 0.6}}
    trial.client.put(f"/api/v1/trials/{trial.id}/layout", {"field": field, "bearing": 30}, format="json")
    found = trial.client.get(f"/api/v1/trials/{trial.id}/zones").json()["drawn"]
    assert [(one["name"], one["least"], one["most"]) for one in found] == [
        ("wheel track", 0, pytest.approx(0.2)), ("between", pytest.approx(0.8), 1),
    ]  # fmt: skip
    keep(trial, [{"name": "wheel track"}, {"name": "between"}])
    zones = trial.open()["zones"]
    assert zones[trial.unit("101")] == ["wheel track", "between"]
    assert zones[trial.unit("102")] == ["between"]
    trial.enter(trial.typed("102", "3", zone="between"), trial.typed("101", "1", zone="between"),
                trial.typed("101", "6", zone="wheel track"))  # fmt: skip
    values = {p["label"]: p["value"] for p in read(trial)["plots"]}
    assert values["102"] == 12
    moved = {"field": {"tracks": {"first": 1.5, "spacing": 50, "width": 1.2}}, "bearing": 30}
    url = f"/api/v1/trials/{trial.id}/layout"
    # a trial carried on on the same field would change the first one's values too
    body = {"id": str(uuid.uuid4()), "name": "Again", "layout": "copied"}
    trial.client.post(f"/api/v1/trials/{trial.id}/copy", body, format="json")
    for wider in (trial.id, body["id"]):
        refused = trial.client.put(url.replace(trial.id, wider), moved, format="json")
        assert (refused.status_code, "plot 101 (wheel track 20 % becomes 40 %" in refused.json()["detail"]) == (
            409,
            True,
        )
    harmless = {"field": {"tracks": {"first": 51.5, "spacing": 50, "width": 0.6}}, "bearing": 30}
    assert (
        trial.client.put(url, {**harmless, "field": {**harmless["field"], "headland": 3}}, format="json").status_code
        == 200
    )
    assert trial.client.put(url, {**moved, "reason": "measured again"}, format="json").status_code == 200
    assert {p["label"]: p["value"] for p in read(trial)["plots"]}["101"] == pytest.approx(0.4 * 24 + 0.6 * 4)
    trial.client.put(url, {**harmless, "reason": "the first was right"}, format="json")
    values = {p["label"]: p["value"] for p in read(trial)["plots"]}
    assert values["101"] == pytest.approx(0.2 * 24 + 0.8 * 4)


def test_a_visit_to_tracks_alone_walks_only_the_plots_that_have_one(trial):
    """Four of twelve plots are crossed; when they are counted the visit is done, and nobody is led to the others."""
    field = {"tracks": {"first": 1.5, "spacing": 50, "width": 0.6}}
    trial.client.put(f"/api/v1/trials/{trial.id}/layout", {"field": field, "bearing": 30}, format="json")
    keep(trial, [{"name": "wheel track"}, {"name": "between"}], {trial.measures[0]: ["wheel track"]})
    trial.plan_visit(measures=trial.measures[:1])
    sheet = trial.open()
    assert (len(sheet["order"]), sheet["progress"]["of"]) == (4, 4)
    for label in ("101", "201", "301", "401"):
        trial.enter(*(trial.typed(label, "2", frame=n, zone="wheel track") for n in (1, 2)))
    season = trial.client.get(f"/api/v1/trials/{trial.id}/season").json()
    assert [(v["state"], v["progress"]["done"], v["progress"]["of"]) for v in season["visits"]] == [("done", 4, 4)]


def test_a_plot_without_a_track_is_done_without_what_is_taken_in_tracks(trial):
    field = {"tracks": {"first": 1.5, "spacing": 50, "width": 0.6}}
    trial.client.put(f"/api/v1/trials/{trial.id}/layout", {"field": field, "bearing": 30}, format="json")
    keep(trial, [{"name": "wheel track"}, {"name": "between"}], {trial.measures[0]: ["wheel track"]})
    yielded = {"mass": "7", "area": "10", "moisture": "14"}
    trial.enter(*(trial.typed(label, yielded, measure=1) for label in ("101", "102")))  # the track crosses 101
    sheet = trial.open()
    assert (len(sheet["order"]), sheet["progress"]) == (12, {"done": 1, "begun": 2, "of": 12, "conflicts": 0})
    assert (on_the_strip(trial)["done"], on_the_strip(trial)["of"]) == (1, 12)


def test_the_package_says_what_was_found_in_each_zone(trial):
    keep(trial)
    trial.enter(trial.typed("101", "2", zone="mulch"), trial.typed("101", "4", zone="tilled strip"))
    packed = file_of(trial.client, trial.id, "package.zip").content
    rows = csv.DictReader(io.StringIO(zipfile.ZipFile(io.BytesIO(packed)).read("zones.csv").decode()))
    assert [(r["Plot"], r["Zone"], r["Share"], r["Value"]) for r in rows] == [
        ("101", "mulch", "0.75", "8.0"), ("101", "tilled strip", "0.25", "16.0"),
    ]  # fmt: skip


def test_zones_go_along_to_next_year_with_the_measures_that_are_taken_in_them(trial):
    keep(trial)
    body = {"id": str(uuid.uuid4()), "name": "Next year", "layout": "same-plots"}
    made = trial.client.post(f"/api/v1/trials/{trial.id}/copy", body, format="json").json()
    zones = trial.client.get(f"/api/v1/trials/{made['id']}/zones").json()
    assert [zone["name"] for zone in zones["zones"]] == ["tilled strip", "mulch"]
    (weeds,) = [m["id"] for m in made["measures"] if m["name"] == "Weeds"]
    assert zones["by_zone"] == {weeds: ["tilled strip", "mulch"]}
    assert weeds not in trial.measures


def test_a_figure_of_a_zone_is_taken_back_and_met_by_another_person_s_like_any_other(trial, client_of):
    keep(trial)
    strip = trial.typed("101", "2", zone="tilled strip")
    trial.enter(strip)
    (met,) = trial.enter(trial.typed("101", "9", zone="tilled strip"), client=client_of("technician"))
    (beside,) = trial.enter(trial.typed("101", "9", zone="mulch"), client=client_of("technician"))
    assert (met["state"], beside["state"]) == ("conflict", "saved")
    assert trial.open()["conflicts"][0]["zone"] == "tilled strip"
    decided = {"id": str(uuid.uuid4()), "keep": met["id"], "why": "the frame lay askew"}
    trial.client.post(f"/api/v1/observations/{met['id']}/decision", decided, format="json")
    assert read(trial)["plots"][0]["value"] == 36  # 9 in a frame of 0.25 m², in both zones
    back = {"id": str(uuid.uuid4())}
    trial.client.post(f"/api/v1/observations/{beside['id']}/undo", back, format="json")
    assert read(trial)["plots"][0]["value"] is None
    assert [row["zone"] for row in trial.open()["rows"]] == ["tilled strip"]


def test_who_reads_us_units_is_told_the_weighted_mean_in_them(trial, people):
    """Barley in t/ha: strip 4, mulch 8 → 7 t/ha; shown in the person's unit by one factor."""
    keep(trial, by_zone={trial.measures[1]: ["tilled strip", "mulch"]})
    for zone, mass in (("tilled strip", "4"), ("mulch", "8")):
        fields = {"mass": mass, "area": "10", "moisture": "14"}
        trial.enter(trial.typed("101", fields, measure=1, zone=zone))

    def barley():
        found = read_trial_of(trial.client, trial.id)["measures"][1]
        return found["unit"], found["plots"][0]["value"]

    unit, value = barley()
    assert (unit, value) == ("t/ha", pytest.approx(7.0))
    trial.client.patch("/api/v1/session", {"units": "us"}, format="json")
    unit, value = barley()
    assert unit != "t/ha"
    assert value == pytest.approx(7.0 * shown_in("t/ha", "us")[1])
