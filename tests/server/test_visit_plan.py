"""How a visit is walked: where, how many samples, which plots, who counts, blind, a guess first, what was before."""

import json
import re
import uuid
from datetime import timedelta

import pytest
from rest_framework.renderers import JSONRenderer

from apercu_core.measures.neighbours import expected_from
from apercu_core.reading.asked import Blinding
from config import clock
from readings.bridge import gather, recorded
from records import device_clock
from records.api.visit_shapes import VisitOut
from records.models import Observation, Visit
from reports.field_sheet import field_sheet_html
from tests.server.asking import Trial, measure_in, site_in
from tests.server.test_sowing import OAT, described
from trials.models import GroundPlot, Season

HOW = {"placement": "stratified", "samples": {}, "plots": [], "observers": [], "blind": None, "guess_first": False}


@pytest.fixture
def ada(client_of):
    return client_of("owner")


def placed(trial):
    return trial.open()["places"]


def test_places_are_drawn_once_inside_the_plot_and_said_from_a_corner(trial):
    first = placed(trial)
    assert first["corner"] == "the west corner"  # the plots run 30° from north
    assert set(first["by_plot"]) == set(trial.open()["order"])
    plot = trial.client.get(f"/api/v1/trials/{trial.id}").json()["plots"][0]
    for own in first["by_plot"].values():
        assert len(own) == trial.open()["measures"][0]["samples"]
        for place in own:
            assert 0 < place["across"] < plot["width"] - first["width"]
            assert 0 < place["along"] < plot["length"] - first["length"]
    assert placed(trial) == first


def test_a_transect_runs_by_the_compass_with_its_spacing(trial):
    asked = {**HOW, "placement": "transect", "samples": {trial.measures[0]: 3}}
    refused = trial.plan_visit(how=asked)
    assert refused.status_code == 422
    assert [one["where"] for one in refused.json()["errors"]] == ["how.bearing", "how.spacing"]
    assert trial.plan_visit(how={**asked, "bearing": "361", "spacing": "1"}).status_code == 400
    assert trial.plan_visit(how={**asked, "bearing": "30", "spacing": "1,2"}).status_code == 200
    found = placed(trial)
    assert found["said"].startswith("Along a straight line 30° clockwise from north, 1.2 m from sample to sample")
    assert len(found["by_plot"]) == 12
    for first, second, third in found["by_plot"].values():  # the plots run 30° from north too
        assert (second["across"], third["across"]) == (first["across"], first["across"])
        assert third["along"] - first["along"] == pytest.approx(2.4)
    [mark] = trial.client.get(f"/api/v1/trials/{trial.id}/season").json()["visits"]
    assert (mark["how"]["bearing"], mark["how"]["spacing"]) == (30.0, 1.2)
    assert trial.plan_visit(how={**asked, "bearing": "120", "spacing": "20"}).status_code == 200
    assert "don’t fit" in placed(trial)["why_none"]


def test_a_transect_where_nobody_knows_north_runs_from_the_way_up_on_the_map(ada, workspace):
    trial = Trial(ada, workspace, sites=[site_in(latitude=None, longitude=None, bearing_deg=0)])
    trial.plan_visit(how={**HOW, "placement": "transect", "bearing": "0", "spacing": "2"})
    found = placed(trial)
    assert found["said"].startswith("Along a straight line 0° clockwise from the way up on the map, 2 m")
    assert len(found["by_plot"]) == 12
    assert all(first["across"] == second["across"] for first, second in found["by_plot"].values())
    turned = Trial(ada, workspace, sites=[site_in("Fen Piece", latitude=None, longitude=None, bearing_deg=30)])
    turned.plan_visit(how={**HOW, "placement": "transect", "bearing": "0", "spacing": "2"})
    assert "0° clockwise from north" in placed(turned)["said"]


