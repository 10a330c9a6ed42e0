"""Corrections, undo and redo: a step at a time, down to the empty place and up again, in the units as typed."""

import uuid

import pytest

from records.models import Observation
from tests.server.asking import COVER, Trial, measure_in, stands
from tests.server.bringing import read


def undo(trial, row):
    return trial.client.post(f"/api/v1/observations/{row}/undo", {"id": str(uuid.uuid4())}, format="json")


def test_a_frame_that_is_corrected_to_nothing_does_not_drop_its_plot(trial, owner):
    trial.enter(trial.typed("101", "7"), trial.typed("101", "9", 2))
    second = Observation.objects.get(unit__label="101", sample=2, current=True)
    body = {"replaces": str(second.id), "fields": {"count": ""}, "why": "the frame was trodden"}
    assert owner.put(f"/api/v1/observations/{uuid.uuid4()}", body, format="json").status_code == 200
    plot = next(p for p in read(owner, trial.id)["measures"][0]["plots"] if p["label"] == "101")
    assert (plot["value"], plot["samples"]) == (28.0, [28.0, None])


@pytest.mark.parametrize(
    ("typed", "says"),
    [
        ({"count": "7.5"}, "isn’t a whole number"),
        ({"count": "-1"}, "0 or more"),
        ({"count": "99999"}, "isn’t possible"),
        ({"value": "3"}, "Count is empty"),
    ],
)
def test_a_correction_obeys_the_sheet(trial, owner, typed, says):
    trial.enter(trial.typed("101", "7"))
    old = stands(trial, "101")["id"]
    body = {"replaces": old, "fields": typed, "why": "looked again"}
    answer = owner.put(f"/api/v1/observations/{uuid.uuid4()}", body, format="json")
    assert (answer.status_code, says in answer.json()["detail"]) == (422, True)
    assert stands(trial, "101")["id"] == old
    unusual = {**body, "fields": {"count": "900"}}
    asked = owner.put(f"/api/v1/observations/{uuid.uuid4()}", unusual, format="json").json()
    assert (asked["state"], "is unusual" in asked["message"], stands(trial, "101")["id"]) == ("question", True, old)
    kept = owner.put(f"/api/v1/observations/{uuid.uuid4()}", {**unusual, "confirmed": True}, format="json").json()
    assert (kept["state"], stands(trial, "101")["fields"]) == ("saved", {"count": "900"})
    assert stands(trial, "101")["missing_reason"] == ""


def test_units_as_typed_stay_with_their_value_through_correction_and_undo(client_of, workspace):
    """A value typed in tonnes a hectare doesn't become tons an acre because somebody else looks at it."""
    metric, us = client_of("owner"), client_of("technician")
    us.patch("/api/v1/session", {"units": "us"}, format="json")
    trial = Trial(metric, workspace, measures=[measure_in("Cover biomass", **COVER)])
    trial.enter(trial.typed("101", {"value": "6"}))

    def current():
        return Observation.objects.get(current=True)

    def sheet(client):
        row = current()
        (field,) = client.get(f"/api/v1/observations/{row.id}/sheet").json()["fields"]
        return field["typed"], field["unit"], row.value

    assert (sheet(metric), sheet(us)) == (("6", "t/ha", 6.0), ("6 t/ha", "ton/ac", 6.0))
    body = {"replaces": str(current().id), "fields": {"value": "6 t/ha"}, "why": "as it is shown"}
    us.put(f"/api/v1/observations/{uuid.uuid4()}", body, format="json")
    assert sheet(us)[2] == 6.0  # typing what is shown stores what stood there
    body = {"replaces": str(current().id), "fields": {"value": "3"}, "why": "weighed again"}
    us.put(f"/api/v1/observations/{uuid.uuid4()}", body, format="json")
    assert sheet(us)[:2] == ("3", "ton/ac")
    assert sheet(metric)[:2] == ("3 ton/ac", "t/ha")
    assert sheet(us)[2] == pytest.approx(6.725, abs=0.001)
    us.put(f"/api/v1/observations/{uuid.uuid4()}", body | {"replaces": str(current().id), "fields": {"value": "4"}},
           format="json")  # fmt: skip
    assert sheet(us)[2] == pytest.approx(8.967, abs=0.001)
    undo(trial, current().id)
    assert sheet(us)[::2] == ("3", pytest.approx(6.725, abs=0.001))  # by the units that it was typed in
    undo(trial, current().id)
    undo(trial, current().id)
    assert (sheet(metric), sheet(us)[0]) == (("6", "t/ha", 6.0), "6 t/ha")


def test_undo_is_a_further_row_with_what_stood_before_or_nothing(trial):
    trial.enter(trial.typed("101", "7"))
    trial.enter(trial.typed("101", "9", replaces=stands(trial, "101")["id"]))
    assert undo(trial, stands(trial, "101")["id"]).status_code == 200
    assert stands(trial, "101")["fields"] == {"count": "7"}
    trial.enter(trial.typed("102", "4"))
    undo(trial, stands(trial, "102")["id"])
    assert stands(trial, "102") is None
    assert Observation.objects.count() == 5
    assert trial.enter(trial.typed("102", "5"))[0]["state"] == "saved"  # an empty place has no conflict
    assert stands(trial, "102")["fields"] == {"count": "5"}


