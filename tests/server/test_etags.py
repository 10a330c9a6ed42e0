"""No save over somebody else's unseen: a stale save changes nothing and says what stands there; a repeat is fine."""

import uuid

import pytest

from tests.server.asking import PLAN


def whole(owner, trial):
    return owner.get(f"/api/v1/trials/{trial.id}").json()


def save_ask(owner, trial, page, etag):
    return owner.put(f"/api/v1/trials/{trial.id}/ask", page, format="json", HTTP_IF_MATCH=f'"{etag}"' if etag else "")


def test_a_stale_ask_deletes_nothing_and_is_answered_with_what_stands_there(owner, trial):
    opened = whole(owner, trial)["etags"]["ask"]
    rye = {"id": str(uuid.uuid4()), "name": "Rye"}
    theirs = {**trial.page, "treatments": [*trial.page["treatments"], rye]}
    assert save_ask(owner, trial, theirs, opened).status_code == 200
    mine = {**trial.page, "question": "Which cover?"}
    refused = save_ask(owner, trial, mine, opened)
    assert (refused.status_code, refused.json()["code"]) == (412, "changed")
    current = refused.json()["current"]
    assert [t["name"] for t in current["treatments"]][-1] == "Rye"
    assert save_ask(owner, trial, mine, "").status_code == 428
    assert whole(owner, trial)["question"] == trial.page["question"]
    merged = {**theirs, "question": "Which cover?"}
    assert save_ask(owner, trial, merged, current["etags"]["ask"]).status_code == 200
    assert [t["name"] for t in whole(owner, trial)["treatments"]][-1] == "Rye"


def test_the_repeat_of_a_save_that_arrived_is_answered_as_the_first(owner, trial):
    opened = whole(owner, trial)["etags"]["ask"]
    changed = {**trial.page, "name": "Covers, sent twice"}
    first = save_ask(owner, trial, changed, opened)
    again = save_ask(owner, trial, changed, opened)
    assert (first.status_code, again.status_code) == (200, 200)
    assert again.json() == first.json()


def test_a_map_that_somebody_drew_meanwhile_is_not_drawn_over_unseen(owner, trial):
    opened = whole(owner, trial)
    url = f"/api/v1/trials/{trial.id}/plan"
    assert (
        owner.post(url, {**PLAN, "seed": 12}, format="json", HTTP_IF_MATCH=opened["etags"]["plan"]).status_code == 200
    )
    drawn = whole(owner, trial)["plots"]
    refused = owner.post(url, {**PLAN, "seed": 13}, format="json", HTTP_IF_MATCH=opened["etags"]["plan"])
    assert refused.status_code == 412
    assert whole(owner, trial)["plots"] == drawn
    assert refused.json()["current"]["plan"]["seed"] == 12


def parts(owner, trial):
    """How each part is read and saved: its ETag, then a save under that, a second one that differs."""
    id, page = trial.id, whole(owner, trial)
    measure = page["measures"][0]
    season = owner.get(f"/api/v1/trials/{id}/season").json()
    operation = season["operations"][0] if season["operations"] else None
    visit = season["visits"][0]
    layout = owner.get(f"/api/v1/trials/{id}/layout").json()
    zones = owner.get(f"/api/v1/trials/{id}/zones").json()
    spray = {"kind": "spray", "due": "2026-05-01"}
    field = {**layout["field"], "outline": [[0, 0], [60, 0], [60, 60]]}
    return {
        "margin": (measure["etag"], "patch", f"/api/v1/measures/{measure['id']}", {"margin": 3}, {"margin": 4}),
        "operation": (operation["etag"], "put", f"/api/v1/trials/{id}/operations/{operation['id']}",
                      {**spray, "name": "A"}, {**spray, "name": "B"}),
        "visit": (visit["etag"], "put", f"/api/v1/trials/{id}/visits/{visit['id']}",
                  {"name": "Early", "due": "2026-06-20", "measures": visit["measures"]},
                  {"name": "Late", "due": "2026-06-28", "measures": visit["measures"]}),
        "equipment": (page["etags"]["equipment"], "put", f"/api/v1/workspaces/{page['workspace']}/equipment",
                      {"drill": 3}, {"drill": 6}),
        "layout": (layout["etag"], "put", f"/api/v1/trials/{id}/layout",
                   {"field": {**field, "headland": 1}, "bearing": 20},
                   {"field": {**field, "headland": 2}, "bearing": 20}),
        "zones": (zones["etag"], "put", f"/api/v1/trials/{id}/zones",
                  {"zones": [{"name": "row", "share": 0.4}, {"name": "alley", "share": 0.6}], "by_zone": {}},
                  {"zones": [{"name": "row", "share": 0.5}, {"name": "alley", "share": 0.5}], "by_zone": {}}),
    }  # fmt: skip


@pytest.mark.parametrize("part", ["margin", "operation", "visit", "equipment", "layout", "zones"])
def test_every_part_refuses_a_stale_save_and_takes_a_fresh_or_repeated_one(owner, trial, part):
    new = {"kind": "sow", "name": "Sow", "due": "2026-04-01"}
    owner.put(f"/api/v1/trials/{trial.id}/operations/{uuid.uuid4()}", new, format="json")
    etag, method, url, first, second = parts(owner, trial)[part]
    send = getattr(owner, method)
    assert send(url, first, format="json", HTTP_IF_MATCH=f'"{etag}"').status_code == 200
    assert send(url, first, format="json", HTTP_IF_MATCH=f'"{etag}"').status_code == 200
    refused = send(url, second, format="json", HTTP_IF_MATCH=f'"{etag}"')
    assert (refused.status_code, "current" in refused.json()) == (412, True)
    unnamed = send(url, second, format="json", HTTP_IF_MATCH="")
    assert (unnamed.status_code, unnamed.json()["code"]) == (428, "no-version")
    fresh = parts(owner, trial)[part][0]
    assert fresh != etag
    assert send(url, second, format="json", HTTP_IF_MATCH=f'"{fresh}"').status_code == 200