def test_what_no_quadrat_is_laid_down_for_stands_on_a_transect_and_nowhere_else(ada, workspace):
    trial = Trial(ada, workspace, measures=[measure_in(settings={"area": 6, "frames": 2})])  # a strip, not a quadrat
    assert placed(trial)["by_plot"] == {}
    assert trial.open()["measures"][0]["settings"] == ["Frame area: 6 m²"]
    trial.plan_visit(how={**HOW, "placement": "transect", "bearing": "30", "spacing": "2"})
    found = placed(trial)
    assert (found["width"], found["length"], len(found["by_plot"])) == (0, 0, 12)
    assert all(second["along"] - first["along"] == pytest.approx(2) for first, second in found["by_plot"].values())


def test_places_of_recorded_samples_stay_when_the_plan_changes(trial):
    before = placed(trial)["by_plot"]
    unit = trial.unit("101")
    assert trial.enter(trial.typed("101", "7"))[0]["state"] == "saved"
    wanted = len(before[unit]) + 2
    more = {**HOW, "samples": {trial.measures[0]: wanted}}
    assert trial.plan_visit(how=more).status_code == 200
    after = placed(trial)["by_plot"]
    assert after[unit][: len(before[unit])] == before[unit]
    assert {len(own) for own in after.values()} == {wanted}
    assert trial.plan_visit(how={**HOW, "samples": {trial.measures[0]: 2}}).status_code == 200


def test_another_way_of_drawing_leaves_the_places_of_walked_plots(trial):
    before = placed(trial)["by_plot"]
    trial.enter(trial.typed("101", "7"))
    assert trial.plan_visit(how={**HOW, "placement": "random"}).status_code == 200
    after = placed(trial)["by_plot"]
    assert {unit for unit, own in after.items() if own == before[unit]} == {trial.unit("101")}
    assert len(after) == 12


def test_where_no_place_can_be_drawn_the_reason_is_said_beside_how_they_would_be(trial):
    said = placed(trial)["said"]
    Season.objects.filter(trial=trial.id).update(guard_m=5)  # at each end of plots 10 m long
    crowded = placed(trial)
    assert crowded["why_none"] == "Edges and wheel tracks leave no room in plot 101."
    GroundPlot.objects.update(schematic=True)
    unmeasured = placed(trial)
    assert unmeasured["why_none"] == "The map has no dimensions yet, so no places can be drawn on it."
    for none in (crowded, unmeasured):
        assert (none["said"], none["corner"], none["width"]) == (said, "the west corner", 0.5)
        assert (none["by_plot"], none["area"]) == ({}, {})


def test_a_plot_that_was_walked_without_places_gets_none_afterwards(trial):
    assert trial.unit("101") in placed(trial)["by_plot"]
    assert trial.plan_visit(how={**HOW, "placement": "free"}).status_code == 200
    free = placed(trial)
    assert (free["said"], free["by_plot"]) == ("Where the person decides. Note how.", {})
    assert (free["corner"], free["width"], free["length"]) == ("the west corner", 0.5, 0.5)
    trial.enter(trial.typed("101", "7"))
    trial.plan_visit(how=HOW)
    after = placed(trial)["by_plot"]
    assert trial.unit("101") not in after
    assert trial.unit("102") in after


