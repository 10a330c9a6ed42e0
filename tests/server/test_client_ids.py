"""Ids that clients make: what another workspace has is answered like what isn't there, and shows in no answer."""

import uuid

import pytest

from records.models import Note, Observation
from tests.server.asking import AT, Trial, page, site_in
from tests.server.bringing import acceptance, bring
from tests.server.conftest import TABLE
from trials.models import Trial as Trials


@pytest.fixture
def ours(client_of, workspace):
    return Trial(client_of("owner"), workspace)


@pytest.fixture
def theirs(client_of, people, workspace):
    """A trial of another workspace, with a figure, a note and an operation."""
    stranger = people["stranger"]
    return filled(Trial(client_of("stranger"), stranger.memberships.get().workspace, sites=[site_in("Far Ground")]))


def filled(trial):
    row = trial.typed("101", "7")
    trial.enter(row)
    trial.row, trial.note, trial.operation = row["id"], str(uuid.uuid4()), str(uuid.uuid4())
    trial.client.put(f"/api/v1/visits/{trial.visit}/notes/{trial.note}", {"unit": None, "text": "Hares"}, format="json")
    body = {"kind": "mow", "name": "Mow", "due": "2026-05-01"}
    trial.client.put(f"/api/v1/trials/{trial.id}/operations/{trial.operation}", body, format="json")
    return trial


def told(answer):
    return answer.status_code, {k: v for k, v in answer.json().items() if k != "request"}


def made_with(ours, workspace, taken):
    """Everything that is made under an id of the client, with an id that `taken` has: name → answer."""
    client, url = ours.client, f"/api/v1/trials/{ours.id}"
    at = f"/api/v1/visits/{ours.visit}"
    treatments, measures = taken.page["treatments"], taken.page["measures"]
    upload = bring(client, workspace, TABLE).json()["id"]
    standing = ours.open()["rows"]
    row = standing[0]["id"] if standing else str(uuid.uuid4())
    first, rest = ours.page["treatments"][0], ours.page["treatments"][1:]

    def put(path, body):
        return client.put(path, body, format="json")

    def post(path, body):
        return client.post(path, body, format="json")

    return {
        "trial": put(f"/api/v1/trials/{taken.id}/ask", page(workspace)),
        "site": ours.ask({**ours.page, "sites": [{**ours.page["sites"][0], "id": taken.page["sites"][0]["id"]}]}),
        "treatment": ours.ask({**ours.page, "treatments": [{**first, "id": treatments[0]["id"]}, *rest]}),
        "measure": ours.ask({**ours.page, "measures": [{**ours.page["measures"][0], "id": measures[0]["id"]}]}),
        "copy": post(f"{url}/copy", {"id": taken.id, "name": "Again"}),
        "accept": post(f"/api/v1/uploads/{upload}/trial", acceptance(id=taken.id)),
        "visit": put(f"{url}/visits/{taken.visit}", {"name": "v", "measures": []}),
        "operation": put(f"{url}/operations/{taken.operation}", {"kind": "sow", "name": "Sow", "due": "2026-08-28"}),
        "note": put(f"{at}/notes/{taken.note}", {"unit": None, "text": "Hares"}),
        "entry": put(f"{at}/entries", {"entries": [ours.typed("102", "3", id=taken.row)]}),
        "undo": post(f"/api/v1/observations/{row}/undo", {"id": taken.row}),
        "correction": put(
            f"/api/v1/observations/{taken.row}", {"replaces": row, "fields": {"count": "4"}, "why": "misread"}
        ),
    }


@pytest.mark.django_db(transaction=True)  # a refused entry ends its transaction
def test_an_id_of_another_workspace_is_answered_like_one_that_is_in_use_here(ours, theirs, workspace, client_of):
    ours = filled(ours)
    own = filled(Trial(client_of("owner"), workspace, sites=[site_in("Third Ground")]))
    before = Observation.objects.count(), Note.objects.count(), Trials.objects.count()
    foreign = {what: told(answer) for what, answer in made_with(ours, workspace, theirs).items()}
    assert {status for status, _ in foreign.values()} == {409}
    assert {body["code"] for _, body in foreign.values()} == {"id-in-use"}
    here = {what: told(answer) for what, answer in made_with(ours, workspace, own).items()}
    # One's own trial and site may be opened under their ids: that isn't something else.
    assert {what: here[what] for what in here if what not in ("trial", "site")} == {
        what: foreign[what] for what in foreign if what not in ("trial", "site")
    }
    assert (Observation.objects.count(), Note.objects.count(), Trials.objects.count()) == before
    assert theirs.open()["rows"][0]["value"] == 28.0


