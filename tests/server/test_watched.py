"""What the season watches: waiting times, closed plots, machines wanted twice; grazing, lots, plots left out."""

import uuid

import pytest

from operations.models import Operation
from tests.server.asking import Trial, site_in
from trials.models import Season

CLOCK = "2026-06-10T09:00:00+00:00"


@pytest.fixture(autouse=True)
def _clock(settings):
    settings.CLOCK = CLOCK


def keep(trial, id=None, client=None, **said):
    id = id or str(uuid.uuid4())
    body = {"kind": "spray", "name": "Spray", **said}
    answer = (client or trial.client).put(f"/api/v1/trials/{trial.id}/operations/{id}", body, format="json")
    return id, answer


def season(trial, client=None):
    return (client or trial.client).get(f"/api/v1/trials/{trial.id}/season").json()


def one(trial, id, client=None):
    return next(line for line in season(trial, client)["operations"] if line["id"] == id)


def test_plots_are_closed_and_visits_and_harvests_in_a_waiting_time_are_warned_of(trial):
    plots = [unit.label for unit in Season.objects.get(trial=trial.id).units.filter(kind="plot")][:2]
    waits = {"reentry_hours": "48", "preharvest_days": "28"}
    spray, answer = keep(trial, done="2026-06-09", plots=plots, intervals=waits)
    assert answer.status_code == 200, answer.content
    harvest, _ = keep(trial, kind="harvest", name="Harvest", due="2026-07-06")
    late, _ = keep(trial, kind="harvest", name="Later", due="2026-07-07")
    trial.plan_visit(due="2026-06-10")
    shown = season(trial)
    assert shown["closed"] == [{"plot": plot, "until": "2026-06-11"} for plot in sorted(plots)]
    assert "the plot is closed for entry" in shown["visits"][0]["watched"][0]
    assert "after Spray on 9 Jun 2026 the pre-harvest interval runs" in one(trial, harvest)["watched"][0]
    assert one(trial, late)["watched"] == []
    keep(trial, spray, done="2026-06-09", plots=plots, intervals={"reentry_hours": ""})
    assert season(trial)["closed"] == []
    assert Operation.objects.get(id=spray).intervals == {}


def test_a_machine_that_two_trials_want_on_one_day_is_told_on_today(trial, client_of, workspace):
    other = Trial(client_of("owner"), workspace, name="Other", sites=[site_in("Far Field")])
    _, answer = keep(trial, kind="plant", name="Drill", due="2026-06-20", machine="Seed drill", setting="34")
    assert answer.status_code == 200, answer.content
    keep(trial, kind="sow", name="Sow, same trial", due="2026-06-21", machine="Seed drill")
    keep(trial, kind="sow", name="Sow again", due="2026-06-21", machine="Seed drill")
    keep(other, kind="sow", name="Sow", due="2026-06-20", machine=" seed  DRILL ")
    keep(other, kind="sow", name="Elsewhere", due="2026-06-22", machine="Seed drill")
    (found,) = trial.client.get("/api/v1/today").json()["conflicts"]
    assert (found["machine"], found["day"]) == ("Seed drill", "2026-06-20")
    assert {(line["trial_name"], line["name"]) for line in found["operations"]} == {
        ("Covers before barley", "Drill"), ("Other", "Sow"),
    }  # fmt: skip
    assert client_of("stranger").get("/api/v1/today").json()["conflicts"] == []


def test_plots_that_were_left_out_make_operations_unequal(trial):
    plot = Season.objects.get(trial=trial.id).units.filter(kind="plot").first().label
    hoe, answer = keep(
        trial, kind="till", name="Hoe", done="2026-06-01", exempt=[plot], exempt_quadrats="the marked ones"
    )
    assert answer.status_code == 200, answer.content
    assert (one(trial, hoe)["exempt"], one(trial, hoe)["exempt_quadrats"]) == ([plot], "the marked ones")
    trial.client.post(f"/api/v1/trials/{trial.id}/results", {}, format="json")
    read = trial.client.post(f"/api/v1/trials/{trial.id}/readings", {}, format="json").json()
    doubt = next(one for one in read["doubts"] if one["id"] == "unequal-operations")
    assert doubt["finding"] == f"Of “Hoe” plots {plot} were left out."
    _, refused = keep(trial, kind="till", name="Hoe", done="2026-06-01", exempt=["999"])
    assert refused.json()["errors"][0]["where"] == "exempt"