def test_ground_that_was_cut_is_left_alone_next_time(ada, workspace):
    biomass = measure_in("Cover biomass", unit="kg/ha", sheet="biomass-sample", catalogue="", direction="higher",
                         settings={"area": 1.0, "frames": 2}, margin=100)  # fmt: skip
    weeds, shoots = measure_in("Weeds"), measure_in("Shoots", catalogue="regrowth-shoots")
    again = {**biomass, "id": str(uuid.uuid4()), "name": "Cover biomass by hand"}
    trial = Trial(ada, workspace, measures=[biomass, weeds, shoots, again])
    trial.plan_visit(measures=trial.measures[2:3])
    placed(trial)
    trial.visit = str(uuid.uuid4())
    trial.plan_visit(measures=trial.measures[3:], how={**HOW, "placement": "free"})
    Visit.objects.filter(id=trial.visit).update(date="2026-04-20")
    trial.visit = str(uuid.uuid4())
    trial.plan_visit(measures=trial.measures[:1])
    cut = placed(trial)["by_plot"]
    fields = {"wet": "900", "tare": "50", "sub_wet": "300", "sub_dry": "80", "sub_tare": "20"}
    assert trial.enter(trial.typed("101", fields))[0]["state"] in ("saved", "question")
    Visit.objects.filter(id=trial.visit).update(date="2026-05-01")
    later = str(uuid.uuid4())
    body = {"name": "Weeds", "measures": trial.measures[1:2], "how": HOW}
    assert ada.put(f"/api/v1/trials/{trial.id}/visits/{later}", body, format="json").status_code == 200
    fresh = ada.get(f"/api/v1/visits/{later}").json()["places"]
    for unit, own in fresh["by_plot"].items():
        for place in own:
            for old in cut[unit]:
                across = place["across"] + fresh["width"] <= old["across"] - 0.25 + 1e-6 or (
                    place["across"] >= old["across"] + 1.25 - 1e-6
                )
                along = place["along"] + fresh["length"] <= old["along"] - 0.25 + 1e-6 or (
                    place["along"] >= old["along"] + 1.25 - 1e-6
                )
                assert across or along


def test_measures_are_taken_in_the_order_in_which_they_are_named(trial):
    for order in (trial.measures, trial.measures[::-1]):
        assert trial.plan_visit(measures=order).status_code == 200
        assert [one["id"] for one in trial.open()["measures"]] == order


def test_only_the_chosen_plots_are_walked_and_counted(trial):
    everywhere = trial.open()["progress"]["of"]
    assert trial.plan_visit(how={**HOW, "plots": ["101", "102"]}).status_code == 200
    seen = trial.open()
    assert seen["progress"] == {"done": 0, "begun": 0, "of": 2, "conflicts": 0}
    assert set(seen["order"]) == {trial.unit("101"), trial.unit("102")}
    trial.plan_visit(how=HOW)
    for frame in (1, 2, 3, 4):
        trial.enter(trial.typed("103", "4", frame=frame))
    assert trial.open()["progress"]["of"] == everywhere
    trial.plan_visit(how={**HOW, "plots": ["101", "102"]})
    elsewhere = {"done": 0, "begun": 0, "of": 2, "conflicts": 0}  # what was counted there isn't of this walk
    assert trial.open()["progress"] == elsewhere
    unknown = trial.plan_visit(how={**HOW, "plots": ["999"]})
    assert unknown.status_code == 422, unknown.content
    assert "no plot '999'" in unknown.json()["detail"]


def test_whole_blocks_are_allotted_to_who_counts(trial, people):
    season = trial.client.get(f"/api/v1/trials/{trial.id}/season").json()
    ada = season["crew"][0]
    assert trial.plan_visit(how={**HOW, "observers": [ada["id"]]}).status_code == 200
    seen = trial.open()
    assert [one["name"] for one in seen["observers"]] == [ada["name"]]
    assert len(seen["observers"][0]["blocks"]) > 1
    assert seen["why_so"].startswith("One person takes all plots")
    bert = season["crew"][1]
    for order in ([ada, bert], [bert, ada]):
        trial.plan_visit(how={**HOW, "observers": [one["id"] for one in order]})
        assert [(one["name"], one["blocks"]) for one in trial.open()["observers"]] == [
            (order[0]["name"], ["A", "B"]), (order[1]["name"], ["C", "D"]),
        ]  # fmt: skip
    for nobody in (people["reader"].id, people["stranger"].id, uuid.uuid4()):
        assert trial.plan_visit(how={**HOW, "observers": [str(nobody)]}).status_code == 422


