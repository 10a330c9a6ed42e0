"""Readings are kept as they were seen; doubts are answered; figures are corrected by further rows."""

import uuid

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext

from readings.models import DoubtAnswer, Reading
from records.models import Observation
from tests.server.bringing import acceptance, bring_trial, read
from tests.server.conftest import TABLE
from trials.models import TrialMeasure


@pytest.fixture
def owner(client_of):
    return client_of("owner")


@pytest.fixture
def trial(owner, workspace):
    return bring_trial(owner, workspace, TABLE)


def correct(client, old, typed, why, id=None):
    fields = typed if isinstance(typed, dict) else {"value": typed}
    body = {"replaces": str(old), "fields": fields, "why": why}
    return client.put(f"/api/v1/observations/{id or uuid.uuid4()}", body, format="json")


def current(label, unit="t/ha"):
    return Observation.objects.get(unit__label=label, unit__kind="plot", version__unit=unit, current=True)


def test_the_same_reading_is_kept_once_and_another_method_says_it_was_tried_after(owner, trial):
    first, again = read(owner, trial), read(owner, trial)
    assert (first["id"], first["tried_after"]) == (again["id"], False)
    other = read(owner, trial, method="lsd")
    assert (other["tried_after"], Reading.objects.count()) == (True, 2)
    assert read(owner, trial)["tried_after"] is False


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
    assert after["fingerprint"] != before["fingerprint"]
    (doubt,) = [d for d in after["measures"][0]["doubts"] if d["id"] == "changed-after-reading"]
    assert doubt["plots"] == ["1"]
    assert Reading.objects.get(id=before["id"]).result["measures"][0]["plots"][0]["value"] == 40.1


def test_a_correction_needs_a_figure_and_a_reason_and_yields_to_one_that_came_first(owner, trial):
    old = current("1")
    assert "isn't a number" in correct(owner, old.id, "much", "because").json()["detail"]
    assert "Say why" in correct(owner, old.id, "41", " ").json()["detail"]
    assert correct(owner, old.id, "41", "read again").status_code == 200
    late = correct(owner, old.id, "42", "read again")
    assert (late.status_code, late.json()["code"]) == (409, "conflict")
    assert correct(owner, current("1").id, "", "plot was mown").status_code == 200
    assert current("1").value is None


def test_a_changed_margin_changes_verdicts_and_leaves_history_with_the_reason(owner, trial):
    measure = TrialMeasure.objects.get(version__unit="t/ha")
    url = f"/api/v1/measures/{measure.id}"
    before = [c["verdict"] for c in read(owner, trial)["measures"][0]["cells"]]
    answer = owner.patch(url, {"margin": 60, "reason": "price fell"}, format="json")
    assert (answer.status_code, answer.json()["margin"]) == (200, 60)
    after = [c["verdict"] for c in read(owner, trial)["measures"][0]["cells"]]
    assert before != after
    assert set(after) <= {"real-but-small", "no-difference-worth-having"}
    assert [h.history_change_reason for h in measure.history.order_by("history_date")] == [None, "price fell"]
    assert owner.patch(url, {"margin": 0}, format="json").json()["errors"][0]["where"] == "margin"


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


@pytest.mark.parametrize("how", [{"method": "best"}, {"alpha": 0.9}, {"df_method": "guess"}])
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