def redo(trial, label, **changes):
    place = {
        "id": str(uuid.uuid4()),
        "unit": trial.unit(label),
        "measure": trial.measures[0],
        "sample": 1,
        **changes,
    }
    return trial.client.post(f"/api/v1/visits/{trial.visit}/redo", place, format="json")


def test_undo_goes_back_a_step_at_a_time_to_the_empty_place_and_redo_goes_forward(trial):
    trial.enter(trial.typed("101", "5"))
    trial.enter(trial.typed("101", "7", replaces=stands(trial, "101")["id"]))
    seen = []
    for step in (undo, undo, redo, redo, undo):
        row = Observation.objects.get(unit__label="101", current=True)
        answer = step(trial, row.id) if step is undo else redo(trial, "101")
        assert answer.status_code == 200, answer.content
        now = stands(trial, "101")
        seen.append(now and now["fields"]["count"])
    assert seen == ["5", None, "5", "7", "5"]
    trial.enter(trial.typed("101", "9", replaces=stands(trial, "101")["id"]))
    assert redo(trial, "101").status_code == 409  # what was typed since isn't overwritten
    undo(trial, stands(trial, "101")["id"])
    assert stands(trial, "101")["fields"] == {"count": "5"}
    undo(trial, stands(trial, "101")["id"])
    row = Observation.objects.get(unit__label="101", current=True)
    assert undo(trial, row.id).status_code == 409  # nothing is left


def test_redo_takes_the_newest_of_what_was_entered_there_and_nothing_of_another_place_or_in_conflict(trial, client_of):
    trial.enter(trial.typed("101", "5", id="f" + str(uuid.uuid4())[1:]))
    undo(trial, stands(trial, "101")["id"])
    trial.enter(trial.typed("101", "7", id="0" + str(uuid.uuid4())[1:]))  # later, whatever its id
    undo(trial, stands(trial, "101")["id"])
    trial.enter(trial.typed("102", "9"))
    assert redo(trial, "101").status_code == 200
    assert stands(trial, "101")["fields"] == {"count": "7"}
    trial.enter(trial.typed("101", "11"), client=client_of("technician"))  # in conflict with it
    undo(trial, stands(trial, "101")["id"])
    redo(trial, "101")
    assert stands(trial, "101")["fields"] == {"count": "7"}


def test_undo_brings_back_a_value_from_before_cells_were_kept_by_field(trial):
    trial.enter(trial.typed("101", "7"))
    Observation.objects.update(fields={})
    trial.enter(trial.typed("101", "9", replaces=stands(trial, "101")["id"]))
    assert undo(trial, stands(trial, "101")["id"]).status_code == 200
    assert (stands(trial, "101")["value"], stands(trial, "101")["fields"]) == (28, {"value": "7"})


def test_redo_brings_back_why_there_was_no_value(trial):
    trial.enter(trial.typed("101", "7"))
    gone = {"missing_status": "damaged", "missing_reason": "hares", "replaces": stands(trial, "101")["id"]}
    trial.enter(trial.typed("101", {}, **gone))
    undo(trial, stands(trial, "101")["id"])
    assert stands(trial, "101")["value"] == 28
    redo(trial, "101")
    assert (stands(trial, "101")["missing_status"], stands(trial, "101")["missing_reason"]) == ("damaged", "hares")


def test_undoing_a_decision_opens_the_conflict_again_and_equal_values_are_none(trial, client_of):
    trial.enter(trial.typed("101", "7"))
    theirs = trial.typed("101", "9")
    trial.enter(theirs, client=client_of("technician"))
    decision = {"id": str(uuid.uuid4()), "keep": theirs["id"], "why": "counted twice"}
    trial.client.post(f"/api/v1/observations/{theirs['id']}/decision", decision, format="json")
    undo(trial, stands(trial, "101")["id"])
    opened = trial.open()
    assert [r["id"] for r in opened["conflicts"]] == [theirs["id"]]
    assert stands(trial, "101")["fields"] == {"count": "7"}
    assert redo(trial, "101").json()["conflicts"] == []
    assert stands(trial, "101")["fields"] == {"count": "9"}
    trial.enter(trial.typed("102", "4"))
    same = trial.enter(trial.typed("102", "4,0"), client=client_of("technician"))[0]
    assert (same["state"], trial.open()["progress"]["conflicts"]) == ("saved", 0)


def test_undo_of_what_changed_in_the_meantime_says_so(trial):
    trial.enter(trial.typed("101", "7"))
    old = stands(trial, "101")["id"]
    trial.enter(trial.typed("101", "9", replaces=old))
    answer = undo(trial, old)
    assert (answer.status_code, "changed in the meantime" in answer.json()["detail"]) == (409, True)