def test_scores_are_blind_unless_somebody_says_otherwise_and_each_value_says_so(ada, workspace):
    score = measure_in("Ground cover score", unit="", sheet="score", catalogue="", direction="higher",
                       settings={"lowest": 1, "highest": 9}, margin=1)  # fmt: skip
    trial = Trial(ada, workspace, measures=[score])
    assert trial.open()["blind"] is True
    trial.enter(trial.typed("101", {"value": "6"}, blind=True))
    trial.enter(trial.typed("102", {"value": "6"}, blind=False))
    kept = Observation.objects.filter(visit=trial.visit).values_list("unit__label", "blind")
    assert dict(kept) == {"101": True, "102": False}
    [found] = recorded(gather(Season.objects.get(trial=trial.id)), None)
    assert found.blinding == Blinding(hidden=1, shown=1)
    trial.plan_visit(how={**HOW, "blind": False})
    assert trial.open()["blind"] is False


def test_a_guess_is_kept_beside_the_count_and_enters_no_value(trial):
    assert trial.enter(trial.typed("101", {"count": "7", "guess": "12"}))[0]["value"] == 28
    row = Observation.objects.get(visit=trial.visit)
    assert (row.fields, row.typed, row.value) == ({"count": "7", "guess": "12"}, "7", 28.0)


def test_what_stood_there_at_the_visit_before_is_shown_beside(trial):
    body = {"name": "Weeds", "measures": trial.measures[:1], "dates": ["2026-07-08", "2026-07-22"]}
    made = trial.client.put(f"/api/v1/trials/{trial.id}/visit-series/{uuid.uuid4()}", body, format="json")
    first, second, third = (visit["id"] for visit in made.json()["visits"])

    def walk(visit, date, *counts):
        trial.visit = visit
        slips = [trial.typed("101", "1", frame=frame) for frame, _ in enumerate(counts, start=1)]
        trial.enter(*slips)
        trial.enter(*(trial.typed("101", count, frame=slip["sample"], replaces=slip["id"])
                      for slip, count in zip(slips, counts, strict=True)))  # fmt: skip
        Visit.objects.filter(pk=visit).update(date=date)

    def past(visit):
        told = trial.client.get(f"/api/v1/visits/{visit}").json()["past"]
        assert {(one["unit"], one["measure"]) for one in told} <= {(trial.unit("101"), trial.measures[0])}
        return [(one["value"], one["visit"], one["date"]) for one in told]

    walk(first, "2026-06-24", "7", "9")
    trial.enter(trial.typed("101", {"mass": "7", "area": "10", "moisture": "14"}, measure=1))  # not taken later
    assert (past(first), past(second)) == ([], [(32.0, "Weeds in June", "2026-06-24")])
    walk(third, "2026-07-22", "2", "1")
    assert past(second) == [(6.0, "Weeds 2", "2026-07-22")]  # it wasn't walked yet: what stands there now
    Visit.objects.filter(pk=second).update(date="2026-07-08")
    assert past(first) == []
    assert past(second) == past(third) == [(32.0, "Weeds in June", "2026-06-24")]


def test_samples_with_records_are_not_taken_off_the_plan(ada, workspace):
    trial = Trial(ada, workspace, measures=[measure_in(), measure_in("Shoots", catalogue="regrowth-shoots")])
    fewer = {**HOW, "samples": {trial.measures[0]: 1}}
    trial.enter(trial.typed("101", "7", frame=2, measure=1))  # of another measure
    lost = trial.typed("101", {}, frame=2, missing_status="damaged", missing_reason="trodden down")
    trial.enter(lost)
    refused = trial.plan_visit(how=fewer)
    assert refused.status_code == 409
    assert refused.json()["detail"] == (
        "There are records of Weeds beyond sample 1 of a plot, so it can’t have fewer samples."
    )
    trial.client.post(f"/api/v1/observations/{lost['id']}/undo", {"id": str(uuid.uuid4())}, format="json")
    assert trial.plan_visit(how=fewer).status_code == 200


