"""When are two people's entries in conflict, and what do undo, redo and decisions bring back: edge by edge."""

import uuid

import pytest

from records.models import Observation
from tests.server.asking import Trial, measure_in
from tests.server.bringing import bring_trial

COVER = {"unit": "t/ha", "catalogue": "", "sheet": "figure", "settings": {}, "margin": 1, "expected": 5}


@pytest.fixture
def people_at_it(client_of, workspace):
    """A trial whose cover is weighed in t/ha and whose weeds are counted, with two people."""
    return Trial(client_of("owner"), workspace, measures=[measure_in("Cover", **COVER), measure_in()]), client_of(
        "technician"
    )


def undo(trial, row):
    return trial.client.post(f"/api/v1/observations/{row}/undo", {"id": str(uuid.uuid4())}, format="json")


def current(label):
    return Observation.objects.get(unit__label=label, current=True)


def marked(trial, label, status, reason="hail"):
    return trial.typed(label, {}, missing_status=status, missing_reason=reason)


@pytest.mark.parametrize(
    ("mine", "theirs", "met"),
    [
        ("4.2", "4.21", "conflict"),  # near isn't the same
        ("4.2", "4,20", "saved"),
        ("not-taken", "not-taken", "saved"),  # two people who say the same of a plot without a value
        ("not-taken", "damaged", "conflict"),
        ("4.2", "damaged", "conflict"),
        ("damaged", "4.2", "conflict"),
    ],
)
def test_what_two_people_say_of_one_place_is_in_conflict_unless_it_is_the_same(people_at_it, mine, theirs, met):
    trial, technician = people_at_it

    def entry(said):
        return trial.typed("101", {"value": said}) if said[0].isdigit() else marked(trial, "101", said)

    assert trial.enter(entry(mine))[0]["state"] == "saved"
    assert trial.enter(entry(theirs), client=technician)[0]["state"] == met


def test_a_decision_is_between_the_two_values_of_its_place_and_nothing_else(people_at_it):
    trial, technician = people_at_it
    other = trial.typed("102", {"value": "9"}, id=str(uuid.UUID(int=1)))  # the first of all rows
    trial.enter(other, trial.typed("101", {"value": "4"}))
    theirs = trial.typed("101", {"value": "5"})
    trial.enter(theirs, client=technician)
    url = f"/api/v1/observations/{theirs['id']}/decision"
    strange = {"id": str(uuid.uuid4()), "keep": other["id"], "why": "weighed again"}
    assert trial.client.post(url, strange, format="json").status_code == 409
    taken = {**strange, "id": other["id"], "keep": theirs["id"]}
    assert trial.client.post(url, taken, format="json").status_code == 409  # the id of another row
    decision = {**strange, "id": str(uuid.uuid4()), "keep": str(current("101").id)}
    assert (
        trial.client.post(url, decision, format="json").json() == trial.client.post(url, decision, format="json").json()
    )
    assert (current("101").value, current("102").value) == (4, 9)
    # The decision's id stands for it alone: it can't come again as a correction or an entry of the same place.
    before = Observation.objects.get(id=decision["id"]).replaces_id
    assert correct(trial, before, {"value": "4"}, id=decision["id"]).status_code == 409
    again = trial.enter(trial.typed("101", {"value": "4"}, id=decision["id"]))
    assert again.status_code == 409


def correct(trial, row, fields, *, id=None, why="looked again"):
    body = {"replaces": str(row), "fields": fields, "why": why}
    return trial.client.put(f"/api/v1/observations/{id or uuid.uuid4()}", body, format="json")


def test_the_id_of_a_step_back_is_not_that_of_a_correction(people_at_it):
    trial, _ = people_at_it
    trial.enter(trial.typed("101", {"value": "4"}))
    first = current("101").id
    assert correct(trial, first, {"value": "5"}).status_code == 200
    second = current("101").id
    undo(trial, second)
    assert (current("101").value, correct(trial, second, {"value": "4"}, id=current("101").id).status_code) == (4, 409)


def test_a_correction_may_be_as_long_as_what_was_typed(client_of, workspace):
    sheet = {"unit": "cm", "catalogue": "penetration", "sheet": "resistance", "settings": {"from": 5, "step": 5}}
    trial = Trial(client_of("owner"), workspace, measures=[measure_in("Depth of resistance", **sheet, margin=10)])
    profile = {"first": " ".join(f"{reading / 100:.2f}" for reading in range(60, 200, 8)) + " 2.4"}
    trial.enter(trial.typed("101", profile))
    assert (len(profile["first"]) > 80, current("101").value is None) == (True, False)
    assert correct(trial, current("101").id, {"first": profile["first"].replace("0.60", "0.66")}).status_code == 200
    assert current("101").fields["first"].startswith("0.66 0.68")


