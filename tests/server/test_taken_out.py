"""A map that was printed or exported changes only where somebody knows that the copies will be wrong."""

import json

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from reports.files import FILES
from tests.server.asking import PLAN
from tests.server.test_swapping import standing, swap
from tests.server.waiting import file_of
from trials.models import Season

LAYOUT = b"Plot,Block,Treatment,Row,Column\n" + b"".join(
    f"{n},{b},{t},{b},{(n - 1) % 3 + 1}\n".encode()
    for n, (b, t) in enumerate([(b, t) for b in "12" for t in ("Bare", "Phacelia", "Common vetch")], 1)
)


def take(trial, file="stake-out.csv"):
    asked = trial.client.get(f"/api/v1/trials/{trial.id}/{file}")
    answer = file_of(trial.client, trial.id, file) if file in FILES else asked
    assert answer.status_code == 200


def changes_of(trial):
    """Every way in which the map of a trial can change: name → the request, sent with what is given."""
    url = f"/api/v1/trials/{trial.id}"
    fewer = {**trial.page, "treatments": trial.page["treatments"][:2]}
    elsewhere = {**trial.page, "sites": [{**trial.page["sites"][0], "id": "00000000-0000-4000-8000-0000000000aa"}]}

    def sent(method, path, body):
        return lambda asked="": getattr(trial.client, method)(f"{url}/{path}{asked}", body, format="json")

    def brought(asked=""):
        given = {"file": SimpleUploadedFile("plots.csv", LAYOUT), "allocation": "drawn", "design": "rcbd",
                 "width": "3", "length": "10"}  # fmt: skip
        return trial.client.post(f"{url}/plan/file{asked}", given, format="multipart")

    exchange = {"first": trial.unit("101"), "second": trial.unit("103"), "why": "stones"}
    return {
        "draw": sent("post", "plan", {**PLAN, "seed": 12}),
        "move": sent("put", "layout", {"field": {}, "bearing": "0", "shifts": {"A": [0, 40]}}),
        "swap": sent("post", "swap", exchange),
        "bring": brought,
        "take a treatment away": sent("put", "ask", fewer),
        "another site": sent("put", "ask", elsewhere),
    }


@pytest.mark.parametrize("way", ["draw", "move", "swap", "bring", "take a treatment away", "another site"])
def test_a_map_that_was_taken_out_changes_only_with_a_word(trial, way):
    take(trial)
    before, change = standing(trial), changes_of(trial)[way]
    refused = change()
    assert (refused.status_code, refused.json()["code"]) == (409, "map-taken-out")
    assert "stake-out list (Owner, " in refused.json()["detail"]
    assert standing(trial) == before
    assert change("?although_taken_out=true").status_code == 200
    assert way == "move" or standing(trial) != before


@pytest.mark.parametrize("file", ["stake-out.csv", "plots.geojson", "package.zip", "labels.pdf", "map.pdf"])
def test_each_file_that_shows_where_treatments_stand_counts(trial, file, monkeypatch):
    monkeypatch.setattr("reports.files.stake_labels", lambda **_asked: b"%PDF")
    monkeypatch.setattr("reports.files.map_page", lambda **_asked: b"%PDF")
    take(trial, file)
    assert trial.plan(**PLAN | {"seed": 12}).json()["code"] == "map-taken-out"


def test_a_new_map_that_nobody_has_seen_is_free_again(trial):
    take(trial)
    take(trial)
    assert len(Season.objects.get(trial=trial.id).taken_out) == 1
    assert trial.client.post(
        f"/api/v1/trials/{trial.id}/plan?although_taken_out=true", {**PLAN, "seed": 12}, format="json"
    ).status_code == 200  # fmt: skip
    assert trial.plan(**PLAN | {"seed": 13}).status_code == 200
    assert swap(trial, "101", "103").status_code == 200


def test_what_leaves_the_map_alone_is_never_held_up(trial):
    take(trial)
    renamed = json.loads(json.dumps(trial.page))
    renamed["treatments"][0]["name"] = "Blue phacelia"
    assert trial.ask(renamed).status_code == 200
    field = {"field": {"headland": "6"}, "bearing": "10", "shifts": {}}
    assert trial.client.put(f"/api/v1/trials/{trial.id}/layout", field, format="json").status_code == 200