def test_a_value_unlike_those_beside_it_is_asked_about_and_kept_if_confirmed(ada, workspace):
    seed = measure_in("Seed yield", unit="kg/ha", sheet="figure", catalogue="", direction="higher", settings={},
                      margin=10)  # fmt: skip
    treatments = [{"id": str(uuid.uuid4()), "name": n, "is_control": n == "Bare"} for n in ("Bare", "Vetch")]
    trial = Trial(ada, workspace, measures=[seed], treatments=treatments)
    plots = ada.get(f"/api/v1/trials/{trial.id}").json()["plots"]
    vetch = [p["label"] for p in plots if p["treatment"] == treatments[1]["id"]]
    for label, text in zip(vetch, ("180", "240"), strict=False):
        assert trial.enter(trial.typed(label, {"value": text}))[0]["state"] == "saved"
    slip = trial.typed(vetch[2], {"value": "2100"})
    asked = trial.enter(slip)[0]
    assert asked["state"] == "question"
    assert asked["message"].startswith("2100 kg/ha is unlike the other plots of this treatment, which have 180 to 240")
    told = next(one for one in trial.open()["expected"] if one["unit"] == trial.unit(vetch[2]))
    assert (told["which"], told["low"], told["high"], told["seen"]) == ("beside", 60.0, 720.0, [180.0, 240.0])
    assert trial.enter({**slip, "confirmed": True})[0]["state"] == "saved"
    other = next(p["label"] for p in plots if p["treatment"] == treatments[0]["id"])
    assert trial.enter(trial.typed(other, {"value": "2100"}))[0]["state"] == "saved"  # of another treatment


def test_neither_a_failed_plot_nor_a_value_that_was_replaced_is_among_those_beside(ada, workspace):
    treatments = [{"id": str(uuid.uuid4()), "name": n, "is_control": n == "Bare"} for n in ("Bare", "Vetch")]
    trial = Trial(ada, workspace, measures=[measure_in(catalogue="stand", unit="plants/m²")], treatments=treatments)
    plots = ada.get(f"/api/v1/trials/{trial.id}").json()["plots"]
    first, second, third, fourth = (p["label"] for p in plots if p["treatment"] == treatments[1]["id"])
    slip = trial.typed(first, "9")
    trial.enter(slip, trial.typed(second, "2"))
    trial.enter(trial.typed(first, "3", replaces=slip["id"]))
    trial.enter(trial.typed(third, {}, missing_status="failed", missing_reason="never came up"))
    told = next(one for one in trial.open()["expected"] if one["unit"] == trial.unit(fourth))
    assert told["seen"] == [8.0, 12.0]
    wanted = expected_from([8.0, 12.0], None, 4.0)  # one plant in a frame of 0.25 m²
    assert (told["low"], told["high"]) == (wanted.low, wanted.high) == (0, 120)


def test_a_value_unlike_the_last_one_of_its_plot_is_asked_about(ada, workspace):
    seed = measure_in("Seed yield", unit="kg/ha", sheet="figure", catalogue="", direction="higher", settings={},
                      margin=10)  # fmt: skip
    trial = Trial(ada, workspace, measures=[seed])
    assert trial.enter(trial.typed("101", {"value": "200"}))[0]["state"] == "saved"
    body = {"name": "Again", "measures": trial.measures, "dates": ["2026-07-08"]}
    made = ada.put(f"/api/v1/trials/{trial.id}/visit-series/{uuid.uuid4()}", body, format="json").json()
    trial.visit = next(v["id"] for v in made["visits"] if v["id"] != trial.visit)
    asked = trial.enter(trial.typed("101", {"value": "2100"}))[0]
    assert asked["state"] == "question"
    assert asked["message"].startswith("2100 kg/ha is unlike the last value of this plot, 200 kg/ha.")
    assert trial.enter(trial.typed("102", {"value": "2100"}))[0]["state"] == "saved"  # it has no last value