def test_undo_brings_back_a_missing_mark_and_an_unusual_value_that_was_confirmed(people_at_it):
    trial, _ = people_at_it
    weeds = {"measure": 1}
    trial.enter(trial.typed("101", "600", **weeds, confirmed=True))  # 2,400 weeds/m² are unusual
    trial.enter(trial.typed("101", "60", **weeds, replaces=str(current("101").id)))
    assert undo(trial, current("101").id).status_code == 200
    assert (current("101").value, current("101").confirmed) == (2400, True)
    trial.enter(marked(trial, "102", "damaged"))
    trial.enter(trial.typed("102", {"value": "4"}, replaces=str(current("102").id)))
    undo(trial, current("102").id)
    assert (current("102").value, current("102").missing_status, current("102").missing_reason) == (
        None, "damaged", "hail",
    )  # fmt: skip


def test_undo_brings_back_a_value_of_a_table(client_of, workspace):
    client = client_of("owner")
    lines = [f"{b};{b}0{p};{c};{4 + b + p};{10 * p}" for b in (1, 2, 3) for p, c in enumerate(("Bare", "Oat"), 1)]
    trial = bring_trial(client, workspace, "\n".join(["Block;Plot;Cover;Yield (t/ha);Weeds", *lines, ""]))
    row = Observation.objects.get(unit__label="101", current=True, version__measure__name="Yield")
    body = {"replaces": str(row.id), "fields": {"value": "7"}, "why": "misread"}
    assert client.put(f"/api/v1/observations/{uuid.uuid4()}", body, format="json").status_code == 200
    now = Observation.objects.get(unit__label="101", current=True, version__measure__name="Yield")
    assert now.value == 7
    undone = client.post(f"/api/v1/observations/{now.id}/undo", {"id": str(uuid.uuid4())}, format="json")
    assert undone.status_code == 200, undone.content
    assert Observation.objects.get(unit__label="101", current=True, version__measure__name="Yield").value == 6
    assert Observation.objects.filter(visit__season__trial=trial).count() == 14


def test_an_entry_means_the_units_that_its_field_showed_however_long_it_waited_on_the_device(people_at_it):
    trial, _ = people_at_it
    trial.client.patch("/api/v1/session", {"units": "us"}, format="json")
    waited = trial.typed("101", {"value": "2"}, units="metric")  # typed before the units were changed
    assert trial.enter(waited, trial.typed("102", {"value": "2"}))[0]["value"] == 2
    assert current("102").value == pytest.approx(2 / 0.44609, rel=1e-4)  # 2 ton/ac


def test_a_page_in_the_other_units_is_read_in_its_own(people_at_it):
    """Two windows: the units were changed in one, the other still shows t/ha and says so."""
    trial, _ = people_at_it
    trial.client.patch("/api/v1/session", {"units": "us"}, format="json")
    assert trial.open()["measures"][0]["unit"] == "ton/ac"
    sheet = trial.client.get(f"/api/v1/visits/{trial.visit}", headers={"X-Units": "metric"}).json()
    assert (sheet["units"], sheet["measures"][0]["unit"]) == ("metric", "t/ha")
    assert trial.client.get("/api/v1/session", headers={"X-Units": "metric"}).json()["units"] == "us"


def redo(trial, id):
    place = {"id": str(id), "unit": trial.unit("101"), "measure": trial.measures[0], "sample": 1}
    return trial.client.post(f"/api/v1/visits/{trial.visit}/redo", place, format="json")


def test_redo_goes_to_the_newest_state_on_top_and_the_same_again_goes_no_further(people_at_it):
    trial, _ = people_at_it

    def over(value):
        trial.enter(trial.typed("101", {"value": value}, replaces=str(current("101").id)))

    trial.enter(trial.typed("101", {"value": "4"}))
    for value in ("5", "6"):
        over(value)
        undo(trial, current("101").id)
    # On top of 4 stood 5 and then 6; the newest of them comes back.
    assert current("101").value == 4
    step = uuid.uuid4()
    for _ in range(2):
        assert redo(trial, step).status_code == 200
        assert (current("101").value, current("101").id) == (6, step)
    refused = redo(trial, uuid.uuid4())
    assert (refused.status_code, refused.json()["detail"]) == (409, "There is nothing to redo here.")
    over("7")
    undo(trial, current("101").id)
    assert redo(trial, uuid.uuid4()).status_code == 200
    assert current("101").value == 7


def test_a_value_in_open_conflict_is_the_first_doubt_of_the_board_and_stands_on_the_growers_page(people_at_it):
    trial, other = people_at_it[:2]
    labels = [str(100 * block + n) for block in range(1, 5) for n in range(1, 4)]
    trial.enter(*(trial.typed(one, {"value": f"{int(one) % 7 + 3}"}) for one in labels))
    plot = labels[0]
    assert trial.enter(trial.typed(plot, {"value": "8"}), client=other)[0]["state"] == "conflict"
    url = f"/api/v1/trials/{trial.id}"
    assert trial.client.post(f"{url}/results", {}, format="json").status_code == 204
    board = trial.client.post(f"{url}/readings", {"method": "dunnett"}, format="json").json()
    [doubt] = [d for d in board["measures"][0]["doubts"] if d["id"] == "open-conflict"]
    assert (doubt["severity"], doubt["plots"]) == ("stops", [plot])
    assert f"plot {plot} has 6 t/ha and 8 t/ha" in doubt["finding"]
    report = trial.client.get(f"{url}/report").json()
    assert report["doubts"][0]["finding"].endswith(doubt["finding"])
