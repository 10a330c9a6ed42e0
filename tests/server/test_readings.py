"""Readings are kept as they were seen; doubts are answered; figures are corrected by further rows."""

import uuid

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext

from readings.models import DoubtAnswer, Reading
from records.models import Observation, Visit
from tests.server.bringing import acceptance, bring_trial, look, read
from tests.server.conftest import TABLE
from trials.models import Season, TrialMeasure


@pytest.fixture
def trial(owner, workspace):
    return bring_trial(owner, workspace, TABLE)


def correct(client, old, typed, why, id=None):
    fields = typed if isinstance(typed, dict) else {"value": typed}
    body = {"replaces": str(old), "fields": fields, "why": why}
    return client.put(f"/api/v1/observations/{id or uuid.uuid4()}", body, format="json")


def current(label, unit="t/ha"):
    return Observation.objects.get(unit__label=label, unit__kind="plot", version__unit=unit, current=True)


def test_looking_never_writes_and_another_method_says_it_was_tried_after(owner, trial):
    first = read(owner, trial)
    with CaptureQueriesContext(connection) as seen:
        again, other = look(owner, trial), look(owner, trial, method="lsd")
    assert not [q["sql"] for q in seen if not q["sql"].lower().startswith(("select", "savepoint", "release"))]
    assert (first["identity"], first["tried_after"]) == (again["identity"], False)
    assert (other["tried_after"], other["identity"] != first["identity"]) == (True, True)
    assert Reading.objects.count() == 1  # what results were opened with
    assert look(owner, trial)["tried_after"] is False


def test_nobody_sees_results_before_somebody_who_may_has_opened_them(client_of, owner, trial):
    """A reader's look with another method must not turn the owner's planned analysis into one tried after."""
    reader = client_of("reader")
    url = f"/api/v1/trials/{trial}"
    for person in (reader, owner):
        answer = person.post(f"{url}/readings", {"method": "lsd"}, format="json")
        assert (answer.status_code, answer.json()["code"]) == (409, "results-not-opened")
    assert reader.post(f"{url}/results", {}, format="json").status_code == 403
    assert owner.post(f"{url}/results", {}, format="json").status_code == 204
    assert look(reader, trial, method="lsd")["tried_after"] is True
    mine = look(owner, trial)
    assert (mine["tried_after"], mine["opened_by"]) == (False, "Owner")
    assert owner.post(f"{url}/results", {"method": "lsd"}, format="json").status_code == 204  # again changes nothing
    assert look(owner, trial)["tried_after"] is False


def test_what_is_kept_is_in_stored_units_whoever_opens_and_each_sees_their_own(client_of, owner, workspace):
    owner.patch("/api/v1/session", {"units": "us"}, format="json")
    trial = bring_trial(owner, workspace, TABLE)
    shown = read(owner, trial)
    kept = Reading.objects.get()
    assert (shown["measures"][0]["unit"], kept.result["measures"][0]["unit"]) == ("ton/ac", "t/ha")
    metric = look(client_of("researcher"), trial)
    assert metric["identity"] == shown["identity"] == kept.identity
    assert metric["measures"][0]["cells"] == kept.result["measures"][0]["cells"]
    factor = 0.44608958  # ton/ac in a t/ha
    assert shown["measures"][0]["cells"][0]["lower"] == pytest.approx(
        metric["measures"][0]["cells"][0]["lower"] * factor, rel=1e-6
    )


@pytest.mark.parametrize(
    "change",
    [
        lambda season: season.trial.measures.update(margin=7),
        lambda season: season.trial.measures.update(direction="none"),
        lambda season: Observation.objects.filter(value__gt=50).update(value=51.5),
        lambda season: Season.objects.filter(id=season.id).update(moved=[{"said": "101 and 102 changed places"}]),
        lambda season: Season.objects.filter(id=season.id).update(allocation="unknown"),
        lambda season: season.trial.treatments.filter(name="Oat").update(is_control=True),
        lambda season: Observation.objects.filter(unit__label="1").update(
            missing_status="failed", missing_reason="slugs"
        ),
    ],
    ids=["margin", "direction", "values", "departure", "allocation", "further control", "failure"],
)  # fmt: skip
def test_the_identity_of_a_reading_is_made_of_all_that_the_core_is_given(owner, trial, change):
    before = read(owner, trial)["identity"]
    change(Season.objects.get(trial=trial))
    assert look(owner, trial)["identity"] != before


def test_first_entries_are_no_changed_values(owner, trial):
    Observation.objects.filter(unit__label="1", version__unit="t/ha").update(value=None, missing_reason="still to come")
    read(owner, trial)
    late = current("1")
    assert correct(owner, late.id, "41", "weighed at last").status_code == 200
    doubts = {d["id"] for d in look(owner, trial)["measures"][0]["doubts"]}
    assert "changed-after-reading" not in doubts