def test_what_is_sent_of_a_visit_has_the_shape_that_is_declared(ada, client_of, workspace, people):
    seed = measure_in("Seed yield", unit="kg/ha", sheet="figure", catalogue="", settings={}, margin=10)
    treatments = [{"id": str(uuid.uuid4()), "name": n, "is_control": n == "Bare"} for n in ("Bare", "Vetch")]
    trial = Trial(ada, workspace, measures=[measure_in(), seed], treatments=treatments)
    plots = ada.get(f"/api/v1/trials/{trial.id}").json()["plots"]
    bare = [p["label"] for p in plots if p["treatment"] == treatments[0]["id"]]
    body = {"name": "Weeds", "measures": trial.measures, "dates": ["2026-07-08"]}
    made = ada.put(f"/api/v1/trials/{trial.id}/visit-series/{uuid.uuid4()}", body, format="json")
    trial.enter(*(trial.typed(label, {"value": "200"}, measure=1) for label in bare))
    trial.visit = made.json()["visits"][1]["id"]
    trial.plan_visit(name="Weeds in July", how={**HOW, "observers": [str(people["owner"].id)]})
    trial.enter(*(trial.typed(label, {"value": "210"}, measure=1) for label in bare[1:]))
    trial.enter(trial.typed(bare[1], {"value": "190"}, measure=1), client=client_of("technician"))
    trial.enter(trial.typed(bare[0], {}, missing_status="damaged", missing_reason="trodden down"))
    Visit.objects.exclude(pk=trial.visit).update(date="2026-06-24")
    sent = trial.open()
    parts = ("past", "expected", "observers", "rows", "conflicts", "order", "measures", "progress")
    assert [part for part in parts if not sent[part]] == []
    assert sent["places"]["by_plot"].keys() == sent["places"]["area"].keys() == set(sent["order"])
    assert (sent["name"], sent["due"]) == ("Weeds in July", "2026-06-24")
    assert sent["date"] == clock.today("Europe/London").isoformat()
    assert json.loads(JSONRenderer().render(VisitOut(sent).data)) == sent
    row = next(one for one in sent["rows"] if one["unit"] == trial.unit(bare[0]))
    assert (row["missing_status"], row["missing_reason"], row["by"]) == (
        "damaged",
        "trodden down",
        people["owner"].name,
    )


def test_the_field_sheet_has_a_row_for_each_sample_in_walking_order_and_its_place(ada, workspace, people):
    species = measure_in("Weeds by species", unit="weeds/m²", sheet="species-count", catalogue="weeds",
                         settings={"area": 0.25, "frames": 2}, margin=10)  # fmt: skip
    trial = Trial(ada, workspace, measures=[species])
    ada.put(f"/api/v1/measures/{species['id']}/parts", {"parts": [{"name": "Fat hen"}, {"name": "Bindweed"}]},
            format="json")  # fmt: skip
    seen = trial.open()
    page = field_sheet_html(by=people["owner"], season=Season.objects.get(trial=trial.id), visit=uuid.UUID(trial.visit))
    rows = re.findall(r'<td class="plot">(\w+)</td>.*?<td>(\d)</td><td class="place">([\d.]+) × ([\d.]+) m</td>', page)
    labels = {trial.unit(label): label for label, *_ in rows}
    wanted = [
        (labels[unit], str(n + 1), f"{place['along']:.1f}", f"{place['across']:.1f}")
        for unit in seen["order"]
        for n, place in enumerate(seen["places"]["by_plot"][unit])
    ]
    assert rows == wanted
    assert re.findall(r"<th>([^<]*)</th>", page) == ["Fat hen", "Bindweed", "Other:"]
    assert "Phacelia" not in page  # codes only
    assert ">PH<" in page
    assert trial.plan_visit(how={**HOW, "blind": True}).status_code == 200
    blind = field_sheet_html(by=people["owner"], season=Season.objects.get(trial=trial.id),
                             visit=uuid.UUID(trial.visit))  # fmt: skip
    assert ">PH<" not in blind
    nowhere = ada.post(f"/api/v1/trials/{trial.id}/files", {"file": "field-sheet.pdf"}, format="json")
    assert nowhere.json()["errors"] == [{"where": "visit", "what": "Say of which visit."}]


