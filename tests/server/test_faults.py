"""What isn't anybody's entry: the database away, a fault of ours. Each is a problem that says what to do."""

import json

import pytest
from django.db import InterfaceError, OperationalError
from django.db.backends.utils import CursorWrapper

from tests.server.asking import Trial
from trials.api.views import TrialView


@pytest.mark.parametrize("error", [OperationalError("the connection is closed"), InterfaceError("closed")])
@pytest.mark.parametrize("path", ["/api/v1/trials", "/api/v1/health", "/api/v1/session"])
def test_while_the_database_is_away_requests_are_told_so_and_when_to_come_again(client_of, monkeypatch, error, path):
    client = client_of("owner")
    client.raise_request_exception = False

    def fail(*_given, **_more):
        raise error

    monkeypatch.setattr(CursorWrapper, "execute", fail)
    answer = client.get(path)
    monkeypatch.undo()
    assert (answer.status_code, answer.json()["code"]) == (503, "unavailable")
    assert answer["Content-Type"] == "application/problem+json"
    assert answer["Retry-After"] == "5"


def test_a_fault_of_ours_is_a_problem_without_its_inside(client_of, monkeypatch):
    client = client_of("owner")
    client.raise_request_exception = False

    def fail(*_given, **_more):
        raise RuntimeError("secret inside")

    monkeypatch.setattr(TrialView, "get", fail)
    answer = client.get("/api/v1/trials/00000000-0000-4000-8000-000000000000")
    assert (answer.status_code, answer.json()["code"]) == (500, "fault")
    assert "secret" not in answer.content.decode()


ODD = ["\0", "\ud800", "a\0b", "x\udfffy"]


@pytest.mark.parametrize("odd", ODD)
def test_texts_that_no_database_holds_are_refused_wherever_they_stand(client_of, workspace, odd):
    trial = Trial(client_of("owner"), workspace)
    url, visit = f"/api/v1/trials/{trial.id}", f"/api/v1/visits/{trial.visit}"
    page = trial.page
    first = page["treatments"][0]
    bodies = [
        ("put", f"{url}/ask", {**page, "name": odd}),
        ("put", f"{url}/ask", {**page, "treatments": [{**first, "levels": {odd: odd}}, *page["treatments"][1:]]}),
        ("put", f"{url}/ask", {**page, "measures": [{**page["measures"][0], "settings": {odd: 1}}]}),
        ("post", f"{url}/plan", {"blocks": 4, "width": odd, "length": "10"}),
        ("put", f"{visit}/entries", {"entries": [trial.typed("101", {odd: odd})]}),
        ("put", f"{url}/zones", {"zones": [{"name": odd, "share": 1}], "by_zone": {odd: [odd]}}),
        ("post", f"{url}/rehearsal", {"margins": {odd: 1}, "seed": 1, "runs": 1}),
    ]
    for method, address, body in bodies:
        text = json.dumps(body)
        answer = getattr(trial.client, method)(address, text, content_type="application/json")
        assert (answer.status_code, answer.json()["code"]) == (400, "parse-error"), address
        assert "can't be kept" in answer.json()["detail"]


@pytest.mark.parametrize("depth", [80, 100_000])
def test_a_request_that_is_too_deep_is_refused(client_of, depth):
    text = '{"a":' + "[" * depth + "]" * depth + "}"
    answer = client_of("owner").post("/api/v1/crossing", text, content_type="application/json")
    assert (answer.status_code, "deep" in answer.json()["detail"]) == (400, True)


@pytest.mark.parametrize("path", ["trials?page=%00", "trials/x%00", "sites?page=%ED%A0%80", "species/%00"])
def test_odd_addresses_are_answered_as_not_there_or_wrong(client_of, path):
    client = client_of("owner")
    client.raise_request_exception = False
    assert client.get(f"/api/v1/{path}").status_code in (400, 404)


@pytest.mark.parametrize("part", ["treatments", "measures"])
def test_ids_of_another_trial_are_refused_and_nothing_of_it_changes(client_of, workspace, part):
    owner = client_of("owner")
    owner.raise_request_exception = False
    other, trial = Trial(owner, workspace), Trial(owner, workspace)
    before = owner.get(f"/api/v1/trials/{other.id}").json()
    stolen = {**trial.page[part][0], "id": before[part][0]["id"]}
    answer = trial.ask({**trial.page, part: [stolen, *trial.page[part][1:]]})
    assert (answer.status_code, answer.json()["code"]) == (409, "id-in-use")
    assert owner.get(f"/api/v1/trials/{other.id}").json()[part] == before[part]


def test_factors_that_make_too_many_combinations_are_refused_at_once(client_of):
    factors = [{"name": f"F{i}", "levels": [str(j) for j in range(20)]} for i in range(6)]
    answer = client_of("owner").post("/api/v1/crossing", {"factors": factors, "removed": []}, format="json")
    assert (answer.status_code, "64,000,000 combinations" in answer.json()["detail"]) == (422, True)