def test_a_correction_is_a_further_row_and_raises_changed_after_reading(owner, trial):
    before = read(owner, trial)
    old = current("1")
    id = uuid.uuid4()
    assert correct(owner, old.id, "43,1", "slipped key", id).status_code == 200
    assert correct(owner, old.id, "43,1", "slipped key", id).status_code == 200  # repeating is harmless
    old.refresh_from_db()
    assert (old.current, old.value) == (False, 40.1)
    assert (current("1").value, current("1").typed, current("1").replaces_id) == (43.1, "43,1", old.id)
    after = read(owner, trial)
    assert after["identity"] != before["identity"]
    (doubt,) = [d for d in after["measures"][0]["doubts"] if d["id"] == "changed-after-reading"]
    assert doubt["plots"] == ["1"]
    assert Reading.objects.get(identity=before["identity"]).result["measures"][0]["plots"][0]["value"] == 40.1


def test_a_correction_needs_a_figure_and_a_reason_and_yields_to_one_that_came_first(owner, trial):
    old = current("1")
    assert "isn’t a number" in correct(owner, old.id, "much", "because").json()["detail"]
    assert "Say why" in correct(owner, old.id, "41", " ").json()["detail"]
    assert correct(owner, old.id, "41", "read again").status_code == 200
    late = correct(owner, old.id, "42", "read again")
    assert (late.status_code, late.json()["code"]) == (409, "conflict")
    assert correct(owner, current("1").id, "", "plot was mown").status_code == 200
    assert current("1").value is None


def test_what_is_changed_in_the_question_after_results_were_seen_needs_a_reason_and_is_told(owner, trial):
    measure = TrialMeasure.objects.get(version__unit="t/ha")
    url = f"/api/v1/measures/{measure.id}"
    assert owner.patch(url, {"direction": "higher"}, format="json").status_code == 200  # nothing was seen yet
    before = [c["verdict"] for c in read(owner, trial)["measures"][0]["cells"]]
    silent = owner.patch(url, {"margin": "60"}, format="json")
    assert (silent.status_code, "Give a reason for the change" in silent.json()["detail"]) == (422, True)
    change = {"margin": "60", "planned": "equivalence", "reason": "price fell"}
    answer = owner.patch(url, change, format="json")
    assert (answer.status_code, answer.json()["margin"]) == (200, 60)
    found = look(owner, trial)["measures"][0]
    after = [c["verdict"] for c in found["cells"]]
    assert before != after
    assert set(after) <= {"real-but-small", "no-difference-worth-having"}
    (doubt,) = [d for d in found["doubts"] if d["id"] == "question-changed-after-reading"]
    assert "margin: 1 t/ha became 60 t/ha (Owner, " in doubt["finding"]
    assert "planned: no planned test became planned equivalence test" in doubt["finding"]
    assert doubt["finding"].endswith("price fell).")
    assert {p["chosen_after"] for p in found["planned"]} == {True}
    assert owner.patch(url, {"margin": 0, "reason": "x"}, format="json").json()["errors"][0]["where"] == "margin"


@pytest.mark.parametrize("typed", ["2 t", "two", "1 2"])
def test_a_margin_that_is_no_number_is_refused_at_its_field_and_the_old_one_stays(owner, trial, typed):
    measure = TrialMeasure.objects.get(version__unit="t/ha")
    answer = owner.patch(f"/api/v1/measures/{measure.id}", {"margin": typed}, format="json")
    assert answer.status_code == 400
    assert answer.json()["errors"] == [
        {"where": "margin", "what": f"“{typed}” isn’t a number. Type one number, for example 12.5."}
    ]
    measure.refresh_from_db()
    assert measure.margin == 1.0


def test_an_answered_doubt_keeps_its_note_and_every_earlier_one(owner, workspace):
    trial = bring_trial(owner, workspace, TABLE, control=None)
    (doubt,) = [d for d in read(owner, trial)["doubts"] if d["id"] == "no-control"]
    assert doubt["answer"] is None
    for note in ("first thought", "second thought"):
        owner.post(f"/api/v1/trials/{trial}/answers", {"doubt": doubt["key"], "note": note}, format="json")
    (answered,) = [d for d in read(owner, trial)["doubts"] if d["id"] == "no-control"]
    assert (answered["answer"]["note"], answered["answer"]["by"]) == ("second thought", "Owner")
    assert DoubtAnswer.objects.count() == 2


def test_a_measure_without_margin_has_intervals_and_no_verdict(owner, trial):
    TrialMeasure.objects.update(margin=None)
    cells = read(owner, trial)["measures"][0]["cells"]
    assert {c["verdict"] for c in cells} == {"no-margin"}
    assert all(c["lower"] < c["estimate"] < c["upper"] for c in cells)