@pytest.mark.parametrize(("unit", "shown", "per_m2"), [("plants/m²", "200", 1.0), ("plants/ha", "2000000", 1e-4)])
def test_a_device_gets_what_it_needs_to_say_how_counts_stand(ada, workspace, unit, shown, per_m2):
    oat = described("Oat", {**OAT, "germination_percent": "90", "purity_percent": "98", "tkw_g": "20"})
    stand = measure_in("Cover stand", unit=unit, catalogue="stand", direction="higher",
                       settings={"area": 0.25, "frames": 3}, margin=10)  # fmt: skip
    trial = Trial(ada, workspace, measures=[stand], treatments=[oat, described("Bare", is_control=True)])
    path, set_to = f"/api/v1/visits/{trial.visit}/standing", f"/api/v1/measures/{stand['id']}/threshold"
    assert ada.get(path).json()[0]["threshold"] is None
    assert ada.put(set_to, {"threshold": "soon"}, format="json").status_code == 422
    assert ada.put(set_to, {"threshold": shown}, format="json").status_code == 204
    [found] = ada.get(path).json()
    assert (found["threshold"], found["per_m2"]) == (float(shown), pytest.approx(per_m2))
    assert (found["each"], found["alike"], found["means"]) == ("frames", False, {})
    assert len(found["sown"]) == 2
    sown = found["sown"][oat["id"]]
    # 40 kg/ha of 98 % pure, 90 % germinating seed at 20 g a thousand: 40 × 100 / 20 × 0.98 × 0.9 live seeds/m²
    assert sown["live_seeds_m2"] == pytest.approx(sown["bulk_kg_ha"] * 100 / 20 * 0.98 * 0.9)
    assert ada.put(set_to, {"threshold": ""}, format="json").status_code == 204
    assert ada.get(path).json()[0]["threshold"] is None


def test_plots_of_one_sample_are_held_against_a_threshold_by_treatment_also_from_other_pages(ada, workspace):
    height = measure_in("Cover height", unit="cm", catalogue="", sheet="figure", settings={})
    trial = Trial(ada, workspace, measures=[height])
    path = f"/api/v1/visits/{trial.visit}/standing"
    assert ada.put(f"/api/v1/measures/{height['id']}/threshold", {"threshold": "20"}, format="json").status_code == 204
    trial.enter({**trial.typed("101", "31"), "fields": {"value": "31"}})
    [found] = ada.get(path).json()
    assert (found["alike"], found["each"]) == (True, "plots of this treatment")
    assert found["means"] == {trial.unit("101"): 31.0}


def test_a_device_whose_clock_is_wrong_by_a_day_is_told_and_its_times_are_corrected(trial, settings):
    settings.CLOCK = "2026-06-30T09:00:00+00:00"
    slow = trial.typed("101", "7", entered_at="2026-06-28T08:00:00Z")  # two hours before it sent, a day off
    body = {"entries": [slow], "sent_at": "2026-06-29T09:00:00Z"}
    answer = trial.client.put(f"/api/v1/visits/{trial.visit}/entries", body, format="json").json()
    assert answer["clock_off"].startswith("This device’s clock is 24 hours behind. The times")
    row = Observation.objects.get(visit=trial.visit)
    assert row.entered_at.isoformat() == "2026-06-29T08:00:00+00:00"
    assert str(Visit.objects.get(id=trial.visit).date) == "2026-06-29"  # walked the day before it could be sent
    right = {"entries": [trial.typed("102", "7")], "sent_at": "2026-06-30T08:59:30Z"}
    assert trial.client.put(f"/api/v1/visits/{trial.visit}/entries", right, format="json").json()["clock_off"] == ""