def test_what_names_a_row_of_another_workspace_is_answered_like_what_names_nothing(ours, theirs):
    ours = filled(ours)
    client, new = ours.client, {"id": str(uuid.uuid4())}
    plot, measure = theirs.unit("101"), theirs.measures[0]

    def post(path, body):
        return client.post(f"/api/v1/{path}", body, format="json")

    def of(trial, visit, row, unit, named, site):
        conflict = {**new, "keep": row, "why": "recounted"}
        place = {**new, "unit": unit, "measure": named}
        entry = {**ours.typed("101", "7"), **place, "id": new["id"], "replaces": row, "entered_at": AT}
        treatment = theirs.page["treatments"][0]["id"] if trial == theirs.id else str(uuid.uuid4())
        accepted = [{"base": treatment, "treatment": treatment, "why": "w"}]
        return [
            post(f"observations/{row}/undo", new),
            post(f"observations/{row}/decision", conflict),
            client.get(f"/api/v1/observations/{row}/sheet"),
            post(f"visits/{visit}/redo", place),
            post(f"visits/{ours.visit}/redo", place),
            client.get(f"/api/v1/visits/{visit}"),
            client.put(f"/api/v1/visits/{visit}/entries", {"entries": []}, format="json"),
            client.put(f"/api/v1/visits/{ours.visit}/entries", {"entries": [entry]}, format="json"),
            client.put(f"/api/v1/visits/{ours.visit}/notes/{new['id']}", {"unit": unit, "text": "x"}, format="json"),
            client.get(f"/api/v1/trials/{trial}"),
            client.get(f"/api/v1/trials/{ours.id}?site={site}"),
            client.patch(f"/api/v1/measures/{named}", {"margin": "3"}, format="json"),
            post(f"trials/{ours.id}/swap", {"first": unit, "second": ours.unit("101"), "why": "w"}),
            ours.ask({**ours.page, "accepted": accepted}),
            ours.plan_visit(measures=[named]),
            ours.plan(blocks=4, width="3", length="10", not_grown=[treatment]),
        ]  # fmt: skip

    foreign = of(theirs.id, theirs.visit, theirs.row, plot, measure, theirs.page["sites"][0]["id"])
    nothing = of(*(str(uuid.uuid4()) for _ in range(6)))
    assert [told(answer) for answer in foreign] == [told(answer) for answer in nothing]
    assert not [a.content for a in foreign if "Elsewhere" in a.content.decode()]


def test_a_correction_is_answered_again_under_its_id_and_the_id_serves_nothing_else(ours):
    ours.enter(ours.typed("101", "7"), ours.typed("102", "5"))
    first, second = (Observation.objects.get(unit__label=label) for label in ("101", "102"))

    def correct(id, old, text="9", why="misread"):
        body = {"replaces": str(old), "fields": {"count": text}, "why": why}
        return ours.client.put(f"/api/v1/observations/{id}", body, format="json")

    def undo(id, row):
        return ours.client.post(f"/api/v1/observations/{row}/undo", {"id": str(id)}, format="json")

    one, two = uuid.uuid4(), uuid.uuid4()
    before = correct(one, first.id)
    again = correct(one, first.id, "11")  # what it was made with stands
    assert (before.json()["state"], before.json()["value"]) == ("saved", 36.0)
    assert (again.status_code, again.json()) == (200, before.json())
    assert correct(one, second.id).json()["code"] == "id-in-use"
    assert [undo(two, second.id).status_code for _ in range(2)] == [200, 200]
    assert Observation.objects.filter(replaces=second).count() == 1
    assert undo(two, one).json()["code"] == "id-in-use"
    assert correct(two, second.id).json()["code"] == "id-in-use"  # the id is that of the step back
    assert undo(one, first.id).json()["code"] == "id-in-use"


def test_a_redo_is_answered_again_under_its_id_and_the_id_serves_nothing_else(ours):
    ours.enter(ours.typed("101", "7"), ours.typed("102", "5"))
    url = f"/api/v1/visits/{ours.visit}/redo"
    for label in ("101", "102"):
        row = Observation.objects.get(unit__label=label)
        ours.client.post(f"/api/v1/observations/{row.id}/undo", {"id": str(uuid.uuid4())}, format="json")

    def redo(id, label):
        place = {"id": str(id), "unit": ours.unit(label), "measure": ours.measures[0], "sample": 1}
        return ours.client.post(url, place, format="json")

    id = uuid.uuid4()
    assert [redo(id, "101").status_code for _ in range(2)] == [200, 200]
    assert redo(id, "102").json()["code"] == "id-in-use"
    entered = Observation.objects.get(unit__label="102", replaces=None)
    assert redo(entered.id, "102").json()["code"] == "id-in-use"
    assert Observation.objects.filter(unit__label="101", current=True).get().value == 28.0