def test_another_scale_is_another_method_and_columns_say_when_they_were_taken(owner, trial):
    plain, logs = read(owner, trial)["measures"][0], look(owner, trial, scale="log")
    assert (logs["how"]["scale"], logs["tried_after"]) == ("log", True)
    assert [c["p"] for c in logs["measures"][0]["cells"]] != [c["p"] for c in plain["cells"]]
    assert any("geometric mean" in note for note in logs["measures"][0]["notes"])
    visit = Visit.objects.get(season__trial=trial, taken__measure=plain["id"])
    assert plain["occasion"] == {"visit": visit.name, "date": visit.date and visit.date.isoformat()}
    Visit.objects.filter(pk=visit.pk).update(date="2026-09-02")
    assert read(owner, trial)["measures"][0]["occasion"]["date"] == "2026-09-02"


@pytest.mark.parametrize("how", [{"method": "best"}, {"alpha": 0.9}, {"df_method": "guess"}, {"scale": "root"}])
def test_a_method_that_does_not_exist_is_refused_with_its_place(owner, trial, how):
    answer = owner.post(f"/api/v1/trials/{trial}/readings", how, format="json")
    assert (answer.status_code, answer.json()["errors"][0]["where"]) == (400, next(iter(how)))


def test_opening_and_reading_a_trial_takes_as_many_queries_whatever_its_size(owner, workspace):
    lines = TABLE.splitlines()
    twice = [
        line.replace(f"{line[0]},{line.split(',')[1]}", f"{line[0]}2,{100 + i}") for i, line in enumerate(lines[1:])
    ]
    small = bring_trial(owner, workspace, TABLE)
    large = bring_trial(owner, workspace, "\n".join([*lines, *twice]) + "\n")
    counts = []
    for trial in (small, large):
        read(owner, trial)
        with CaptureQueriesContext(connection) as seen:
            assert owner.get(f"/api/v1/trials/{trial}").status_code == 200
            read(owner, trial)
        counts.append(len(seen))
    assert counts[0] == counts[1]


def test_a_table_without_blocks_is_read_as_completely_randomised(client_of, workspace):
    table = "Plot,Cover,Yield\n1,Bare,40\n2,Oat,43\n3,Bare,41\n4,Oat,44\n5,Oat,43.5\n6,Bare,40.6\n"
    roles = {"Plot": "plot", "Cover": "treatment", "Yield": "value"}
    measures = [{**acceptance()["measures"][0], "column": "Yield"}]
    trial = bring_trial(client_of("owner"), workspace, table, roles=roles, measures=measures)
    found = read(client_of("owner"), trial)["measures"][0]
    assert found["full"]["design"] == "crd"
    assert [term["df_den"] for term in found["full"]["anova"]] == [4.0]
    assert [c["name"] for c in found["full"]["variance_components"]] == ["residual"]
    oat = found["cells"][0]
    squares = 0.5**2 + 0.5**2 + (8 / 15) ** 2 + (7 / 15) ** 2 + (1 / 15) ** 2  # about 43.5 and 40.5333
    half = 2.7764451 * (squares / 4 * 2 / 3) ** 0.5  # t(0.975, 4 df) · √(s²·2/3)
    assert (oat["estimate"], oat["upper"] - oat["estimate"]) == (
        pytest.approx(2.9666667),
        pytest.approx(half, rel=1e-6),
    )


def test_the_board_compares_with_any_treatment_as_if_it_were_the_control(client_of, workspace):
    client = client_of("owner")
    trial = bring_trial(client, workspace, TABLE)
    read(client, trial)
    url = f"/api/v1/trials/{trial}/readings"
    usual = client.post(url, {}, format="json").json()
    other = next(c["treatment"] for c in usual["measures"][0]["cells"])
    turned = client.post(url, {"against": other}, format="json").json()
    assert (usual["against"], turned["against"], turned["base"]) == ("", other, other)
    measure, before = turned["measures"][0], usual["measures"][0]
    assert [measure["base"], other in [c["treatment"] for c in measure["cells"]]] == [other, False]
    back = next(c for c in measure["cells"] if c["treatment"] == before["base"])
    there = next(c for c in before["cells"] if c["treatment"] == other)
    assert (back["estimate"], back["lower"]) == (pytest.approx(-there["estimate"]), pytest.approx(-there["upper"]))
    assert measure["planned"] == []  # a planned test is against its own control
    unknown = client.post(url, {"against": "Nothing"}, format="json")
    assert (unknown.status_code, "No treatment here is called" in unknown.json()["detail"]) == (422, True)
    assert client.post(url, {}, format="json").json()["identity"] == usual["identity"]