@pytest.mark.parametrize(
    ("minutes", "says"),
    [(10, ""), (-10, ""), (10.6, "11 minutes behind"), (119, "119 minutes behind"), (120, "2 hours behind"),
     (-2879, "48 hours ahead"), (2880, "2 days behind"), (-30_000, "21 days ahead")],
)  # fmt: skip
def test_how_far_a_clock_is_off_is_said_in_minutes_hours_or_days(settings, minutes, says):
    settings.CLOCK = "2026-06-30T09:00:00+00:00"
    told = device_clock.said(device_clock.clock_off(clock.now() - timedelta(minutes=minutes)))
    assert told == (f"This device’s clock is {says}. The times of what you enter are corrected. Set the device’s clock."
                    if says else "")  # fmt: skip
    assert device_clock.said(device_clock.clock_off(None)) == ""


def test_a_plan_that_names_no_measure_is_refused_where_it_stands(trial):
    answer = trial.plan_visit(how={**HOW, "samples": {"soon": 2}})
    assert answer.status_code == 400
    assert "names no measure" in answer.content.decode()


def test_marked_quadrats_of_each_kind_lie_apart_and_stay_the_same_at_each_visit(trial):
    places = {}
    for kind in ("fixed", "exempt", "seeded", "fixed"):
        assert trial.plan_visit(how={**HOW, "placement": kind}).status_code == 200
        found = placed(trial)
        assert places.setdefault(kind, found["by_plot"]) == found["by_plot"]
        Visit.objects.create(
            season_id=Visit.objects.get(pk=trial.visit).season_id, name=kind, order=9, placement=kind,
            places=Visit.objects.get(pk=trial.visit).places,
        )  # fmt: skip
    side = found["width"]
    assert len({str(own) for own in places["fixed"].values()}) == 12  # each plot has its own
    for unit in places["fixed"]:
        laid = [(p["across"], p["along"]) for kind in places for p in places[kind][unit]]
        for i, (ax, ay) in enumerate(laid):
            assert all(abs(ax - bx) >= side - 1e-6 or abs(ay - by) >= side - 1e-6 for bx, by in laid[i + 1 :])


def test_marked_quadrats_are_those_of_the_visit_before_and_others_are_drawn_anew(trial):
    body = {"name": "Weeds", "measures": trial.measures[:1], "dates": ["2026-07-08"]}
    series = trial.client.put(f"/api/v1/trials/{trial.id}/visit-series/{uuid.uuid4()}", body, format="json").json()
    visits = [visit["id"] for visit in series["visits"]]

    def drawn(placement):
        found = []
        for trial.visit in visits:
            trial.plan_visit(measures=trial.measures[:1], how={**HOW, "placement": placement})
            found.append(placed(trial)["by_plot"])
        return found

    first, second = drawn("fixed")
    assert (first == second, len(first)) == (True, 12)
    first, second = drawn("random")
    assert all(first[unit] != second[unit] for unit in first)


def test_each_part_of_a_plan_gives_it_another_version(trial, people):
    seen = [trial.open()["etag"]]
    ways = ({"plots": ["101"]}, {"placement": "random"}, {"blind": True}, {"guess_first": True},
            {"samples": {trial.measures[0]: 3}}, {"observers": [str(people["owner"].id)]},
            {"observers": [str(people["technician"].id)]}, {"placement": "transect", "bearing": "10", "spacing": "1"},
            {"placement": "transect", "bearing": "20", "spacing": "1"})  # fmt: skip
    for changes in ({"name": "Weeds"}, {"due": "2026-06-25"}, {"measures": trial.measures[::-1]},
                    *({"how": {**HOW, **way}} for way in ways)):  # fmt: skip
        assert trial.plan_visit(**changes).status_code == 200, changes
        seen.append(trial.open()["etag"])
    assert len(set(seen)) == len(seen)
