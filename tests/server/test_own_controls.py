"""A control level of a factor, from Ask to the board: each treatment against the control at its own other levels."""

import uuid

import pytest

from tests.server.asking import PLAN, Trial, measure_in
from tests.server.bringing import look, read
from tests.server.test_readings_of_designs import HEIGHT, grow
from tests.server.test_reports import bring_back, package
from trials.models import TrialMeasure

FACTORS = [
    {"name": "cover", "levels": ["bare", "oat", "rye"], "whole_strips": True, "control": "bare"},
    {"name": "nitrogen", "levels": ["0", "40"]},
]


def treatments(owner, factors=FACTORS):
    made = owner.post("/api/v1/crossing", {"factors": factors, "removed": []}, format="json").json()["treatments"]
    return [{"id": str(uuid.uuid4()), **one} for one in made]


@pytest.fixture
def trial(owner, workspace):
    page = {"factors": FACTORS, "treatments": treatments(owner), "measures": [measure_in(**HEIGHT)]}
    return Trial(owner, workspace, {**PLAN, "design": "split_plot", "whole_factor": "cover"}, **page)


def against(reading):
    return {(c["treatment"], c["against"]) for c in reading["measures"][0]["cells"]}


PAIRS = {(f"{cover}, {n}", f"bare, {n}") for cover in ("oat", "rye") for n in ("0", "40")}


def test_a_control_level_makes_controls_and_the_board_compares_at_the_same_level(owner, trial):
    page = owner.get(f"/api/v1/trials/{trial.id}").json()
    assert {t["name"] for t in page["treatments"] if t["is_control"]} == {"bare, 0", "bare, 40"}
    assert len(page["plots"]) == 24  # three whole plots of two in each of four blocks
    assert page["two_things"] == ""  # rye with 40 isn't compared with bare without it
    grow(owner, trial.id, trial.page["sites"][0])
    shown = read(owner, trial.id)
    assert against(shown) == PAIRS
    assert shown["measures"][0]["base"] == "bare at the same nitrogen"
    assert not [d for d in shown["doubts"] if d["id"] == "two-things-changed"]
    for how in ("lsd", "tukey"):
        assert against(look(owner, trial.id, method=how)) == PAIRS


def test_copies_and_data_packages_keep_whom_each_is_compared_with(owner, workspace, trial):
    flat = Trial(owner, workspace, PLAN, factors=FACTORS, treatments=treatments(owner), measures=[measure_in(**HEIGHT)])
    grow(owner, flat.id, flat.page["sites"][0])
    before = read(owner, flat.id)
    body = {"id": str(uuid.uuid4()), "name": "Again", "layout": "copied"}
    owner.post(f"/api/v1/trials/{flat.id}/copy", body, format="json")
    grow(owner, body["id"], flat.page["sites"][0])
    assert against(read(owner, body["id"])) == PAIRS
    id = bring_back(owner, workspace.id, package(owner, flat.id))
    after = read(owner, id)
    assert against(after) == PAIRS
    cells = [{c["treatment"]: (c["estimate"], c["lower"], c["verdict"]) for c in r["measures"][0]["cells"]}
             for r in (before, after)]  # fmt: skip
    assert cells[0] == cells[1]


def test_a_crossed_factor_keeps_the_measures_and_compares_with_the_old_control_at_the_same_level(owner, workspace):
    plain = Trial(owner, workspace)
    page = {**plain.page}
    page["treatments"][2]["is_control"] = True  # vetch is the control of the second measure
    page["measures"][1] = {**page["measures"][1], "control": page["treatments"][2]["id"]}
    assert plain.ask(page).status_code == 200
    factor = {"name": "nitrogen", "levels": ["0", "40"]}
    body = {"id": str(uuid.uuid4()), "name": "Crossed", "layout": "crossed", "factor": factor}
    made = owner.post(f"/api/v1/trials/{plain.id}/copy", body, format="json").json()
    assert [m["name"] for m in made["measures"]] == ["Weeds", "Barley"]
    said = [m.own_controls["said"] for m in TrialMeasure.objects.filter(trial=made["id"]).order_by("order")]
    assert said == ["Bare at the same nitrogen", "Common vetch at the same nitrogen"]


@pytest.mark.parametrize(
    ("changes", "says"),
    [
        ({"control": "none"}, "isn’t a level of 'cover'"),
        ({}, "Two factors have a control level"),
    ],
)
def test_a_control_level_that_cannot_be_is_refused(owner, workspace, trial, changes, says):
    second = {**FACTORS[1], "control": "" if changes else "0"}
    page = {**trial.page, "factors": [{**FACTORS[0], **changes}, second]}
    refused = trial.ask(page)
    assert (refused.status_code, says in refused.json()["detail"]) == (422, True)