def test_grazing_and_lots_come_to_head_days_offtake_and_nutrients(trial, people, client_of):
    said = {"head": "120", "days": "2", "area_ha": "0.5", "before_kg_ha": "2400", "after_kg_ha": "900",
            "dung_kg_ha": "310"}  # fmt: skip
    graze, answer = keep(trial, kind="graze_out", name="Off", done="2026-06-09", grazing=said)
    assert answer.status_code == 200, answer.content
    assert one(trial, graze)["found"] == [
        "480 head-days per ha.",
        "Offtake 1500 kg/ha, 63 % of what grew, without cages, so that growth meanwhile is left out.",
        "Dung 310 kg/ha dry matter.",
    ]
    lot = {"name": "Cattle", "rate": "25", "rate_unit": "t/ha", "analysis": [{"nutrient": "N", "content": "6"}]}
    manure, answer = keep(trial, kind="fertilise", name="Manure", done="2026-06-09", lot=lot)
    assert answer.status_code == 200, answer.content
    assert one(trial, manure)["found"] == ["150 kg/ha N."]
    people["technician"].units = "us"
    people["technician"].save()
    hand = client_of("technician")
    assert one(trial, manure, hand)["found"] == ["134 lb/ac N."]
    shown = one(trial, graze, hand)
    assert shown["grazing"]["area_ha"] == pytest.approx(1.23553)
    # What was only shown and saved again stays what it was.
    sent = {name: "" if value is None else str(value) for name, value in shown["grazing"].items()}
    keep(trial, graze, hand, kind="graze_out", name="Off", done="2026-06-09", grazing=sent)
    assert one(trial, graze)["found"][0] == "480 head-days per ha."
    for changes, where in (({"area_ha": "0"}, "area_ha"), ({"head": "-1"}, "head")):
        _, refused = keep(trial, kind="graze_out", name="Off", done="2026-06-09", grazing={**said, **changes})
        assert refused.status_code in (400, 422)
        assert where in refused.content.decode()


def test_planting_into_residue_and_zones_are_told_and_checked(trial):
    season = Season.objects.get(trial=trial.id)
    season.zones = [{"name": "tilled strip", "share": 0.3, "sown": "", "sowing": ""},
                    {"name": "mulch", "share": 0.7, "sown": "", "sowing": ""}]  # fmt: skip
    season.save()
    said = {"depth_cm": "4.5", "residue_percent": "70", "hairpinned_percent": "12", "open_percent": "", "places": "40"}
    plant, answer = keep(trial, kind="plant", name="Onions", due="2026-06-09", planting=said, zones=["tilled strip"])
    assert answer.status_code == 200, answer.content
    shown = one(trial, plant)
    told = (
        "Seed lay 4.5 cm deep, residue covered 70 % of the ground and residue was pushed into the slot at 12 % of the "
        "places (40 places looked at)."
    )
    assert shown["found"] == [told]
    assert (shown["zones"], shown["planting"]["open_percent"]) == (["tilled strip"], None)
    [line] = trial.client.get("/api/v1/day-list?day=2026-06-09").json()["lines"]
    assert line["where"] == "the whole trial, in tilled strip"
    for changes, where in (
        ({"zones": ["headland"]}, "no zone"),
        ({"planting": {**said, "hairpinned_percent": "112"}}, "hairpinned_percent"),
    ):
        _, refused = keep(trial, kind="plant", name="Onions", due="2026-06-09", **changes)
        assert (refused.status_code in (400, 422), where in refused.content.decode()) == (True, True)


def test_the_days_list_has_what_is_due_with_how_where_and_its_caution(trial, client_of):
    vetch = next(one["id"] for one in trial.page["treatments"] if one["name"] == "Common vetch")
    said = {"machine": "Crimper", "setting": "water in", "amount": "2 passes", "note": "after dew", "due": "2026-06-09"}
    keep(trial, kind="crimp", name="Crimp the vetch", treatments=[vetch], **said)
    keep(trial, name="Tomorrow", due="2026-06-11")
    keep(trial, name="Done", done="2026-06-09")
    listed = trial.client.get("/api/v1/day-list").json()
    (line,) = listed["lines"]
    assert (listed["day"], line["name"], line["where"]) == ("2026-06-10", "Crimp the vetch", "CV")
    assert line["how"] == ["2 passes", "Crimper", "water in", "after dew"]
    assert line["caution"]
    assert [line["name"] for line in trial.client.get("/api/v1/day-list?day=2026-06-11").json()["lines"]] == [
        "Crimp the vetch", "Tomorrow",
    ]  # fmt: skip
    assert client_of("stranger").get("/api/v1/day-list").json()["lines"] == []


def test_planned_passes_say_which_quadrats_they_leave_out(trial):
    spray, _ = keep(trial, due="2026-06-20")
    sampled, _ = keep(trial, kind="sample", due="2026-06-20")
    assert one(trial, spray)["watched"] == []
    how = {"placement": "exempt", "samples": {}, "plots": [], "observers": [], "blind": None, "guess_first": False}
    assert trial.plan_visit(how=how).status_code == 200
    [said] = one(trial, spray)["watched"]
    assert said.startswith("Leave out the exempt quadrats of Weeds in June.")
    assert one(trial, sampled)["watched"] == []
    keep(trial, spray, done="2026-06-09")
    assert one(trial, spray)["watched"] == []
